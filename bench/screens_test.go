package bench

import (
	"context"
	"fmt"
	"net/http"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store/storetest"
)

// nextShown is when another picture is on a screen than the present one, in milliseconds since 1970.
const nextShown = `new Promise(done => {
	const item = () => [...document.querySelectorAll("#screen figure")].at(-1)?.dataset.item
	const before = item()
	const look = () => item() !== before ? done(Date.now()) : setTimeout(look, 4)
	look() })`

// TestScreens measures how long it takes from a press until a screen, in a real browser, shows what it was told.
func TestScreens(t *testing.T) {
	measured(t)
	const presses = 50
	ctx := context.Background()
	h := housetest.New(t, "screens")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	takeIn(t, h, v, demoFiles(t, 40))
	waitUntilLooked(t, h, v)
	require.NoError(t, h.Index.Load(ctx, v.Brand))
	d := &desk{t: t, h: h, took: map[string][]float64{}}
	d.signIn(v.Person)
	const brand = "/api/brands/bench"
	var page sheetPage
	d.ask("", http.MethodPost, brand+"/sheet?most=60", map[string]any{"place": "everything"}, &page)
	var album, screen struct{ ID int64 }
	d.ask("", http.MethodPost, brand+"/albums", map[string]any{"name": "In the shop", "selection": map[string]any{"ids": page.IDs}}, &album)
	tab, end := tabIn(ctx)
	t.Cleanup(end)
	require.NoError(t, chromedp.Do(tab, chromedp.Navigate(d.address+"/screen"), chromedp.WaitVisible(chromedp.CSS(".code"))))
	code, err := chromedp.Run(tab, chromedp.Evaluate[string](`document.querySelector(".code").innerText`))
	require.NoError(t, err)
	d.ask("", http.MethodPost, brand+"/screens", map[string]any{"code": code, "name": "Window", "album": album.ID, "zone": "UTC"}, &screen)
	path := fmt.Sprintf("%s/screens/%d", brand, screen.ID)
	require.NoError(t, chromedp.Do(tab, chromedp.WaitVisible(chromedp.CSS("#screen figure img"))))
	d.ask("", http.MethodPatch, path, map[string]any{"state": "paused"}, nil)
	time.Sleep(10 * time.Second) // until all of it is stored there
	var took []float64
	for range presses {
		time.Sleep(1500 * time.Millisecond) // nothing of the press before is to be seen any more
		shown := make(chan float64, 1)
		go func() {
			at, err := chromedp.Run(tab, chromedp.Evaluate[float64](nextShown, chromedp.EvalAwaitPromise))
			if err != nil {
				at = 0
			}
			shown <- at
		}()
		time.Sleep(300 * time.Millisecond)
		began := float64(time.Now().UnixMilli())
		d.ask("", http.MethodPatch, path, map[string]any{"jump": 1}, nil)
		took = append(took, <-shown-began)
	}
	t.Logf("from a press until a screen shows it, %d times: median %.0f ms, p95 %.0f ms (wanted under 1,000)", presses, median(took),
		percentile(took, 95))
}
