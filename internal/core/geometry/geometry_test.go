package geometry

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestFit(t *testing.T) {
	cases := []struct{ src, box, want Size }{
		{Size{6000, 4000}, Size{1200, 1200}, Size{1200, 800}},
		{Size{4000, 6000}, Size{1200, 1200}, Size{800, 1200}},
		{Size{1067, 1600}, Size{1200, 1200}, Size{800, 1200}},
		{Size{800, 600}, Size{1200, 1200}, Size{800, 600}},
		{Size{6000, 4000}, Size{0, 400}, Size{600, 400}},
		{Size{10000, 1}, Size{100, 100}, Size{100, 1}},
		{Size{0, 5}, Size{100, 100}, Size{}},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, Fit(c.src, c.box), "%v in %v", c.src, c.box)
	}
}

func sizes(t *rapid.T, name string) Size {
	return Size{rapid.IntRange(1, 20000).Draw(t, name+" width"), rapid.IntRange(1, 20000).Draw(t, name+" height")}
}

func TestFitStaysInsideKeepsProportionsAndNeverEnlarges(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		src, box := sizes(t, "src"), sizes(t, "box")
		got := Fit(src, box)
		require.False(t, got.Empty())
		require.True(t, got.Width <= box.Width && got.Height <= box.Height, "%v exceeds %v", got, box)
		require.True(t, got.Width <= src.Width && got.Height <= src.Height, "%v enlarges %v", got, src)
		scale := math.Min(1, math.Min(float64(box.Width)/float64(src.Width), float64(box.Height)/float64(src.Height)))
		require.InDelta(t, float64(src.Width)*scale, float64(got.Width), 1)
		require.InDelta(t, float64(src.Height)*scale, float64(got.Height), 1)
	})
}

func TestFillCropsInsideWithTheBoxesProportions(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		src, box := sizes(t, "src"), sizes(t, "box")
		focal := Point{rapid.Float64Range(0, 1).Draw(t, "x"), rapid.Float64Range(0, 1).Draw(t, "y")}
		rect, size := Fill(src, box, focal)
		require.True(t, rect.X >= 0 && rect.Y >= 0 && rect.Width >= 1 && rect.Height >= 1)
		require.True(t, rect.X+rect.Width <= src.Width && rect.Y+rect.Height <= src.Height, "%v leaves %v", rect, src)
		require.True(t, size.Width <= box.Width && size.Height <= box.Height)
		require.True(t, rect.Width == src.Width || rect.Height == src.Height, "no more is cut off than needed")
	})
}

func TestFillFollowsTheFocalPoint(t *testing.T) {
	rect, size := Fill(Size{3000, 1000}, Size{500, 500}, Point{0.9, 0.5})
	assert.Equal(t, Rect{X: 2000, Y: 0, Width: 1000, Height: 1000}, rect)
	assert.Equal(t, Size{500, 500}, size)
	_, size = Fill(Size{300, 100}, Size{500, 500}, Centre)
	assert.Equal(t, Size{100, 100}, size, "never enlarged")
}

func TestOrientation(t *testing.T) {
	corner := Point{0, 0} // upper left of the stored picture
	want := map[Orientation]Point{0: {0, 0}, 1: {0, 0}, 2: {1, 0}, 3: {1, 1}, 4: {0, 1}, 5: {0, 0}, 6: {1, 0}, 7: {1, 1}, 8: {0, 1}}
	for o, p := range want {
		assert.Equal(t, p, o.Point(corner), "orientation %d", o)
	}
	assert.Equal(t, Size{2, 3}, Orientation(6).Size(Size{3, 2}))
	assert.Equal(t, Size{3, 2}, Orientation(3).Size(Size{3, 2}))
	assert.Equal(t, Size{3, 2}, Orientation(99).Size(Size{3, 2}))
}

func TestOrientationsKeepPointsInsideAndApart(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := Orientation(rapid.IntRange(1, 8).Draw(t, "orientation"))
		p := Point{rapid.Float64Range(0, 1).Draw(t, "x"), rapid.Float64Range(0, 1).Draw(t, "y")}
		got := o.Point(p)
		require.True(t, got.X >= 0 && got.X <= 1 && got.Y >= 0 && got.Y <= 1)
		require.InDelta(t, 0.5, o.Point(Centre).X, 1e-9)
		toMiddle := math.Hypot(p.X-0.5, p.Y-0.5)
		require.InDelta(t, toMiddle, math.Hypot(got.X-0.5, got.Y-0.5), 1e-9)
	})
}

func TestEven(t *testing.T) {
	assert.Equal(t, Size{1200, 674}, Even(Size{1200, 675}))
	assert.Equal(t, Size{2, 2}, Even(Size{1, 1}))
}

// TestRegionsWithinACut: whatever is wholly inside keeps its pixels, and whatever is partly outside ends at the edge.
func TestRegionsWithinACut(t *testing.T) {
	_, in := Region{0.1, 0.1, 0.1, 0.1}.Within(Rect{}, Size{100, 100})
	assert.False(t, in, "nothing is in an empty cut")
	_, in = Region{0.1, 0.1, 0.1, 0.1}.Within(Rect{Width: 10, Height: 10}, Size{})
	assert.False(t, in)
	rapid.Check(t, func(t *rapid.T) {
		whole := sizes(t, "whole")
		cut := Rect{Width: rapid.IntRange(1, whole.Width).Draw(t, "cut width"), Height: rapid.IntRange(1, whole.Height).Draw(t, "cut height")}
		cut.X = rapid.IntRange(0, whole.Width-cut.Width).Draw(t, "x")
		cut.Y = rapid.IntRange(0, whole.Height-cut.Height).Draw(t, "y")
		fraction := rapid.Float64Range(0, 1)
		r, _ := Region{fraction.Draw(t, "left"), fraction.Draw(t, "top"), fraction.Draw(t, "width"), fraction.Draw(t, "height")}.Bounded()
		got, in := r.Within(cut, whole)
		middleX, middleY := (r.X+r.Width/2)*float64(whole.Width), (r.Y+r.Height/2)*float64(whole.Height)
		const slack = 1e-6
		inside := middleX >= float64(cut.X)-slack && middleX <= float64(cut.X+cut.Width)+slack && middleY >= float64(cut.Y)-slack &&
			middleY <= float64(cut.Y+cut.Height)+slack
		if !in {
			strictly := middleX > float64(cut.X)+slack && middleX < float64(cut.X+cut.Width)-slack && middleY > float64(cut.Y)+slack &&
				middleY < float64(cut.Y+cut.Height)-slack
			require.False(t, strictly, "its middle is in the cut")
			return
		}
		require.True(t, inside)
		require.True(t, got.X >= 0 && got.Y >= 0 && got.X+got.Width <= 1+slack && got.Y+got.Height <= 1+slack, "%v", got)
		left, right := max(r.X*float64(whole.Width), float64(cut.X)), min((r.X+r.Width)*float64(whole.Width), float64(cut.X+cut.Width))
		require.InDelta(t, left, got.X*float64(cut.Width)+float64(cut.X), 1e-3)
		require.InDelta(t, right-left, got.Width*float64(cut.Width), 1e-3)
	})
}
