package tags

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWhatNeighboursHaveIsSuggested(t *testing.T) {
	burst := Neighbours{What: "taken within seconds", Items: 3, On: map[int64]int{1: 3, 2: 1, 9: 3}}
	folder := Neighbours{What: "in this folder", Items: 9, On: map[int64]int{1: 9, 3: 7, 4: 4}}
	assert.Equal(t, []Suggestion{{1, "on 9 of the 9 in this folder"}, {3, "on 7 of the 9 in this folder"}},
		Suggest([]Neighbours{burst, folder}, []int64{9}, 5), "not what it has, not what few have")
	assert.Equal(t, []Suggestion{{9, "on 3 of the 3 taken within seconds"}}, Suggest([]Neighbours{burst}, []int64{1}, 1))
	assert.Empty(t, Suggest([]Neighbours{{Items: 1, On: map[int64]int{1: 1}}}, nil, 5), "one neighbour is none")
}

func TestSuggestionsAreFewNewAndOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ids := rapid.Int64Range(1, 8)
		var all []Neighbours
		for range rapid.IntRange(0, 3).Draw(t, "kinds") {
			n := rapid.IntRange(0, 12).Draw(t, "items")
			on := rapid.MapOf(ids, rapid.IntRange(0, n)).Draw(t, "on")
			all = append(all, Neighbours{What: "near", Items: n, On: on})
		}
		has := rapid.SliceOf(ids).Draw(t, "has")
		got := Suggest(all, has, 4)
		assert.LessOrEqual(t, len(got), 4)
		seen := map[int64]bool{}
		for _, s := range got {
			assert.NotContains(t, has, s.Tag)
			assert.False(t, seen[s.Tag])
			seen[s.Tag] = true
		}
		assert.Equal(t, got, Suggest(all, has, 4), "always the same")
	})
}
