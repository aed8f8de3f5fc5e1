package describing

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
)

func TestClean(t *testing.T) {
	for _, c := range []struct{ field, text, want string }{
		{"title", "  A   kite\tup ", "A kite up"}, {"title", "\n", ""},
		{"description", "one\r\ntwo \n", "one\ntwo"},
		{"rightsUntil", "2028-02-29", "2028-02-29"}, {"rightsUntil", "", ""},
		{"taken", "2026-05-17 14:30", "2026-05-17T14:30:00"}, {"taken", "2026-05-17T14:30:09", "2026-05-17T14:30:09"},
		{"takenZone", "+2", "+02:00"}, {"takenZone", "−0330", "-03:30"}, {"takenZone", "utc", "Z"}, {"takenZone", "+14:00", "+14:00"},
		{"coordinates", "52.37020012,4.8952", "52.3702, 4.8952"}, {"coordinates", "-0, 180", "0, 180"},
	} {
		f, err := FieldOf(c.field)
		require.NoError(t, err)
		got, err := f.Clean(c.text)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, got)
	}
	for _, c := range []struct{ field, text string }{
		{"title", strings.Repeat("a", 301)}, {"title", "a\x00b"}, {"rightsUntil", "2026-02-29"}, {"rightsUntil", "0026-02-01"},
		{"rightsUntil", "tomorrow"}, {"taken", "2026-13-01 00:00"}, {"taken", "0000-01-01 00:00"}, {"takenZone", "+15:00"},
		{"takenZone", "CET"}, {"coordinates", "91, 0"}, {"coordinates", "NaN, 0"}, {"coordinates", "52"},
	} {
		f, err := FieldOf(c.field)
		require.NoError(t, err)
		_, err = f.Clean(c.text)
		var invalid *fault.Invalid
		require.ErrorAs(t, err, &invalid, c.text)
		assert.Equal(t, c.field, invalid.Field)
	}
}

func TestCleanTwiceIsCleanOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := rapid.SampledFrom(Fields).Draw(t, "field")
		once, err := f.Clean(rapid.String().Draw(t, "text"))
		if err != nil {
			return
		}
		twice, err := f.Clean(once)
		require.NoError(t, err)
		assert.Equal(t, once, twice)
	})
}

func TestWritingIntoAField(t *testing.T) {
	for _, c := range []struct {
		how            How
		field, now, is string
		text, again    string
	}{
		{Replace, "title", "Old", "New", "New", "New"},
		{Replace, "title", "Old", "", "", ""},
		{Fill, "title", "Old", "Old", "New", "Old"},
		{Fill, "title", "", "New", "New", "New"},
		{Before, "title", "kite", "Red kite", "Red", "Red kite"},
		{After, "description", "A kite.", "A kite.\nUp.", "Up.", "A kite.\nUp."},
		{After, "title", "", "Up", "Up", "Up"},
	} {
		change, err := Change{Field: c.field, How: c.how, Text: c.text}.Check()
		require.NoError(t, err)
		is, err := change.To(c.now)
		require.NoError(t, err)
		assert.Equal(t, c.is, is)
		again, err := change.To(is)
		require.NoError(t, err)
		assert.Equal(t, c.again, again, "twice does nothing")
	}
	for _, wrong := range []Change{{"title", "shout", "a"}, {"colour", Replace, "a"}, {"taken", Before, "2026-05-17 14:30"},
		{"alt", Fill, " "}} {
		_, err := wrong.Check()
		require.Error(t, err)
	}
	_, err := Change{"title", After, strings.Repeat("b", 200)}.To(strings.Repeat("a", 200))
	require.ErrorContains(t, err, "would have 401 characters")
}
