package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

// TestScreenshots makes the pictures in docs/screenshots when SATCHEL_SHOTS names the folder: see scripts/screenshots.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("SATCHEL_SHOTS")
	if dir == "" {
		t.Skip("SATCHEL_SHOTS is not set")
	}
	shot := func(p *page, name string) {
		p.until(`[...document.images].every(i => i.complete)`)
		p.shot(filepath.Join(dir, name+".png"))
	}
	p := signIn(t, "chioma@tansyloft.example")
	shot(p, "file")
	p.clickOn("[data-sheet] [data-id]:nth-child(6)")
	p.press("Enter")
	p.seeText("What was done to it")
	shot(p, "item")
	p.press("Escape")
	p.press("Escape")
	g := signIn(t, "greta@tansyloft.example")
	g.open("/b/tansyloft/people")
	g.seeText("wren@fieldfare-studio.example")
	shot(g, "people")
	for _, step := range []string{"Bring in", "Describe", "Choose", "Prepare", "Send out"} {
		p.click(step)
		switch step {
		case "Describe":
			p.clickOn("[data-sheet] [data-id]:nth-child(3)")
			p.see("[data-field=title]")
		case "Choose":
			p.clickOn("[data-sheet] [data-id]:nth-child(4)")
			p.press("Enter")
			p.see("[data-big-view] img")
		case "Prepare":
			p.see("[data-preparing]")
			p.control("Exposure", "0.4")
			p.click("Crop")
			p.until(`document.querySelector("[data-crop-box]")`)
			handle := p.middle(css(`[data-handle="top left corner"]`))
			p.do(chromedp.DragAndDropXY(handle.X, handle.Y, handle.X+150, handle.Y+80))
			p.seeText("1 set")
		case "Send out":
			p.press("Escape")
			p.press("Escape")
			p.clickOn("[data-sheet] [data-id]:nth-child(7)")
			p.clickAt(p.middle(`document.querySelector("[data-sheet] [data-id]:nth-child(9)")`), chromedp.ModifierShift)
			p.see("ul[aria-label='Files as they will be made'] li")
		}
		shot(p, strings.ReplaceAll(strings.ToLower(step), " ", "-"))
	}
	p.open("/b/tansyloft/tags")
	p.clickOn(`[data-tag="Hexagon"]`)
	p.see("[data-spelling]")
	shot(p, "tags")
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=album&id=%d", p.number(`select id from album where name = 'Press kit'`)))
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]:nth-child(2)")
	shot(p, "gather")
	p.only(p.broad(1.2, 1.9, 2)...)
	p.rehearse("Spring sale, first idea")
	p.fill(`[data-variant=A] textarea`, "The wind is back, and so are the deltas. Twelve new colours, all sewn in the loft above the shop.")
	p.press("Tab")
	p.see(`[data-variant=A] [data-frame=tall] p`)
	shot(p, "rehearsal")
	p.pair(screen(t, p, p.site+"/screen"), "Shop window, north side", p.pictured())
	p.seeText("here now")
	p.click("How it shows them")
	shot(p, "screens")
	g.open("/b/tansyloft/embeds")
	g.click("New embed")
	g.fill("[role=dialog] input", "spring cat")
	g.clickOn(`[role=dialog] input[type=checkbox]`)
	g.click("Make an embed of 1 place")
	g.until(`[...document.querySelector("satchel-pictures").shadowRoot.querySelectorAll("img")].slice(0, 6).every(i => i.naturalWidth > 0)`)
	shot(g, "embeds")
	for n, days := range []int{0, 1, 3, 8} { // what is out and what is planned
		ids := p.broad(1.2, 1.9, 1+n%3)
		p.toPages(ids...)
		p.pick("windward-club")
		p.pick("lt-1")
		p.fill("[data-dispatch] textarea", "Wind from the sea {tags}")
		verb := "Send"
		if days > 0 {
			p.choice("When", "at a time")
			p.dayAndTime(time.Now().AddDate(0, 0, days).Format("2006-01-02") + "T09:30")
			verb = "Plan"
		}
		p.click(fmt.Sprintf("%s %d to 2 pages", verb, len(ids)))
		p.gone("[data-dispatch]")
	}
	p.open("/b/tansyloft/calendar")
	p.see("[data-entry]")
	shot(p, "calendar")
	p.open("/b/tansyloft/people-shown")
	p.clickOn(`[data-person="Emiko Fennimoor"]`)
	p.see("[data-person-card]")
	shot(p, "who-is-shown")
	p.open("/b/tansyloft/galleries")
	p.see("[data-gallery]")
	shot(p, "galleries")
	link := read[string](p, `document.querySelector("[data-link]").getAttribute("href")`)
	p.do(chromedp.EmulateViewport(390, 844))
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	shot(p, "phone")

	guest := newVisitor(t)
	guest.open(link[len(guest.site):])
	guest.see("input[name=password]")
	guest.fill("input[name=password]", "mind-the-hedge")
	guest.press("Enter")
	guest.see("[data-pictures] img")
	shot(guest, "client-gallery")
	_ = read[any](p, `localStorage.setItem("bright-satchel-settings", JSON.stringify({ state: { theme: "dark", backdrop: "night" },
		version: 0 }))`)
	p.do(chromedp.EmulateViewport(1280, 800))
	p.open("/b/tansyloft/describe?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]:nth-child(2)")
	p.see("[data-field=title]")
	shot(p, "dark")
}
