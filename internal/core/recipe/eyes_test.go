package recipe_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

func TestRedEyesAreFoundInFaces(t *testing.T) {
	disc := func(x, y, cx, cy, r float64) bool { return math.Hypot((x-cx)*300, (y-cy)*200) < r }
	portrait := painted(300, 200, func(x, y float64) [3]float64 {
		switch {
		case disc(x, y, 0.45, 0.4, 3), disc(x, y, 0.57, 0.41, 3): // pupils
			return [3]float64{0.8, 0.2, 0.2}
		case x > 0.4 && x < 0.62 && y > 0.62 && y < 0.68: // a red mouth
			return [3]float64{0.75, 0.2, 0.25}
		case x > 0.9: // a red curtain
			return [3]float64{0.7, 0.1, 0.1}
		}
		return [3]float64{0.75, 0.6, 0.5}
	})
	face := geometry.Region{X: 0.35, Y: 0.2, Width: 0.32, Height: 0.6}
	eyes := recipe.FindEyes(portrait, []geometry.Region{face})
	require.Len(t, eyes, 2)
	for i, at := range [][2]float64{{0.45, 0.4}, {0.57, 0.41}} {
		near := 9.0
		for _, e := range eyes {
			near = min(near, math.Hypot((e.X-at[0])*300, (e.Y-at[1])*200))
		}
		assert.Less(t, near, 1.5, "eye %d of %v", i, eyes)
	}
	assert.Empty(t, recipe.FindEyes(portrait, []geometry.Region{{X: 0.8, Y: 0, Width: 0.2, Height: 1}}), "a curtain is no eye")

	file := geometry.Size{Width: 3000, Height: 2000}
	one := recipe.WithEye(recipe.Recipe{}, geometry.Point{X: 0.45, Y: 0.4}, file, []geometry.Region{face})
	require.Len(t, one.RedEyes, 1)
	assert.InDelta(t, 0.0192, one.RedEyes[0].Radius, 0.001, "as large as the face says")
	assert.Empty(t, recipe.WithEye(one, geometry.Point{X: 0.451, Y: 0.401}, file, nil).RedEyes, "the same again takes it away")
}
