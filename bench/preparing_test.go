package bench

import (
	"context"
	"fmt"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/sendout/takealong"
)

// TestPreparedPicturesPerSecond makes 1200-pixel JPEGs of 24-megapixel ones as they are, with all of tone and sharpening, and with noise
// reduction besides, in turn.
func TestPreparedPicturesPerSecond(t *testing.T) {
	measured(t)
	originals := largePictures(t)
	pool := pictures.NewPool(atATime)
	defer pool.Close()
	tone := recipe.Recipe{Adjustments: recipe.Adjustments{Exposure: 0.5, Contrast: 15, Highlights: -30, Shadows: 30, White: 5, Black: 5,
		Warmth: 10, Tint: -5, Saturation: 5, Vibrance: 20, Clarity: 20, Vignette: -20, Sharpen: 40,
		Curve: []recipe.CurvePoint{{0.25, 0.22}, {0.75, 0.8}}}}
	noise := tone
	noise.Noise, noise.ColourNoise = 40, 40
	straight := tone
	straight.Straighten = 2
	prepared(t, pool, originals, recipe.Recipe{})
	ratios := map[string][]float64{}
	for range rounds {
		plain := prepared(t, pool, originals, recipe.Recipe{})
		for name, by := range map[string]recipe.Recipe{"tone and sharpening (wanted at least 0.7)": tone,
			"noise reduction besides (wanted at least 0.55)": noise, "tone and sharpening, straightened": straight} {
			ratios[name] = append(ratios[name], plain.Seconds()/prepared(t, pool, originals, by).Seconds())
		}
	}
	for name, r := range ratios {
		t.Logf("%s: %.2f of the plain resize, rounds %.2f", name, median(r), r)
	}
	t.Logf("peak memory of a worker: %d MB (wanted at most 250)", peak(t)/1024)
}

func prepared(t *testing.T, pool *pictures.Pool, originals []string, by recipe.Recipe) time.Duration {
	t.Helper()
	dir := t.TempDir()
	size := geometry.Fit(by.Size(geometry.Size{Width: 6000, Height: 4000}), geometry.Size{Width: 1200, Height: 1200})
	began := time.Now()
	var group sync.WaitGroup
	for i, path := range originals {
		group.Go(func() {
			_, err := pool.Do(context.Background(), pictures.Request{Path: path, MediaType: "image/jpeg", Recipe: by, Outputs: []pictures.Output{
				{Path: filepath.Join(dir, fmt.Sprintf("%d.jpg", i)), Width: size.Width, Height: size.Height, Format: "jpeg", Quality: 82},
			}})
			if err != nil {
				t.Error(err)
			}
		})
	}
	group.Wait()
	return time.Since(began)
}

// TestFrameOnRelease draws what one sees when a slider is let go, of a 24-megapixel picture, again and again with other values.
func TestFrameOnRelease(t *testing.T) {
	measured(t)
	original := largePictures(t)[0]
	pool := pictures.NewPool(atATime)
	defer pool.Close()
	var times []float64
	for i := range 40 {
		by := recipe.Recipe{Adjustments: recipe.Adjustments{Exposure: float64(i) / 20, Clarity: 20, Shadows: 20, Sharpen: 30}}
		began := time.Now()
		_, err := pool.Do(context.Background(), pictures.Request{Path: original, MediaType: "image/jpeg", Recipe: by, Hold: true,
			Outputs: []pictures.Output{{Path: filepath.Join(t.TempDir(), "frame.jpg"), Width: 1200, Height: 800, Format: "jpeg", Quality: 95}}})
		require.NoError(t, err)
		if i >= 4 { // each worker has decoded it once
			times = append(times, time.Since(began).Seconds()*1000)
		}
	}
	t.Logf("a frame of 1200 × 800: median %.0f ms, p95 %.0f ms (wanted 150)", median(times), percentile(times, 95))
}

// round is how many pictures a shoot round has.
const round = 521

// TestShootRound makes the ZIP of 521 pictures of 24 megapixels with a look, in an output size, as somebody orders it; and only the
// pictures, without what the step does around them.
func TestShootRound(t *testing.T) {
	measured(t)
	ctx := context.Background()
	look := recipe.Recipe{Adjustments: recipe.Adjustments{Exposure: 0.3, Contrast: 10, Shadows: 20, Warmth: 5, Vibrance: 15, Sharpen: 30}}
	h, v, paths, ids, size := shot(t, "bench_round", round)
	alone := prepared(t, h.Media.Pictures, paths, look)
	began := time.Now()
	done, err := h.Preparing.Change(ctx, v, query.Selection{IDs: ids}, recipe.Change{Parts: []string{"brightness", "colour", "texture"},
		From: &look}, 0)
	require.NoError(t, err)
	_, err = h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, After: done.Trail})
	require.NoError(t, err)
	answered := time.Since(began)
	require.Eventually(t, func() bool {
		list, err := h.TakeAlong.Downloads(ctx, v)
		return err == nil && list[0].State == "ready"
	}, 30*time.Minute, 200*time.Millisecond)
	took := time.Since(began)
	t.Logf("%d pictures of 24 megapixels to files: answered after %d ms, ready after %.0f s; %.2f of the pictures alone (wanted 0.95)",
		round, answered.Milliseconds(), took.Seconds(), alone.Seconds()/took.Seconds())
}
