package ordering

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestAKeyBetweenAnyTwoAlwaysExists(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		keys := []string{}
		for range rapid.IntRange(1, 200).Draw(t, "inserts") {
			i := rapid.IntRange(0, len(keys)).Draw(t, "at")
			before, after := "", ""
			if i > 0 {
				before = keys[i-1]
			}
			if i < len(keys) {
				after = keys[i]
			}
			key, err := Between(before, after)
			require.NoError(t, err)
			keys = slices.Insert(keys, i, key)
			require.True(t, before < key && (after == "" || key < after), "%q < %q < %q", before, key, after)
		}
		require.True(t, slices.IsSorted(keys))
	})
}

func TestKeysStayShortAtTheEnds(t *testing.T) {
	end, start := "", "V"
	for range 50_000 {
		end, _ = Between(end, "")
		start, _ = Between("", start)
	}
	assert.LessOrEqual(t, len(end), 6)
	assert.LessOrEqual(t, len(start), 6)
}

func TestSpreadKeepsOrderBetweenItsBounds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 300).Draw(t, "n")
		a := rapid.SampledFrom([]string{"", "1", "V", "zzzzzz"}).Draw(t, "a")
		b := rapid.SampledFrom([]string{"", "zzzzzzV"}).Draw(t, "b")
		keys, err := Spread(a, b, n)
		require.NoError(t, err)
		require.Len(t, keys, n)
		all := append([]string{a}, keys...)
		if b != "" {
			all = append(all, b)
		}
		for i := 1; i < len(all); i++ {
			require.Less(t, all[i-1], all[i])
		}
	})
}

func TestKeysOutOfOrderAreRefused(t *testing.T) {
	for _, pair := range [][2]string{{"b", "a"}, {"a", "a"}, {"a0", ""}, {"", "é"}} {
		_, err := Between(pair[0], pair[1])
		assert.ErrorIs(t, err, ErrOrder, "%q", pair)
	}
}
