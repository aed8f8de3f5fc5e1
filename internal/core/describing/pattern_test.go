package describing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestPatterns(t *testing.T) {
	taken := time.Date(2026, 5, 7, 14, 0, 0, 0, time.UTC)
	f := Facts{Title: "Old", FileName: "IMG_0042.JPG", Folder: "Spring meet", Place: "Fennimoor", Taken: &taken,
		Tags: map[string][]string{"season": {"Spring", "Windy"}}}
	for _, c := range []struct {
		p    Pattern
		want string
	}{
		{Pattern{Text: "{folder} {n}", Start: 1, Digits: 3, Total: 12}, "Spring meet 005"},
		{Pattern{Text: "{n}", Start: 96, Total: 10}, "100"},
		{Pattern{Text: "{n}", Start: 1, Total: 120}, "005"},
		{Pattern{Text: "{name}, {day}"}, "IMG_0042, 7 May 2026"},
		{Pattern{Text: "{place} – {month} ({year}, {date})"}, "Fennimoor – May 2026 (2026, 2026-05-07)"},
		{Pattern{Text: "{tag Season}: {title}"}, "Spring, Windy: Old"},
		{Pattern{Text: "{tag Nothing}"}, "Old"},
		{Pattern{Text: "Kites", Distinct: true, Start: 1, Total: 12}, "Kites 05"},
		{Pattern{Text: "Kites-{n}", Distinct: true, Start: 1, Total: 12}, "Kites-05"},
		{Pattern{Text: "Kites", Fill: true}, "Old"},
	} {
		require.NoError(t, c.p.Check(), c.p.Text)
		assert.Equal(t, c.want, c.p.Title(f, 4), c.p.Text)
	}
	assert.Equal(t, "Fennimoor 1", Pattern{Text: "{date} {place} {n}", Start: 1, Total: 1}.Title(Facts{Place: "Fennimoor"}, 0), "undated")
	for _, wrong := range []Pattern{{Text: " "}, {Text: "{what}"}, {Text: "{n"}, {Text: "a", Start: -1}, {Text: "a", Digits: 9}} {
		require.Error(t, wrong.Check(), wrong.Text)
	}
}

// TestNoTwoTitlesAreTheSame has a pattern make titles of any facts: when asked for, they all differ, and none is too long.
func TestNoTwoTitlesAreTheSame(t *testing.T) {
	words := rapid.SampledFrom([]string{"", "A", "A1", "1", "10", "A ", "–", "Long name of a folder"})
	rapid.Check(t, func(t *rapid.T) {
		p := Pattern{Distinct: true, Start: rapid.IntRange(0, 2000).Draw(t, "start"), Digits: rapid.IntRange(0, 4).Draw(t, "digits"),
			Text: rapid.SampledFrom([]string{"{folder}{n}", "{n}{place}", "{folder}{n}{place}", "Kite", "{folder}", "{title} {n}",
				"{n}"}).Draw(t, "text")}
		p.Total = rapid.IntRange(1, 60).Draw(t, "total")
		seen := map[string]bool{}
		for i := range p.Total {
			title := p.Title(Facts{Title: words.Draw(t, "title"), Folder: words.Draw(t, "folder"), Place: words.Draw(t, "place")}, i)
			assert.False(t, seen[title], "%q twice", title)
			assert.LessOrEqual(t, len([]rune(title)), titleLength)
			seen[title] = true
		}
	})
}
