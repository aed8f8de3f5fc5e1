package e2e

import (
	"context"
	"fmt"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// mouse does one thing with the left button at a place.
func (p *page) mouse(what input.DispatchMouseEventType, x, y float64) {
	p.t.Helper()
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, input.DispatchMouseEvent, input.DispatchMouseEventParams{Type: what, X: x, Y: y,
			Button: input.MouseButtonLeft, Buttons: 1, ClickCount: 1})
		return chromedp.Void{}, err
	})
}

// TestWhatIsPaintedIsWhatTheServerDraws drags a slider, and compares what the browser paints meanwhile with what the server draws of the
// same: with everything of a tone in it.
func TestWhatIsPaintedIsWhatTheServerDraws(t *testing.T) {
	p := signIn(t, coordinator)
	id := p.burst()[1]
	p.work(id)
	p.do(chromedp.Evaluate[chromedp.Void](`localStorage.setItem("satchel-painter", "always");
		localStorage.setItem("satchel-prepare", JSON.stringify({ version: 0,
			state: { open: { Framing: true, Brightness: true, Colour: true, Texture: true, Edges: true } } }))`))
	p.work(id)
	for name, value := range map[string]string{"Contrast": "30", "Highlights": "-60", "Shadows": "40", "Warmth": "25", "Tint": "-15",
		"Vibrance": "40", "Saturation": "-10", "Clarity": "50", "Vignette": "-60"} {
		p.control(name, value)
	}
	p.untilRecipe(id, `recipe ?& array['contrast', 'highlights', 'shadows', 'warmth', 'tint', 'vibrance', 'saturation', 'clarity',
		'vignette']`)
	p.click("Turn to the right") // turned, so that where a pixel lies is not plain
	p.untilRecipe(id, `recipe ->> 'turn' = '90'`)
	thumb := p.middle(`document.querySelector('[data-control="Exposure"] [role=slider]')`)
	p.mouse(input.DispatchMouseEventTypeMousePressed, thumb.X, thumb.Y)
	p.mouse(input.DispatchMouseEventTypeMouseMoved, thumb.X+10, thumb.Y)
	p.see("[data-painted] canvas")
	p.mouse(input.DispatchMouseEventTypeMouseMoved, thumb.X+14, thumb.Y)
	p.do(chromedp.Evaluate[chromedp.Void](`void (async () => {
		const value = () => document.querySelector('[data-control="Exposure"] input').value.replace("−", "-");
		const canvas = document.querySelector("[data-painted] canvas");
		await new Promise(go => setTimeout(go, 3000)); // the last of what was wanted is painted
		const recipe = { ...(await (await fetch("/api/brands/tansyloft/assets/` + fmt.Sprint(id) + `")).json()).recipe,
			exposure: Number(value()) };
		const answer = await fetch("/api/brands/tansyloft/assets/` + fmt.Sprint(id) + `/frame", { method: "POST",
			body: JSON.stringify({ recipe, width: canvas.width, height: canvas.height, lossless: true }) });
		const bitmap = await createImageBitmap(await answer.blob(), { colorSpaceConversion: "none" });
		const pixels = source => { const c = new OffscreenCanvas(canvas.width, canvas.height).getContext("2d");
			c.drawImage(source, 0, 0); return c.getImageData(0, 0, canvas.width, canvas.height).data };
		const a = pixels(canvas), b = pixels(bitmap);
		let sum = 0, most = 0; for (let i = 0; i < a.length; i++) { const d = Math.abs(a[i] - b[i]); sum += d; most = Math.max(most, d) }
		window.painted = { exposure: recipe.exposure, same: bitmap.width === canvas.width, mean: sum / a.length, most }; })()`))
	p.until(`window.painted !== undefined`)
	t.Log(read[string](p, `JSON.stringify(window.painted)`))
	assert.True(t, read[bool](p, `window.painted.same && window.painted.exposure > 0`))
	assert.LessOrEqual(t, read[float64](p, `window.painted.most`), 1.0, "levels of 255, anywhere")
	assert.Less(t, read[float64](p, `window.painted.mean`), 0.01, "on average")
	p.mouse(input.DispatchMouseEventTypeMouseReleased, thumb.X+14, thumb.Y)
	p.untilRecipe(id, `(recipe ->> 'exposure')::float > 0`)
	p.gone("[data-painted]") // the server's own is put in
	p.until(shownPicture + `.src.startsWith("blob:")`)
}
