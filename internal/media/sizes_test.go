package media

import (
	"image"
	_ "image/jpeg"
	_ "image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
)

// TestFilesOfASize are padded in a colour or the picture's own, enlarged, sharpened, and never larger than a budget.
func TestFilesOfASize(t *testing.T) {
	e := engine(t)
	original := mediatest.File(t, "any.jpg", mediatest.JPEG(t, 1500, 1000, 5))
	source := outputs.Source{Kind: "picture", Size: geometry.Size{Width: 1500, Height: 1000}, Focal: geometry.Centre}
	render := func(size outputs.Size) (image.Image, int64, pictures.Written, error) {
		size.Name, size.Pattern = "x", "{name}"
		if size.Quality == 0 {
			size.Quality = 85
		}
		if size.Metadata == "" {
			size.Metadata = outputs.StripAll
		}
		require.NoError(t, size.Check())
		plan, err := outputs.Make(source, size)
		require.NoError(t, err)
		target := filepath.Join(t.TempDir(), "out."+outputs.Extension(plan.Format))
		written, err := e.Render(ctx, Rendering{Original: Original{Path: original, MediaType: "image/jpeg"}, Source: source, Plan: plan,
			Size: size, Measure: true, Says: outputs.Says{Copyright: "© Tansyloft Kites", Credit: "Greta"}}, target)
		if err != nil {
			return nil, 0, written, err
		}
		file, err := os.Open(target)
		require.NoError(t, err)
		defer func() { _ = file.Close() }()
		info, err := file.Stat()
		require.NoError(t, err)
		if plan.Format != "jpeg" && plan.Format != "png" {
			return nil, info.Size(), written, nil
		}
		picture, _, err := image.Decode(file)
		require.NoError(t, err)
		assert.Equal(t, plan.Size, geometry.Size{Width: picture.Bounds().Dx(), Height: picture.Bounds().Dy()}, "exactly as computed")
		return picture, info.Size(), written, nil
	}
	rgb := func(p image.Image, x, y int) [3]int {
		r, g, b, _ := p.At(x, y).RGBA()
		return [3]int{int(r >> 8), int(g >> 8), int(b >> 8)}
	}
	padded, _, _, err := render(outputs.Size{Width: 400, Height: 400, Fit: outputs.Pad, Colour: "#17695f", Format: "png"})
	require.NoError(t, err)
	assert.Equal(t, [3]int{0x17, 0x69, 0x5f}, rgb(padded, 200, 5))
	assert.NotEqual(t, [3]int{0x17, 0x69, 0x5f}, rgb(padded, 200, 200))
	own, _, _, err := render(outputs.Size{Width: 400, Height: 400, Fit: outputs.Pad, Colour: outputs.Tint, Format: "png"})
	require.NoError(t, err)
	assert.NotEqual(t, rgb(padded, 200, 5), rgb(own, 200, 5))
	assert.Equal(t, rgb(own, 200, 5), rgb(own, 5, 395))
	_, _, _, err = render(outputs.Size{Width: 3000, Height: 3000, Fit: outputs.Inside, Enlarge: true, Format: "jpeg"})
	require.NoError(t, err)

	_, whole, _, err := render(outputs.Size{Width: 1200, Height: 1200, Fit: outputs.Inside, Format: "jpeg", Quality: 95})
	require.NoError(t, err)
	for _, format := range []string{"jpeg", "webp", "avif"} {
		for _, metadata := range []outputs.Metadata{outputs.StripAll, outputs.StripPrivate} {
			budget := whole * 2 / 5
			_, bytes, written, err := render(outputs.Size{Width: 1200, Height: 1200, Fit: outputs.Inside, Format: format, Quality: 95,
				Metadata: metadata, Budget: budget})
			require.NoError(t, err, format)
			assert.LessOrEqual(t, bytes, budget, format)
			assert.Greater(t, written.Likeness, 0.8, format)
			assert.LessOrEqual(t, written.Likeness, 1.0, format)
			if written.Quality < 95 && format == "jpeg" && metadata == outputs.StripAll {
				_, next, _, err := render(outputs.Size{Width: 1200, Height: 1200, Fit: outputs.Inside, Format: format, Quality: written.Quality + 1})
				require.NoError(t, err)
				assert.Greater(t, next, budget, "the next quality would be too large")
			}
		}
	}
	_, _, _, err = render(outputs.Size{Width: 1200, Height: 1200, Fit: outputs.Inside, Format: "jpeg", Budget: 2000})
	var refused *Refused
	require.ErrorAs(t, err, &refused)
	assert.Contains(t, refused.Why, "2 kB were allowed")

	plain, _, _, err := render(outputs.Size{Width: 600, Height: 600, Fit: outputs.Inside, Format: "png"})
	require.NoError(t, err)
	sharp, _, _, err := render(outputs.Size{Width: 600, Height: 600, Fit: outputs.Inside, Format: "png", Sharpen: 100})
	require.NoError(t, err)
	steps := func(p image.Image) (sum int) {
		for y := range p.Bounds().Dy() {
			for x := 1; x < p.Bounds().Dx(); x++ {
				d := rgb(p, x, y)[1] - rgb(p, x-1, y)[1]
				sum += d * d
			}
		}
		return sum
	}
	assert.Greater(t, steps(sharp), steps(plain))
}
