package media

import (
	"image"
	"image/jpeg"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/media/mediatest"
)

// filmed renders a clip by a recipe at its own size.
func filmed(t *testing.T, e *Engine, original Original, by recipe.Recipe) (string, geometry.Size) {
	target := filepath.Join(t.TempDir(), "film.mp4")
	size := outputs.Size{Width: 4000, Height: 4000, Fit: outputs.Inside, Metadata: outputs.StripAll}
	source := outputs.Source{Kind: "clip", Size: by.Size(original.Size)}
	plan, err := outputs.Make(source, size)
	require.NoError(t, err)
	last := 0.0
	_, err = e.Render(ctx, Rendering{Original: original, By: by, Source: source, Plan: plan, Size: size,
		Told: func(part float64) { last = part }}, target)
	require.NoError(t, err)
	assert.Positive(t, last, "it tells how much is made")
	return target, plan.Size
}

func TestAClipGoesOutAsItWasPrepared(t *testing.T) {
	e := engine(t)
	original := Original{Path: mediatest.File(t, "a.mp4", mediatest.Sounding(t, 4)), MediaType: "video/mp4",
		Size: geometry.Size{Width: 320, Height: 240}, Seconds: 4}
	by := recipe.Recipe{Turn: 90, Flip: true, Crop: &recipe.Crop{X: 0, Y: 0.25, Width: 1, Height: 0.5},
		Adjustments: recipe.Adjustments{Exposure: 0.6, Contrast: 20, Warmth: 25, Saturation: -30},
		Film:        &recipe.Film{From: 1, To: 2.5, Mute: true}}
	require.NoError(t, by.CheckFor("clip"))
	film, size := filmed(t, e, original, by)
	facts, err := clips.Read(ctx, film)
	require.NoError(t, err)
	assert.Equal(t, geometry.Size{Width: 240, Height: 160}, size)
	assert.Equal(t, size, facts.Size)
	assert.InDelta(t, 1.5, facts.Seconds, 0.11)
	assert.False(t, facts.Sound)

	// what is seen while preparing is what is in the film, at the same moment
	for _, at := range []float64{1, 1.7, 2.4} {
		seen := by
		seen.Film = &recipe.Film{Poster: at}
		frame := filepath.Join(t.TempDir(), "frame.jpg")
		require.NoError(t, e.Frame(ctx, original, seen, size, frame))
		still := filepath.Join(t.TempDir(), "still.png")
		require.NoError(t, clips.Still(ctx, film, still, at-1))
		assert.Less(t, apart(t, frame, still), 7.0, "levels apart on average, at %g seconds: what coding loses", at)
	}
}

// TestAClipBecomesAnAnimation of its size and length, without what was cut off, that goes on for ever.
func TestAClipBecomesAnAnimation(t *testing.T) {
	e := engine(t)
	original := Original{Path: mediatest.File(t, "a.mp4", mediatest.Sounding(t, 4)), MediaType: "video/mp4",
		Size: geometry.Size{Width: 320, Height: 240}, Seconds: 4}
	by := recipe.Recipe{Turn: 90, Film: &recipe.Film{From: 1, To: 3}}
	for _, format := range []string{"gif", "webp"} {
		target := filepath.Join(t.TempDir(), "clip."+format)
		size := outputs.Size{ClipSide: 120, ClipFormat: format, ClipRate: 8, Format: "jpeg", Quality: 70, Metadata: outputs.StripPrivate}
		source := outputs.Source{Kind: "clip", Size: by.Size(original.Size)}
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		_, err = e.Render(ctx, Rendering{Original: original, By: by, Source: source, Plan: plan, Size: size,
			Says: outputs.Says{Copyright: "Tansyloft"}}, target)
		require.NoError(t, err, format)
		raw, err := os.ReadFile(target)
		require.NoError(t, err)
		assert.Contains(t, string(raw), "Tansyloft", "whose it is, in the %s", format)
		shape, err := exec.Command("vipsheader", "-f", "n-pages", target).Output()
		require.NoError(t, err)
		pages, err := strconv.Atoi(strings.TrimSpace(string(shape)))
		require.NoError(t, err)
		assert.InDelta(t, 16, pages, 1, "2 seconds of 8 pictures each, as %s", format)
		facts, _, err := e.Read(ctx, target, t.TempDir(), recipe.Recipe{})
		require.NoError(t, err)
		assert.Equal(t, geometry.Size{Width: 90, Height: 120}, facts.Size)
	}
}

func TestSoundIsBroughtToALoudness(t *testing.T) {
	e := engine(t)
	original := Original{Path: mediatest.File(t, "quiet.mp4", mediatest.Sounding(t, 5)), MediaType: "video/mp4",
		Size: geometry.Size{Width: 320, Height: 240}, Seconds: 5}
	film, _ := filmed(t, e, original, recipe.Recipe{Film: &recipe.Film{Level: true}})
	assert.Less(t, loudness(t, original.Path), -30.0)
	assert.InDelta(t, recipe.Loudness, loudness(t, film), 1)
	silent := original
	silent.Path = mediatest.File(t, "silent.mp4", mediatest.Film(t, "mpeg4", "mp4", 2))
	film, _ = filmed(t, e, silent, recipe.Recipe{Film: &recipe.Film{Level: true}})
	facts, err := clips.Read(ctx, film)
	require.NoError(t, err)
	assert.False(t, facts.Sound, "there is nothing to bring to a loudness")
}

// loudness measures in LUFS (EBU R 128).
func loudness(t *testing.T, path string) float64 {
	said, err := exec.Command("ffmpeg", "-hide_banner", "-nostats", "-i", path, "-af", "ebur128", "-f", "null", "-").CombinedOutput()
	require.NoError(t, err)
	all := regexp.MustCompile(`I:\s+(-?[0-9.]+) LUFS`).FindAllSubmatch(said, -1)
	require.NotEmpty(t, all)
	n, err := strconv.ParseFloat(string(all[len(all)-1][1]), 64)
	require.NoError(t, err)
	return n
}

func apart(t *testing.T, one, two string) float64 {
	read := func(path string) image.Image {
		file, err := os.Open(path)
		require.NoError(t, err)
		defer func() { _ = file.Close() }()
		decode := png.Decode
		if filepath.Ext(path) == ".jpg" {
			decode = jpeg.Decode
		}
		picture, err := decode(file)
		require.NoError(t, err)
		return picture
	}
	a, b := read(one), read(two)
	require.Equal(t, a.Bounds().Size(), b.Bounds().Size())
	sum, n := 0.0, 0.0
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			r1, g1, b1, _ := a.At(x, y).RGBA()
			r2, g2, b2, _ := b.At(x, y).RGBA()
			for _, d := range [][2]uint32{{r1, r2}, {g1, g2}, {b1, b2}} {
				sum += float64(max(d[0], d[1])-min(d[0], d[1])) / 257
				n++
			}
		}
	}
	return sum / n
}

// TestAFilmOfHugeFramesIsRefused by what it says of itself, before one of them is decoded; and where it says less than it has, decoding
// ends.
func TestAFilmOfHugeFramesIsRefused(t *testing.T) {
	path := filepath.Join(t.TempDir(), "huge.mov")
	out, err := exec.Command("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=gray:size=16000x12000:rate=1:duration=1", "-c:v", "mjpeg",
		"-threads", "1", path).CombinedOutput()
	require.NoError(t, err, "%s", out)
	dir := t.TempDir()
	_, _, err = engine(t).Read(t.Context(), path, dir, recipe.Recipe{})
	var refused *Refused
	require.ErrorAs(t, err, &refused)
	assert.Contains(t, refused.Why, "16000 × 12000 pixels; up to 40 megapixels")
	require.Error(t, clips.Still(t.Context(), path, filepath.Join(dir, "still.png"), 0))
	assert.NoFileExists(t, filepath.Join(dir, "still.png"))
}

// TestAFilmHoldsItsBudget or is refused in words before it goes anywhere.
func TestAFilmHoldsItsBudget(t *testing.T) {
	e := engine(t)
	original := Original{Path: mediatest.File(t, "a.mp4", mediatest.Sounding(t, 6)), MediaType: "video/mp4",
		Size: geometry.Size{Width: 320, Height: 240}, Seconds: 6}
	make := func(budget int64) (int64, error) {
		size := outputs.Size{Width: 320, Height: 240, Fit: outputs.Inside, Format: "jpeg", Quality: 80, Metadata: outputs.StripAll,
			Budget: budget}
		source := outputs.Source{Kind: "clip", Size: original.Size}
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		target := filepath.Join(t.TempDir(), "film.mp4")
		_, err = e.Render(ctx, Rendering{Original: original, Source: source, Plan: plan, Size: size}, target)
		if err != nil {
			return 0, err
		}
		info, err := os.Stat(target)
		require.NoError(t, err)
		return info.Size(), nil
	}
	whole, err := make(0)
	require.NoError(t, err)
	for _, part := range []int64{2, 3} {
		got, err := make(whole * part / 4)
		require.NoError(t, err)
		assert.LessOrEqual(t, got, whole*part/4)
		assert.Greater(t, got, whole*part/20, "it is not made smaller than it needs to be")
	}
	same, err := make(whole * 2)
	require.NoError(t, err)
	assert.InEpsilon(t, whole, same, 0.02, "what fits is as good as ever")
	_, err = make(10_000)
	var refused *Refused
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "It plays for 6 s, which is too long for the 10 kB that were allowed. Trim it, or allow more.", refused.Why)
}
