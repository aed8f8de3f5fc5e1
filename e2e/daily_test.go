package e2e

import (
	"fmt"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// typeSlowly types as a hand does, one key after the other.
func (p *page) typeSlowly(text string) {
	p.t.Helper()
	for _, key := range text {
		p.typeText(string(key))
		time.Sleep(120 * time.Millisecond)
	}
}

// TestADayIsTypedByHand writes the last day of a gallery digit by digit: nothing is saved before it is a whole day ahead.
func TestADayIsTypedByHand(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/galleries")
	p.see("[data-gallery]")
	title := read[string](p, `document.querySelector("[data-gallery]").dataset.gallery`)
	const field = `[data-gallery] [aria-label="Last day (optional)"]`
	var was int64
	require.NoError(t, storetest.SQL(p.database).Get(&was, `select max(id) from trail`))
	day := func() (ends string) {
		require.NoError(t, storetest.SQL(p.database).Get(&ends, `select coalesce(ends_on::text, '') from gallery where title = $1`, title))
		return ends
	}
	p.see(field)
	p.do(chromedp.Evaluate[chromedp.Void](css(field) + `.focus()`))
	for _, key := range "12312037" {
		p.typeSlowly(string(key))
		assert.Contains(t, []string{"", "2037-12-31"}, day())
	}
	p.press("Tab")
	p.until(`document.body.innerText.includes("Last day (optional) · Saved")`)
	assert.Equal(t, "2037-12-31", day())
	var acts int
	require.NoError(t, storetest.SQL(p.database).Get(&acts,
		`select count(*) from trail where id > $1 and said like 'Gallery %: its last day is %'`, was))
	assert.Equal(t, 1, acts, "saved once")

	p.do(chromedp.Evaluate[chromedp.Void](css(field) + `.focus()`))
	p.typeSlowly("01012020")
	p.press("Enter")
	p.seeText("The last day is in the past")
	assert.Equal(t, "2037-12-31", day())
	p.press("Escape")
	p.until(css(field) + `.value === "2037-12-31"`)
	p.accessible("a gallery with its last day")
	p.press("z", chromedp.ModifierCtrl) // in a field it is the field's
	assert.Equal(t, "2037-12-31", day())
}

// TestWhatIsTypedInACardIsSaved or it does not say so: tags of a folder with Enter, with Escape, and by closing the card.
func TestWhatIsTypedInACardIsSaved(t *testing.T) {
	p := signIn(t, coordinator)
	folder := p.folder("Card index")
	tags := func() (names string) {
		require.NoError(t, storetest.SQL(p.database).Get(&names, `select coalesce(string_agg(t.name, ', ' order by t.name), '') from folder_tag f
			join tag t on t.id = f.tag_id where f.folder_id = $1`, folder))
		return names
	}
	p.menu("Card index", "Date, tags, description")
	const field = `[role=dialog] [aria-label="Tags"]`
	p.fill(field, "pasteboard")
	p.until(`document.querySelector("[role=dialog]").innerText.includes("Tags · not saved yet")`)
	p.press("Enter")
	p.until(`document.querySelector("[role=dialog]").innerText.includes("Tags · Saved")`)
	assert.Equal(t, "pasteboard", tags())
	p.typeText(", moths")
	p.until(`!document.querySelector("[role=dialog]").innerText.includes("Saved")`)
	p.press("Escape")
	p.until(css(field) + `.value === "pasteboard"`)
	p.see("[role=dialog]")
	p.typeText(", string")
	p.click("Close")
	p.gone("[role=dialog]")
	require.Eventually(t, func() bool { return tags() == "pasteboard, string" }, patience, 20*time.Millisecond)
}

// TestOneStaysWhereOneWas goes through a set in the big view, sets some aside and puts one in the bin: each time the next item takes
// the place of the one before.
func TestOneStaysWhereOneWas(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/choose?place=everything")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	total := read[int](p, count)
	all := fmt.Sprintf(`%s === %d`, count, total)
	p.clickAt(p.middle(item(ids[2])))
	p.press("Enter")
	big := func(id int64) {
		p.t.Helper()
		p.until(fmt.Sprintf(`document.querySelector("[data-big-view]")?.dataset.bigView === "%d"
			&& document.querySelector("[data-selected]")?.dataset.selected === "1"`, id))
	}
	big(ids[2])
	p.press("a")
	big(ids[3])
	p.press("a")
	big(ids[4])
	p.press("ArrowLeft")
	big(ids[1])
	p.press("z", chromedp.ModifierCtrl)
	p.seeText("Undone: set 1 item aside")
	p.press("z", chromedp.ModifierCtrl)
	p.until(all)
	p.press("ArrowRight")
	big(ids[2])
	p.open("/b/tansyloft/file?place=everything")
	p.clickAt(p.middle(item(ids[2])))
	p.press("Enter")
	big(ids[2])
	p.press("Delete")
	p.see("[role=dialog]")
	p.press("Enter")
	p.gone("[role=dialog]")
	big(ids[3])
	p.undo("Put 1 item in the bin")
	p.seeText("Undone: put 1 item in the bin")
	p.clickAt(p.atRest(`[...document.querySelectorAll("[role=status] button")].find(b => b.innerText === "Do it again")`))
	p.seeText("Done again: put 1 item in the bin")
	p.see(`[aria-label^="Undo: Done again: put 1 item in the bin"]`)
	p.press("z", chromedp.ModifierCtrl)
	p.seeText("Undone: put 1 item in the bin")
}

// TestKeysOfTheBrowserStayTheBrowsers: Alt with an arrow goes back, whatever the arrow does in the sheet.
func TestKeysOfTheBrowserStayTheBrowsers(t *testing.T) {
	p := signIn(t, coordinator)
	taken := func(options string) bool {
		return read[bool](p, `(e => { document.querySelector("[data-sheet]").dispatchEvent(e); return e.defaultPrevented })(
			new KeyboardEvent("keydown", { bubbles: true, cancelable: true, `+options+` }))`)
	}
	assert.False(t, taken(`key: "ArrowLeft", altKey: true`))
	assert.False(t, taken(`key: "A", ctrlKey: true, shiftKey: true`))
	assert.True(t, taken(`key: "ArrowRight"`))
	assert.True(t, taken(`key: "a", ctrlKey: true`))
}
