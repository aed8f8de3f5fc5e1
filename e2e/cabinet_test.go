package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// menu opens the menu of a row in the cabinet and chooses from it.
func (p *page) menu(about, words string) {
	p.t.Helper()
	p.click("More about " + about)
	p.click(words)
}

func (p *page) shown() []int64 {
	p.t.Helper()
	return read[[]int64](p, `[...document.querySelectorAll("[data-sheet] [data-id]")].map(e => Number(e.dataset.id))`)
}

// TestKeepingOrderInTheCabinet makes, renames and removes a folder with something in it, and undoes that.
func TestKeepingOrderInTheCabinet(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("New folder")
	p.fill("[role=dialog] textarea", "Wind socks")
	p.press("Enter")
	p.see(`[data-place="Wind socks"]`)
	p.click("New folder")
	p.fill("[role=dialog] textarea", "WIND SOCKS")
	p.press("Enter")
	p.seeText("There is a folder “WIND SOCKS” here already")
	p.accessible("a name that is taken")
	p.press("Escape")
	p.gone("[role=dialog]")

	long := "A name that goes on and on, as they do when everybody adds a word to it and nobody takes one away, final, final 2"
	p.menu("Wind socks", "Rename")
	p.fill(`[aria-label="New name of Wind socks"]`, long)
	p.press("Enter")
	p.see(`[data-place="` + long + `"]`)
	p.until(`document.querySelector("[data-board]").scrollWidth <= document.querySelector("[data-board]").clientWidth`)

	id := p.shown()[2]
	p.drag(item(id), css(`[data-place="`+long+`"]`), 0.4)
	p.until(own(long) + ` === 1`)
	p.menu(long, "Remove")
	p.seeText("1 item moves to Unfiled. Nothing is deleted.")
	p.click("Remove the folder")
	p.gone(`[data-place="` + long + `"]`)
	p.undo("Removed")
	p.until(own(long) + ` === 1`)

	p.clickOn(`[data-place="` + long + `"] button[title]`)
	p.until(`document.querySelector("[data-count]").innerText === "1 item"`)
	p.clickAt(p.middle(item(id)))
	p.press("Delete")
	p.seeText("stays there for 60 days. It can be put back")
	p.accessible("before the bin")
	p.click("Put 1 in the bin")
	p.seeText("This folder is empty")
	p.accessible("an empty folder")
	p.clickOn(`[data-place="Bin"] button[title]`)
	p.see(fmt.Sprintf(`[data-id="%d"] img`, id))
	p.clickAt(p.middle(item(id)))
	p.click("Put 1 back")
	p.gone(fmt.Sprintf(`[data-id="%d"]`, id))
	p.clickOn(`[data-place="` + long + `"] button[title]`)
	p.see(fmt.Sprintf(`[data-id="%d"]`, id))
}

// TestSelecting does so by box, by keyboard, and all at once.
func TestSelecting(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/file?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	box := read[[4]float64](p, `(() => { const r = [...document.querySelectorAll("[data-sheet] [data-id]")].slice(0,
		2).map(e => e.getBoundingClientRect()); const s = document.querySelector("[data-sheet]").getBoundingClientRect();
		return [s.left + 6, s.top + 4, r[1].left + r[1].width / 2, r[1].top + 40]; })()`)
	p.mouse(input.DispatchMouseEventTypeMousePressed, box[0], box[1])
	for step := range 5 {
		f := float64(step+1) / 5
		p.mouse(input.DispatchMouseEventTypeMouseMoved, box[0]+(box[2]-box[0])*f, box[1]+(box[3]-box[1])*f)
	}
	p.mouse(input.DispatchMouseEventTypeMouseReleased, box[2], box[3])
	p.see(`[data-selected="2"]`)

	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.press("ArrowRight")
	p.until(item(ids[1]) + `.getAttribute("aria-selected") === "true"`)
	p.press("ArrowRight", chromedp.ModifierShift)
	p.press("ArrowRight", chromedp.ModifierShift)
	p.see(`[data-selected="3"]`)
	p.press("ArrowDown")
	p.see(`[data-selected="1"]`)
	p.press("a", chromedp.ModifierCtrl)
	p.until(`document.querySelector("[data-selected]").dataset.selected === String(parseInt(document.querySelector("[data-count]")
		.innerText))`)
	p.press("Escape")
	p.gone("[data-selected]")
}

// TestFindingAThing searches, goes to places by name, and lists the keys.
func TestFindingAThing(t *testing.T) {
	p := signIn(t, coordinator)
	p.press("/")
	p.typeText("honeycomb")
	p.until(`/^[1-9] items?$/.test(document.querySelector("[data-count]")?.innerText) && location.search.includes("honeycomb")`)
	p.fill("input[type=search][aria-label='Search this place']", "zeppelin")
	p.seeText("Nothing here matches “zeppelin”")
	p.accessible("nothing found")
	p.click("Show everything here")
	p.see("[data-sheet] [data-id] img")

	p.press("k", chromedp.ModifierCtrl)
	p.see("[role=dialog] input")
	p.typeText("team port")
	p.accessible("go to")
	p.press("Enter")
	p.until(`document.querySelector("h1").innerText === "Team portraits"`)
	crumbs := read[string](p, `document.querySelector("nav[aria-label=Place]").innerText.replace(/\s+/g, " ")`)
	assert.Equal(t, "Library / Shoots / 2026 / Team portraits", crumbs)

	p.press("?")
	p.seeText("Keys and symbols")
	p.seeText("put the selection in the satchel")
	p.accessible("the keys")
	p.press("Escape")
	p.gone("[role=dialog]")
}

// TestTwoPeopleAtOneTitle has both write the title of one item: the second is told, and keeps the choice.
func TestTwoPeopleAtOneTitle(t *testing.T) {
	p := signIn(t, coordinator)
	q := signIn(t, "greta@tansyloft.example")
	id := p.shown()[5]
	for _, tab := range []*page{p, q} {
		tab.click("Describe")
		tab.clickAt(tab.middle(item(id)))
		tab.see("[data-field=title] input")
	}
	// p loses the line while typing, and q finishes meanwhile
	p.line(&network.Conditions{URLPattern: p.site + "/api/brands/tansyloft/assets/*", Offline: true, UploadThroughput: -1,
		DownloadThroughput: -1})
	p.clickOn("[data-field=title] input")
	p.typeText("A")
	p.seeText("The server does not answer. Nothing was changed")
	q.fill("[data-field=title] input", "Greta's title")
	q.press("Tab")
	q.until(`document.querySelector("[data-field=title] label").innerText.includes("Saved")`)
	p.line()
	p.typeText("B")
	p.seeText("Greta Ollin changed the title meanwhile")
	p.seeText("It says now: “Greta's title”")
	p.accessible("a conflict")
	p.click("Take theirs")
	p.until(`document.querySelector("[data-field=title] input").value === "Greta's title"`)
}

// TestAnAssociateSeesWhatWasGranted and nothing beside it.
func TestAnAssociateSeesWhatWasGranted(t *testing.T) {
	p := signIn(t, "wren@fieldfare-studio.example")
	p.see("[role=tree] [data-place]")
	p.see("[data-album]")
	folders := read[[]string](p, `[...document.querySelectorAll("[role=tree] [data-place]")].map(e => e.dataset.place)`)
	assert.Equal(t, []string{"Brand", "Cut-outs", "Icons", "Lookbooks", "Marks", "Web"}, folders)
	albums := read[[]string](p, `[...document.querySelectorAll("[data-album]")].map(e => e.dataset.album)`)
	assert.Equal(t, []string{"Press kit"}, albums)
	assert.Less(t, read[int](p, `parseInt(document.querySelector("[data-count]").innerText)`), 30)
	steps := read[[]string](p, `[...document.querySelectorAll("nav[aria-label='Steps of the work'] button")].map(b =>
		b.firstChild.textContent)`)
	assert.Equal(t, []string{"Bring in", "File", "Describe", "Choose", "Prepare"}, steps)
	p.click("Bring in")
	p.see("[data-board] select")
	options := read[[]string](p, `[...document.querySelector("[data-board] select").options].map(o => o.text)`)
	require.NotContains(t, options, "Unfiled")
	for _, o := range options {
		assert.True(t, strings.HasPrefix(o, "Brand"), o)
	}
	p.accessible("what an associate sees")
}

// TestOnAPhone uses the width of one: the path is below, the board is pulled up, nothing runs out sideways.
func TestOnAPhone(t *testing.T) {
	p := signIn(t, coordinator)
	p.do(chromedp.EmulateViewport(390, 844))
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.until(`document.documentElement.scrollWidth <= 390`)
	perRow := read[int](p, `(e => e.filter(x => x.offsetTop === e[0].offsetTop)
		.length)([...document.querySelectorAll("[data-sheet] [data-id]")])`)
	assert.GreaterOrEqual(t, perRow, 2)
	p.click("Describe")
	p.until(`document.querySelector("[data-board]").getBoundingClientRect().height > 100`)
	p.accessible("a board on a phone")
	p.click("Put the board down")
	p.until(`document.querySelector("[data-board]").getClientRects().length === 0`)
	p.open("/b/tansyloft/galleries")
	p.see("[data-gallery]")
	p.until(`document.documentElement.scrollWidth <= 390`)
}

// TestTheDarkTheme is chosen in the menu, kept, and as readable.
func TestTheDarkTheme(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("CO: Chioma Oxendell")
	p.click("Theme: dark")
	p.until(`document.documentElement.dataset.theme === "dark"`)
	p.do(chromedp.Reload())
	p.see("[data-sheet] [data-id] img")
	p.until(`document.documentElement.dataset.theme === "dark"`)
	p.clickAt(p.middle(item(p.shown()[1])))
	for _, step := range []string{"File", "Describe", "Choose", "Send out", "Bring in"} {
		p.click(step)
		p.accessible(step + " in the dark")
	}
	p.open("/b/tansyloft/trail")
	p.see("[data-trail]")
	p.accessible("the trail in the dark")
}

// TestCarryingAndPuttingDown drags into the satchel, orders it, and empties it.
func TestCarryingAndPuttingDown(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	ids := p.shown()
	for i, id := range ids[:3] {
		p.clickAt(p.middle(item(id)))
		p.drag(item(id), css("[data-strap]"), 0.1)
		p.see(fmt.Sprintf(`[data-satchel="%d"]`, i+1))
	}
	p.clickOn("[data-satchel]")
	p.until(`document.querySelectorAll("[data-satchel-strip] li").length === 3`)
	title := func(n int) string {
		return read[string](p, fmt.Sprintf(`document.querySelectorAll("[data-satchel-strip] li img")[%d].alt`, n))
	}
	last := title(2)
	p.drag(`document.querySelectorAll("[data-satchel-strip] li")[2]`, `document.querySelectorAll("[data-satchel-strip] li")[0]`, 0.2)
	p.until(`document.querySelectorAll("[data-satchel-strip] li img")[0].alt === ` + quote(last))
	p.do(chromedp.Reload())
	p.see(`[data-satchel="3"]`)
	p.clickOn("[data-satchel]")
	p.until(`document.querySelectorAll("[data-satchel-strip] li img")[0]?.alt === ` + quote(last))
	p.click("Empty it")
	p.seeText("It is empty")
}

// TestAlbumsAreOnlyPicks takes things out, chooses a cover, renames and removes: nothing leaves the library.
func TestAlbumsAreOnlyPicks(t *testing.T) {
	p := signIn(t, coordinator)
	whole := read[string](p, `document.querySelector("[data-count]").innerText`)
	ids := p.shown()
	p.click("New album")
	p.fill("[role=dialog] input", "Rainy day")
	p.press("Enter")
	p.see(`[data-album="Rainy day"]`)
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[2])), chromedp.ModifierShift)
	p.drag(item(ids[1]), css(`[data-album="Rainy day"]`), 0.4)
	p.seeText("Added 3 items to Rainy day")
	p.clickOn(`[data-album="Rainy day"] button[title]`)
	p.until(`document.querySelector("[data-count]").innerText === "3 items"`)
	p.until(`document.querySelectorAll("[data-sheet] [data-id] img").length === 3`)
	p.clickAt(p.middle(item(ids[2])))
	p.click("More")
	p.click("Make it the cover")
	cover := read[string](p, item(ids[2])+`.querySelector("img").getAttribute("src")`)
	p.until(`document.querySelector('[data-album="Rainy day"] img').getAttribute("src") === ` + quote(cover))
	p.clickAt(p.middle(item(ids[0])))
	p.click("Take 1 out of this album")
	p.until(`document.querySelector("[data-count]").innerText === "2 items"`)
	p.undo("Took 1 item out")
	p.until(`document.querySelector("[data-count]").innerText === "3 items"`)
	p.menu("Rainy day", "Rename")
	p.fill("[role=dialog] input", "Press kit")
	p.press("Enter")
	p.seeText("There is an album “Press kit” here already")
	p.press("Escape")
	p.menu("Rainy day", "Remove")
	p.seeText("Its 3 items stay in the library, where they live.")
	p.click("Remove the album")
	p.gone(`[data-album="Rainy day"]`)
	p.clickOn(`[data-place="Everything"] button[title]`)
	p.until(`document.querySelector("[data-count]").innerText === ` + quote(whole))
}

// TestTheBoardIsAsWideAsOneLikes resizes and folds it by keyboard, and finds it so after a reload.
func TestTheBoardIsAsWideAsOneLikes(t *testing.T) {
	p := signIn(t, coordinator)
	width := `document.querySelector("[data-board]")?.getBoundingClientRect().width`
	p.until(width + ` === 340`)
	read[any](p, `document.querySelector("[role=separator][aria-orientation]").focus()`)
	p.press("ArrowLeft")
	p.press("ArrowLeft")
	p.until(width + ` === 380`)
	p.do(chromedp.Reload())
	p.until(width + ` === 380`)
	read[any](p, `document.querySelector("[role=separator][aria-orientation]").focus()`)
	p.press("Enter")
	p.gone("[data-board]")
	p.click("Unfold the board")
	p.see("[data-board]")
}

// TestNoScreenAsksForWhatDidNotChange gives stars in one window and watches what another one, of somebody else, asks for.
func TestNoScreenAsksForWhatDidNotChange(t *testing.T) {
	p := signIn(t, coordinator)
	w := signIn(t, steward)
	w.see("[role=tree] [data-place]")
	read[any](w, `performance.clearResourceTimings()`)
	p.open("/b/tansyloft/choose?place=everything")
	p.see("[data-sheet] [data-id] img")
	id := p.shown()[1]
	p.clickAt(p.middle(item(id)))
	p.press("5")
	w.until(item(id) + `.innerText.includes("5")`)
	asked := read[[]string](w, `performance.getEntriesByType("resource").map(e => new URL(e.name).pathname.split("/").at(-1))`)
	for _, unchanged := range []string{"folders", "tags", "limits", "galleries", "intakes", "outlets", "satchel"} {
		assert.NotContains(t, asked, unchanged)
	}
	assert.Contains(t, asked, "rows")
	p.press("z", chromedp.ModifierCtrl)
	w.gone(fmt.Sprintf(`[data-id="%d"] [aria-label="5 stars"]`, id))
}

// TestWhatIsLowInTheCabinetIsHit drops onto folders in the lower quarter of the cabinet, which stay where they are seen.
func TestWhatIsLowInTheCabinetIsHit(t *testing.T) {
	p := signIn(t, coordinator)
	p.goTo("everything")
	p.see("[data-sheet] [data-id] img")
	type row struct {
		Name string
		X, Y float64
	}
	low := read[[]row](p, `(() => { const box = document.querySelector("[data-board]").getBoundingClientRect();
		return [...document.querySelectorAll("[data-board] [data-place]")].filter(e => e.querySelector("[data-own]")).map(e => {
			const r = e.getBoundingClientRect(); return { Name: e.dataset.place, X: r.x + r.width / 3, Y: r.y + r.height / 2 } })
			.filter(r => r.Y > box.bottom - box.height / 4 && r.Y < box.bottom - 40) })()`)
	require.NotEmpty(t, low)
	ids := p.shown()
	for i, to := range low[:min(2, len(low))] {
		from := p.middle(item(ids[i]))
		p.do(chromedp.DragAndDropXY(from.X, from.Y, to.X, to.Y))
		moved := `document.body.innerText.includes("Moved 1 item to ` + to.Name + `")`
		p.until(`document.querySelector("[role=dialog]") || ` + moved)
		if !read[bool](p, moved) { // somebody else sees it there
			p.click("Move 1")
			p.until(moved)
		}
		assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset a join folder f on f.id = a.folder_id
			where a.id = %d and f.name = '%s'`, ids[i], to.Name)))
		p.press("z", ctrl)
		p.seeText("Undone: moved 1 item to " + to.Name)
	}
}
