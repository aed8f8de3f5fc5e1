package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// offer is what is offered below the search box that begins with some words.
func offer(words string) string {
	return fmt.Sprintf(`[...document.querySelectorAll('[aria-label="What this may mean"] [role=option]')]
		.find(o => o.innerText.startsWith(%q))`, words)
}

// TestConditionsAreTypedIntoTheSearch writes conditions as one says them: they are offered with what they would show, taken by key or
// mouse, and become chips. Words before them are still searched for.
func TestConditionsAreTypedIntoTheSearch(t *testing.T) {
	p := signIn(t, coordinator)
	var month string
	var items int
	require.NoError(
		t,
		storetest.SQL(p.database).QueryRow(`select to_char(captured_at, 'FMMonth YYYY'), count(*) from asset where binned_at is null
		and stars >= 0 and (stack_id is null or stack_front) group by 1 having count(captured_at) > 0 order by 2 desc limit 1`).
			Scan(&month, &items),
	)
	shows := func(n int) {
		t.Helper()
		p.until(fmt.Sprintf(`parseInt(document.querySelector("[data-count]").innerText) === %d`, n))
	}
	p.press("/")
	p.typeSlowly("taken in ")
	time.Sleep(600 * time.Millisecond) // a hand that looks for the next key, longer than the search waits
	p.typeSlowly(month)
	p.until(offer("taken in "+month) + `?.innerText.includes("` + fmt.Sprint(items) + ` item")`)
	p.accessible("conditions offered")
	p.shot("/tmp/offers.png")
	p.press("Escape")
	p.gone(`[role=option]`)
	p.press("ArrowDown")
	p.until(offer("taken in " + month))
	p.press("ArrowDown")
	p.press("Enter")
	p.until(`document.querySelector("[data-chips]")?.innerText.includes("taken ` + month + `")`)
	assert.Empty(t, read[string](p, `document.querySelector("[aria-label='Search this place']").value`))
	shows(items)

	// the keys are still in the box: a name that is begun, taken with the mouse
	p.typeSlowly("tag: del")
	p.until(offer("tagged Delta"))
	delta := p.number(`select count(*) from asset a where binned_at is null and stars >= 0 and (stack_id is null or stack_front)
		and to_char(captured_at, 'FMMonth YYYY') = '` + month + `'
		and exists (select from asset_tag x join tag t on t.id = x.tag_id where x.asset_id = a.id and t.name = 'Delta')`)
	p.clickAt(p.middle(offer("tagged Delta")))
	p.until(`document.querySelectorAll("[data-chips] button svg").length === 2`)
	shows(delta)
	p.click("Clear filters")

	// words before a condition stay words; Enter alone searches for all of it as it is
	p.press("/")
	p.typeSlowly("kite wider than 1000")
	p.until(offer("“kite”, at least 1000 px wide"))
	p.press("ArrowUp") // the last of them, which is the first
	p.press("Enter")
	p.until(`document.querySelector("[data-chips]")?.innerText.includes("at least 1000 px wide")`)
	assert.Equal(t, "kite", read[string](p, `document.querySelector("[aria-label='Search this place']").value`))
	p.until(`document.querySelector("[data-chips]").innerText.includes("“kite”")`)
	p.click("Clear filters")
	p.press("/")
	p.typeSlowly("4 stars")
	p.until(offer("4 stars"))
	p.press("Enter")
	p.until(`document.querySelector("[data-chips]")?.innerText.includes("“4 stars”")`)
	p.gone(`[role=option]`)
	p.press("Escape")
	p.until(`document.activeElement.tagName !== "INPUT"`)

	p.do(chromedp.EmulateViewport(390, 844))
	p.fill("[aria-label='Search this place']", "taken in 20")
	p.until(`document.querySelector("[role=option]")?.getBoundingClientRect().left >= 0 &&
		document.querySelector("[role=option]").getBoundingClientRect().right <= innerWidth`)
	p.accessible("conditions offered on a phone")
	p.shot("/tmp/offers-phone.png")
}

// TestDaysAndPhrasesAreTyped finds a month by its name as soon as Enter is pressed, however early, and a phrase word for word; where the
// words say nothing, the conditions that they may be are offered.
func TestDaysAndPhrasesAreTyped(t *testing.T) {
	p := signIn(t, coordinator)
	anew := func() {
		p.open("/b/tansyloft/file?place=everything")
		p.see("[data-sheet] [data-id] img")
	}
	anew()
	var month string
	require.NoError(t, storetest.SQL(p.database).Get(&month, `select to_char(captured_at, 'FMMonth YYYY') from asset where binned_at is null
		and captured_at > '1990-01-01' group by 1 order by count(*) desc limit 1`))
	chips := `(document.querySelector("[data-chips]")?.innerText ?? "")`
	for range 3 {
		p.press("/")
		p.typeText(strings.ToLower(month))
		p.press("Enter")
		p.until(chips + `.includes("taken ` + month + `")`)
		assert.Empty(t, read[string](p, `document.querySelector("[aria-label='Search this place']").value`))
		anew()
	}
	p.press("/")
	p.typeText(month)
	p.clickOn(`[role=search] button[aria-label="Search"]`)
	p.until(chips + `.includes("taken ` + month + `")`)
	anew()

	var title string
	require.NoError(t, storetest.SQL(p.database).Get(&title, `select title from asset where title ~ '^\w+ \w+ \w+'
		and binned_at is null order by id limit 1`))
	said := strings.Fields(title)
	p.fill("[aria-label='Search this place']", `"`+said[0]+" "+said[1]+`"`)
	p.press("Enter")
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length > 0 && ` +
		chips + `.includes("“` + said[0] + ` ` + said[1] + `” word for word")`)
	p.fill("[aria-label='Search this place']", `"`+said[1]+" "+said[0]+`"`)
	p.press("Enter")
	p.see("[data-missed]")

	p.fill("[aria-label='Search this place']", "in "+strings.ToLower(month))
	p.until(`document.querySelector("[data-missed]")?.innerText.includes("taken in ` + month + `")`)
	p.accessible("a miss with what the words may be")
}
