package access

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// TestBelowAnyIsBelowEach of the roots, also where the tree is no tree.
func TestBelowAnyIsBelowEach(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		tree := Tree{}
		n := rapid.IntRange(0, 30).Draw(t, "folders")
		for id := 1; id <= n; id++ {
			tree[int64(id)] = int64(rapid.IntRange(0, n).Draw(t, "parent"))
		}
		roots, want := map[int64]bool{}, map[int64]bool{}
		for _, root := range rapid.SliceOfN(rapid.Int64Range(1, 35), 0, 5).Draw(t, "roots") {
			roots[root] = true
			for _, id := range tree.Below(root) {
				want[id] = true
			}
		}
		assert.Equal(t, want, tree.BelowAny(roots))
	})
}
