package e2e

import (
	"fmt"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestTheSatchelIsCarriedOn puts several in order at once, opens one, and carries them on to an album, on any step.
func TestTheSatchelIsCarriedOn(t *testing.T) {
	p := signIn(t, "farid@tansyloft.example")
	ids := p.shown()[:4]
	for i, id := range ids {
		if i == 0 {
			p.clickAt(p.middle(item(id)))
		} else {
			p.clickAt(p.middle(item(id)), ctrl)
		}
	}
	p.press("s")
	p.see(`[data-satchel="4"]`)
	p.press("Escape")
	p.clickOn("[data-satchel]")
	p.see("[data-satchel-strip] li")
	p.accessible("the satchel, open")
	carried := func() (now []int64) {
		require.NoError(t, storetest.SQL(p.database).Select(&now, `select s.asset_id from satchel_item s join person p on p.id = s.person_id
			where p.email = 'farid@tansyloft.example' order by s.position`))
		return now
	}
	require.Equal(t, ids, carried())
	nth := func(n int) string { return css(fmt.Sprintf(`[data-satchel-strip] li:nth-child(%d)`, n)) }
	p.clickAt(p.middle(nth(1) + `.querySelector("img")`))
	p.clickAt(p.middle(nth(2)+`.querySelector("img")`), ctrl)
	p.until(`document.querySelectorAll("[data-satchel-strip] [aria-pressed=true]").length === 2`)
	p.drag(nth(1)+`.querySelector("img")`, nth(4), 0.9)
	want := []int64{ids[2], ids[3], ids[0], ids[1]}
	p.until(fmt.Sprintf(`document.querySelector("[data-satchel-strip] li img")?.src.includes(%s)`, quote(code(p, ids[2]))))
	assert.Equal(t, want, carried())
	p.clickOn(`[data-satchel-strip] li:nth-child(1) [aria-label^="Look at"]`)
	p.see(fmt.Sprintf(`[data-big-view="%d"]`, ids[2]))
	p.press("Escape")
	assert.False(t, read[bool](p, finder+`("Add all to an album…") !== null`), "a contributor makes no albums")

	q := signIn(t, coordinator)
	q.clickAt(q.middle(item(ids[1])))
	q.click("Choose")
	q.press("s")
	q.clickOn("[data-satchel]")
	q.click("Add all to an album…")
	q.see("[role=dialog] input")
	q.typeText("From the satchel")
	q.press("Enter")
	q.seeText("Made the album “From the satchel” with")
	q.click("Open it")
	q.until(`document.querySelector("nav[aria-label=Place] h1")?.innerText === "From the satchel" && ` + count + ` < 20`)
	q.clickOn("[data-sheet] [data-id]")
	q.see(`[data-selected="1"]`)
	q.press("Delete")
	q.seeText("out of From the satchel")
	var binned int
	require.NoError(t, storetest.SQL(q.database).Get(&binned, `select count(*) from asset where id = $1 and binned_at is not null`, ids[1]))
	assert.Zero(t, binned, "taking out deletes nothing")
	q.press("z", ctrl)
	q.seeText("Undone: took 1 item out of From the satchel")
}

// code is what stands for an item in addresses.
func code(p *page, id int64) (code string) {
	require.NoError(p.t, storetest.SQL(p.database).Get(&code, `select code from asset where id = $1`, id))
	return code
}
