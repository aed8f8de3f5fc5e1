package recipe_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/recipe"
)

func TestAClipIsTrimmed(t *testing.T) {
	r := recipe.Recipe{Film: &recipe.Film{From: 1.004, To: 7.5, Poster: 3}}.Normal()
	from, to := r.Span(10)
	assert.Equal(t, [2]float64{1, 7.5}, [2]float64{from, to})
	assert.InDelta(t, 3, r.PosterAt(10), 1e-9)
	r.Film.Poster = 9
	assert.InDelta(t, 1+6.5/3, r.PosterAt(10), 1e-9, "a moment that was cut off is none")
	_, to = r.Span(5)
	assert.InDelta(t, 5, to, 1e-9, "a file that came in its place may be shorter")
	from, to = recipe.Recipe{Film: &recipe.Film{From: 8}}.Span(2)
	assert.InDelta(t, recipe.ShortestClip, to-from, 1e-9)
	assert.Equal(t, []string{"Trimmed to 0:01–0:07.5", "Poster from 0:09"}, recipe.Words(r))
	assert.Equal(t, []string{"Trimmed from 1:02.25", "Muted"},
		recipe.Words(recipe.Recipe{Film: &recipe.Film{From: 62.25, Mute: true, Level: true}}))
	assert.Equal(t, []string{"Trimming put back", "Sound levelled to −14 LUFS", "Poster put back"},
		recipe.Changes(r, recipe.Recipe{Film: &recipe.Film{Level: true}}))
	assert.Equal(t, r.Moving().Hash(), recipe.Recipe{Film: &recipe.Film{From: 1, To: 7.5}}.Hash(), "another poster makes no other film")
	assert.True(t, recipe.Recipe{Film: &recipe.Film{Poster: 4}}.Moving().Neutral())
}

func TestWhatCannotBeDoneToAClip(t *testing.T) {
	for _, f := range []recipe.Film{{From: -1}, {From: 5, To: 5.1}, {To: math.NaN()}, {Poster: 1e9}, {From: math.Inf(1)}} {
		require.Error(t, recipe.Recipe{Film: &f}.Check(), f)
	}
	require.NoError(t, recipe.Recipe{Turn: 90, Flip: true, Adjustments: recipe.Adjustments{Exposure: 1, Warmth: 5},
		Film: &recipe.Film{Mute: true}}.CheckFor("clip"))
	require.ErrorContains(t, recipe.Recipe{Adjustments: recipe.Adjustments{Clarity: 1}}.CheckFor("clip"),
		"Clarity can only be done to pictures")
	require.ErrorContains(t, recipe.Recipe{Straighten: 2}.CheckFor("clip"), "straightening")
	require.ErrorContains(t, recipe.Recipe{Film: &recipe.Film{Mute: true}}.CheckFor("picture"), "only clips can be trimmed")
	require.ErrorContains(t, recipe.Recipe{Turn: 90}.CheckFor("document"), "this is a document")
	require.NoError(t, recipe.Recipe{}.CheckFor("document"))
}

// TestARecipeForAKindSuitsIt: what For leaves, CheckFor takes; and what was suitable stays as it was.
func TestARecipeForAKindSuitsIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t)
		r.Film = rapid.SampledFrom([]*recipe.Film{nil, {Mute: true}, {From: 1, To: 2}, {Poster: 4, Level: true}}).Draw(t, "film")
		kind := rapid.SampledFrom([]string{"picture", "clip", "document", "vector"}).Draw(t, "kind")
		fits := r.For(kind)
		assert.NoError(t, fits.CheckFor(kind))
		assert.True(t, fits.Same(fits.For(kind)))
		if r.CheckFor(kind) == nil {
			assert.True(t, fits.Same(r))
		}
		read, err := recipe.Parse(fits.Canonical())
		assert.NoError(t, err)
		assert.Equal(t, fits.Hash(), read.Hash())
		from, to := fits.Span(rapid.Float64Range(0.1, 9000).Draw(t, "seconds"))
		assert.True(t, from >= 0 && to > from)
	})
}

func TestTheBeginningOfAClip(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		long := rapid.Float64Range(1, 600).Draw(t, "long")
		r := recipe.Recipe{Film: &recipe.Film{From: rapid.Float64Range(0, 300).Draw(t, "from")}}.Normal()
		most := rapid.Float64Range(0.5, 120).Draw(t, "most")
		cut := r.Beginning(long, most)
		assert.LessOrEqual(t, cut.Long(long), max(most, recipe.ShortestClip)+0.02)
		from, _ := r.Span(long)
		begins, _ := cut.Span(long)
		assert.InDelta(t, from, begins, 0.02, "it begins where it began")
		if r.Long(long) <= most {
			assert.Equal(t, r, cut, "what is short enough stays as it is")
		}
		assert.Equal(t, r, r.Beginning(long, 0))
	})
}
