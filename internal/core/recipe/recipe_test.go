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

// drawn is any recipe that Check takes.
func drawn(t *rapid.T) recipe.Recipe {
	part := rapid.Float64Range(0, 1)
	r := recipe.Recipe{Turn: 90 * rapid.IntRange(0, 3).Draw(t, "turn"), Flip: rapid.Bool().Draw(t, "flip"),
		Straighten: rapid.Float64Range(-45, 45).Draw(t, "straighten"), Sensor: rapid.Bool().Draw(t, "sensor")}
	if rapid.Bool().Draw(t, "cropped") {
		c := recipe.Crop{X: 0.9 * part.Draw(t, "x"), Y: 0.9 * part.Draw(t, "y")}
		c.Width, c.Height = max(0.006, part.Draw(t, "width")*(1-c.X)), max(0.006, part.Draw(t, "height")*(1-c.Y))
		r.Crop = &c
	}
	for range rapid.IntRange(0, 2).Draw(t, "eyes") {
		r.RedEyes = append(r.RedEyes, recipe.RedEye{X: part.Draw(t, "x"), Y: part.Draw(t, "y"), Radius: 0.001 + part.Draw(t, "r")/12})
	}
	r.Adjustments = drawnAdjustments(t)
	if rapid.Bool().Draw(t, "look") {
		r.Look = &recipe.Layer{ID: 7, Strength: rapid.Float64Range(0, 100).Draw(t, "strength"), Values: drawnAdjustments(t)}
	}
	return r
}

func drawnAdjustments(t *rapid.T) (a recipe.Adjustments) {
	for _, c := range recipe.Controls {
		if rapid.Bool().Draw(t, c.Name) {
			a = a.Set(c.Name, rapid.Float64Range(c.From, c.To).Draw(t, c.Name))
		}
	}
	for x := range rapid.IntRange(0, 4).Draw(t, "points") {
		a.Curve = append(a.Curve, recipe.CurvePoint{float64(x) / 4, rapid.Float64Range(0, 1).Draw(t, "y")})
	}
	return a
}

func TestARecipeHasOneFormAndOneHash(t *testing.T) {
	assert.Equal(t, `{}`, string(recipe.Recipe{}.Canonical()))
	assert.Empty(t, recipe.Recipe{}.Hash(), "what does nothing has the plain address")
	assert.Equal(t, `{"turn":90}`, string(recipe.Recipe{Turn: 90}.Canonical()))
	assert.Equal(t, "a94dd50498f5", recipe.Recipe{Turn: 90}.Hash(), "files that were made are known by it: it never changes")
	full := recipe.Recipe{Version: 1, Flip: true, Straighten: -1.234, Crop: &recipe.Crop{X: 0.1, Y: 0, Width: 0.9, Height: 1},
		RedEyes: []recipe.RedEye{{X: 0.5, Y: 0.25, Radius: 0.01}}, Look: &recipe.Layer{ID: 3, Strength: 80}}
	full.Exposure, full.Sharpen, full.MonoRed, full.Look.Values.Warmth = 0.7, 40, 30, 12
	assert.JSONEq(t, `{"red_eyes":[{"x":0.5,"y":0.25,"radius":0.01}],"flip":true,"straighten":-1.23,
		"crop":{"x":0.1,"y":0,"width":0.9,"height":1},"exposure":0.7,"sharpen":40,"radius":1,
		"look":{"id":3,"strength":80,"values":{"warmth":12}}}`, string(full.Canonical()))
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t)
		require.NoError(t, r.Check())
		again, err := recipe.Parse(r.Canonical())
		require.NoError(t, err, string(r.Canonical()))
		assert.Equal(t, string(r.Canonical()), string(again.Canonical()))
		assert.Equal(t, r.Hash(), again.Hash())
		assert.Empty(t, recipe.Changes(r, again))
		assert.Equal(t, r.Neutral(), len(recipe.Words(r)) == 0, "%v", recipe.Words(r))
	})
}

func TestWrongRecipesAreRefused(t *testing.T) {
	for text, why := range map[string]string{
		`{"turn":45}`: "Turn", `{"turn":-90}`: "Turn", `{"turn":360}`: "Turn", `{"turn":"90"}`: "", `[`: "", ``: "",
		`{"version":2,"glow":9}`: "newer version", `{"glow":9}`: "glow", `{"exposure":5}`: "Exposure goes from -4 to 4 EV",
		`{"crop":{"x":0.5,"y":0,"width":0.6,"height":1}}`: "crop", `{"crop":{"x":0,"y":0,"width":0,"height":1}}`: "crop",
		`{"straighten":46}`: "45°", `{"sharpen":10,"radius":9}`: "Radius", `{"curve":[[0.5,0.5],[0.2,0.1]]}`: "tone curve",
		`{"red_eyes":[{"x":2,"y":0,"radius":0.01}]}`: "red eye", `{"look":{"id":1,"strength":101,"values":{}}}`: "strength",
		`{"look":{"id":1,"strength":10,"values":{"warmth":400}}}`: "Warmth",
	} {
		_, err := recipe.Parse([]byte(text))
		require.Error(t, err, text)
		assert.ErrorContains(t, err, why, text)
	}
	bad := recipe.Recipe{}
	bad.Exposure = math.NaN()
	assert.Error(t, bad.Check())
}

func TestTurningAndMirroringWhatIsSeen(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t).Normal()
		file := geometry.Size{Width: rapid.IntRange(40, 5000).Draw(t, "width"), Height: rapid.IntRange(40, 5000).Draw(t, "height")}
		p := geometry.Point{X: rapid.Float64Range(0, 1).Draw(t, "px"), Y: rapid.Float64Range(0, 1).Draw(t, "py")}
		was := r.Frame(file).Shown(p)
		for name, c := range map[string]struct {
			now  recipe.Recipe
			seen geometry.Orientation
		}{"right": {r.Turned(90), 6}, "left": {r.Turned(-90), 8}, "over": {r.Turned(180), 3}, "mirror": {r.Flipped(), 2}} {
			now := c.now.Frame(file).Shown(p)
			seen := c.seen.Point(was)
			assert.InDelta(t, seen.X, now.X, 1e-6, name)
			assert.InDelta(t, seen.Y, now.Y, 1e-6, name)
		}
		assert.True(t, r.Same(r.Turned(90).Turned(270)))
		assert.True(t, r.Same(r.Flipped().Flipped()))
	})
}

func TestALookIsAddedAndTakenOff(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		own, look := drawnAdjustments(t), drawnAdjustments(t)
		assert.True(t, look.Times(0).Neutral(), "at 0 %% it is nothing")
		assert.Equal(t, look.Times(1), look.Times(1).Times(1))
		r := recipe.Recipe{Adjustments: own, Look: &recipe.Layer{ID: 1, Strength: 0, Values: look}}
		assert.Equal(t, recipe.Recipe{Adjustments: own}.Effective(), r.Effective())
		r.Look.Strength = 100
		require.NoError(t, recipe.Recipe{Adjustments: r.Effective()}.Check(), "the sum stays in its ranges")
		alone := recipe.Recipe{Look: r.Look}
		assert.Equal(t, look.Times(1), alone.Effective())
		kept := own.With(look, recipe.Groups)
		assert.Equal(t, look.Times(1), kept)
		assert.True(t, own.Only(nil).Neutral())
	})
}

func TestARecipeInWords(t *testing.T) {
	r := recipe.Recipe{Turn: 90, Straighten: -1.5, Crop: &recipe.Crop{X: 0.1, Y: 0.1, Width: 0.5, Height: 0.5}}
	r.Exposure, r.Warmth, r.Mono, r.Curve = 0.7, -12, 100, []recipe.CurvePoint{{0.5, 0.6}}
	words := recipe.Words(r)
	assert.Equal(t, []string{"Turned right", "Straightened −1.5°", "Cropped", "Exposure +0.7 EV", "Tone curve", "Warmth −12",
		"Black and white 100%"}, words)
	assert.Equal(t, "Turned right, Straightened −1.5°, Cropped and 4 more", recipe.Say(words))
	less := r
	less.Exposure, less.Crop = 0, nil
	assert.Equal(t, []string{"Crop put back", "Exposure put back"}, recipe.Changes(r, less))
	assert.Equal(t, []string{"Turned left"}, recipe.Changes(r, r.Turned(-90)), "the crop turns along")
	assert.Equal(t, []string{"Mirrored"}, recipe.Changes(r, r.Flipped()))
	assert.Equal(t, "Crop put back and Exposure put back", recipe.Say(recipe.Changes(r, less)))
}
