package pictures

import (
	"fmt"
	goimage "image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// TestNoiseBesideLibraries takes noise out of a picture in three strengths, ours and what libraries in reach do with the same: gain in luma
// PSNR and SSIM against the picture without noise, and seconds a megapixel beyond reading and writing it.
func TestNoiseBesideLibraries(t *testing.T) {
	if os.Getenv("SATCHEL_BENCH") == "" {
		t.Skip("bench/run measures")
	}
	const width, height = 1536, 1024
	megapixels := float64(width*height) / 1e6
	clean := landscape(width, height)
	noisy := demosaiced(clean, 0.015, 0.00015)
	path := asPNG(t, noisy)
	grey := func(p *goimage.NRGBA) []byte {
		out := make([]byte, 0, width*height)
		for i := 0; i < len(p.Pix); i += 4 {
			out = append(out, uint8(0.299*float64(p.Pix[i])+0.587*float64(p.Pix[i+1])+0.114*float64(p.Pix[i+2])+0.5))
		}
		return out
	}
	say := func(name string, out *goimage.NRGBA, seconds float64) {
		t.Logf("| %s | %+.1f dB | %.3f | %.3f s |", name, psnr(clean, out)-psnr(clean, noisy), ssim(grey(clean), grey(out), width, height),
			seconds/megapixels)
	}
	t.Logf("| as it came | %.1f dB | %.3f | |", psnr(clean, noisy), ssim(grey(clean), grey(noisy), width, height))
	timed := func(do func() *goimage.NRGBA) (*goimage.NRGBA, float64) {
		best := time.Hour
		var out *goimage.NRGBA
		for range 3 {
			began := time.Now()
			out = do()
			best = min(best, time.Since(began))
		}
		return out, best.Seconds()
	}
	_, plain := timed(func() *goimage.NRGBA { return made(t, path, adjusted("exposure", 0), 0) })
	for _, s := range []float64{25, 50, 75} {
		by := adjusted("noise", s)
		by.ColourNoise = s
		out, seconds := timed(func() *goimage.NRGBA { return made(t, path, by, 0) })
		say(fmt.Sprintf("ours, %.0f", s), out, seconds-plain)
	}
	dir := t.TempDir()
	run := func(args ...string) *goimage.NRGBA {
		target := filepath.Join(dir, "out.png")
		for i, a := range args {
			if a == "OUT" {
				args[i] = target
			}
		}
		text, err := exec.Command(args[0], args[1:]...).CombinedOutput()
		require.NoError(t, err, "%s", text)
		file, err := os.Open(target)
		require.NoError(t, err)
		defer func() { _ = file.Close() }()
		picture, err := png.Decode(file)
		require.NoError(t, err)
		out := goimage.NewNRGBA(picture.Bounds())
		for y := range height {
			for x := range width {
				out.Set(x, y, picture.At(x, y))
			}
		}
		return out
	}
	film := func(filter string) *goimage.NRGBA {
		return run("ffmpeg", "-v", "error", "-y", "-threads", "1", "-filter_threads", "1", "-i", path, "-vf", "format=yuv444p,"+filter,
			"-pix_fmt", "rgb24", "OUT")
	}
	_, nothing := timed(func() *goimage.NRGBA { return film("null") })
	for _, filter := range []string{"nlmeans=s=2", "nlmeans=s=4", "nlmeans=s=7", "bm3d=sigma=4", "bm3d=sigma=8", "bm3d=sigma=14",
		"vaguedenoiser=threshold=2", "vaguedenoiser=threshold=5", "vaguedenoiser=threshold=10", "hqdn3d=4:3:0:0", "hqdn3d=8:6:0:0",
		"hqdn3d=16:12:0:0"} {
		out, seconds := timed(func() *goimage.NRGBA { return film(filter) })
		say("ffmpeg "+filter, out, seconds-nothing)
	}
	_, copied := timed(func() *goimage.NRGBA { return run("vips", "copy", path, "OUT") })
	out, seconds := timed(func() *goimage.NRGBA { return run("vips", "rank", path, "OUT", "3", "3", "4") })
	say("libvips median 3 × 3", out, seconds-copied)
}
