package e2e

import (
	"context"
	"fmt"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

const (
	steward   = "greta@tansyloft.example"
	associate = "wren@fieldfare-studio.example"
)

// count is what the heading says, as a number.
const count = `Number(document.querySelector("[data-count]").innerText.match(/^[\d,]*/)[0].replace(/,/g, ""))`

func (p *page) goTo(place string) {
	p.t.Helper()
	p.open("/b/tansyloft/file?place=" + place)
	p.until(`/item/.test(document.querySelector("[data-count]")?.innerText)`)
	p.until(`document.querySelector("[data-sheet] [data-id]") || ` + count + ` === 0`)
}

// folder makes a folder, and returns its id.
func (p *page) folder(name string) int64 {
	p.t.Helper()
	p.click("New folder")
	p.fill("[role=dialog] textarea", name)
	p.press("Enter")
	p.gone("[role=dialog]")
	var id int64
	require.NoError(p.t, storetest.SQL(p.database).Get(&id, `select max(id) from folder`))
	return id
}

// TestAnAfternoonOfFiling gets the unfiled down to nothing: by date, and the undated by hand; and takes it all back, also
// after a reload.
func TestAnAfternoonOfFiling(t *testing.T) {
	p := signIn(t, coordinator)
	p.goTo("unfiled")
	before := read[int](p, count)
	paths := files(t, []namedFile{
		{"weir-1.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 610, 400, 33), "-DateTimeOriginal=2024:03:02 10:00:00")},
		{"weir-2.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 612, 400, 66), "-DateTimeOriginal=2024:03:02 11:00:00")},
		{"weir-3.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 614, 400, 99), "-DateTimeOriginal=2024:03:05 11:00:00")},
		{"undated.jpg", mediatest.JPEG(t, 616, 400, 120)},
	})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.until(fmt.Sprintf(`%s === %d`, count, before+4))
	p.click("File all by date…")
	p.seeText("New shoot after a gap of")
	p.accessible("file by date")
	p.fill(`[aria-label^="Folder for the shoot of 2 March 2024"]`, "2024-03-02 At the weir")
	undated := 0
	require.NoError(
		t,
		storetest.SQL(p.database).Get(&undated, `select count(*) from asset a join brand b on b.id = a.brand_id where b.code = 'tansyloft'
		and folder_id is null and binned_at is null and captured_at is null`),
	)
	p.seeText("without a capture time stay")
	p.click(fmt.Sprintf("File %d items into", before+4-undated))
	p.until(fmt.Sprintf(`%s === %d`, count, undated))
	p.see(`[data-place="2024-03-02 At the weir"]`)

	p.press("a", chromedp.ModifierCtrl)
	p.press("m")
	p.see("[role=dialog] input")
	p.typeText("Odds and ends")
	p.click("Make “Odds and ends” at the top level")
	p.click(fmt.Sprintf("Move %d to Odds and ends", undated))
	p.seeText("Nothing is unfiled. Everything has its place.")
	p.until(own("Unfiled") + ` === 0`)

	p.do(chromedp.Reload())
	p.click("Undo: Moved")
	p.until(fmt.Sprintf(`%s === %d`, count, undated))
	p.press("z", chromedp.ModifierCtrl) // the folder that was made on the way
	p.gone(`[data-place="Odds and ends"]`)
	p.press("z", chromedp.ModifierCtrl)
	p.until(fmt.Sprintf(`%s === %d`, count, before+4))
	p.gone(`[data-place="2024-03-02 At the weir"]`)
	p.click("Undo: Brought in 4 files")
	p.until(fmt.Sprintf(`%s === %d`, count, before))
}

// TestFoldersByHand makes several at once, renames one in its place, and drags them into and beside each other.
func TestFoldersByHand(t *testing.T) {
	p := signIn(t, coordinator)
	p.folder("Drawer")
	p.menu("Drawer", "New folder inside")
	p.fill("[role=dialog] textarea", "Pegs 10")
	p.press("Enter", chromedp.ModifierShift)
	p.typeText("Pegs 9")
	p.press("Enter", chromedp.ModifierShift)
	p.typeText("String/Blue")
	p.click("Make 3 folders")
	inside := `[...document.querySelectorAll('[data-place="Drawer"]')].at(-1).closest("[role=treeitem]").innerText.replace(/\s+/g, " ")`
	p.until(inside + `.startsWith("Drawer 0 Pegs 9 0 Pegs 10 0 String 0 Blue 0")`)

	edge := func(place string, at float64) {
		// in the middle of the board: near its edges it scrolls on under a drag
		read[any](p, css(`[data-place="Pegs 9"]`)+`.scrollIntoView({ block: "center" }); null`)
		from := p.middle(css(`[data-place="Pegs 10"] button[title]`))
		to := read[spot](p, `(b => ({ X: b.x + b.width / 2,
			Y: b.y + b.height * `+fmt.Sprint(at)+` }))(`+css(`[data-place="`+place+`"]`)+`.getBoundingClientRect())`)
		p.do(chromedp.DragAndDropXY(from.X, from.Y, to.X, to.Y))
	}
	edge("Pegs 9", 0.1)
	p.until(inside + `.startsWith("Drawer 0 Pegs 10 0 Pegs 9 0 String 0")`)
	edge("String", 0.5)
	p.until(inside + `.startsWith("Drawer 0 Pegs 9 0 String 0 Blue 0 Pegs 10 0")`)
	p.see(`[aria-label="Undo: Moved the folder “Pegs 10” to “String”"]`)
	p.press("z", chromedp.ModifierCtrl)
	p.until(inside + `.startsWith("Drawer 0 Pegs 10 0 Pegs 9 0 String 0")`)
	p.menu("Drawer", "Order its folders by name")
	p.until(inside + `.startsWith("Drawer 0 Pegs 9 0 Pegs 10 0")`)

	p.menu("String", "Rename")
	p.fill(`[aria-label="New name of String"]`, "pegs 9")
	p.press("Enter")
	p.seeText("There is a folder “pegs 9” here already. Try “pegs 9 2”.")
	p.press("Escape")
	p.menu("Drawer", "Date, tags, description")
	p.fill("[role=dialog] textarea", "Where the string lives")
	p.press("Tab")
	p.seeText("Saved")
	p.accessible("about a folder")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.menu("Drawer", "Park it")
	p.see(`[data-place="Parked"]`)
	p.gone(`[data-place="Drawer"]`)
	p.fill(`[aria-label="Find a folder"]`, "pegs 9")
	p.see(`[data-place="Pegs 9"]`)
	p.accessible("folders found")
	p.fill(`[aria-label="Find a folder"]`, "")
	p.click("Unfold Parked")
	p.menu("Drawer", "Copy the folder structure")
	p.click("Make “Drawer 2”")
	p.see(`[data-place="Drawer 2"]`)
}

// TestTwoPeopleMoveTheSameItems: the later one wins, and the earlier cannot undo over it.
func TestTwoPeopleMoveTheSameItems(t *testing.T) {
	p := signIn(t, coordinator)
	p.folder("Left pile")
	p.folder("Right pile")
	q := signIn(t, steward)
	ids := p.shown()[:2]
	for _, tab := range []*page{p, q} {
		tab.clickAt(tab.middle(item(ids[0])))
		tab.clickAt(tab.middle(item(ids[1])), chromedp.ModifierShift)
		tab.see(`[data-selected="2"]`)
		tab.press("m")
		tab.see("[role=dialog] input")
	}
	p.typeText("Left pile")
	p.press("Enter")
	q.until(own("Left pile") + ` === 2`)
	q.typeText("Right pile")
	q.press("Enter")
	p.until(own("Right pile") + ` === 2 && ` + own("Left pile") + ` === 0`)
	p.click("Undo: Moved 2 items to Left pile")
	p.seeText("Greta Ollin has changed it since, so it cannot be undone. Nothing was touched.")
	q.see(`[aria-label="Undo: Moved 2 items to Right pile"]`)
	q.press("z", chromedp.ModifierCtrl)
	p.until(own("Left pile") + ` === 2`)
	p.click("Undo: Moved 2 items to Left pile")
	p.until(own("Left pile") + ` === 0`)
}

// TestCutCopyAndStack moves by cutting and pasting, makes a second item, stacks it with the first, and looks at one item.
func TestCutCopyAndStack(t *testing.T) {
	p := signIn(t, coordinator)
	folder := p.folder("Bench")
	id := p.shown()[3]
	p.clickAt(p.middle(item(id)))
	p.press("x", chromedp.ModifierCtrl)
	p.seeText("1 item cut")
	p.clickOn(`[data-place="Bench"] button[title]`)
	p.seeText("This folder is empty")
	p.press("v", chromedp.ModifierCtrl)
	p.see(fmt.Sprintf(`[data-id="%d"]`, id))
	p.clickAt(p.middle(item(id)))
	p.click("More")
	p.click("Copy to…")
	p.see("[role=dialog] input")
	p.typeText("bench")
	p.accessible("second items")
	p.click("Copy 1 to Bench")
	p.until(count + ` === 2`)
	p.press("a", chromedp.ModifierCtrl)
	p.click("More")
	p.click("Stack 2")
	p.until(count + ` === 1`)
	p.clickOn("[data-sheet] [data-id]")
	p.seeText("one of a stack of 2")
	p.press("Enter")
	p.seeText("What was done to it")
	p.seeText("Stack of 2")
	p.accessible("an item")
	p.click("Make it the front")
	p.seeText("Chose another front for the stack")
	p.press("Escape")
	p.menu("Bench", "Remove")
	p.seeText("2 items move to Unfiled. Nothing is deleted.")
	p.press("Escape")
	assert.Positive(t, folder)
}

// TestListsNamesAndOrder looks at a folder as a list, sorts and sizes it by its heads, and finds it so again.
func TestListsNamesAndOrder(t *testing.T) {
	p := signIn(t, "hugo@tansyloft.example")
	p.click("Show as pictures")
	p.click("A list")
	p.see("[data-list-head]")
	p.accessible("a list")
	p.click("Title, sort by it")
	p.until(`document.querySelector("[data-list-head] [aria-label^='Title']").getAttribute("aria-label").includes("rising")`)
	titles := read[[]string](p, `[...document.querySelectorAll("[data-column=title]")].slice(0, 2).map(e => e.innerText)`)
	p.click("Title, sort by it")
	p.until(`document.querySelector("[data-column=title]").innerText !== ` + quote(titles[0]))
	p.click("Choose columns")
	p.click("Tags")
	p.see("[data-column=tags]")
	p.do(chromedp.Reload())
	p.see("[data-column=tags]")
	p.click("Show as a list")
	p.click("Names only")
	p.gone("[data-list-head]")
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length > 30`)
	p.accessible("names only")
	p.click("Show as names only")
	p.click("Pictures")
	p.see("[data-sheet] [data-id] img")
	p.do(chromedp.Reload())
	p.see("[data-sheet] [data-id] img")
}

// TestFilters filters by facets, all, any and none, with the counts that were said.
func TestFilters(t *testing.T) {
	p := signIn(t, "hugo@tansyloft.example")
	p.click("Filter")
	p.seeText("Year taken")
	p.accessible("the filters")
	said := read[int](p, `Number([...document.querySelectorAll("label")].find(l =>
		l.innerText.startsWith("Studio"))?.innerText.replace(/\D/g, ""))`)
	value := func(begins string) string {
		return `[...document.querySelectorAll("fieldset label")].find(l => l.innerText.startsWith(` + quote(begins) + `))`
	}
	p.clickAt(p.middle(value("Studio")))
	p.until(fmt.Sprintf(`%s === %d`, count, said))
	p.clickAt(p.middle(value("clip")))
	p.until(fmt.Sprintf(`%s < %d`, count, said))
	p.press("Escape")
	p.until(`document.querySelectorAll("[data-chips] button").length === 3`)
	p.clickOn(`[data-chips] button:nth-child(2)`)
	p.until(fmt.Sprintf(`%s === %d`, count, said))
	p.click("Unfold By date")
	p.click("Unfold 2025")
	p.clickOn(`[data-place="2025"] button[title]`)
	p.until(own("2025") + ` === ` + count)
	p.click("taken 2025")
	p.until(count + ` > 60`)
}

// TestSelectingOnAPhone selects by a long press and taps.
func TestSelectingOnAPhone(t *testing.T) {
	p := signIn(t, coordinator)
	p.do(chromedp.EmulateViewport(390, 800, chromedp.EmulateMobile),
		func(ctx context.Context, target *chromedp.Target) (chromedp.Void, error) {
			points := int64(1)
			_, err := cdp.Call(ctx, target, emulation.SetTouchEmulationEnabled,
				emulation.SetTouchEmulationEnabledParams{Enabled: true, MaxTouchPoints: points})
			return chromedp.Void{}, err
		})
	p.do(chromedp.Reload())
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	first, second := p.middle(item(ids[0])), p.middle(item(ids[1]))
	p.touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: first.X, Y: first.Y})
	p.see(`[data-selected="1"]`)
	p.touch(input.DispatchTouchEventTypeTouchEnd)
	p.touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: second.X, Y: second.Y})
	p.touch(input.DispatchTouchEventTypeTouchEnd)
	p.see(`[data-selected="2"]`)
	p.click("More: what to do with the selection")
	p.click("Move 2 to…")
	p.seeText("Choose a folder")
	p.accessible("moving on a phone")
	p.until(`document.documentElement.scrollWidth <= 390`)
}

// TestGrants gives somebody a folder, shows what that looks like for them, and asks once before more is shown to them.
func TestGrants(t *testing.T) {
	p := signIn(t, steward)
	folder := p.folder("For the printers")
	w := signIn(t, associate)
	seen := read[int](w, count)
	p.click("More about the brand")
	p.click("Settings")
	p.click("People and rights")
	p.seeText("What the public can reach")
	p.accessible("people and what they may do")
	p.clickOn(`li:has(select[aria-label="What Wren Tolliver is"]) button:nth-of-type(1):not([aria-label])`)
	p.see("[role=dialog] select")
	read[any](p, fmt.Sprintf(`(s => { s.value = "folder %d"; s.dispatchEvent(new Event("change",
		{ bubbles: true })); })(document.querySelector("[role=dialog] select"))`, folder))
	p.click("Give the grant")
	p.seeText("Let Wren Tolliver look in “For the printers”")
	p.click("What Wren sees")
	p.see("[data-sees]")
	p.seeText("For the printers")
	p.accessible("what this looks like for somebody")
	p.press("Escape")

	p.goTo("unfiled")
	id := p.shown()[0]
	p.drag(item(id), css(`[data-place="For the printers"]`), 0.4)
	p.seeText("1 more person will see it")
	p.accessible("who will see it")
	p.click("Move 1")
	w.until(fmt.Sprintf(`%s === %d`, count, seen+1))
	second := p.shown()[0]
	p.drag(item(second), css(`[data-place="For the printers"]`), 0.4)
	w.until(fmt.Sprintf(`%s === %d`, count, seen+2)) // not asked again
	var last int64
	require.NoError(t, storetest.SQL(p.database).Get(&last, `select max(id) from trail where action = 'move'`))
	p.see(fmt.Sprintf(`[data-undoes="%d"]`, last))
	p.press("z", chromedp.ModifierCtrl)
	p.press("z", chromedp.ModifierCtrl)
	w.until(fmt.Sprintf(`%s === %d`, count, seen))
	p.see(`[aria-label^="Undo: Let Wren Tolliver look"]`)
	p.press("z", chromedp.ModifierCtrl)
	w.gone(`[data-place="For the printers"]`)
}

// TestTheNewViewsInTheDark has axe-core look at them in the dark theme.
func TestTheNewViewsInTheDark(t *testing.T) {
	p := signIn(t, steward)
	dark := func() { read[any](p, `document.documentElement.dataset.theme = "dark"; null`) }
	dark()
	p.click("Show as pictures")
	p.click("A list")
	p.see("[data-list-head]")
	p.accessible("a list in the dark")
	p.click("Filter")
	p.seeText("Year taken")
	p.clickAt(p.middle(`[...document.querySelectorAll("fieldset label")].find(l => l.innerText.startsWith("Web"))`))
	p.see("[data-chips]")
	p.accessible("filters in the dark")
	p.press("Escape")
	p.click("Show as a list")
	p.click("Names only")
	p.gone("[data-list-head]")
	p.accessible("names in the dark")
	p.click("Show as names only")
	p.click("Pictures")
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.press("m")
	p.seeText("Choose a folder")
	p.accessible("moving in the dark")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.press("Enter")
	p.seeText("What was done to it")
	p.accessible("an item in the dark")
	p.open("/b/tansyloft/people")
	p.seeText("What the public can reach")
	dark()
	p.accessible("people in the dark")
	p.goTo("bin")
	dark()
	p.accessible("the bin in the dark")
}
