package e2e

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestTheNextPictureIsThereAndSixMoveInStep logs how long it takes until the next picture is seen big, and how frames follow each other
// while six are moved. The machine may be busy: the figures are for docs/performance.md, the limits only for what would be broken.
func TestTheNextPictureIsThereAndSixMoveInStep(t *testing.T) {
	p := signIn(t, coordinator)
	p.open(fmt.Sprintf("/b/tansyloft/choose?place=folder&id=%d", p.number(`select id from folder where name = 'Studio catalogue'`)))
	p.see("[data-sheet] [data-id] img")
	first := p.shown()
	require.Greater(t, len(first), 8)
	p.clickAt(p.middle(item(first[0])))
	p.press("Enter")
	p.see("[data-big-view] img")
	read[any](p, `(() => { window.nextTimes = []; addEventListener("keydown", () => { const began = performance.now();
		const before = document.querySelector("[data-big-view]").dataset.bigView;
		const look = () => { const view = document.querySelector("[data-big-view]"), img = view?.querySelector("img");
			if (view?.dataset.bigView !== before && img?.complete && img.naturalWidth > 0) nextTimes.push(performance.now() - began);
			else requestAnimationFrame(look) };
		requestAnimationFrame(look) }, true) })(); null`)
	for n := range 7 {
		time.Sleep(400 * time.Millisecond) // one looks at it, and the next one is fetched
		p.press("ArrowRight")
		p.until(fmt.Sprintf(`nextTimes.length === %d`, n+1))
	}
	next := read[[]float64](p, `nextTimes`)
	slices.Sort(next)
	t.Logf("the next picture is seen after %.0f ms, median of %d, at most %.0f ms", next[len(next)/2], len(next), next[len(next)-1])
	assert.Less(t, next[len(next)/2], 2000.0)

	p.press("Escape")
	p.gone("[data-big-view]")
	p.clickAt(p.middle(item(first[0])))
	for range 5 {
		p.press("ArrowRight", chromedp.ModifierShift)
	}
	p.until(`document.querySelector("[data-selected]").dataset.selected === "6"`)
	p.press("v")
	p.see(`[data-compare="6"]`)
	p.until(`[...document.querySelectorAll("[data-compared] img")].filter(i => i.complete && i.naturalWidth > 0).length === 6`)
	p.press("d")
	p.until(`document.querySelector("[data-compared] img").style.transform.includes("scale")`)
	const place = `document.querySelector("[data-compared] img").style.transform`
	before := read[string](p, place)
	read[any](p, `(() => { const pane = document.querySelector("[data-compared] [data-zoomed]"), box = pane.getBoundingClientRect();
		const send = (type, x, y) => pane.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, buttons: 1, button: 0,
			clientX: box.x + box.width / 2 + x, clientY: box.y + box.height / 2 + y, isPrimary: true }));
		pane.setPointerCapture = () => {}; const times = []; let last, n = 0; send("pointerdown", 0, 0);
		const step = now => { if (last) times.push(now - last); last = now; send("pointermove", -n % 40, -n % 25);
			if (++n < 120) requestAnimationFrame(step); else { send("pointerup", 0, 0); window.frameTimes = times } };
		requestAnimationFrame(step) })(); null`)
	p.until(`window.frameTimes?.length > 100`)
	frames := read[[]float64](p, `frameTimes`)
	slices.Sort(frames)
	moved := read[int](p, `new Set([...document.querySelectorAll("[data-compared] img")].map(i =>
		i.style.transform.replace(/[\d.]+px/g, ""))).size`)
	t.Logf("six moved in step: a frame each %.1f ms, p95 %.1f ms", frames[len(frames)/2], frames[len(frames)*95/100])
	assert.Equal(t, 1, moved)
	assert.NotEqual(t, before, read[string](p, place), "they have moved")
	assert.Less(t, frames[len(frames)/2], 500.0)
}
