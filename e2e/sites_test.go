package e2e

import (
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/target"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/website"
)

// somebodysSite is a website under an origin of its own.
func somebodysSite(t *testing.T) string {
	t.Helper()
	server := httptest.NewServer(website.New())
	t.Cleanup(server.Close)
	return server.URL
}

func (p *page) visit(address string) {
	p.t.Helper()
	p.do(chromedp.Navigate(address))
}

// inEmbed is something inside of the embed of a page.
func inEmbed(selector string) string {
	return `document.querySelector("satchel-pictures")?.shadowRoot?.querySelector(` + quote(selector) + `)`
}

const shownThere = `(document.querySelector("satchel-pictures")?.shadowRoot?.querySelectorAll("img").length ?? 0)`

// onReload reloads a page until something is seen there, as a visitor who comes back within a minute.
func (p *page) onReload(expression string) {
	p.t.Helper()
	p.until(`(() => { if (` + expression + `) return true; if (performance.now() > 3000) location.reload(); return false })()`)
}

// TestAPageEditorShowsLivePictures makes an embed, pastes it into a website, and sees changes and the switch there.
func TestAPageEditorShowsLivePictures(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/embeds")
	p.click("New embed")
	p.fill("[role=dialog] input", "spring cat")
	p.clickOn(`[role=dialog] input[type=checkbox]`)
	p.accessible("choosing what an embed shows")
	p.click("Make an embed of 1 place")
	p.see(`[data-embed="Spring catalogue 2026"]`)
	p.until(shownThere + ` > 5`)
	p.click("On a phone")
	p.until(`document.querySelector("satchel-pictures").clientWidth === 360`)
	p.accessible("an embed")
	p.fill(`input[aria-label="Pictures at most"]`, "six")
	p.press("Enter")
	p.seeText("Type a whole number, 1 to 500.")
	p.press("Escape")
	p.fill(`input[aria-label="Pictures at most"]`, "6")
	p.press("Enter")
	p.until(shownThere + ` === 6`)
	p.click("Switch it on…")
	p.seeText("Anyone who opens a page that holds it will see 6 pictures")
	p.accessible("switching an embed on")
	p.clickAt(p.atRest(`[...document.querySelectorAll("[role=dialog] button")].find(b => b.innerText === "Switch it on")`))
	p.seeText("On, not seen on a page yet")
	snippet := read[string](p, `document.querySelector("[data-snippet]").innerText`)

	site := somebodysSite(t)
	e := newVisitor(t)
	e.visit(site + "/edit")
	e.click("Insert code")
	e.see("[name=block]")
	e.typeText(strings.ReplaceAll(snippet, "\n", " "))
	e.click("Save the page")
	e.until(shownThere + ` === 6`)
	e.until(inEmbed("img") + `.complete && ` + inEmbed("img") + `.naturalWidth > 0`)
	assert.Empty(t, read[string](e, `document.cookie`))
	e.accessible("a page with an embed")
	e.clickAt(e.middle(inEmbed("button")))
	e.until(inEmbed("dialog[open] img") + `?.naturalWidth > 0`)
	e.press("ArrowRight")
	e.until(inEmbed("dialog nav span") + `.innerText === "2 / 6"`)
	e.accessible("a picture of an embed in large")
	e.press("Escape")
	e.until(`!` + inEmbed("dialog"))
	e.until(`document.querySelector("satchel-pictures").shadowRoot.activeElement === ` + inEmbed("button"))
	e.do(chromedp.EmulateViewport(390, 800))
	e.until(`document.documentElement.scrollWidth <= 390`)

	p.seeText("On, seen on 1 page")
	p.onWebsite(strings.TrimPrefix(site, "http://"))
	p.fill(`input[aria-label="Pictures at most"]`, "4")
	p.press("Enter")
	e.onReload(shownThere + ` === 4`)
	// without script it is a page of the same pictures
	address := read[string](e, `document.querySelector("satchel-pictures a").href`)
	e.visit(address + "?frame")
	e.until(shownThere + ` === 4`)
	p.click("Switch it off")
	p.seeText("Off: nobody sees it")
	e.visit(site)
	e.onReload(`document.querySelector("satchel-pictures")?.shadowRoot && ` + shownThere + ` === 0`)
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.querySelector("[data-page=embeds]").scrollWidth <= 390`)
	p.accessible("embeds on a phone")
}

// onWebsite opens what a website shows from the cabinet, by use, and goes back.
func (p *page) onWebsite(host string) {
	p.t.Helper()
	before := read[string](p, `location.pathname`)
	p.open("/b/tansyloft/file?place=everything")
	p.click("Unfold By use")
	row := css(`[data-place="On ` + host + `"]`)
	p.until(row + `?.querySelector("[data-own]")`)
	there := int(read[float64](p, `Number(`+row+`.querySelector("[data-own]").dataset.own)`))
	assert.Positive(p.t, there)
	p.clickAt(p.atRest(row + `.querySelector("button, a")`))
	p.count(there)
	p.open(before)
	p.see("[data-embed]")
}

// picker presses the button that opens the picker, and returns its window.
func (p *page) picker() *page {
	p.t.Helper()
	p.click("Insert pictures…")
	var opened target.ID
	require.Eventually(p.t, func() bool {
		all, err := chromedp.Targets(p.ctx)
		for _, one := range all {
			if strings.Contains(one.URL, "/pick/") && one.BrowserContextID == chromedp.FromContext(p.ctx).BrowserContextID {
				opened = one.TargetID
			}
		}
		return err == nil && opened != ""
	}, patience, 50*time.Millisecond)
	ctx, end := chromedp.NewContext(p.ctx, chromedp.WithTargetID(opened))
	p.t.Cleanup(end)
	w := &page{lane: p.lane, t: p.t, ctx: ctx}
	w.do(chromedp.EmulateViewport(1000, 720))
	return w
}

// TestAPageEditorPicks picks two pictures for a website; a website that nobody let pick gets nothing.
func TestAPageEditorPicks(t *testing.T) {
	site, other := somebodysSite(t), somebodysSite(t)
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/addresses")
	p.fill(`input[placeholder="https://www.example.org"]`, "not a site!")
	p.press("Enter")
	p.seeText("is not the address of a website")
	p.fill(`input[placeholder="https://www.example.org"]`, site+"/edit?page=1")
	p.click("Let its editors pick")
	p.see(`[data-site="` + site + `"]`)
	p.accessible("public addresses")
	var code string
	require.NoError(t, storetest.SQL(p.database).Get(&code, `select code from site where origin = $1`, site))

	e := newVisitor(t)
	e.visit(site + "/edit")
	e.fill("[name=picker]", p.site+"/pick/"+code)
	w := e.picker()
	w.fill("input[name=email]", "chioma@tansyloft.example")
	w.fill("input[name=password]", demo.Password)
	w.press("Enter")
	w.see("[data-page=picker]")
	w.fill("input[type=search]", "kite")
	w.until(`document.querySelectorAll("[aria-label=Pictures] button img").length > 5`)
	w.clickOn("[aria-label=Pictures] li:nth-child(1) button")
	w.clickOn("[aria-label=Pictures] li:nth-child(3) button")
	w.fill("footer input", "")
	w.click("Put 2 pictures into the page")
	w.see("[data-asks-alt]")
	w.until(`document.activeElement === document.querySelector("[data-alt] input")`)
	w.accessible("the picker that asks for an alt text")
	w.fill("footer input", "A kite, for us")
	w.accessible("the picker")
	w.click("Put 2 pictures into the page")
	e.seeText("Inserted 2.")
	e.click("Save the page")
	e.until(`[...document.images].length === 2 && [...document.images].every(i => i.complete && i.naturalWidth > 0)`)
	assert.Equal(t, "A kite, for us", read[string](e, `document.images[0].alt`))
	p.until(`document.querySelectorAll("[data-address]").length === 2`)
	p.seeText("seen on 1 website")
	p.clickAt(p.atRest(`[...document.querySelectorAll("[data-address] button")].find(b => b.innerText === "Switch it off")`))
	p.until(`document.querySelectorAll("[data-address]").length === 1`)
	p.undo("Switched off the public address")
	p.until(`document.querySelectorAll("[data-address]").length === 2`)

	// a page that only says that it is the picker, and a website that is not the one that was named
	read[any](e, `null`)
	e.visit(site + "/edit")
	read[any](e, `window.postMessage({ type: "satchel-picked", pictures: [{ src: "x" }] }); null`)
	e.visit(other + "/edit")
	e.fill("[name=picker]", p.site+"/pick/"+code)
	w = e.picker()
	w.see("[aria-label=Pictures] button img")
	w.clickOn("[aria-label=Pictures] li:nth-child(1) button")
	w.click("Put 1 picture into the page")
	p.until(`document.querySelectorAll("[data-address]").length >= 2`)
	read[any](e, `new Promise(r => setTimeout(r, 1000))`)
	assert.Empty(t, read[string](e, `document.getElementById("said").innerText`))
	assert.Zero(t, read[int](e, `document.querySelectorAll("[name=block]").length`))
}
