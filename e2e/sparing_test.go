package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/media/mediatest"
)

// TestUploadsAskSparingly brings in many files and counts what the page asks meanwhile: each list at most about once a second, and nothing
// that is not there.
func TestUploadsAskSparingly(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/bring-in?place=unfiled")
	p.see("[data-sheet]")
	var list []namedFile
	for n := range 60 {
		list = append(list, namedFile{fmt.Sprintf("sparing %02d.jpg", n), mediatest.JPEG(t, 300+n, 200, uint8(n))})
	}
	dropped := files(t, list)
	p.do(chromedp.Evaluate[chromedp.Void](`performance.clearResourceTimings(); performance.setResourceTimingBufferSize(20000);
		window.beganAt = performance.now()`))
	p.dropFiles(css("[data-sheet]"), dropped...)
	p.strap("60 files, all added")
	seconds := read[float64](p, `(performance.now() - beganAt) / 1000`)
	asked := read[map[string]int](p, `(() => { const asked = {};
		for (const e of performance.getEntriesByType("resource")) { const path = new URL(e.name).pathname;
			if (path.startsWith("/api/") && !/uploads|announce|events/.test(path)) asked[path] = (asked[path] ?? 0) + 1 }
		return asked })()`)
	assert.NotEmpty(t, asked)
	for path, times := range asked {
		assert.LessOrEqual(t, float64(times), 2*seconds+8, "%s was asked %d times in %.0f s", path, times, seconds)
	}
	missing := read[[]string](p, `performance.getEntriesByType("resource").filter(e => e.responseStatus === 404).map(e => e.name)`)
	assert.Empty(t, missing)
	t.Logf("60 files in %.1f s: %v", seconds, asked)
}
