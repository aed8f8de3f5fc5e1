package rehearsing

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
)

func TestHowMuchOfAPictureIsSeen(t *testing.T) {
	middle := geometry.Point{X: 0.5, Y: 0.5}
	for _, p := range Places {
		assert.InDelta(t, 1, p.Seen(geometry.Size{Width: p.Picture.Width * 20, Height: p.Picture.Height * 20}, middle), 0.01, p.Kind)
	}
	assert.InDelta(t, 0.5625, Places[2].Seen(geometry.Size{Width: 400, Height: 400}, middle), 0.01, "wide, of a square")
	assert.Zero(t, Places[0].Seen(geometry.Size{}, middle))
	rapid.Check(t, func(t *rapid.T) {
		size := geometry.Size{Width: rapid.IntRange(1, 9000).Draw(t, "width"), Height: rapid.IntRange(1, 9000).Draw(t, "height")}
		at := geometry.Point{X: rapid.Float64Range(0, 1).Draw(t, "x"), Y: rapid.Float64Range(0, 1).Draw(t, "y")}
		for _, p := range Places {
			seen := p.Seen(size, at)
			assert.Greater(t, seen, 0.0)
			assert.LessOrEqual(t, seen, 1.0)
			assert.InDelta(t, p.Seen(size, middle), seen, 0.0001, "the focal point changes which part, and not how much")
		}
	})
}

func TestWordsOfAVariant(t *testing.T) {
	w := Words{Caption: " two\nlines ", Headline: " one\nline\u202e ", Button: "  Look  at it "}
	require.NoError(t, w.Check())
	assert.Equal(t, Words{"two\nlines", "one line\u202e", "Look at it"}, w)
	long := Words{Headline: strings.Repeat("🪁", LongestText+1)}
	assert.ErrorContains(t, long.Check(), "these are 10001")
	assert.NoError(t, (&Words{Caption: strings.Repeat("ש", LongestText)}).Check())
	assert.Error(t, (&Words{Button: strings.Repeat("x", longestPress+1)}).Check())
}

func TestPlacesAndNames(t *testing.T) {
	got, err := CheckPlaces([]string{"card", "feed", "feed"})
	require.NoError(t, err)
	assert.Equal(t, []string{"feed", "card"}, got)
	for _, wrong := range [][]string{nil, {"moon"}, {"feed", "moon"}} {
		_, err := CheckPlaces(wrong)
		assert.Error(t, err, wrong)
	}
	assert.Len(t, All(), len(Places))
	assert.Equal(t, "B", NextName([]string{"A", "C"}))
	assert.Equal(t, "One more", NextName(strings.Split("ABCDEFGHIJKLMNOPQRSTUVWXYZ", "")))
}
