package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// TestAnOpenPictureHasAnAddress opens, turns pages, reloads, goes Back and sends the address to a colleague.
func TestAnOpenPictureHasAnAddress(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/file?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	big := func(id int64) string { return fmt.Sprintf(`[data-big-view="%d"]`, id) }
	p.clickAt(p.middle(item(ids[0])))
	p.press("Enter")
	p.see(big(ids[0]))
	p.until(fmt.Sprintf(`location.search.includes("item=%d")`, ids[0]))
	for range 2 {
		p.press("ArrowRight")
	}
	p.see(big(ids[2]))
	p.until(fmt.Sprintf(`location.search.includes("item=%d")`, ids[2]))
	p.click("Prepare") // another step keeps it
	p.see("[data-preparing]")
	p.do(chromedp.Reload())
	p.see(big(ids[2]))
	p.see("[data-preparing]")
	address := read[string](p, `location.pathname + location.search`)

	p.do(chromedp.NavigateBack())
	p.until(`location.pathname.endsWith("/file")`)
	p.see(big(ids[2]))
	p.do(chromedp.NavigateBack())
	p.gone("[data-big-view]")
	p.see("[data-sheet] [data-id] img")
	p.do(chromedp.NavigateForward())
	p.see(big(ids[2]))
	p.press("Escape")
	p.gone("[data-big-view]")
	p.until(`!location.search.includes("item=")`)
	p.clickAt(p.middle(item(ids[1])))
	p.press("Enter")
	p.see(big(ids[1]))
	p.press("Escape")
	p.gone("[data-big-view]")
	p.until(`!location.search.includes("item=")`)

	colleague := signIn(t, steward)
	colleague.open(address)
	colleague.see(big(ids[2]))
	colleague.open(fmt.Sprintf("/b/tansyloft/file?place=everything&item=%d", 99_999_999))
	colleague.see("[data-sheet] [data-id] img")
	assert.False(t, read[bool](colleague, `!!document.querySelector("[data-big-view]")`), "what is not there is not opened")
}

// TestTheCropIsMovedByKeys moves what the crop leaves by the arrows, wherever the focus is; Escape ends the crop alone.
func TestTheCropIsMovedByKeys(t *testing.T) {
	p := signIn(t, coordinator)
	id := p.burst()[1]
	p.work(id)
	p.press("c")
	p.see("[data-cropping]")
	handle := p.middle(css(`[data-handle="bottom right corner"]`))
	p.do(chromedp.DragAndDropXY(handle.X, handle.Y, handle.X-120, handle.Y-90))
	p.untilRecipe(id, `(recipe #>> '{crop,width}')::float between 0.3 and 0.95`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`))
	for range 5 {
		p.press("ArrowRight")
	}
	p.press("ArrowDown", chromedp.ModifierShift)
	p.untilRecipe(id, `abs((recipe #>> '{crop,x}')::float - 0.05) < 0.002 and abs((recipe #>> '{crop,y}')::float - 0.05) < 0.002`)
	p.see(fmt.Sprintf(`[data-big-view="%d"]`, id)) // and not the next item
	p.press("Escape")
	p.gone("[data-cropping]")
	p.see("[data-preparing]")
	p.press("Escape")
	p.gone("[data-preparing]")
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{}'`)
}
