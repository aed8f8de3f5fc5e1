package recipe_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

func TestAChangeTouchesOnlyWhatItNames(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, other := drawn(t).Normal(), drawn(t).Normal()
		file := geometry.Size{Width: 3000, Height: 2000}
		part := rapid.SampledFrom(recipe.Parts).Draw(t, "part")
		c := recipe.Change{Parts: []string{part}, From: &other}
		require.NoError(t, c.Check())
		got := c.Apply(r, file, geometry.Centre)
		for _, p := range recipe.Parts {
			want := r
			if p == part {
				want = other
			}
			only := func(x recipe.Recipe) string {
				return string(recipe.Change{Parts: []string{p}, From: &x}.Apply(recipe.Recipe{}, file, geometry.Centre).Canonical())
			}
			assert.Equal(t, only(want), only(got), p)
		}
		back := recipe.Change{Back: append([]string{"eyes"}, recipe.Parts...)}
		left := back.Apply(r, file, geometry.Centre)
		left.Sensor = false
		assert.True(t, left.Neutral())
	})
}

func TestCroppingManyToAProportion(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t).Normal()
		file := geometry.Size{Width: rapid.IntRange(400, 6000).Draw(t, "width"), Height: rapid.IntRange(400, 6000).Draw(t, "height")}
		c := recipe.Change{Width: float64(rapid.IntRange(1, 16).Draw(t, "w")), Height: float64(rapid.IntRange(1, 16).Draw(t, "h"))}
		require.NoError(t, c.Check())
		focal := geometry.Point{X: rapid.Float64Range(0, 1).Draw(t, "x"), Y: rapid.Float64Range(0, 1).Draw(t, "y")}
		got := c.Apply(r, file, focal)
		size := got.Size(file)
		want := c.Width / c.Height
		if c := got.Crop; c != nil && min(c.Width, c.Height) < 0.01 {
			return // as small as a crop can be
		}
		assert.InEpsilon(t, want, float64(size.Width)/float64(size.Height), 0.02+4/float64(min(size.Width, size.Height)))
		at := r.Frame(file).File(focal)
		seen := got.Frame(file).Shown(at)
		if whole := (recipe.Recipe{Turn: r.Turn, Flip: r.Flip, Straighten: r.Straighten}).Frame(file).Shown(at); whole == whole.Inside() {
			assert.InDelta(t, 0.5, seen.X, 0.51, "the focal point stays in it")
			assert.InDelta(t, 0.5, seen.Y, 0.51)
		}
	})
	assert.Error(t, recipe.Change{Width: 1, Height: math.NaN()}.Check())
	assert.Error(t, recipe.Change{Width: 100, Height: 1}.Check())
	assert.Error(t, recipe.Change{Parts: []string{"frosting"}}.Check())
	assert.Error(t, recipe.Change{Parts: []string{"colour"}}.Check())
}

func TestWhatAChangeSays(t *testing.T) {
	for want, c := range map[string]recipe.Change{
		"Turned 3 items left":                   {Turn: -90},
		"Mirrored 3 items":                      {Flip: true},
		"Put the look “Dusk” on 3 items":        {Look: &recipe.Layer{ID: 1, Strength: 80}, LookName: "Dusk"},
		"Took the look off 3 items":             {Back: []string{"look"}},
		"Carried brightness, colour to 3 items": {Parts: []string{"brightness", "colour"}},
		"Cropped 3 items to 4 : 5":              {Width: 4, Height: 5},
		"Put 3 items back to the original":      {Back: append([]string{"eyes"}, recipe.Parts...)},
		"Put texture, red eyes of 3 items back": {Back: []string{"texture", "eyes"}},
	} {
		_, done := c.Said("3 items")
		assert.Equal(t, want, done)
	}
}

// painted is a sample of a made-up picture, a function of places from 0 to 1.
func painted(w, h int, f func(x, y float64) [3]float64) recipe.Sample {
	s := recipe.Sample{Size: geometry.Size{Width: w, Height: h}}
	for y := range h {
		for x := range w {
			for _, v := range f((float64(x)+0.5)/float64(w), (float64(y)+0.5)/float64(h)) {
				s.RGB = append(s.RGB, uint8(max(0, min(255, math.Round(255*v)))))
			}
		}
	}
	return s
}

// through is what a tone makes of colours, slowly and without what belongs to places.
func through(a recipe.Adjustments, s recipe.Sample) recipe.Sample {
	tone := recipe.ToneOf(a)
	out := recipe.Sample{Size: s.Size}
	for i := 0; i < len(s.RGB); i += 3 {
		for c := range 3 {
			l := 0.0
			for k := range 3 {
				l += float64(tone.Matrix[3*c+k]) * recipe.Decode(float64(s.RGB[i+k])/255)
			}
			out.RGB = append(out.RGB, uint8(max(0, min(255, math.Round(255*recipe.Encode(l))))))
		}
	}
	return out
}

func scenery(x, y float64) [3]float64 {
	if y < 0.3 { // pale clouds
		v := 0.75 + 0.2*math.Sin(9*x)*math.Cos(11*y)
		return [3]float64{v, v, v}
	}
	v := 0.1 + 0.5*x
	return [3]float64{v, v * 0.9, v * 0.6 * (1 - y) * 1.4}
}

func TestEnhancingBringsBackWhatWasSpoilt(t *testing.T) {
	good := painted(120, 80, scenery)
	spoilt := through(recipe.Adjustments{Exposure: -1, Warmth: 25}, good)
	apart := func(s recipe.Sample) (sum float64) {
		for i := range s.RGB {
			sum += math.Abs(float64(s.RGB[i]) - float64(good.RGB[i]))
		}
		return sum / float64(len(s.RGB))
	}
	a := recipe.Enhance(spoilt)
	assert.Greater(t, a.Exposure, 0.6)
	assert.Less(t, a.Warmth, -5.0)
	a.Shadows, a.Black, a.Vibrance = 0, 0, 0
	assert.Less(t, apart(through(a, spoilt)), apart(spoilt)/2.5)
	bright := painted(120, 80, func(x, y float64) [3]float64 { return [3]float64{0.9, 0.9, 0.95} })
	assert.LessOrEqual(t, recipe.Enhance(bright).Exposure, 0.2, "what is bright stays")
	assert.True(t, recipe.Enhance(recipe.Sample{}).Neutral())
}

func TestGreyIsFound(t *testing.T) {
	for _, c := range [][2]float64{{30, 0}, {-40, 20}, {0, -35}, {60, 60}} {
		grey := painted(1, 1, func(x, y float64) [3]float64 { return [3]float64{0.5, 0.5, 0.5} })
		cast := through(recipe.Adjustments{Warmth: c[0], Tint: c[1]}, grey).RGB
		warmth, tint, ok := recipe.Grey(float64(cast[0]), float64(cast[1]), float64(cast[2]))
		require.True(t, ok)
		mended := through(recipe.Adjustments{Warmth: warmth, Tint: tint}, recipe.Sample{RGB: cast}).RGB
		assert.InDelta(t, float64(mended[1]), float64(mended[0]), 3, "%v gave %v, %v", c, warmth, tint)
		assert.InDelta(t, float64(mended[1]), float64(mended[2]), 3, "%v gave %v, %v", c, warmth, tint)
	}
	_, _, ok := recipe.Grey(3, 2, 1)
	assert.False(t, ok)
}

func TestTheHorizonIsFoundWhereThereIsOne(t *testing.T) {
	sea := func(degrees float64) recipe.Sample {
		slope := math.Tan(degrees * math.Pi / 180)
		return painted(300, 200, func(x, y float64) [3]float64 {
			line := (y-0.5)*200 - (x-0.5)*300*slope
			v := 0.35 + 0.4/(1+math.Exp(line)) + 0.008*math.Sin(70*x+30*y)
			return [3]float64{v, v, v}
		})
	}
	for _, tilt := range []float64{-6, -2.3, 1.1, 4} {
		degrees, sure := recipe.Level(sea(tilt))
		assert.True(t, sure, tilt)
		assert.InDelta(t, -tilt, degrees, 0.35, "it falls to the right by %v degrees", tilt)
	}
	_, sure := recipe.Level(sea(0))
	assert.False(t, sure, "it is straight")
	_, sure = recipe.Level(painted(300, 200, func(x, y float64) [3]float64 {
		v := 0.5 + 0.3*math.Sin(60*math.Hypot(x-0.5, y-0.5))
		return [3]float64{v, v, v}
	}))
	assert.False(t, sure, "circles have no horizon")
}

func TestABurstIsMadeAlike(t *testing.T) {
	model := painted(120, 80, scenery)
	other := through(recipe.Adjustments{Exposure: -0.7, Warmth: 20}, model)
	exposure, warmth, tint := recipe.Alike(other, model)
	assert.InDelta(t, 0.7, exposure, 0.15)
	assert.InDelta(t, -20, warmth, 8)
	assert.InDelta(t, 0, tint, 8)
	exposure, warmth, tint = recipe.Alike(model, model)
	assert.Equal(t, []float64{0, 0, 0}, []float64{exposure, warmth, tint})
}
