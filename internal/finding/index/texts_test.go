package index

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// TestSignaturesMissNothing: what says a word is never told apart by its signature, whatever the word is cut out of.
func TestSignaturesMissNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var said texts
		all := rapid.SliceOfN(rapid.StringMatching(`[a-e0-3 é–🪁]{0,30}`), 1, 20).Draw(t, "texts")
		for slot, text := range all {
			said.grow()
			said.set(uint32(slot), "first something else")
			said.set(uint32(slot), text)
		}
		from := rapid.SampledFrom(all).Draw(t, "from")
		start := rapid.IntRange(0, len(from)).Draw(t, "start")
		word := from[start:rapid.IntRange(start, len(from)).Draw(t, "end")]
		contains := said.containing(word)
		for slot, text := range all {
			require.Equal(t, strings.Contains(text, word), contains(uint32(slot)), "%q in %q", word, text)
		}
	})
}
