package query

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCheckFillsTheOrderOfAPlace(t *testing.T) {
	for place, sort := range map[string]string{"everything": "taken", "album": "hand", "intake": "added", "bin": "taken"} {
		q := Query{Place: place, ID: 1}
		require.NoError(t, q.Check())
		assert.Equal(t, sort, q.Sort, place)
	}
}

func TestCheckNamesWhatIsWrong(t *testing.T) {
	cases := map[string]Query{
		"attic":         {Place: "attic"},
		"which folder":  {Place: "folder"},
		"sideways":      {Place: "everything", Sort: "sideways"},
		"order made by": {Place: "folder", ID: 1, Below: true, Sort: "hand"},
	}
	for text, q := range cases {
		assert.ErrorContains(t, q.Check(), text)
	}
}

func TestWords(t *testing.T) {
	assert.Equal(t, []string{"red", "kite"}, Words("  Red KITE ").withTerms().Names)
}
