package query_test

import (
	"slices"
	"testing"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/query/querytest"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// shelves are the folders 1 (dated, tagged 7) with 2 and 3 inside, 3 dated otherwise with 4 inside, and 5 beside.
func shelves() *query.World {
	return &query.World{
		Folders: map[int64]query.Folder{
			1: {Date: "2025-05-03", Tags: []int64{7}, Text: "spring meet"},
			2: {Parent: 1, Text: "saturday"},
			3: {Parent: 1, Date: "2025-06-01", Text: "sunday"},
			4: {Parent: 3, Text: "late"},
			5: {Tags: []int64{8}, Text: "harbour"},
		},
		Tags: map[int64]string{7: "kites", 8: "kite string", 9: "boats"},
	}
}

func TestAFolderWithEverythingBelow(t *testing.T) {
	w := shelves()
	for root, want := range map[int64][]int64{1: {1, 2, 3, 4}, 3: {3, 4}, 5: {5}, 99: nil} {
		got := w.Expand(query.Rule{Field: "folder", IDs: []int64{root}, Below: true}, query.Now{})
		assert.Equal(t, query.Rule{Field: "folder", IDs: want}, got)
	}
	assert.Equal(t, query.Rule{Field: "folder", IDs: []int64{1}}, w.Expand(query.Rule{Field: "folder", IDs: []int64{1}}, query.Now{}),
		"by itself it stays by itself")
}

func TestWhatFoldersSayCountsForWhatIsInThem(t *testing.T) {
	w := shelves()
	matches := func(r query.Rule, it querytest.Item) bool {
		r = w.Expand(r, query.Now{})
		return querytest.Matches(&r, &it)
	}
	tagged := query.Rule{Field: "tag", IDs: []int64{7}}
	assert.True(t, matches(tagged, querytest.Item{Folder: 4}), "two levels below")
	assert.True(t, matches(tagged, querytest.Item{Tags: []int64{7}}), "its own")
	assert.False(t, matches(tagged, querytest.Item{Folder: 5}))
	assert.True(t, matches(query.Rule{Field: "tag", Missing: true}, querytest.Item{Folder: 4}), "it has none of its own")

	words := func(w ...string) query.Rule { return query.Rule{Field: "words", Names: w} }
	assert.True(t, matches(words("sunday"), querytest.Item{Folder: 4}))
	assert.True(t, matches(words("sunday", "crate"), querytest.Item{Folder: 4, Text: "a crate"}), "each word by itself, wherever it stands")
	assert.False(t, matches(words("sunday", "crate"), querytest.Item{Folder: 2, Text: "a crate"}))
	assert.True(t, matches(words("kite"), querytest.Item{Tags: []int64{8}}), "in the name of a tag")
	assert.True(t, matches(words("kite"), querytest.Item{Folder: 2}), "of a tag of the folder")
	assert.False(t, matches(words("boat"), querytest.Item{Folder: 2}))

	may := query.Rule{Field: "taken", Since: "2025-05-01", Until: "2025-05-31"}
	assert.True(t, matches(may, querytest.Item{Folder: 2}), "undated, so the folder above tells")
	assert.False(t, matches(may, querytest.Item{Folder: 4}), "the nearest date counts, which is June")
	assert.False(t, matches(may, querytest.Item{Folder: 5}))
	later := walk()
	later.Folder = 2
	assert.False(t, matches(may, *later), "its own capture time comes first")
	assert.False(t, matches(query.Rule{Match: query.None, Rules: []query.Rule{may}}, querytest.Item{Folder: 2}), "also inside of groups")
}

func TestARingOfFoldersEnds(t *testing.T) {
	w := &query.World{Folders: map[int64]query.Folder{1: {Parent: 2}, 2: {Parent: 1}}}
	assert.Empty(t, w.Expand(query.Rule{Field: "folder", IDs: []int64{3}, Below: true}, query.Now{}).IDs)
	assert.Equal(t, []int64{1, 2}, w.Expand(query.Rule{Field: "folder", IDs: []int64{1}, Below: true}, query.Now{}).IDs)
}

// TestBelowIsEveryFolderWhoseWayUpLeadsThere compares with walking up from each folder.
func TestBelowIsEveryFolderWhoseWayUpLeadsThere(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		w := &query.World{Folders: map[int64]query.Folder{}}
		n := rapid.Int64Range(1, 30).Draw(rt, "n")
		for id := int64(1); id <= n; id++ {
			w.Folders[id] = query.Folder{Parent: rapid.Int64Range(0, id-1).Draw(rt, "parent")}
		}
		root := rapid.Int64Range(1, n).Draw(rt, "root")
		var want []int64
		for id := range w.Folders {
			for at := id; at != 0; at = w.Folders[at].Parent {
				if at == root {
					want = append(want, id)
				}
			}
		}
		slices.Sort(want)
		assert.Equal(rt, want, w.Expand(query.Rule{Field: "folder", IDs: []int64{root}, Below: true}, query.Now{}).IDs)
	})
}
