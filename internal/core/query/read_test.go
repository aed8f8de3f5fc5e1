package query

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var (
	thursday = time.Date(2026, 11, 26, 0, 0, 0, 0, time.UTC)
	things   = &Names{
		Me: 7, People: map[int64]string{7: "Ines Marsh", 8: "Tom Ostler"},
		Tags:    map[int64]string{1: "kite", 2: "Kite festival", 3: "Zoë", 4: "red", 5: "May Brook"},
		Folders: map[int64]string{10: "Spring meet", 11: "Spring"}, Albums: map[int64]string{20: "Best of spring"},
		Stages: map[int64]string{30: "Cleared for web"}, Outlets: map[int64]string{40: "Kitewire"},
		Places: []string{"Sandholm pier", "Pennick Moor"}, Cameras: []string{"Tarn K2"},
	}
)

// readWords are the offers for a text as they are said, each with what stays typed before it.
func readWords(typed string) []string {
	var out []string
	for _, o := range Read(typed, thursday, things) {
		said := o.Rule.Say(things)
		if o.Rest != "" {
			said = o.Rest + " + " + said
		}
		out = append(out, said)
	}
	return out
}

func TestConditionsAreReadAsOneTypes(t *testing.T) {
	for typed, first := range map[string]string{
		"taken in May 2026":                   "taken in May 2026",
		"TAKEN IN MAY 2026":                   "taken in May 2026",
		"kites taken in may 2026":             "kites + taken in May 2026",
		"taken in m":                          "taken in May 2026",
		"taken in 20":                         "taken in 2026",
		"in 2019":                             "taken in 2019",
		"1987":                                "taken in 1987",
		"added yesterday":                     "added on 25 November 2026",
		"taken this week":                     "taken from 23 November 2026 to 29 November 2026",
		"in the last 3 weeks":                 "taken in the last 21 days",
		"17.5.2026":                           "taken on 17 May 2026",
		"shot on 17 May 2026":                 "taken on 17 May 2026",
		"17 May":                              "taken on 17 May 2026",
		"24 December":                         "taken on 24 December 2025",
		"before 2020":                         "taken on 31 December 2019 or earlier",
		"since march 2026":                    "taken on 1 March 2026 or later",
		"after 17 may 2026":                   "taken on 18 May 2026 or later",
		"between 2018 and 2020":               "taken from 1 January 2018 to 31 December 2020",
		"added from 2026-05-01 to 2026-05-31": "added in May 2026",
		"between 2020 and 2018":               "taken from 1 January 2018 to 31 December 2020",
		"30 february 2026":                    "30 + taken in February 2026",
		"2026-06-20":                          "taken on 20 June 2026",
		"june 2026":                           "taken in June 2026",
		"summer 2025":                         "taken from 1 June 2025 to 31 August 2025",
		"in the summer of 2025":               "taken from 1 June 2025 to 31 August 2025",
		"winter 2024":                         "taken from 1 December 2024 to 28 February 2025",
		"last summer":                         "taken from 1 June 2026 to 31 August 2026",
		"this autumn":                         "taken from 1 September 2026 to 30 November 2026",
		"last autumn":                         "taken from 1 September 2025 to 30 November 2025",
		"last week":                           "taken from 16 November 2026 to 22 November 2026",
		"undated":                             "undated",
		"wider than 2000":                     "at least 2000 px wide",
		"wider than 2,000 px":                 "at least 2000 px wide",
		"lower than 600 pixels":               "at most 600 px high",
		"larger than 5 MB":                    "at least 5 MB",
		"smaller than 1.5 mb":                 "at most 1.5 MB",
		"larger than 3000":                    "at least 3000 px on the longer side",
		"at least 4 stars":                    "at least 4 stars",
		"4 stars or more":                     "at least 4 stars",
		"4 stars":                             "4 stars",
		"no stars":                            "no stars",
		"my k":                                "my keepers",
		"without alt":                         "without alt text",
		"without tags":                        "without tags",
		"rights end":                          "rights that have ended",
		"tag: kit":                            "tagged kite",
		"tagged zoe":                          "tagged Zoë",
		"kitr":                                "tagged kite",
		"not red":                             "not tagged red",
		"without tag red":                     "not tagged red",
		"in spring meet":                      "in Spring meet or below",
		"folder spr":                          "in Spring or below",
		"best spring":                         "in the album Best of spring",
		"stage: cleared":                      "stage Cleared for web",
		"clea":                                "stage Cleared for web",
		"taken at sandholm":                   "at Sandholm pier",
		"at pennick":                          "at Pennick Moor",
		"pier":                                "at Sandholm pier",
		"taken with tarn":                     "taken with Tarn K2",
		"no place":                            "without a place",
		"from kitewire":                       "from Kitewire",
		"harbour at dusk with kite f":         "harbour at dusk + tagged Kite festival",
	} {
		got := readWords(typed)
		if assert.NotEmpty(t, got, typed) {
			assert.Equal(t, first, got[0], "%q offers %q", typed, got)
		}
	}
	for _, nothing := range []string{"", "   ", "!", "k", "harbour", "wider than 0", "wider than", "4",
		"larger than 99999999999999999999 mb", "in the last 0 days", "in the last 99999 years", "人", "🪁", "tag:",
		strings.Repeat("x ", 150), "taken in 0001"} {
		assert.Empty(t, readWords(nothing), nothing)
	}
	assert.LessOrEqual(t, len(readWords("taken")), mostOffers)
	assert.Contains(t, readWords("may"), "tagged May Brook", "a name is offered beside the month")
	assert.Equal(t, []string{"tagged kite", "tagged Kite festival", "from Kitewire"}, readWords("kite"))
}

// TestWhatIsSaidIsRead: whoever types what the interface says gets the same condition.
func TestWhatIsSaidIsRead(t *testing.T) {
	for _, p := range phrases(thursday, 7) {
		said := p.rule.Say(things)
		if p.rule.Field == "kind" { // "a picture" is said within a sentence
			continue
		}
		got := Read(said, thursday, things)
		require.NotEmpty(t, got, said)
		require.Equal(t, said, got[0].Rule.Say(things), "%v", p.words)
	}
	rapid.Check(t, func(t *rapid.T) {
		day := func(name string) string {
			return time.Date(rapid.IntRange(1850, 2030).Draw(t, name+" year"), time.Month(rapid.IntRange(1, 12).Draw(t, name+" month")),
				rapid.IntRange(1, 28).Draw(t, name+" day"), 0, 0, 0, 0, time.UTC).Format(time.DateOnly)
		}
		r := Rule{Field: rapid.SampledFrom([]string{"taken", "added"}).Draw(t, "field")}
		switch rapid.IntRange(0, 3).Draw(t, "how") {
		case 0:
			r.Since = day("since")
		case 1:
			r.Until = day("until")
		case 2:
			r.Since = day("since")
			r.Until = max(r.Since, day("until"))
		case 3:
			r.Last = rapid.Int64Range(1, longestSpan).Draw(t, "last")
		}
		got := Read(r.Say(things), thursday, things)
		require.NotEmpty(t, got, r.Say(things))
		require.Equal(t, r, got[0].Rule, r.Say(things))
	})
}

// TestWhateverIsTypedIsAFilter: what is offered can be asked for, whatever was typed.
func TestWhateverIsTypedIsAFilter(t *testing.T) {
	word := rapid.OneOf(rapid.String(), rapid.SampledFrom([]string{"taken", "in", "may", "not", "without", "2026", "4", "stars", "at", "least",
		"wider", "than", "kite", "spring", "between", "and", "the", "last", "days", "tag:", "no"}))
	rapid.Check(t, func(t *rapid.T) {
		typed := strings.Join(rapid.SliceOfN(word, 0, 12).Draw(t, "words"), " ")
		for _, o := range Read(typed, thursday, things) {
			q := Query{Place: "everything", Filter: Both(o.Rule)}
			require.NoError(t, q.Check(), "%q", typed)
			require.True(t, o.Rest == "" || strings.HasPrefix(strings.Join(strings.Fields(typed), " "), o.Rest), "%q keeps %q", typed, o.Rest)
		}
	})
}
