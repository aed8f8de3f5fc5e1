package bench

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/storetest"
)

// TestDelivery hands out thumbnails to people who are signed in and pictures of an opened gallery to guests, each in turn
// with a plain file server over the same bytes.
func TestDelivery(t *testing.T) {
	measured(t)
	const pictures = 40
	ctx := context.Background()
	h := housetest.New(t, "delivery")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	takeIn(t, h, v, demoFiles(t, pictures))
	waitUntilLooked(t, h, v)
	require.NoError(t, h.Index.Load(ctx, v.Brand))
	d := &desk{t: t, h: h, took: map[string][]float64{}}
	d.signIn(v.Person)
	const brand = "/api/brands/bench"
	var page sheetPage
	d.ask("", http.MethodPost, brand+"/sheet?most=60", map[string]any{"place": "everything"}, &page)
	require.Len(t, page.IDs, pictures)
	var rows []struct{ Code, Version string }
	d.ask("", http.MethodPost, brand+"/rows", map[string]any{"ids": page.IDs}, &rows)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		_, err := downloadstore.AddOutputSize(ctx, tx, v.Brand, outputs.Size{Name: "Web 1200", Width: 1200, Height: 1200, Fit: outputs.Inside,
			Format: "jpeg", Quality: 82, Metadata: outputs.StripPrivate, Pattern: "{name}"})
		return err
	}))
	gallery := d.openGallery(page.IDs)

	plain := t.TempDir()
	var thumbnails, previews, plainThumbnails, plainPreviews []string
	for _, row := range rows {
		for size, paths := range map[string][2]*[]string{"small": {&thumbnails, &plainThumbnails}, "medium": {&previews, &plainPreviews}} {
			path := fmt.Sprintf("/media/bench/%s/%s?v=%s", row.Code, size, row.Version)
			name := row.Code + "-" + size + ".webp"
			require.NoError(t, os.WriteFile(filepath.Join(plain, name), d.bytesOf(path), 0o600))
			if size == "medium" {
				path = fmt.Sprintf("/g/%s/media/%s/%s?v=%s", gallery, row.Code, size, row.Version)
			}
			*paths[0] = append(*paths[0], path)
			*paths[1] = append(*paths[1], "/"+name)
		}
	}
	var onPages, plainOnPages []string
	for _, path := range d.embedPictures(page.IDs) {
		name := fmt.Sprintf("page-%d.webp", len(onPages))
		require.NoError(t, os.WriteFile(filepath.Join(plain, name), d.bytesOf(path), 0o600))
		onPages, plainOnPages = append(onPages, path), append(plainOnPages, "/"+name)
	}
	server := httptest.NewServer(http.FileServer(http.Dir(plain)))
	t.Cleanup(server.Close)
	home, err := url.Parse(d.address)
	require.NoError(t, err)
	cookie := ""
	for _, c := range d.client.Jar.Cookies(home) {
		cookie += "Cookie: " + c.String() + "\r\n"
	}
	// Many short rounds, each time the other one first: what else the machine does meanwhile weighs on both alike.
	const rounds, during = 15, time.Second
	for _, atOnce := range []int{8, 128} {
		for _, what := range []struct {
			name, cookie string
			ours, theirs []string
			wanted       float64
		}{{"thumbnails to people signed in", cookie, thumbnails, plainThumbnails, 0.6},
			{"pictures of an opened gallery to guests", "", previews, plainPreviews, 0.9},
			{"pictures of an embed to any page", "", onPages, plainOnPages, 0.9}} {
			hammer(t, d.address, what.cookie, what.ours, atOnce, time.Second) // warms up
			hammer(t, server.URL, "", what.theirs, atOnce, time.Second)
			var ratios, speed, took []float64
			for round := range rounds {
				var ours, theirs float64
				var each []float64
				for turn := range 2 {
					if (round+turn)%2 == 0 {
						ours, each = hammer(t, d.address, what.cookie, what.ours, atOnce, during)
					} else {
						theirs, _ = hammer(t, server.URL, "", what.theirs, atOnce, during)
					}
				}
				ratios, speed, took = append(ratios, ours/theirs), append(speed, ours), append(took, each...)
			}
			t.Logf("%s, %d at once: %.0f a second, against a plain file server %.2f (wanted at least %.1f; half of the rounds %.2f to %.2f), "+
				"median %.1f ms, p95 %.1f ms (wanted under 100)", what.name, atOnce, median(speed), median(ratios), what.wanted,
				percentile(ratios, 25), percentile(ratios, 75), median(took), percentile(took, 95))
		}
	}
}

// demoFiles are JPEGs of the size of a demo picture, each with another note behind its end.
func demoFiles(t *testing.T, n int) []string {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(os.Getenv("SATCHEL_DEMO"), "media/spring-meet-hallow-down/OST_0412.JPG"))
	require.NoError(t, err)
	return noted(t, t.TempDir(), data, n)
}

// bytesOf asks for a path and returns what is answered.
func (d *desk) bytesOf(path string) []byte {
	var got []byte
	d.ask("", http.MethodGet, path, nil, &got)
	return got
}

// openGallery makes an album of items, a gallery of the album, opens it, and returns its code.
func (d *desk) openGallery(ids []int64) string {
	const brand = "/api/brands/bench"
	var album, gallery struct{ ID int64 }
	d.ask("", http.MethodPost, brand+"/albums", map[string]any{"name": "For guests"}, &album)
	d.ask("", http.MethodPost, fmt.Sprintf("%s/albums/%d/items", brand, album.ID), map[string]any{"ids": ids}, nil)
	d.ask("", http.MethodPost, brand+"/galleries", map[string]any{"kind": "client", "title": "For guests",
		"chapters": []any{map[string]any{"album": album.ID, "below": false}}}, &gallery)
	d.ask("", http.MethodPatch, fmt.Sprintf("%s/galleries/%d", brand, gallery.ID), map[string]any{"open": true}, nil)
	var galleries []struct{ Code string }
	d.ask("", http.MethodGet, brand+"/galleries", nil, &galleries)
	require.Len(d.t, galleries, 1)
	return galleries[0].Code
}
