package index

import (
	"cmp"
	"slices"
	"testing"

	"github.com/RoaringBitmap/roaring/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// TestPostingsAreWhatWasPutIn adds and drops items at random and compares with a plain map.
func TestPostingsAreWhatWasPutIn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := newPostings[int64]()
		value := make([]int64, 200) // by slot; 0 is none
		for range rapid.IntRange(1, 30).Draw(t, "changes") {
			slots := roaring.BitmapOf(rapid.SliceOfN(rapid.Uint32Range(0, 199), 1, 40).Draw(t, "slots")...)
			if rapid.Bool().Draw(t, "of one value each") {
				p.dropFrom(slots, value)
			} else {
				p.drop(slots)
			}
			for _, slot := range slots.ToArray() {
				value[slot] = rapid.Int64Range(0, 6).Draw(t, "value")
				addTo(p, value[slot], slot)
			}
		}
		items := roaring.BitmapOf(rapid.SliceOf(rapid.Uint32Range(0, 199)).Draw(t, "items")...)
		want, some := map[int64]int{}, 0
		for slot, v := range value {
			if v != 0 {
				some++
				if items.Contains(uint32(slot)) {
					want[v]++
				}
			}
		}
		assert.Equal(t, want, p.among(items))
		assert.EqualValues(t, some, p.some.GetCardinality())
		for key, set := range p.sets {
			require.False(t, set.IsEmpty(), "nothing has the value %d any more", key)
		}
	})
}

// TestFoldingIsSorting moves some of a sorted list and compares with sorting all of it.
func TestFoldingIsSorting(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 300).Draw(t, "items")
		key := make([]int, n+20)
		for i := range key {
			key[i] = rapid.IntRange(0, 50).Draw(t, "key")
		}
		by := func(a, b uint32) int { return cmp.Or(cmp.Compare(key[a], key[b]), cmp.Compare(a, b)) }
		var list []uint32
		for slot := range uint32(n) {
			list = append(list, slot)
		}
		slices.SortFunc(list, by)
		dirty := roaring.BitmapOf(rapid.SliceOf(rapid.Uint32Range(0, uint32(n+19))).Draw(t, "changed")...)
		var moved, want []uint32
		for slot := range uint32(n + 20) {
			gone := rapid.IntRange(0, 4).Draw(t, "gone") == 0
			switch {
			case dirty.Contains(slot) && !gone:
				key[slot] = rapid.IntRange(0, 50).Draw(t, "new key")
				moved, want = append(moved, slot), append(want, slot)
			case !dirty.Contains(slot) && slot < uint32(n):
				want = append(want, slot)
			}
		}
		slices.SortFunc(moved, by)
		slices.SortFunc(want, by)
		assert.Equal(t, slices.Clip(want), slices.Clip(append([]uint32(nil), fold(list, dirty, moved, by)...)))
	})
}

// TestAnswersAreGivenAgainUntilSomethingChanges counts how often a question is really answered.
func TestAnswersAreGivenAgainUntilSomethingChanges(t *testing.T) {
	a, made := &answers{most: 2}, 0
	ask := func(key string, version uint64) int {
		n, err := answered(a, key, version, func() (int, error) { made++; return made, nil })
		require.NoError(t, err)
		return n
	}
	assert.Equal(t, []int{1, 1}, []int{ask("a", 1), ask("a", 1)})
	assert.Equal(t, 2, ask("b", 1), "another question")
	assert.Equal(t, 3, ask("a", 2), "something has changed")
	assert.Equal(t, 4, ask("b", 2))
	assert.Equal(t, 5, ask("c", 2))
	assert.Equal(t, 6, ask("a", 2), "the oldest answer made room")
	_, err := answered(a, "d", 2, func() (int, error) { return 0, assert.AnError })
	require.ErrorIs(t, err, assert.AnError)
	assert.Equal(t, 7, ask("d", 2), "what failed is asked again")
}
