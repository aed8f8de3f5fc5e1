package e2e

import (
	"fmt"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// plainPages are the pages of a brand beside the sheet, by their addresses.
var plainPages = []string{"trail", "people", "settings", "account", "arrivals", "galleries", "embeds", "sizes", "addresses", "outlets",
	"dispatches", "rehearsals", "screens", "taken-along"}

// TestPlainPagesHaveOneMeasure: all begin at the same edge, no column is wider than another, and nothing is too small to hit.
func TestPlainPagesHaveOneMeasure(t *testing.T) {
	p := signIn(t, steward)
	for _, width := range []int{1280, 390} {
		p.do(chromedp.EmulateViewport(int64(width), 800))
		for _, page := range plainPages {
			p.open("/b/tansyloft/" + page)
			p.see("[data-page] h1")
			p.until(`document.querySelector(".page-column, .page-list") && !document.body.innerText.includes("Loading…")`)
			edges := read[[]float64](p, `(() => { const page = document.querySelector("[data-page]").getBoundingClientRect();
				const column = document.querySelector(".page-column, .page-list"), box = column.getBoundingClientRect();
				return [box.x - page.x, box.width] })()`)
			assert.Zero(t, edges[0], "%s at %d begins at another edge", page, width)
			if width == 1280 && read[bool](p, `!!document.querySelector(".page-column")`) {
				assert.LessOrEqual(t, edges[1], 800.0, "%s is wider than the others", page)
			}
			small := read[[]string](p, `[...document.querySelectorAll("button, [role=button], input:not([type=hidden]), select")].filter(e => {
				const hit = e.closest("label") ?? e, b = hit.getBoundingClientRect(), own = e.getBoundingClientRect();
				return own.width > 1 && Math.max(b.width, own.width) > 0 && (b.width < 24 || b.height < 23.5) && getComputedStyle(e).opacity !== "0"
					&& !e.closest(".sr-only") && !e.classList.contains("sr-only");
			}).map(e => (e.getAttribute("aria-label") || e.innerText || e.outerHTML).slice(0, 60) + " " + e.getBoundingClientRect().width.toFixed() +
				"×" + e.getBoundingClientRect().height.toFixed())`)
			assert.Empty(t, small, "too small to hit on %s at %d", page, width)
		}
	}
}

// TestAllStepsAreSeen at 1280 pixels also under a long name of the brand; on a phone the present one is in sight.
func TestAllStepsAreSeen(t *testing.T) {
	p := signIn(t, coordinator)
	_, err := storetest.SQL(p.database).
		Exec(`update brand set name = 'Tansyloft Kites, Sails and Windsocks of Sandholm' where code = 'tansyloft'`)
	assert.NoError(t, err)
	defer func() {
		_, err := storetest.SQL(p.database).Exec(`update brand set name = 'Tansyloft Kites' where code = 'tansyloft'`)
		assert.NoError(t, err)
	}()
	p.do(chromedp.EmulateViewport(1280, 800))
	p.open("/b/tansyloft/send-out?place=everything")
	p.see("[data-sheet] [data-id] img")
	for _, step := range []string{"Bring in", "File", "Describe", "Choose", "Prepare", "Gather", "Send out"} {
		p.until(fmt.Sprintf(`(() => { const nav = document.querySelector('[aria-label="Steps of the work"]').getBoundingClientRect();
			const b = [...document.querySelectorAll('[aria-label="Steps of the work"] button')].find(b => b.innerText.startsWith(%q))?.
				getBoundingClientRect();
			return b && b.left >= nav.left - 1 && b.right <= nav.right + 1 && b.right < innerWidth })()`, step))
	}
	p.do(chromedp.EmulateViewport(390, 844))
	p.open("/b/tansyloft/send-out?place=everything")
	p.until(`(() => { const b = document.querySelector('[aria-label="Steps of the work"] [aria-current]')?.getBoundingClientRect();
		return b && b.left >= 0 && b.right <= innerWidth })()`)
}
