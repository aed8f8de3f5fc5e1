package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/core/recipe"
)

// TestAToneInARow keeps the order and the lengths by which browsers read it.
func TestAToneInARow(t *testing.T) {
	tone := recipe.ToneOf(recipe.Adjustments{Exposure: 1, Clarity: 50, Vignette: -100, Saturation: 20, Vibrance: -30, Mono: 100, MonoBlue: 40})
	row := tone.Floats()
	assert.Len(t, row, 9+5+6+1026+257+1026)
	assert.Equal(t, tone.Matrix[:], row[:9])
	assert.Equal(t, []float32{tone.Clarity, tone.Vignette, tone.Saturation, tone.Vibrance, tone.Mono}, row[9:14])
	assert.InDelta(t, 0.4, row[18], 1e-6, "blue of the mix")
	assert.Equal(t, tone.Curve[:], row[20:1046])
	assert.Equal(t, tone.Local[:], row[1046:1303])
	assert.InDelta(t, recipe.Encode(recipe.CurveAt(700)), row[1303+700], 1e-6)
}
