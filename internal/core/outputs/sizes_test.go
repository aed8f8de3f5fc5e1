package outputs

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

func TestWhatASizeMakes(t *testing.T) {
	box := func(width, height int) geometry.Size { return geometry.Size{Width: width, Height: height} }
	inner := func(width, height int) *geometry.Size { return new(box(width, height)) }
	for _, c := range []struct {
		name  string
		src   geometry.Size
		size  Size
		want  geometry.Size
		inner *geometry.Size
	}{
		{"small stays small", box(300, 200), Size{Width: 1200, Height: 1200, Fit: Inside}, box(300, 200), nil},
		{"unless enlarged", box(300, 200), Size{Width: 1200, Height: 1200, Fit: Inside, Enlarge: true}, box(1200, 800), nil},
		{"enlarged to a width", box(300, 200), Size{Width: 900, Fit: Inside, Enlarge: true}, box(900, 600), nil},
		{"filled", box(3000, 2000), Size{Width: 1000, Height: 1000, Fit: Fill}, box(1000, 1000), nil},
		{"filled, and small", box(300, 200), Size{Width: 1000, Height: 1000, Fit: Fill}, box(200, 200), nil},
		{"filled and enlarged", box(300, 200), Size{Width: 1000, Height: 1000, Fit: Fill, Enlarge: true}, box(1000, 1000), nil},
		{"padded", box(3000, 2000), Size{Width: 1000, Height: 1000, Fit: Pad, Colour: Tint}, box(1000, 1000), inner(1000, 667)},
		{"padded, and small", box(300, 200), Size{Width: 1000, Height: 1000, Fit: Pad, Colour: Tint}, box(1000, 1000), inner(300, 200)},
		{"padded and enlarged", box(300, 200), Size{Width: 1000, Height: 1000, Fit: Pad, Enlarge: true}, box(1000, 1000), inner(1000, 667)},
		{"nothing to pad", box(2000, 1000), Size{Width: 1000, Height: 500, Fit: Pad}, box(1000, 500), nil},
		{"a line", box(30_000, 2), Size{Width: 1000, Height: 1000, Fit: Pad}, box(1000, 1000), inner(1000, 1)},
	} {
		plan, err := Make(Source{Kind: "picture", Size: c.src, Focal: geometry.Centre}, c.size)
		require.NoError(t, err)
		assert.Equal(t, c.want, plan.Size, c.name)
		assert.Equal(t, c.inner, plan.Inner, c.name)
	}
	clip, err := Make(Source{Kind: "clip", Size: box(1920, 1080)}, Size{Width: 480, Height: 480, ClipSide: 1280, Fit: Fill, Format: "jpeg"})
	require.NoError(t, err)
	assert.Equal(t, Plan{Size: box(1280, 720), Format: "mp4"}, clip)
}

// TestACropOfAProportionHasItsOwnFocalPoint, and others keep the item's.
func TestACropOfAProportionHasItsOwnFocalPoint(t *testing.T) {
	src := Source{Kind: "picture", Size: geometry.Size{Width: 4000, Height: 1000}, Focal: geometry.Centre,
		Focals: map[string]geometry.Point{"1:1": {X: 0, Y: 0.5}}}
	at := func(width, height int) int {
		plan, err := Make(src, Size{Width: width, Height: height, Fit: Fill})
		require.NoError(t, err)
		return plan.Crop.X
	}
	assert.Equal(t, 0, at(1080, 1080))
	assert.Equal(t, 0, at(200, 200), "whatever the size")
	assert.Equal(t, 1000, at(200, 100))
	assert.Equal(t, 0, at(999, 1001), "what only rounding tells apart")
	assert.NotZero(t, at(1000, 1010))
	src.Focals["1001:1000"] = geometry.Point{X: 1, Y: 0.5}
	assert.Equal(t, 0, at(1000, 1000), "its very own before one that is near")
	src.Focals["no proportion"], src.Focals["1:0"] = geometry.Centre, geometry.Centre
	assert.Equal(t, 1000, at(200, 100))
	assert.Equal(t, "16:9", Proportion(geometry.Size{Width: 1920, Height: 1080}))
	assert.Equal(t, "", Proportion(geometry.Size{}))
}

func TestSizesThatMakeNoSense(t *testing.T) {
	good := Size{Name: "x", Width: 1000, Height: 1000, Fit: Inside, Format: "jpeg", Quality: 80, Metadata: StripAll, Pattern: "{name}"}
	require.NoError(t, good.Check())
	for field, change := range map[string]func(s *Size){
		"name":     func(s *Size) { s.Name = " " },
		"width":    func(s *Size) { s.Width = 40_000 },
		"height":   func(s *Size) { s.Height = -1 },
		"fit":      func(s *Size) { s.Fit = "wrap" },
		"enlarge":  func(s *Size) { s.Width, s.Height, s.Enlarge = 0, 0, true },
		"quality":  func(s *Size) { s.Quality = 0 },
		"format":   func(s *Size) { s.Format = "gif" },
		"metadata": func(s *Size) { s.Metadata = "" },
		"budget":   func(s *Size) { s.Budget = 1000 },
		"sharpen":  func(s *Size) { s.Sharpen = 101 },
		"colour":   func(s *Size) { s.Fit, s.Colour = Pad, "blue" },
		"clipSide": func(s *Size) { s.ClipSide = 1 << 30 },
		"clipRate": func(s *Size) { s.ClipRate = math.NaN() },
		"pattern":  func(s *Size) { s.Pattern = "{nmae}" },
	} {
		s := good
		change(&s)
		var invalid *fault.Invalid
		require.ErrorAs(t, s.Check(), &invalid, field)
		assert.Equal(t, field, invalid.Field)
	}
	for name, s := range map[string]Size{"a fill without a side": {Width: 100, Fit: Fill}, "a pad without a side": {Height: 100, Fit: Pad},
		"gigapixels": {Width: 20_000, Height: 20_000, Fit: Inside, Enlarge: true}} {
		s.Name, s.Format, s.Quality, s.Metadata, s.Pattern = "x", "jpeg", 80, StripAll, "{name}"
		assert.Error(t, s.Check(), name)
	}
	png := good
	png.Format, png.Budget = "png", 50_000
	assert.ErrorContains(t, png.Check(), "loses nothing")
	for _, d := range Defaults {
		assert.NoError(t, d.Check(), d.Name)
	}
}

// TestNothingIsEverLargerThanAsked, nor than the picture itself unless that was asked.
func TestNothingIsEverLargerThanAsked(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		side := rapid.IntRange(1, 30_000)
		src := geometry.Size{Width: side.Draw(t, "width"), Height: side.Draw(t, "height")}
		size := Size{Width: rapid.IntRange(0, 3000).Draw(t, "box width"), Height: rapid.IntRange(0, 3000).Draw(t, "box height"),
			Fit: rapid.SampledFrom([]Fit{Inside, Fill, Pad}).Draw(t, "fit"), Enlarge: rapid.Bool().Draw(t, "enlarge")}
		plan, err := Make(Source{Kind: "picture", Size: src, Focal: geometry.Centre}, size)
		require.NoError(t, err)
		shown := plan.Size
		if plan.Inner != nil {
			shown = *plan.Inner
		}
		for _, s := range []geometry.Size{plan.Size, shown} {
			require.True(t, s.Width >= 1 && s.Height >= 1)
			require.True(t, size.Width == 0 || s.Width <= size.Width, "%v of %v in %v", s, src, size)
			require.True(t, size.Height == 0 || s.Height <= size.Height, "%v of %v in %v", s, src, size)
		}
		if !size.Enlarge {
			require.True(t, shown.Width <= src.Width && shown.Height <= src.Height)
		}
	})
}
