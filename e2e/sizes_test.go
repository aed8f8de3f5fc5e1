package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// set types into a field of the card of an output size, and leaves it.
func (p *page) set(label, text string) {
	p.t.Helper()
	p.fill(`[data-size-card] input[aria-label="`+label+`"]`, text)
	p.press("Tab")
}

// choice picks an option of a field by its name.
func (p *page) choice(label, option string) {
	p.t.Helper()
	p.until(fmt.Sprintf(`(() => { const l = [...document.querySelectorAll("label")].find(l => l.innerText === %q);
		const s = l && document.getElementById(l.htmlFor); if (!s) return false;
		const i = [...s.options].findIndex(o => o.text.startsWith(%q)); if (i < 0) return false;
		s.selectedIndex = i; s.dispatchEvent(new Event("change", { bubbles: true })); return true })()`, label, option))
}

// TestAnOutputSizeOfOnesOwn is made, changed while it saves, tried on a picture, used and retired with what was made by it.
func TestAnOutputSizeOfOnesOwn(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/sizes")
	p.see("[data-example]")
	p.accessible("output sizes")
	p.click("New size")
	p.see(`[data-size-card="New size"]`)
	p.set("Width in pixels", "900") // and on at once, while that saves
	p.set("Height in pixels", "300")
	p.set("Name", "Letter head")
	p.see(`[data-size="Letter head"]`)
	p.set("Height in pixels", "three")
	p.seeText("Type a whole number.")
	p.press("Escape")
	p.choice("Into this box", "whole, with a border")
	p.choice("Format", "WebP")
	p.set("At most so many kB (optional)", "20")
	p.until(`document.querySelector('[data-size="Letter head"]').innerText.includes(
		"900 × 300, with a border, WebP, quality 82, at most 20 kB")`)
	p.until(`(() => { const e = document.querySelector("[data-example]"); return e && Number(e.dataset.example) <= 20000 &&
		e.innerText.startsWith("900 × 300") })()`)
	p.seeText("Likeness to what it was written from")
	assert.Equal(t, 1, p.number(`select count(*) from output_size where name = 'Letter head' and width = 900 and height = 300 and fit = 'pad'
		and colour = 'tint' and budget = 20000`))
	p.clickOn(`[aria-label="Move Letter head up"]`)
	p.until(`[...document.querySelectorAll("[data-size]")].findIndex(e => e.dataset.size === "Letter head") ===
		document.querySelectorAll("[data-size]").length - 2`)

	p.open("/b/tansyloft/send-out?place=everything" + filter(`{"field":"kind","names":["picture"]}`))
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[1])), chromedp.ModifierShift)
	for _, size := range []string{"Letter head", "Web 1200"} {
		p.clickAt(p.middle(`[...document.querySelectorAll("[data-board] label")].find(l => l.innerText.startsWith("` + size + `"))`))
	}
	p.click("Take 2 items as a ZIP")
	p.seeText("2 files made.")
	assert.Zero(t, p.number(`select count(*) from rendition r join output_size s on s.id = r.output_size_id where s.name = 'Letter head'
		and r.bytes > 20000`))
	p.open("/b/tansyloft/sizes")
	p.see(`[data-size="Letter head"] [data-cost="2"]`)
	p.menu("Letter head", "Remove 2 files made by it")
	p.seeText("Removed 2 files made by “Letter head”")
	p.gone(`[data-size="Letter head"] [data-cost]`)
	p.clickOn(`[data-size="Letter head"] button`)
	p.see(`[data-size-card="Letter head"]`)
	p.choice("Format", "the best that the browser takes")
	p.choice("Become", "an animation (GIF)")
	p.gone(`[aria-label="Without sound"]`)
	p.click("Offer it at public addresses")
	p.see(`[data-size-address^="new-size"]`) // as it was called when it was made
	p.accessible("an output size that is offered at public addresses")
	p.until(`document.querySelector('[data-size="Letter head"]').innerText.includes("the best that the browser takes")`)
	assert.Equal(t, 1, p.number(`select count(*) from output_size where name = 'Letter head' and format = 'best' and clip_format = 'gif'
		and public`))
	p.menu("Letter head", "Retire…")
	p.click("Retire it")
	p.gone(`[data-size="Letter head"]`)
	p.click("Restore the first sizes")
	p.seeText("The output sizes to begin with are all there, as they were")
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.querySelector("[data-page=sizes]").scrollWidth <= 390`)
	p.accessible("output sizes on a phone")
}

// TestACropHasAPointOfItsOwn: the square alone is moved, and goes out so; that of a page as well.
func TestACropHasAPointOfItsOwn(t *testing.T) {
	p := signIn(t, coordinator)
	id := int64(p.number(`select id from asset where kind = 'picture' and width > 1.4 * height and binned_at is null and stars >= 4
		order by id limit 1`))
	p.open("/b/tansyloft/outlets")
	p.see("[data-of=c1]") // what pages take is known once somebody has looked
	p.work(id)
	p.click("Crops for sizes and pages")
	p.clickOn(`[data-crop="Square 1080"] button`)
	p.seeText("You move the crop to 1:1 alone.")
	p.until(`document.querySelector("[data-focal-picker] img").complete`)
	p.clickAt(p.atRest(css("[data-focal-picker]")))
	p.seeText("Moved the crop to 1:1 of 1 item")
	p.until(`document.querySelector('[data-crop="Square 1080"]').innerText.includes("on its own")`)
	p.until(`!document.querySelector('[data-crop="Upright 1080"]').innerText.includes("on its own")`)
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and focal_for ? '1:1' and focal_by <> 'person'`, id)))
	p.click("Let it follow the others again")
	p.until(`!document.querySelector('[data-crop="Square 1080"]').innerText.includes("on its own")`)
	tall := p.text(`select name from page where (limits->>'widest')::float between 0.1 and 1 order by id limit 1`)
	p.clickOn(`[data-crop="` + tall + `"] button`)
	p.seeText("You move the crop to 4:5 alone.")
	p.accessible("crops for pages")
	p.clickAt(p.atRest(css("[data-focal-picker]")))
	p.until(`document.querySelector('[data-crop="` + tall + `"]').innerText.includes("on its own")`)
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and focal_for ? '4:5'`, id)))
}
