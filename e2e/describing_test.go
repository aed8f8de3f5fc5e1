package e2e

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
)

// field is one of the words on the card of a selection.
func field(name string) string {
	return fmt.Sprintf(`[data-field="%s"] input, [data-field="%s"] textarea`, name, name)
}

// TestSixtyAreDescribedInOneGo selects more than sixty items: a credit where they differ asks in numbers and is added, an empty
// field is filled for all, titles come from a pattern. Each is one step that is taken back.
func TestSixtyAreDescribedInOneGo(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.press("a", ctrl)
	total := read[int](p, count)
	require.Greater(t, total, 60)
	p.until(fmt.Sprintf(`document.querySelector("[data-selected]")?.dataset.selected === "%d"`, total))
	p.until(`document.querySelector('[data-field="credit"] input')?.placeholder === "Different"`)
	p.accessible("the card of many")

	p.fill(field("credit"), "Press desk")
	p.seeText("different credits")
	p.press("Enter") // to the first answer
	p.until(`document.activeElement.tagName === "BUTTON" && document.activeElement.closest('[data-field="credit"]')`)
	p.click("Put it after")
	p.seeText(fmt.Sprintf("Added to the credit of %d items", total))
	assert.Equal(t, total, p.number(`select count(*) from asset where credit like '%Press desk'`))
	p.press("z", ctrl)
	p.seeText("Undone: added to the credit")

	p.fill(field("usageTerms"), "Not for resale")
	p.press("Enter", ctrl) // Enter alone begins a new line here
	p.until(`document.activeElement.innerText?.startsWith("Fill in the")`)
	without := read[int](p, `Number(document.activeElement.innerText.match(/[0-9]+/)[0])`)
	p.press("Enter")
	p.seeText(fmt.Sprintf("Filled in the usage terms of %d items", without))
	p.press("z", ctrl)
	p.seeText("Undone: filled in the usage terms")

	p.fill(field("place"), "Nowhere")
	p.press("Escape")
	p.until(`document.querySelector('[data-field="place"] input').value === ""`)
	assert.Zero(t, p.number(`select count(*) from asset where place = 'Nowhere'`), "Escape takes back what was not written")

	p.open("/b/tansyloft/describe?place=everything" + filter(`{"match":"any","rules":[{"field":"lacks","names":["usageTerms"]}]}`))
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.press("a", ctrl)
	p.until(`document.querySelector('[data-field="usageTerms"] textarea')?.placeholder === ""`)
	p.fill(field("usageTerms"), "Not for resale")
	p.clickOn(field("credit")) // where all say nothing it saves itself when one leaves it
	p.seeText(fmt.Sprintf("Set the usage terms of %d items", without))
	p.clickOn(`[aria-label^="Undo: Set the usage terms"]`)
	p.seeText("Undone: set the usage terms")

	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.press("a", ctrl)
	p.click("Titles by a pattern")
	p.see("[role=dialog] tbody tr")
	p.fill(`[role=dialog] input`, "Day out {n}")
	p.until(fmt.Sprintf(`document.querySelector("[role=dialog] tbody td:nth-child(2)")?.innerText === "Day out %0*d"`, digits(total), 1))
	p.accessible("titles by a pattern")
	p.click(fmt.Sprintf("Give %d titles", total))
	p.seeText(fmt.Sprintf("Gave %d items a title by a pattern", total))
	assert.Equal(t, total, p.number(`select count(distinct title) from asset where title like 'Day out %'`))
	p.clickOn(`[aria-label^="Undo: Gave"]`)
	p.seeText("Undone: gave")
	assert.Zero(t, p.number(`select count(*) from asset where title like 'Day out %'`))
}

func digits(n int) int { return len(fmt.Sprint(n)) }

// number asks the database for one.
func (p *page) number(question string) (n int) {
	p.t.Helper()
	require.NoError(p.t, storetest.SQL(p.database).Get(&n, question))
	return n
}

// becomes waits until the database answers a question with a number.
func (p *page) becomes(question string, n int) {
	p.t.Helper()
	for since := time.Now(); p.number(question) != n; time.Sleep(50 * time.Millisecond) {
		if time.Since(since) > patience {
			p.explain(fmt.Errorf("%d, and not %d: %s", p.number(question), n, question))
		}
	}
}

// TestAClockIsPutRight says when one picture really was; the other follows, and the card shows what the file says.
func TestAClockIsPutRight(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	was := p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3]))
	p.clickAt(p.middle(item(ids[2])))
	p.clickAt(p.middle(item(ids[3])), ctrl)
	p.click("Clock…")
	p.see("[role=dialog] img")
	var really string
	require.NoError(
		t,
		storetest.SQL(p.database).Get(&really, `select to_char(captured_at + interval '65 minutes', 'YYYY-MM-DD HH24:MI') from asset
		where id = $1`, ids[2]),
	)
	p.fill(`[role=dialog] input`, really)
	p.seeText("and the others move as far")
	p.accessible("the clock")
	p.click("Move 2 items")
	p.seeText("Moved the moment of 2 items by 1 hour 5 minutes forwards")
	assert.Equal(t, was+65*60, p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3])))
	p.open(fmt.Sprintf("/b/tansyloft/describe?place=everything&item=%d", ids[3]))
	p.click("Use it again")
	p.seeText("Set 1 item back to the moment in the file")
	assert.Equal(t, was, p.number(fmt.Sprintf(`select extract(epoch from captured_at)::int from asset where id = %d`, ids[3])))
	p.clickOn(`[aria-label^="Undo: Set 1 item back"]`)
	p.seeText("Undone: set 1 item back")
	p.clickOn(`[aria-label^="Undo: Moved"]`)
	p.seeText("Undone: moved the moment")
}

// TestTagsAreKeptInOrder renames a tag into one that there is, which asks in numbers, and gives it another spelling; a group
// is made and closed.
func TestTagsAreKeptInOrder(t *testing.T) {
	p := signIn(t, coordinator)
	tags := `select count(*) from tag where merged_into is null and removed_at is null`
	before := p.number(tags)
	p.open("/b/tansyloft/tags")
	p.clickOn(`[data-tag="Tetra"]`)
	p.accessible("tags")
	p.fill(`aside input`, "diamond")
	p.press("Enter")
	p.seeText("There is a tag “Diamond” already, on")
	p.click("Merge “Tetra” into “diamond”")
	p.seeText("Merged “Tetra” into “Diamond”")
	p.gone(`[data-tag="Tetra"]`)
	assert.Equal(t, before-1, p.number(tags))
	p.clickOn(`[data-tag="Diamond"]`)
	p.see(`[aria-label="Remove the spelling Tetra"]`)
	p.fill(`[data-spelling]`, "Lozenge")
	p.press("Enter")
	p.seeText("“Lozenge” leads to “Diamond” now")
	p.clickOn(`[aria-label^="Undo: “Lozenge”"]`)
	p.seeText("Undone: “Lozenge” leads")
	p.clickOn(`[aria-label^="Undo: Merged"]`)
	p.see(`[data-tag="Tetra"]`)
	assert.Equal(t, before, p.number(tags))

	p.click("New group")
	p.fill(`[role=dialog] input`, "Weather")
	p.press("Enter")
	p.seeText("Made the group “Weather”")
	p.clickOn(`section[aria-label="Weather"] h2 button`)
	p.click("Closed: only stewards")
	p.seeText("Closed the group “Weather”")
	p.click("Remove the group; its tags stay")
	p.seeText("Removed the group “Weather”")
}

// TestTheBrandSaysWhatADescribedItemHas has the steward ask for usage terms, goes through what lacks something by key, and
// filters by what is not there and by rights that end soon.
func TestTheBrandSaysWhatADescribedItemHas(t *testing.T) {
	p := signIn(t, steward)
	p.open("/b/tansyloft/settings")
	p.click("Usage terms")
	p.seeText("Saved")
	p.accessible("settings of a brand")
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	waiting := `Number(document.querySelector("[data-waiting=describe]").title.replace(/,/g, ""))`
	p.until(waiting + ` > 60`)
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.seeText("Lacks")
	p.press("n")
	p.until(fmt.Sprintf(`document.querySelector("[aria-label='What is selected'], [data-selected]")?.dataset.selected === "1"
		&& !document.querySelector('[data-id="%d"][aria-selected=true]')`, ids[0]))
	p.open("/b/tansyloft/describe?place=everything" + filter(`{"match":"any","rules":[{"field":"lacks","names":["usageTerms"]}]}`))
	p.seeText("without usage terms")
	p.until(count + " > 0")
	p.clickOn("[data-filter]")
	p.click("end within 30 days")
	p.seeText("rights: end within 30 days")
	p.open("/b/tansyloft/settings")
	p.click("Usage terms")
	p.seeText("Saved")
	p.until(`!document.querySelector("[data-waiting=describe]") || ` + waiting + ` < 60`)
}

// TestTheNextOneIsDescribedLikeTheFirst takes a tag off that all of a folder have: it is suggested, and one press puts it back.
// Then it carries the credit of one item to another.
func TestTheNextOneIsDescribedLikeTheFirst(t *testing.T) {
	p := signIn(t, coordinator)
	var one struct {
		Asset, Items int64
		Tag          string
	}
	require.NoError(t, storetest.SQL(p.database).Get(&one, `select min(a.id) as asset, count(*) as items, t.name as tag from asset a
		join asset_tag x on x.asset_id = a.id join tag t on t.id = x.tag_id where a.binned_at is null and a.folder_id is not null
		group by a.folder_id, t.id having count(*) >= 5
			and count(*) = (select count(*) from asset b where b.folder_id = a.folder_id and b.binned_at is null) order by 2, 3 limit 1`))
	p.open(fmt.Sprintf("/b/tansyloft/describe?place=everything&item=%d", one.Asset))
	p.click(fmt.Sprintf("Take %s off", one.Tag)) // once the card has come to rest
	suggested := fmt.Sprintf(`[...document.querySelectorAll("[aria-label='Suggested tags'] button")]
		.find(b => b.innerText.includes(%q))`, one.Tag)
	p.until(suggested)
	assert.Regexp(t, `^on \d+ of the \d+ `, read[string](p, suggested+`.title`))
	p.accessible("a card with suggested tags")
	p.clickAt(p.middle(suggested))
	p.seeText("Tagged 1 item with " + one.Tag)
	p.see(fmt.Sprintf(`[aria-label="Take %s off"]`, one.Tag))
	p.until("!" + suggested)

	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	credit := func(id int64) (text string) {
		require.NoError(t, storetest.SQL(p.database).Get(&text, `select credit from asset where id = $1`, id))
		return text
	}
	ids := p.shown()
	credited := slices.IndexFunc(ids, func(id int64) bool { return credit(id) != "" })
	require.NotEqual(t, -1, credited)
	ids = ids[credited:]
	other := slices.IndexFunc(ids, func(id int64) bool { return credit(id) != credit(ids[0]) })
	require.Positive(t, other)
	p.clickAt(p.middle(item(ids[other])))
	p.clickAt(p.middle(item(ids[0])), ctrl)
	p.click("Describe them like one")
	p.see("[role=dialog] li input")
	p.accessible("taking over")
	p.click("Credit")
	p.click("Take it over to 1 item")
	p.seeText("Described 1 item like")
	assert.Equal(t, credit(ids[0]), credit(ids[other]))
	p.clickOn(`[aria-label^="Undo: Described"]`)
	p.seeText("Undone: described")
}

// TestATableGoesOutAndComesBack takes the words of three items out as CSV, edits them, and brings them back: what changes is seen
// before, done as one step, and taken back as one.
func TestATableGoesOutAndComesBack(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()[3:6]
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[1])), ctrl)
	p.clickAt(p.middle(item(ids[2])), ctrl)
	p.seeText("3 items")
	p.click("As a table…")
	p.see(`[role=dialog] input[aria-label="Table to bring back"]`)
	p.accessible("words as a table")
	table := p.download(func() { p.click("CSV") })
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(table, "\ufeff"))).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 4)
	title, tags := slices.Index(rows[0], "title"), slices.Index(rows[0], "tags")
	before := p.number(`select count(*) from asset_tag`)
	rows[1][title], rows[2][tags], rows[3][title] = "Über den Dünen", rows[2][tags]+"; Thermals", "Kiosk"
	var edited bytes.Buffer
	w := csv.NewWriter(&edited)
	w.Comma = ';' // as spreadsheets of half of Europe write it
	require.NoError(t, w.WriteAll(rows))
	western, err := charmap.Windows1252.NewEncoder().String(edited.String())
	require.NoError(t, err)

	p.choose("Table to bring back", files(t, []namedFile{{"edited.csv", []byte(western)}})...)
	p.seeText("read as Windows-1252")
	p.seeText("separated by semicolons")
	p.seeText("New tags: Thermals")
	p.seeText("Über den Dünen")
	p.accessible("what a table changes")
	p.click("Change 3 items")
	p.seeText("Described 3 items by “edited.csv”")
	p.until(fmt.Sprintf(`document.querySelector('[data-id="%d"]')`, ids[0]))
	assert.Equal(t, 1, p.number(`select count(*) from asset where title = 'Über den Dünen'`))
	assert.Equal(t, before+1, p.number(`select count(*) from asset_tag`))
	p.press("z", ctrl)
	p.seeText("Undone: described 3 items by “edited.csv”")
	assert.Equal(t, before, p.number(`select count(*) from asset_tag`))
	p.press("Escape")
	p.click("Bring a table back…")
	p.choose("Table to bring back", files(t, []namedFile{{"notes.csv", []byte("title\nDune\n")}})...)
	p.seeText("no column “code”")
	wrong := "code,title,taken\nnobody,Dune,\n" + rows[1][0] + ",,13:00\n"
	p.choose("Table to bring back", files(t, []namedFile{{"notes.csv", []byte(wrong)}})...)
	p.seeText("1 about no item")
	p.seeText("is not a moment")
	p.until(`[...document.querySelectorAll("[role=dialog] button")].find(b => b.innerText === "Nothing to change")?.disabled`)
	p.press("Escape")
	p.click("Bring a table back…") // what was compared waits for whoever closed it
	p.click("Go on with it")
	p.seeText("1 about no item")
}

// download does something that the browser keeps a file of, and returns what is in it.
func (p *page) download(do func()) string {
	p.t.Helper()
	dir := p.t.TempDir()
	p.do(func(ctx context.Context, _ *chromedp.Target) (chromedp.Void, error) {
		c := chromedp.FromContext(ctx)
		_, err := cdp.Call(ctx, c.Browser, browser.SetDownloadBehavior, browser.SetDownloadBehaviorParams{
			Behavior: browser.SetDownloadBehaviorBehaviorAllow, BrowserContextID: c.BrowserContextID, DownloadPath: dir})
		return chromedp.Void{}, err
	})
	do()
	var found []string
	require.Eventually(p.t, func() bool {
		found, _ = filepath.Glob(filepath.Join(dir, "*.csv"))
		return len(found) == 1
	}, patience, 20*time.Millisecond)
	text, err := os.ReadFile(found[0])
	require.NoError(p.t, err)
	return string(text)
}
