package tags

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
)

func TestSplitTags(t *testing.T) {
	got, err := Split(" Kite ,wind,, KITE,  Spring   2026 ,")
	require.NoError(t, err)
	assert.Equal(t, []string{"Kite", "wind", "Spring 2026"}, got)
	_, err = Split("fine," + strings.Repeat("x", 101))
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid)
	assert.Contains(t, invalid.Text, "101 characters")
}

func TestSplittingTagsTwiceChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		once, err := Split(rapid.StringMatching(`[a-cA-C é,]{0,40}`).Draw(t, "text"))
		require.NoError(t, err)
		twice, err := Split(strings.Join(once, ","))
		require.NoError(t, err)
		require.Equal(t, once, twice)
	})
}
