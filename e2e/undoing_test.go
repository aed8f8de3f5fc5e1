package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestAKeyUndoesWhatWasDoneLastHere goes back through what was done at a picture, the focal point among it, after a reload too, and does it
// again.
func TestAKeyUndoesWhatWasDoneLastHere(t *testing.T) {
	p := signIn(t, coordinator)
	id := p.burst()[0]
	byHand := fmt.Sprintf(`select count(*) from asset where id = %d and focal_by = 'person'`, id)
	p.work(id)
	p.control("Exposure", "0,4")
	p.untilRecipe(id, `recipe = '{"exposure": 0.4}'`)
	p.click("Crops for sizes and pages")
	p.until(`document.querySelector("[data-focal-picker] img")?.complete`)
	p.clickAt(p.atRest(css("[data-focal-picker]")))
	p.seeText("Last: moving the focal point")
	p.becomes(byHand, 1)
	p.press("z", ctrl)
	p.seeText("Undone: ")
	p.seeText("Last: Exposure")
	p.becomes(byHand, 0)
	p.untilRecipe(id, `recipe = '{"exposure": 0.4}'`)
	p.press("y", ctrl)
	p.seeText("Last: moving the focal point")
	p.becomes(byHand, 1)
	p.press("z", ctrl)
	p.seeText("Last: Exposure")
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{}'`)
	p.press("y", ctrl)
	p.untilRecipe(id, `recipe = '{"exposure": 0.4}'`)

	p.open("/b/tansyloft/prepare?place=everything&sort=name" + filter(fmt.Sprintf(`{"field":"item","ids":[%d]}`, id)))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(id)))
	p.press("Enter")
	p.see("[data-preparing]")
	p.seeText("Prepared before.")
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{}'`)
	p.seeText("As it came.")
	p.press("y", ctrl)
	p.untilRecipe(id, `recipe = '{"exposure": 0.4}'`)
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{}'`)
}

// TestWhatIsLiveIsNotUndoneUnasked names an embed that is on before a key takes that back; from the trail it is done again.
func TestWhatIsLiveIsNotUndoneUnasked(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/send-out")
	p.see("[data-sheet] [data-id] img")
	live := `select count(*) from embed where name = 'Named first' and live`
	p.do(chromedp.Evaluate[chromedp.Void](`fetch("/api/brands/tansyloft/albums").then(r => r.json()).then(albums =>
		fetch("/api/brands/tansyloft/embeds", { method: "POST", headers: { "content-type": "application/json" },
			body: JSON.stringify({ sources: [{ album: albums[0].id, below: false }] }) }))
		.then(r => r.json()).then(d => fetch("/api/brands/tansyloft/embeds/" + d.id, { method: "PATCH", headers: { "content-type":
		"application/json" }, body: JSON.stringify({ name: "Named first", live: true }) })).then(() => document.body.dataset.made = "yes")`))
	p.see("[data-made]")
	p.becomes(live, 1)
	p.press("z", ctrl)
	p.seeText("The embed “Named first” is on.")
	p.accessible("asking before what is live is undone")
	p.press("Escape")
	p.gone("[data-undo-asked]")
	p.becomes(live, 1)
	p.press("z", ctrl)
	p.clickOn("[data-undo-asked]")
	p.seeText("Undone: ")
	p.becomes(live, 0)

	p.open("/b/tansyloft/trail")
	p.click("Do it again")
	p.seeText("Done again: ")
	p.becomes(live, 1)
}
