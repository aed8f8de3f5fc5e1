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
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/pictures"
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
