package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
)

// TestAnAccountIsConnected as a steward does: go to the service, let Bright Satchel in, come back, see whose pages they are and what is on
// them; who may not connect is not offered it.
func TestAnAccountIsConnected(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/outlets")
	p.seeText("Seen by 87 members")
	p.accessible("outlets")
	p.click("An account at Windward…")
	p.seeText("Who are you?")
	p.click("Do not let it in")
	p.seeText("Bright Satchel was not let in there, so nothing was connected.")
	p.click("An account at Windward…")
	p.click("Let it in as Tansyloft Workshop")
	p.seeText("Tansyloft Workshop on Windward is connected.")
	p.seeText("Seen by everyone; 96 people follow it")
	p.clickOn(`[aria-label="Tansyloft Workshop on Windward"] label`)
	p.seeText("Within the hour what is new there is in the folder “Tansyloft Workshop on Windward”")
	p.accessible("keeping a copy")

	p.clickOn(`[data-of="lt-2"] button:last-of-type`)
	p.see(`[data-of="lt-2"] [data-content] img`)
	p.seeText("What we built 3, 2 of them by others")
	p.until(`[...document.querySelectorAll("[data-content] img")].every(i => i.complete && i.naturalWidth > 0)`)
	p.accessible("what is on a page")
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.do(chromedp.EmulateViewport(1280, 800))

	p.clickOn(`[aria-label="Tansyloft Workshop on Windward"] header button:last-of-type`)
	p.seeText("What is out there stays there")
	p.click("Disconnect it")
	p.gone(`[aria-label="Tansyloft Workshop on Windward"]`)

	q := signIn(t, coordinator)
	q.open("/b/tansyloft/outlets")
	q.seeText("Seen by 87 members")
	q.until(`![...document.querySelectorAll("button")].some(b => /^(An account at|Disconnect)/.test(b.innerText))`)
}
