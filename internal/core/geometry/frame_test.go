package geometry_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
)

func drawnCut(t *rapid.T) geometry.Cut {
	c := geometry.Cut{Turn: 90 * rapid.IntRange(0, 3).Draw(t, "turn"), Flip: rapid.Bool().Draw(t, "flip"),
		Straighten: float64(rapid.IntRange(-450, 450).Draw(t, "tenths of a degree")) / 10}
	if rapid.Bool().Draw(t, "cut") {
		part := rapid.Float64Range(0, 1)
		c.Region = &geometry.Region{X: part.Draw(t, "x"), Y: part.Draw(t, "y"), Width: part.Draw(t, "width"), Height: part.Draw(t, "height")}
	}
	return c
}

func TestAFrameNeverShowsAnEmptyCorner(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		size := geometry.Size{Width: rapid.IntRange(1, 9000).Draw(t, "width"), Height: rapid.IntRange(1, 9000).Draw(t, "height")}
		c := drawnCut(t)
		f := geometry.NewFrame(size, c)
		for _, corner := range []geometry.Point{{X: 0, Y: 0}, {X: 1, Y: 0}, {X: 0, Y: 1}, {X: 1, Y: 1}} {
			p := f.File(corner)
			require.InDelta(t, 0.5, p.X, 0.5+1e-6, "corner %v of %+v on %v", corner, c, size)
			require.InDelta(t, 0.5, p.Y, 0.5+1e-6, "corner %v of %+v on %v", corner, c, size)
		}
		shown := f.Size()
		require.Positive(t, shown.Width)
		require.Positive(t, shown.Height)
		require.LessOrEqual(t, shown.Width, f.Turned().Width)
		require.LessOrEqual(t, shown.Height, f.Turned().Height)
	})
}

func TestPlacesGoThroughAFrameAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		side := rapid.IntRange(50, 9000)
		f := geometry.NewFrame(geometry.Size{Width: side.Draw(t, "width"), Height: side.Draw(t, "height")},
			drawnCut(t))
		part := rapid.Float64Range(0, 1)
		p := geometry.Point{X: part.Draw(t, "px"), Y: part.Draw(t, "py")}
		back := f.File(f.Shown(p))
		assert.InDelta(t, p.X, back.X, 1e-9)
		assert.InDelta(t, p.Y, back.Y, 1e-9)
		r := geometry.Region{X: 0.4, Y: 0.4, Width: 0.1, Height: 0.2}
		if again, seen := f.ShownRegion(f.FileRegion(r)); assert.True(t, seen) {
			assert.InDelta(t, r.Width, again.Width, 1e-9)
			assert.InDelta(t, r.X, again.X, 1e-9)
			assert.InDelta(t, r.Y+r.Height, again.Y+again.Height, 1e-9)
		}
	})
}

func TestWhatAFrameCuts(t *testing.T) {
	size := geometry.Size{Width: 6000, Height: 4000}
	half := geometry.Region{X: 0.5, Y: 0, Width: 0.5, Height: 1}
	for _, c := range []struct {
		name  string
		cut   geometry.Cut
		size  geometry.Size
		point geometry.Point // where the upper left corner of the file is seen
	}{
		{"as it is", geometry.Cut{}, size, geometry.Point{X: 0, Y: 0}},
		{"turned", geometry.Cut{Turn: 90}, geometry.Size{Width: 4000, Height: 6000}, geometry.Point{X: 1, Y: 0}},
		{"mirrored", geometry.Cut{Flip: true}, size, geometry.Point{X: 1, Y: 0}},
		{"turned, then mirrored", geometry.Cut{Turn: 90, Flip: true}, geometry.Size{Width: 4000, Height: 6000}, geometry.Point{X: 0, Y: 0}},
		{"the right half", geometry.Cut{Region: &half}, geometry.Size{Width: 3000, Height: 4000}, geometry.Point{X: -1, Y: 0}},
		{"the right half of the turned", geometry.Cut{Turn: 90, Region: &half}, geometry.Size{Width: 2000, Height: 6000},
			geometry.Point{X: 1, Y: 0}},
	} {
		f := geometry.NewFrame(size, c.cut)
		assert.Equal(t, c.size, f.Size(), c.name)
		p := f.Shown(geometry.Point{})
		assert.InDelta(t, c.point.X, p.X, 1e-9, c.name)
		assert.InDelta(t, c.point.Y, p.Y, 1e-9, c.name)
	}
	straight := geometry.NewFrame(size, geometry.Cut{Straighten: 5})
	assert.InDelta(t, 1.5, float64(straight.Size().Width)/float64(straight.Size().Height), 0.001, "straightened it keeps its proportions")
	assert.Less(t, straight.Size().Width, 6000)
	assert.Greater(t, straight.Size().Width, 5200)
	right := straight.Shown(geometry.Point{X: 1, Y: 0.5})
	assert.Greater(t, right.Y, 0.5, "clockwise, what is right goes down")
	_, seen := geometry.NewFrame(size, geometry.Cut{Region: &half}).ShownRegion(geometry.Region{X: 0.1, Y: 0.4, Width: 0.1, Height: 0.1})
	assert.False(t, seen, "what was cut off is not seen")
}

// TestPlacesOfPixels are where Frame.File says that the middles of pixels lie, whatever is done to the picture.
func TestPlacesOfPixels(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		frame := geometry.NewFrame(geometry.Size{Width: 640, Height: 420}, drawnCut(t))
		size := geometry.Size{Width: rapid.IntRange(1, 900).Draw(t, "width"), Height: rapid.IntRange(1, 900).Draw(t, "height")}
		p := frame.Places(frame.Cut(), size)
		x, y := rapid.IntRange(0, size.Width-1).Draw(t, "x"), rapid.IntRange(0, size.Height-1).Draw(t, "y")
		at := frame.File(geometry.Point{X: (float64(x) + 0.5) / float64(size.Width), Y: (float64(y) + 0.5) / float64(size.Height)})
		if math.Abs(p[0]+p[1]*float64(x)+p[2]*float64(y)-at.X) > 1e-6 || math.Abs(p[3]+p[4]*float64(x)+p[5]*float64(y)-at.Y) > 1e-6 {
			t.Fatalf("pixel %d, %d lies at %v", x, y, at)
		}
		r := frame.Rect()
		if r.X < 0 || r.Y < 0 || r.X+r.Width > frame.Turned().Width || r.Y+r.Height > frame.Turned().Height {
			t.Fatalf("%v lies outside of %v", r, frame.Turned())
		}
	})
}
