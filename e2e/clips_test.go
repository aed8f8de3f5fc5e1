package e2e

import (
	"fmt"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// TestAClipIsPrepared trims a clip by mouse, keys and typing, makes it quiet and brighter, chooses what stands for it, and plays what goes
// out.
func TestAClipIsPrepared(t *testing.T) {
	p := signIn(t, coordinator)
	id := int64(p.number(`select id from asset where kind = 'clip' and seconds between 6 and 9 order by id limit 1`))
	whole := p.seconds(id)
	p.work(id)
	p.see("[data-clip-line]")
	p.accessible("preparing a clip")
	p.fill("[data-group=Clip] input", "0:01,5")
	p.press("Enter")
	p.untilRecipe(id, `recipe = '{"film": {"from": 1.5}}'`)
	p.fill("[data-group=Clip] input", "later")
	p.press("Enter")
	p.seeText("“later” is no moment")
	p.drag(css("[data-trim=to]"), css("[data-clip-line] > div"), 0.6)
	p.untilRecipe(id, fmt.Sprintf(`(recipe #>> '{film,to}')::float between %f and %f`, whole*0.57, whole*0.63))
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-trim=from]").focus()`))
	p.press("ArrowRight")
	p.untilRecipe(id, `recipe #>> '{film,from}' = '1.6'`)
	p.press("q")
	p.untilRecipe(id, `recipe #>> '{film,mute}' = 'true'`)
	p.control("Exposure", "0.5")
	p.untilRecipe(id, `recipe ->> 'exposure' = '0.5'`)
	p.gone(`[data-group=Texture], [data-group=Edges], [data-control=Straighten], [data-control=Shadows]`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-moment]").focus()`))
	p.press("ArrowRight")
	p.click("Let this moment stand for it")
	p.untilRecipe(id, `recipe #>> '{film,poster}' is not null`)

	p.click("Play it as it goes out")
	p.until(`document.querySelector("[data-playing]")?.readyState >= 1`)
	left := read[float64](p, `document.querySelector("[data-playing]").duration`)
	assert.InDelta(t, whole*0.6-1.6, left, 0.4)
	p.accessible("playing what goes out")
	p.click("Stop")
	p.click("Back to the sheet")
	p.until(item(id) + `?.innerText.includes("prepared")`)
	assert.InDelta(t, left, p.seconds(id), 0.15, "the tile tells how long it is now")
	p.press("z", ctrl)
	p.seeText("Undone: prepared 1 item")
	assert.InDelta(t, whole, p.seconds(id), 0.01)
}

// seconds is how long an item is said to be.
func (p *page) seconds(id int64) (seconds float64) {
	p.t.Helper()
	assert.NoError(p.t, storetest.SQL(p.database).Get(&seconds, `select seconds from asset where id = $1`, id))
	return seconds
}
