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

// burst is the ids of the four frames of one kite in the demo brand, in the order of their names.
func (p *page) burst() (ids []int64) {
	p.t.Helper()
	require.NoError(p.t, storetest.SQL(p.database).Select(&ids, `select id from asset where file_name between 'OST_0452.JPG' and 'OST_0455.JPG'
		order by file_name`))
	require.Len(p.t, ids, 4)
	return ids
}

func compared(id int64) string { return fmt.Sprintf(`[data-compared="%d"]`, id) }

// moved says how the picture of one that is compared is zoomed.
func moved(id int64) string {
	return css(compared(id)+" img") + `.style.transform`
}

// TestABurstIsCompared sees the frames of a burst side by side, also the one that was set aside: closer and moved in step, then one by
// one, with stars by key, and keeps one of them.
func TestABurstIsCompared(t *testing.T) {
	p := signIn(t, coordinator)
	ids := p.burst()
	p.open("/b/tansyloft/choose?place=everything&sort=name" + filter(words("OST_045")))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(ids[0])))
	p.press("v")
	p.see(`[data-compare="4"]`)
	p.until(css(compared(ids[3])+" img") + `?.naturalWidth > 0`)
	p.until(`document.querySelectorAll("[data-compared] figcaption").length === 4 && document.body.innerText.includes("less sharp")`)
	p.accessible("comparing")

	p.clickAt(p.middle(css(compared(ids[0]) + " figcaption")))
	p.press("ArrowRight")
	p.see(compared(ids[1]) + `[aria-current="true"]`)
	p.press("5")
	p.seeText("Gave 1 item 5 ★")
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and stars = 5`, ids[1])))

	p.press("d")
	p.until(moved(ids[1]) + `.includes("scale")`)
	p.until(moved(ids[0]) + ` === ` + moved(ids[1]) + ` && ` + moved(ids[3]) + ` === ` + moved(ids[1]))
	before := read[string](p, moved(ids[0]))
	at := p.middle(css(compared(ids[2]) + " [data-zoomed]"))
	p.do(chromedp.DragAndDropXY(at.X, at.Y, at.X-40, at.Y-30))
	p.until(moved(ids[0]) + ` !== ` + quote(before) + ` && ` + moved(ids[0]) + ` === ` + moved(ids[2]))
	p.press("d")
	p.until(moved(ids[0]) + ` === ""`)
	p.press("l") // one by one
	p.press("+")
	p.until(`document.querySelector('[data-compared][aria-current="true"] img').style.transform.includes("scale")`)
	assert.Empty(t, read[string](p, moved(ids[0])))

	p.clickAt(p.middle(css(compared(ids[1]) + " figcaption")))
	p.press("o")
	p.seeText("Set 2 items aside") // one was before; a search shows them still
	p.until(`[...document.querySelectorAll("[data-compared] figcaption")].filter(c => c.innerText.includes("set aside")).length === 3`)
	assert.Equal(t, 3, p.number(fmt.Sprintf(`select count(*) from asset where stars < 0 and id in (%d, %d, %d, %d)`, ids[0], ids[1],
		ids[2], ids[3])))
	p.press("z", ctrl)
	p.seeText("Undone: set 2 items aside")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[aria-label="What becomes of the others"]').focus()`))
	p.press("ArrowDown")
	p.clickAt(p.middle(css(compared(ids[1]) + " figcaption")))
	p.press("o")
	p.seeText("1 star less")
	p.press("z", ctrl)
	p.seeText("Undone: gave")
	p.press("Escape")
	p.gone("[data-compare]")
	p.see("[data-sheet] [data-id] img")

	// in a sheet without them they leave, and come back with undo
	p.open("/b/tansyloft/choose?place=everything&sort=name" + filter(`{"field":"stage","missing":true}`))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(p.shown()[0])))
	p.clickAt(p.middle(item(p.shown()[1])), ctrl)
	p.clickAt(p.middle(item(p.shown()[2])), ctrl)
	p.press("v")
	p.see(`[data-compare="3"]`)
	p.press("a")
	p.see(`[data-compare="2"]`)
	p.see(`[data-compare="2"] [aria-current="true"]`)
	p.press("z", ctrl)
	p.see(`[data-compare="3"]`)
}

// TestSixtyAreChosenByKeyboardAlone goes through the library in the big view: after each verdict the next one comes by itself.
func TestSixtyAreChosenByKeyboardAlone(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/choose?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(p.shown()[0])))
	p.click("The next one comes after a verdict")
	p.click("The next one comes after a verdict") // off again: stays
	open := `Number(document.querySelector("[data-big-view]")?.dataset.bigView ?? 0)`
	p.clickAt(p.middle(item(p.shown()[0])))
	p.press("Enter")
	p.see("[data-big-view]")
	first := read[int](p, open)
	p.press("4")
	p.seeText("Gave 1 item 4 ★")
	assert.Equal(t, first, read[int](p, open))
	p.click("The next one comes after a verdict")
	p.do(chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`))
	acts := p.number(`select count(*) from trail`)
	aside := p.number(`select count(*) from asset where stars < 0`)
	for n := range 60 {
		was := read[int](p, open)
		p.press([]string{"1", "2", "3", "a", "4"}[n%5])
		p.until(open + fmt.Sprintf(` !== %d`, was))
	}
	require.Eventually(t, func() bool { return p.number(`select count(*) from asset where stars < 0`) == aside+12 }, patience,
		20*time.Millisecond)
	assert.GreaterOrEqual(t, p.number(`select count(*) from trail`), acts+20)

	p.press("Escape")
	p.open("/b/tansyloft/choose?place=everything&sort=name" + filter(`{"field":"kind","names":["picture"]}`))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(p.shown()[1])))
	p.press("Enter")
	p.see("[data-big-view] [data-zoomed] img")
	p.until(`document.querySelector("[data-big-view] [data-zoomed] img").naturalWidth > 0`)
	p.press("d")
	p.until(`document.querySelector("[data-big-view] [data-zoomed] img")?.style.transform.includes("scale")`)
	p.press("ArrowLeft")
	p.until(`document.querySelector("[data-big-view] [data-zoomed] img")?.style.transform.includes("scale")`) // and stays closer
	p.press("d")
	p.until(`document.querySelector("[data-big-view] [data-zoomed] img")?.style.transform === ""`)
}

// TestStagesAreTheBrands renames a stage as one types, moves it, and adds one that can be given at once.
func TestStagesAreTheBrands(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/settings")
	p.fill(`[data-stage="In work"] input`, "At the lab")
	p.press("Enter")
	p.seeText("Renamed the stage “In work” to “At the lab”")
	p.click("Move “At the lab” up")
	p.seeText("Moved the stage")
	p.accessible("the settings of the brand")
	p.fill(`[data-stage="At the lab"] input`, "Print only")
	p.press("Enter")
	p.seeText("There is a stage “Print only” already")
	p.press("Escape")
	p.click("Remove “Print only”") // items are at it, or none: either is said
	p.until(`/at this stage|Removed the stage/.test(document.body.innerText)`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-new-stage] input").focus()`))
	p.typeText("Released")
	p.press("Enter")
	p.seeText("Made the stage “Released”")
	p.open("/b/tansyloft/choose?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(p.shown()[0])))
	p.click("Released")
	p.seeText("Put 1 item at “Released”")
	p.press("z", ctrl)
	p.seeText("Undone: put 1 item")
}

// TestStagesAndStarsStepByStep goes through the stages and the stars of one item by key, and leafs a document.
func TestStagesAndStarsStepByStep(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/choose?place=everything&sort=name" + filter(`{"field":"stars","from":3,"to":3}`))
	p.see("[data-sheet] [data-id] img")
	id := p.shown()[0]
	p.clickAt(p.middle(item(id)))
	stage := func() (name string) {
		require.NoError(
			t,
			storetest.SQL(p.database).Get(&name, `select coalesce((select s.name from stage s where s.id = a.stage_id), '') from asset a
			where a.id = $1`, id),
		)
		return name
	}
	before := stage()
	p.press(".")
	p.seeText("Put 1 item at “")
	assert.NotEqual(t, before, stage())
	p.press(",")
	require.Eventually(t, func() bool { return stage() == before }, patience, 20*time.Millisecond)
	p.press(">")
	p.seeText("Gave 1 item 4 ★")
	p.press("z", ctrl)
	p.seeText("Undone: gave 1 item")

	var document int64
	require.NoError(t, storetest.SQL(p.database).Get(&document, `select id from asset where kind = 'document' and pages > 1`))
	p.open(fmt.Sprintf("/b/tansyloft/file?place=everything&item=%d", document))
	p.see("[data-pages] img")
	p.press("PageDown")
	p.seeText("page 2 of")
	p.press("PageUp")
	p.seeText("page 1 of")
}
