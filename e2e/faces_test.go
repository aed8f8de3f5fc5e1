package e2e

import (
	"fmt"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// portrait is the item on which Ada is shown, with the outline of her face.
func (p *page) portrait() (asset, face int64) {
	p.t.Helper()
	var found struct{ Asset, Face int64 }
	require.NoError(
		p.t,
		storetest.SQL(p.database).Get(&found, `select f.asset_id as asset, f.id as face from face f join asset a on a.id = f.asset_id
		join asset_tag x on x.asset_id = a.id join tag t on t.id = x.tag_id
		where t.name = 'Ada Marrowby' and f.state = 'found' order by f.width desc limit 1`),
	)
	return found.Asset, found.Face
}

// box is where an outline is, in pixels of the screen.
func (p *page) box(face int64) (box struct{ X, Y, Width, Height float64 }) {
	p.t.Helper()
	return read[struct{ X, Y, Width, Height float64 }](p, fmt.Sprintf(`(r => ({X: r.x, Y: r.y, Width: r.width, Height: r.height}))(
		document.querySelector('[data-face="%d"]').getBoundingClientRect())`, face))
}

// TestFacesAreNamedMovedAndDrawn outlines faces in the big view, by mouse and by keys.
func TestFacesAreNamedMovedAndDrawn(t *testing.T) {
	p := signIn(t, coordinator)
	asset, face := p.portrait()
	p.open(fmt.Sprintf("/b/tansyloft/describe?place=everything&item=%d", asset))
	p.see(`[aria-label^="Outline "]`)
	p.press("f")
	outline := fmt.Sprintf(`[data-face="%d"]`, face)
	p.see(outline)
	p.accessible("outlines of faces")

	// a name, by keys: its beginning means who is known
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('` + outline + `').focus()`))
	p.press("Enter")
	p.see(`input[aria-label="Who is this?"]`)
	p.typeText("ada m")
	p.until(`document.querySelector('[aria-label="People to choose from"]')?.innerText.includes("New person “ada m”")`)
	p.press("Enter")
	p.seeText("Named a face: Ada Marrowby")
	assert.Zero(t, p.number(`select count(*) from tag where name ilike 'ada m'`))
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from face where id = %d and state = 'named'`, face)))

	// moved with the mouse, resized with keys
	before := p.box(face)
	x, y := before.X+before.Width/2, before.Y+before.Height/2
	p.do(chromedp.DragAndDropXY(x, y, x-30, y-20))
	p.seeText("Moved the outline of Ada Marrowby")
	p.until(fmt.Sprintf(`Math.abs(document.querySelector('%s').getBoundingClientRect().x - %f) < 3`, outline, before.X-30))
	was := p.number(fmt.Sprintf(`select (width * 10000)::int from face where id = %d`, face))
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('` + outline + `').focus()`))
	for range 4 {
		p.press("ArrowRight", chromedp.ModifierShift)
	}
	p.until(fmt.Sprintf(`document.querySelector('%s').getBoundingClientRect().width > %f`, outline, before.Width+3))
	require.Eventually(t, func() bool {
		return p.number(fmt.Sprintf(`select (width * 10000)::int from face where id = %d`, face)) >= was+390
	}, patience, 50*time.Millisecond)

	// another one is drawn, and it is no face after all
	corner := p.box(face)
	p.clickOn(`[aria-label="Draw an outline around a face"]`)
	p.see("[data-drawing]")
	p.do(chromedp.DragAndDropXY(corner.X+10, corner.Y-90, corner.X+60, corner.Y-30))
	p.seeText("Outlined a face")
	p.until(`document.querySelectorAll("[data-face]").length === 2`)
	p.until(`document.activeElement.matches('[aria-label^="Face without a name"]')`)
	p.press("Delete")
	p.seeText("Took away an outline that is no face")
	p.until(`document.querySelectorAll("[data-face]").length === 1`)
	p.press("z", ctrl)
	p.until(`document.querySelectorAll("[data-face]").length === 2`)
	p.clickOn(`[aria-label="Draw an outline around a face"]`)
	p.see("[data-drawing]")
	p.press("Escape")
	p.gone("[data-drawing]")
	p.see("[data-big-view]") // Escape left the drawing only
}

// TestWhoIsThis names one face after the other by keys alone, writes down that somebody does not agree, and finds the pictures.
func TestWhoIsThis(t *testing.T) {
	p := signIn(t, coordinator)
	open := p.number(`select count(*) from face f join asset a on a.id = f.asset_id where f.state = 'found' and a.binned_at is null`)
	require.Greater(t, open, 2)
	p.open("/b/tansyloft/people-shown")
	p.see(`[data-person="Emiko Fennimoor"]`)
	p.accessible("who is shown")
	p.click(fmt.Sprintf("Name %d faces", open))
	at := `Number(document.querySelector("[data-open-face]")?.dataset.openFace ?? 0)`
	p.until(at + ` > 0 && document.activeElement.matches('[aria-label="Who is this?"]')`)
	p.accessible("who is this")
	first := read[int](p, at)
	p.press("ArrowRight")
	p.until(fmt.Sprintf(`%s > %d`, at, first))
	p.press("ArrowLeft")
	p.until(fmt.Sprintf(`%s === %d`, at, first))
	p.typeSlowly("Pell Harrow")
	p.press("Enter")
	p.seeText("Named a face: Pell Harrow")
	p.until(fmt.Sprintf(`%s > %d && document.activeElement.matches('[aria-label="Who is this?"]')`, at, first))
	second := read[int](p, at)
	p.press("Delete")
	p.seeText("Took away an outline that is no face")
	p.until(fmt.Sprintf(`%s !== %d`, at, second))
	p.press("Escape")

	p.clickOn(`[data-person="Pell Harrow"]`)
	p.see("[data-person-card]")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-person-card] select").focus()`))
	p.press("End") // of what can be chosen: does not agree
	p.seeText("Pell Harrow does not agree to be shown in public")
	p.seeText("Not to be shown in public")
	p.accessible("somebody who does not agree")
	p.click("Show the pictures")
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length === 1`)
	p.clickAt(p.middle(item(p.shown()[0])))
	p.click("Describe")
	p.seeText("Pell Harrow does not agree to be shown in public")
	p.open("/b/tansyloft/describe?place=everything" + filter(`{"match":"any","rules":[{"field":"consent","names":["refused"]}]}`))
	p.until(`document.querySelectorAll("[data-sheet] [data-id]").length === 3`) // and the two of Emiko
	p.seeText("shows somebody who does not agree")
}
