package e2e

import (
	"context"
	"fmt"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// recipeOf is the recipe of an item, as the database has it.
func (p *page) recipeOf(id int64) string {
	p.t.Helper()
	var text string
	require.NoError(p.t, storetest.SQL(p.database).Get(&text, `select recipe::text from asset where id = $1`, id))
	return text
}

// untilRecipe waits until the recipe of an item says something, as a condition in SQL.
func (p *page) untilRecipe(id int64, condition string) {
	p.t.Helper()
	for since := time.Now(); time.Since(since) < patience; time.Sleep(50 * time.Millisecond) {
		if p.number(fmt.Sprintf(`select count(*) from asset where id = %d and %s`, id, condition)) == 1 {
			return
		}
	}
	p.explain(fmt.Errorf("never %s: the recipe is %s", condition, p.recipeOf(id)))
}

// work opens a picture on Prepare.
func (p *page) work(id int64) {
	p.t.Helper()
	p.open("/b/tansyloft/prepare?place=everything&sort=name" + filter(fmt.Sprintf(`{"field":"item","ids":[%d]}`, id)))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(id)))
	p.press("Enter")
	p.see("[data-preparing]")
}

func (p *page) control(name, value string) {
	p.t.Helper()
	p.fill(`[data-control="`+name+`"] input`, value)
	p.press("Enter")
}

const shownPicture = `document.querySelector("[data-zoomed] img")`

// TestAPictureIsPrepared works at one picture by mouse and keys: sliders, crop by its handles, a line along the horizon, before and after,
// undo and redo, and sees that what is handed out is what was seen.
func TestAPictureIsPrepared(t *testing.T) {
	p := signIn(t, coordinator)
	id := p.burst()[0]
	p.work(id)
	p.accessible("preparing a picture")
	p.control("Exposure", "0,7")
	p.untilRecipe(id, `recipe = '{"exposure": 0.7}'`)
	p.until(shownPicture + `.src.startsWith("blob:")`)
	p.seeText("Last: Exposure +0.7 EV")
	thumb := p.middle(`document.querySelector('[data-control="Contrast"] [role=slider]')`)
	p.do(chromedp.DragAndDropXY(thumb.X, thumb.Y, thumb.X+40, thumb.Y))
	p.untilRecipe(id, `(recipe ->> 'contrast')::float > 5`)
	p.press("ArrowRight") // the thumb has the focus
	p.press("z", ctrl)
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{"exposure": 0.7}'`)
	p.press("y", ctrl)
	p.untilRecipe(id, `recipe ? 'contrast'`)
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{"exposure": 0.7}'`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[data-control="Exposure"] label').dispatchEvent(
		new MouseEvent("dblclick", { bubbles: true }))`))
	p.untilRecipe(id, `recipe = '{}'`)
	p.press("z", ctrl)
	p.untilRecipe(id, `recipe = '{"exposure": 0.7}'`)

	p.click("Crop")
	handle := p.middle(css(`[data-handle="bottom right corner"]`))
	p.do(chromedp.DragAndDropXY(handle.X, handle.Y, handle.X-160, handle.Y-120))
	p.untilRecipe(id, `(recipe #>> '{crop,width}')::float between 0.5 and 0.95`)
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-crop-box]").focus()`))
	p.press("ArrowRight")
	p.untilRecipe(id, `(recipe #>> '{crop,x}')::float = 0.01`)
	p.accessible("cropping")
	p.click("Draw a line")
	at := p.middle(css("[data-cropping=line] img"))
	p.do(chromedp.DragAndDropXY(at.X-100, at.Y, at.X+100, at.Y+7))
	p.untilRecipe(id, `(recipe ->> 'straighten')::float between -2.5 and -1.5`)
	p.press("Escape")
	p.gone("[data-cropping]")
	p.see("[data-preparing]") // and not the sheet

	p.click("Before and after side by side")
	p.until(`document.querySelectorAll("[data-zoomed] img").length === 2 && document.body.innerText.includes("before")`)
	p.press("v")
	p.until(`document.querySelectorAll("[data-zoomed] img").length === 1`)

	// what goes out is what is seen, at its own size
	p.until(`document.querySelector('[aria-label="Look at it"]')?.options.length > 1`)
	p.do(chromedp.Evaluate[chromedp.Void](`(() => { const s = document.querySelector('[aria-label="Look at it"]');
		s.selectedIndex = [...s.options].findIndex(o => o.innerText.includes("Web 1200"));
		s.dispatchEvent(new Event("change", { bubbles: true })) })()`))
	p.until(`document.querySelector("[data-goes-out] img")?.naturalWidth > 0`)
	p.seeText(" pixels · ")
	p.do(chromedp.Evaluate[chromedp.Void](`void (async () => {
		const out = document.querySelector("[data-goes-out] img");
		const recipe = (await (await fetch("/api/brands/tansyloft/assets/` + fmt.Sprint(id) + `")).json()).recipe;
		const frame = await fetch("/api/brands/tansyloft/assets/` + fmt.Sprint(id) + `/frame", { method: "POST",
			body: JSON.stringify({ recipe, width: out.naturalWidth, height: out.naturalHeight }) });
		const pixels = async source => { const c = new OffscreenCanvas(out.naturalWidth, out.naturalHeight).getContext("2d");
			c.drawImage(source, 0, 0); return c.getImageData(0, 0, out.naturalWidth, out.naturalHeight).data };
		const a = await pixels(out), b = await pixels(await createImageBitmap(await frame.blob()));
		let sum = 0; for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i]);
		window.apart = sum / a.length; })()`))
	p.until(`window.apart !== undefined`)
	assert.Less(t, read[float64](p, `window.apart`), 2.0, "but for what each format loses")

	// one sitting is one step of the trail; the tile says it, and the trail takes all of it back
	p.click("Back to the sheet")
	p.until(item(id) + `?.innerText.includes("prepared")`)
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from trail_change c join trail t on t.id = c.trail_id
		where t.action = 'prepare' and c.key @> '{"id": %d}'`, id)))
	p.press("z", ctrl)
	p.seeText("Undone: prepared 1 item")
	p.untilRecipe(id, `recipe = '{}'`)
	p.until(`!` + item(id) + `.innerText.includes("prepared")`)
}

// TestTwoAtOnePicture has two people prepare the same picture.
func TestTwoAtOnePicture(t *testing.T) {
	first, second := signIn(t, coordinator), signIn(t, steward)
	id := first.burst()[1]
	first.work(id)
	second.work(id)
	first.control("Exposure", "1")
	first.untilRecipe(id, `recipe = '{"exposure": 1}'`)
	second.until(`document.querySelector('[data-control="Exposure"] input').value === "+1.00"`) // it is seen on the other screen
	second.do(chromedp.Evaluate[chromedp.Void](`(() => { const real = window.fetch; window.fetch = (...a) => new Promise(go =>
		setTimeout(go, String(a[0].method ?? a[1]?.method) === "PUT" ? 1500 : 0)).then(() => real(...a)) })()`))
	second.control("Exposure", "-1")
	first.control("Exposure", "0.5")
	first.untilRecipe(id, `recipe = '{"exposure": 0.5}'`)
	second.seeText("has prepared it meanwhile: Exposure")
	first.untilRecipe(id, `recipe = '{"exposure": 0.5}'`)
	second.accessible("a picture that was changed meanwhile")
	second.click("Put mine over it")
	first.untilRecipe(id, `recipe = '{"exposure": -1}'`)
	first.until(`document.querySelector('[data-control="Exposure"] input').value === "−1.00"`)
	first.click("Back to the original")
	first.untilRecipe(id, `recipe = '{}'`)
}

// TestALookForMany saves a look, puts it on sixty pictures, carries settings over, and takes all of it back.
func TestALookForMany(t *testing.T) {
	p := signIn(t, coordinator)
	id := p.burst()[1]
	p.work(id)
	p.click("Colour")
	p.control("Warmth", "30")
	p.untilRecipe(id, `recipe ? 'warmth'`)
	p.click("Looks")
	p.fill(`[data-group="Looks"] input[placeholder]`, "Evening")
	p.press("Enter")
	p.seeText("Saved the look “Evening”")
	p.click("Back to the original")
	p.untilRecipe(id, `recipe = '{}'`)
	p.do(func(ctx context.Context, tab *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, tab, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
			Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: "dark"}}})
		return chromedp.Void{}, err
	})
	p.accessible("preparing in the dark theme")

	p.open("/b/tansyloft/prepare?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	p.press("a", ctrl)
	p.see(`[data-control="Strength"]`)
	p.accessible("preparing many")
	p.control("Strength", "60")
	p.click("Put it on ")
	p.seeText("Put the look “Catalogue, crisp” on ") // the first by its name
	dressed := p.number(`select count(*) from asset where (recipe #>> '{look,strength}')::float = 60`)
	assert.GreaterOrEqual(t, dressed, 60)
	p.seeText(fmt.Sprintf("on %d items", dressed))
	p.until(item(id) + `?.innerText.includes("prepared")`)
	p.until(item(id) + `.querySelector("img")?.src.includes("-") && ` + item(id) + `.querySelector("img").naturalWidth > 0`)
	p.press("z", ctrl)
	p.seeText("Undone: put the look")
	assert.Zero(t, p.number(`select count(*) from asset where recipe ? 'look'`))
	p.press("r")
	p.seeText("items right")
	p.press("z", ctrl)
	p.seeText("Undone: turned")
	assert.Zero(t, p.number(`select count(*) from asset where (recipe ->> 'turn')::int = 90 and kind not in ('picture', 'clip')`))
}

// TestFromAChoiceToItsFiles puts a look on a choice and has its files made, while one goes on with something else.
func TestFromAChoiceToItsFiles(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/prepare?place=everything&sort=name" + filter(`{"field":"stars","from":4,"to":5}`))
	p.see("[data-sheet] [data-id] img")
	p.press("a", ctrl)
	count := read[int](p, `Number(document.querySelector("[data-selected]").dataset.selected)`)
	p.click("Look and files in one go…")
	p.until(`document.querySelector("[role=dialog] select")?.options.length > 1`)
	p.do(chromedp.Evaluate[chromedp.Void](`(() => { const s = document.querySelector("[role=dialog] select"); s.selectedIndex = 1;
		s.dispatchEvent(new Event("change", { bubbles: true })) })()`))
	p.see(`[role=dialog] [data-control="Strength"]`)
	p.accessible("a look and files in one go")
	p.fill("[role=dialog] input[autocomplete=off]", "{nonsense}")
	p.click(fmt.Sprintf("Make %d files as a ZIP", count))
	p.seeText("{nonsense}")
	p.seeText("and no files were made")
	p.fill("[role=dialog] input[autocomplete=off]", "{name} {n}")
	p.click(fmt.Sprintf("Make %d files as a ZIP", count))
	p.gone("[role=dialog]")
	p.click("Describe") // and on to something else
	p.seeText(fmt.Sprintf("%d files made.", count))
	p.gone("[data-making]")
	assert.Equal(t, count, p.number(`select count(*) from download_item where state = 'made'`))
	assert.Zero(t, p.number(`select count(*) from download_item i join asset a on a.id = i.asset_id where a.kind in ('picture', 'clip')
		and not a.recipe ? 'look'`))
}
