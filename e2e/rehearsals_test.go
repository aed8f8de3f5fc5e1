package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// rehearse tries two items out that are selected.
func (p *page) rehearse(name string) {
	p.t.Helper()
	p.click("More")
	p.click("Try 2 out as a post…")
	p.see(`[data-rehearse] input`)
	p.typeText(name)
	p.press("Enter")
	p.see(`[data-variant=A] [data-frame=card] img`)
}

// TestARehearsalIsSent is tried out in four kinds of places and two variants, talked about, given to a page, and sent.
func TestARehearsalIsSent(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	p.only(p.broad(1.2, 1.8, 2)...)
	name := fmt.Sprint("Idea ", time.Now().UnixNano())
	p.rehearse(name)
	p.clickOn(`fieldset label:nth-of-type(4) input`) // no strip
	p.gone(`[data-frame=strip]`)
	p.until(`document.querySelectorAll("[data-variant=A] [data-frame]").length === 4`)
	p.fill(`[data-variant=A] textarea`, "The wind is back "+name)
	p.fill(`[data-variant=A] input`, "Twelve new deltas")
	p.press("Tab")
	p.until(`[...document.querySelectorAll("[data-variant=A] [data-frame]")].every(f => f.innerText.includes("The wind is back"))`)
	p.until(`document.querySelector("[data-variant=A] [data-frame=card]").innerText.includes("Twelve new deltas")`)
	p.accessible("a rehearsal")
	p.click("Add a variant, beginning like the last one")
	p.see(`[data-variant=B] [data-frame=feed] img`)
	p.fill(`[data-variant=B] textarea`, "Another way to say it "+name)
	p.press("Tab")
	p.until(`document.querySelector("[data-variant=B] [data-frame=tall]").innerText.includes("Another way")`)
	p.click("Dark")
	p.until(`[...document.querySelectorAll("[data-frame]")].every(f => f.dataset.theme === "dark")`)
	p.accessible("a rehearsal in the dark")
	p.click("On a desktop")
	p.until(`document.querySelector("[data-variant=A] [data-frame=wide]").offsetWidth > 600`)
	at := read[string](p, `location.pathname`)

	colleague := signIn(t, "hugo@tansyloft.example")
	colleague.open(at)
	colleague.see(`[data-variant=A] [data-frame=feed] img`)
	colleague.fill(`[aria-label=Remarks] textarea`, "Rather B, one sees the tail")
	colleague.click("Say it")
	p.seeText("Rather B, one sees the tail") // without asking again
	assert.False(t, read[bool](colleague, `document.body.innerText.includes("Give it to a page")`))

	p.clickOn(`[data-variant=B] button[aria-haspopup=menu]`)
	p.click("Tansyloft Kites on Windward")
	p.see(`[data-dispatch] [data-page-choice=windward]`)
	p.until(`document.querySelector("[data-dispatch] textarea").value.startsWith("Another way")`)
	p.click("Send 2 to 1 page")
	p.gone("[data-dispatch]")
	p.seeText("Sent once from here")
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.do(chromedp.EmulateViewport(1280, 800))
	p.open("/b/tansyloft/dispatches")
	p.see(`[data-dispatch]:first-of-type [data-post=out]`)
	assert.Equal(t, 1, posted("Another way to say it "+name))

	// Put into a folder and parked, it is out of sight, found by its name, and where one looked last is remembered.
	p.open("/b/tansyloft/rehearsals")
	card := fmt.Sprintf(`[data-rehearsal=%q]`, name)
	p.see(card)
	p.click("New folder")
	p.see(`[role=dialog] input`)
	p.typeText("For " + name)
	p.press("Enter")
	p.gone(`[role=dialog]`)
	p.seeText("None here.")
	p.clickOn(`[data-things-at=open]`)
	p.clickOn(card + ` button[aria-haspopup=menu]`)
	p.click("Put it into “For " + name + "”")
	p.gone(card)
	p.click("For " + name + " 1")
	p.see(card)
	p.clickOn(card + ` button[aria-haspopup=menu]`)
	p.click("Park it")
	p.gone(card)
	p.clickOn(`[data-things-at=parked]`)
	p.see(card)
	p.accessible("parked rehearsals")
	p.open("/b/tansyloft/rehearsals")
	p.see(card)
	p.until(`document.querySelector("[data-things-at=parked]").getAttribute("aria-pressed") === "true"`)
	p.clickOn(`[data-things-at=open]`)
	p.gone(card)
	p.fill(`[data-things] input`, name)
	p.see(card)
	p.seeText("in For " + name + ", parked")
}

// TestWhatIsLiveSaysSoThoughItIsParked of a gallery.
func TestWhatIsLiveSaysSoThoughItIsParked(t *testing.T) {
	p := signIn(t, steward)
	p.open("/b/tansyloft/galleries")
	p.see(`[data-gallery-row]`)
	live := read[string](p, `[...document.querySelectorAll("[data-gallery-row]")].find(r => r.querySelector(".text-plum")).dataset.galleryRow`)
	row := fmt.Sprintf(`[data-gallery-row=%q]`, live)
	p.clickOn(row + ` button[aria-haspopup=menu]`)
	p.click("Park it")
	p.gone(row)
	p.clickOn(`[data-things-at=parked]`)
	p.see(row + ` .text-plum`)
	p.clickOn(row + ` button[aria-haspopup=menu]`)
	p.click("Bring it back")
	p.gone(row)
	p.clickOn(`[data-things-at=open]`)
	p.see(row)
}
