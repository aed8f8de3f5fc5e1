package query

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func taken(day string) *Item {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return &Item{} // undated
	}
	return &Item{Taken: &t}
}

func TestTheSameDayInOtherYears(t *testing.T) {
	w := &World{}
	for _, c := range []struct {
		today string
		yes   []string
		no    []string
	}{
		{"2026-11-26", []string{"2025-11-26", "1999-11-26"}, []string{"2026-11-26", "2025-11-25", "2025-12-26", ""}},
		{"2026-02-28", []string{"2024-02-28", "2024-02-29", "2025-02-28"}, []string{"2026-02-28", "2024-03-01", ""}},
		{"2028-02-28", []string{"2024-02-28", "2027-02-28"}, []string{"2024-02-29", "2028-02-28"}}, // the 29th is tomorrow
		{"2028-02-29", []string{"2024-02-29"}, []string{"2027-02-28", "2028-02-29", "2024-03-01", ""}},
	} {
		r := w.Expand(Rule{Field: "anniversary"}, Now{Day: c.today})
		for _, day := range c.yes {
			assert.True(t, r.Matches(taken(day)), "%s on %s", day, c.today)
		}
		for _, day := range c.no {
			assert.False(t, r.Matches(taken(day)), "%s on %s", day, c.today)
		}
	}
}

func TestASpanMovesWithTheDay(t *testing.T) {
	last := Rule{Field: "taken", Last: 30}
	require.NoError(t, last.Check())
	w := &World{}
	for day, want := range map[string]bool{"2026-11-26": true, "2026-10-28": true, "2026-10-27": false, "2026-11-27": false, "": false} {
		r := w.Expand(last, Now{Day: "2026-11-26"})
		assert.Equal(t, want, r.Matches(taken(day)), day)
	}
	soon := w.Expand(Rule{Field: "rights", Next: 30}, Now{Day: "2026-11-26"})
	ended := w.Expand(Rule{Field: "rights", Last: longestSpan}, Now{Day: "2026-11-26"})
	for day, want := range map[string][2]bool{"2026-11-25": {false, true}, "2026-11-26": {true, false}, "2026-12-26": {true, false},
		"2026-12-27": {false, false}, "": {false, false}} {
		assert.Equal(t, want, [2]bool{soon.Matches(&Item{RightsUntil: day}), ended.Matches(&Item{RightsUntil: day})}, day)
	}
	for _, wrong := range []Rule{{Field: "taken", Last: -1}, {Field: "taken", Next: 3},
		{Field: "rights", Next: 3, Last: 3}, {Field: "taken", Last: 99_999}, {Field: "stars", Last: 3},
		{Field: "taken", Last: 3, Since: "2026-01-01"}} {
		assert.Error(t, wrong.Check(), wrong)
	}
}

// TestRuleAlbumsInRuleAlbums goes through albums whose rules ask for each other, also in a ring.
func TestRuleAlbumsInRuleAlbums(t *testing.T) {
	four := int64(4)
	w := &World{Rules: map[int64]RuleAlbum{
		1: {Rule: Rule{Field: "stars", From: &four}},
		2: {Rule: Rule{Match: Any, Rules: []Rule{{Field: "album", IDs: []int64{1, 9}}, {Field: "keeper"}}}},
		3: {Rule: Rule{Field: "album", IDs: []int64{4}}},
		4: {Rule: Rule{Match: Any, Rules: []Rule{{Field: "album", IDs: []int64{3}}, {Field: "keeper"}}}},
	}}
	in := func(album int64) Rule { return w.Expand(Rule{Field: "album", IDs: []int64{album}}, Now{}) }
	starred, kept, by9, plain := &Item{Stars: 4}, &Item{Keeper: true}, &Item{Albums: []int64{9}}, &Item{}
	for album, want := range map[int64][]bool{1: {true, false, false, false}, 2: {true, true, true, false}, 3: {false, true, false, false}} {
		r := in(album)
		assert.Equal(t, want, []bool{r.Matches(starred), r.Matches(kept), r.Matches(by9), r.Matches(plain)}, album)
	}
	two := in(2)
	assert.False(t, two.Matches(&Item{Stars: 4, Binned: true}))
	assert.False(t, two.Matches(&Item{Stars: -1, Keeper: true}), "set aside")
	for rule, want := range map[int64]bool{1: true, 9: true, 3: false} {
		assert.Equal(t, want, w.Reaches(&Rule{Field: "album", IDs: []int64{2}}, rule), rule)
	}
	assert.True(t, w.Reaches(&Rule{Match: None, Rules: []Rule{{Field: "album", IDs: []int64{7}}}}, 7), "itself")
}

// TestManyAlbumsInOneAnother asks for albums that each ask for all the others: it is refused, and where it came to be all the same it
// shows nothing instead of taking for ever.
func TestManyAlbumsInOneAnother(t *testing.T) {
	w := &World{Rules: map[int64]RuleAlbum{}}
	for id := int64(1); id <= 14; id++ {
		var others []int64
		for other := int64(1); other < id; other++ {
			others = append(others, other)
		}
		by := RuleAlbum{Rule: Rule{Match: Any, Rules: []Rule{{Field: "album", IDs: others}, {Field: "keeper"}}}}
		if id <= 8 {
			require.NoError(t, w.CheckAlbum(&by, id))
		}
		w.Rules[id] = by
	}
	by := w.Rules[14]
	assert.Error(t, w.CheckAlbum(&by, 99))
	shown, nothing := w.Expand(Rule{Field: "album", IDs: []int64{8}}, Now{}), w.Expand(Rule{Field: "album", IDs: []int64{14}}, Now{})
	assert.True(t, shown.Matches(&Item{Keeper: true}))
	assert.False(t, nothing.Matches(&Item{Keeper: true}))
	long := make([]Rule, 6)
	for i := range long {
		long[i] = Rule{Match: All, Rules: slices.Repeat([]Rule{{Field: "keeper"}}, 150)}
		require.NoError(t, long[i].Check())
	}
	assert.Error(t, CheckAll(long))
	assert.NoError(t, CheckAll(long[:4]))
}

// TestLotsAreSteadyAndSpread draws the same all day, another way the next, and nobody is always first.
func TestLotsAreSteadyAndSpread(t *testing.T) {
	pick := func(day int64, ids []int64, n int) []int64 {
		sorted := slices.Clone(ids)
		slices.SortFunc(sorted, func(a, b int64) int { return int(Lot(a, day) - Lot(b, day)) })
		return sorted[:n]
	}
	rapid.Check(t, func(t *rapid.T) {
		ids := rapid.SliceOfNDistinct(rapid.Int64Range(1, 1<<40), 20, 60, rapid.ID).Draw(t, "ids")
		day := DayNumber(rapid.SampledFrom([]string{"2026-11-26", "2027-02-28", "2031-01-01"}).Draw(t, "day"))
		for _, id := range ids {
			require.True(t, Lot(id, day) >= 0 && Lot(id, day) < 1<<31)
		}
		picked := pick(day, ids, 10)
		// one that comes changes one place at most
		fresh := append(slices.Clone(ids), rapid.Int64Range(1<<41, 1<<42).Draw(t, "fresh"))
		same := 0
		for _, id := range pick(day, fresh, 10) {
			if slices.Contains(picked, id) {
				same++
			}
		}
		require.GreaterOrEqual(t, same, 9)
	})
	first := map[int64]int{}
	ids := make([]int64, 1000)
	for i := range ids {
		ids[i] = int64(5000 + i)
	}
	for d := range 300 {
		for _, id := range pick(DayNumber(time.Date(2026, 1, 1+d, 0, 0, 0, 0, time.UTC).Format(time.DateOnly)), ids, 10) {
			first[id]++
		}
	}
	assert.Greater(t, len(first), 850, "of 1,000 in 3,000 draws; chance gives 950")
	for id, n := range first {
		assert.Less(t, n, 16, id)
	}
}

func TestRulesInWords(t *testing.T) {
	n := func(i int64) *int64 { return &i }
	names := &Names{Tags: map[int64]string{1: "Kite", 2: "Sea"}, Stages: map[int64]string{3: "Cleared"},
		Folders: map[int64]string{4: "Shoots"}}
	good := Rule{Match: All, Rules: []Rule{{Field: "stars", From: n(4), To: n(5)}, {Field: "stage", IDs: []int64{3}}}}
	for want, r := range map[string]Rule{
		"at least 4 stars and stage Cleared, or my keepers": {Match: Any, Rules: []Rule{good, {Field: "keeper"}}},
		"tagged Kite or Sea and in Shoots or below": {Match: All, Rules: []Rule{{Field: "tag", IDs: []int64{1, 2}},
			{Field: "folder", IDs: []int64{4}, Below: true}}},
		"my keepers and either no stars or undated": {Match: All, Rules: []Rule{{Field: "keeper"},
			{Match: Any, Rules: []Rule{{Field: "stars", From: n(0), To: n(0)}, {Field: "taken", Missing: true}}}}},
		"neither a clip nor tagged something that was removed": {Match: None, Rules: []Rule{{Field: "kind", Names: []string{"clip"}},
			{Field: "tag", IDs: []int64{77}}}},
		"not (at least 4 stars and stage Cleared)": {Match: None, Rules: []Rule{good}},
		"taken in May 2026":                        {Field: "taken", Since: "2026-05-01", Until: "2026-05-31"},
		"taken in 2026":                            {Field: "taken", Since: "2026-01-01", Until: "2026-12-31"},
		"taken on 29 February 2024":                {Field: "taken", Since: "2024-02-29", Until: "2024-02-29"},
		"added in the last 30 days":                {Field: "added", Last: 30},
		"at least 2000 px wide":                    {Field: "width", From: n(2000)},
		"without alt text or title":                {Field: "lacks", Names: []string{"alt", "title"}},
		"prepared or sent out":                     {Field: "state", Names: []string{"prepared", "sent"}},
		"at Sandholm or Pier 3":                    {Field: "place", Names: []string{"Sandholm", "Pier 3"}},
		"without a place":                          {Field: "place", Missing: true},
		"with “red kite”":                          {Field: "words", Names: []string{"red kite"}},
		"taken on this day of other years":         {Field: "anniversary"},
		"showing somebody who does not agree":      {Field: "consent", Names: []string{"refused"}},
		"everything":                               {Match: All},
	} {
		assert.Equal(t, want, r.Say(names))
	}
}

// TestEveryConditionHasWords says each field that one can filter by.
func TestEveryConditionHasWords(t *testing.T) {
	n := int64(1)
	for field, takes := range Fields {
		r := Rule{Field: field}
		if takes.IDs {
			r.IDs = []int64{1}
		}
		if takes.Names {
			r.Names = []string{"x"}
		}
		if takes.Range {
			r.From = &n
		}
		assert.NotEmpty(t, r.sayLeaf(&Names{}), field)
	}
}
