package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

func TestARecipeHasOneFormAndOneHash(t *testing.T) {
	assert.Equal(t, `{}`, string(recipe.Recipe{}.Canonical()))
	assert.Empty(t, recipe.Recipe{}.Hash(), "what does nothing has the plain address")
	assert.Equal(t, `{"turn":90}`, string(recipe.Recipe{Turn: 90}.Canonical()))
	assert.Equal(t, "a94dd50498f5", recipe.Recipe{Turn: 90}.Hash(), "files that were made are known by it: it never changes")
	rapid.Check(t, func(t *rapid.T) {
		r := recipe.Recipe{Turn: 90 * rapid.IntRange(0, 3).Draw(t, "turn")}
		again, err := recipe.Parse(r.Canonical())
		require.NoError(t, err)
		assert.Equal(t, r, again)
		assert.Equal(t, r.Hash(), again.Hash())
		size := geometry.Size{Width: rapid.IntRange(1, 9000).Draw(t, "width"), Height: rapid.IntRange(1, 9000).Draw(t, "height")}
		turned := r.Size(size)
		assert.Equal(t, size.Width*size.Height, turned.Width*turned.Height)
		assert.Equal(t, r.Orientation().Turns(), r.Turn%180 != 0)
	})
}

func TestWrongRecipesAreRefused(t *testing.T) {
	for _, text := range []string{`{"turn":45}`, `{"turn":-90}`, `{"turn":360}`, `{"turn":"90"}`, `[`, ``} {
		_, err := recipe.Parse([]byte(text))
		assert.Error(t, err, text)
	}
}
