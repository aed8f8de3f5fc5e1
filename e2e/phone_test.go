package e2e

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// touch does one thing with a finger.
func (p *page) touch(what input.DispatchTouchEventType, points ...*input.TouchPoint) {
	p.t.Helper()
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: what, TouchPoints: points})
		return chromedp.Void{}, err
	})
}

// TestPreparingWithAFinger crops a picture and trims a clip on a phone: both stay in sight while the board is up.
func TestPreparingWithAFinger(t *testing.T) {
	p := signIn(t, coordinator)
	p.do(chromedp.EmulateViewport(390, 844))
	id := p.burst()[0]
	p.work(id)
	p.click("Prepare")
	p.until(`document.querySelector("[data-board]").getBoundingClientRect().height > 100`)
	p.until(`(() => { const a = document.querySelector("[data-zoomed] img").getBoundingClientRect(),
		b = document.querySelector("[data-board]").getBoundingClientRect(); return a.height > 60 && a.bottom <= b.top + 1 })()`)
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.accessible("preparing on a phone")
	p.click("Crop")
	handle := p.atRest(css(`[data-handle="right edge"]`))
	p.touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: handle.X, Y: handle.Y})
	for step := range 5 {
		p.touch(input.DispatchTouchEventTypeTouchMove, &input.TouchPoint{X: handle.X - float64(20*(step+1)), Y: handle.Y})
	}
	p.touch(input.DispatchTouchEventTypeTouchEnd)
	p.untilRecipe(id, `(recipe #>> '{crop,width}')::float < 0.9`)

	clip := int64(p.number(`select id from asset where kind = 'clip' and seconds > 5 order by id limit 1`))
	p.work(clip)
	end := p.atRest(css("[data-trim=to]"))
	p.touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: end.X, Y: end.Y})
	for step := range 5 {
		p.touch(input.DispatchTouchEventTypeTouchMove, &input.TouchPoint{X: end.X - float64(20*(step+1)), Y: end.Y})
	}
	p.touch(input.DispatchTouchEventTypeTouchEnd)
	p.untilRecipe(clip, `recipe #>> '{film,to}' is not null`)
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.accessible("preparing a clip on a phone")
}

// TestOrderingWithAFinger takes hold of a picture of an album by a long press, carries it behind another one and lets go.
func TestOrderingWithAFinger(t *testing.T) {
	p := signIn(t, coordinator)
	p.do(chromedp.EmulateViewport(390, 844))
	album := p.number(`select id from album where name = 'Press kit'`)
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=album&id=%d", album))
	p.see("[data-sheet] [data-id] img")
	before := p.inAlbum("Press kit")
	from, to := p.atRest(item(before[0])), p.atRest(item(before[2]))
	width := read[float64](p, item(before[2])+`.getBoundingClientRect().width`)
	at := func(x, y float64) *input.TouchPoint { return &input.TouchPoint{X: x, Y: y} }
	p.touch(input.DispatchTouchEventTypeTouchStart, at(from.X, from.Y))
	p.see(`[data-selected="1"]`)
	for part := range 6 {
		share := float64(part+1) / 6
		p.touch(input.DispatchTouchEventTypeTouchMove, at(from.X+(to.X+width/4-from.X)*share, from.Y+(to.Y-from.Y)*share))
	}
	p.see("[data-insertion]")
	p.touch(input.DispatchTouchEventTypeTouchEnd)
	p.gone("[data-insertion]")
	wanted := slices.Insert(slices.Clone(before[1:]), 2, before[0])
	assert.Eventually(t, func() bool { return slices.Equal(wanted, p.inAlbum("Press kit")) }, patience, 50*time.Millisecond)
	p.undo("")
}

// TestAReviewerIsNotOfferedToPrepare, and is refused when asking all the same.
func TestAReviewerIsNotOfferedToPrepare(t *testing.T) {
	p := signIn(t, "hugo@tansyloft.example")
	steps := read[[]string](p, `[...document.querySelectorAll("nav[aria-label='Steps of the work'] button")].map(b =>
		b.firstChild.textContent)`)
	assert.NotContains(t, steps, "Prepare")
	id := p.shown()[0]
	p.clickAt(p.middle(item(id)))
	p.press("Enter")
	p.see("[data-big-view]")
	for _, what := range []string{"recipe", "frame", "tone", "base-map"} {
		p.do(chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`window.status = undefined; void fetch("/api/brands/tansyloft/assets/%d/%s", {
			method: %s, headers: { "Content-Type": "application/json" }, body: JSON.stringify({ recipe: { exposure: 1 }, base: "",
			width: 100, height: 100 }) }).then(r => window.answered = [%s, r.status])`, id, what,
			map[bool]string{true: `"PUT"`, false: `"POST"`}[what == "recipe"], quote(what))))
		p.until(`window.answered?.[0] === ` + quote(what))
		assert.Equal(t, 403, read[int](p, `window.answered[1]`), what)
	}
	assert.Equal(t, "{}", p.recipeOf(id))
}
