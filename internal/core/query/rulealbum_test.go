package query_test

import (
	"slices"
	"testing"
	"time"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/query/querytest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func taken(day string) *querytest.Item {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return &querytest.Item{} // undated
	}
	return &querytest.Item{Taken: &t}
}

func TestTheSameDayInOtherYears(t *testing.T) {
	w := &query.World{}
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
		r := w.Expand(query.Rule{Field: "anniversary"}, query.Now{Day: c.today})
		for _, day := range c.yes {
			assert.True(t, querytest.Matches(&r, taken(day)), "%s on %s", day, c.today)
		}
		for _, day := range c.no {
			assert.False(t, querytest.Matches(&r, taken(day)), "%s on %s", day, c.today)
		}
	}
}

func TestASpanMovesWithTheDay(t *testing.T) {
	last := query.Rule{Field: "taken", Last: 30}
	require.NoError(t, last.Check())
	w := &query.World{}
	for day, want := range map[string]bool{"2026-11-26": true, "2026-10-28": true, "2026-10-27": false, "2026-11-27": false, "": false} {
		r := w.Expand(last, query.Now{Day: "2026-11-26"})
		assert.Equal(t, want, querytest.Matches(&r, taken(day)), day)
	}
	soon := w.Expand(query.Rule{Field: "rights", Next: 30}, query.Now{Day: "2026-11-26"})
	ended := w.Expand(query.Rule{Field: "rights", Last: 36_600}, query.Now{Day: "2026-11-26"})
	for day, want := range map[string][2]bool{"2026-11-25": {false, true}, "2026-11-26": {true, false}, "2026-12-26": {true, false},
		"2026-12-27": {false, false}, "": {false, false}} {
		assert.Equal(t, want, [2]bool{querytest.Matches(&soon, &querytest.Item{RightsUntil: day}), querytest.Matches(&ended,
			&querytest.Item{RightsUntil: day})}, day)
	}
	for _, wrong := range []query.Rule{{Field: "taken", Last: -1}, {Field: "taken", Next: 3},
		{Field: "rights", Next: 3, Last: 3}, {Field: "taken", Last: 99_999}, {Field: "stars", Last: 3},
		{Field: "taken", Last: 3, Since: "2026-01-01"}} {
		assert.Error(t, wrong.Check(), wrong)
	}
}

// TestRuleAlbumsInRuleAlbums goes through albums whose rules ask for each other, also in a ring.
func TestRuleAlbumsInRuleAlbums(t *testing.T) {
	four := int64(4)
	w := &query.World{Rules: map[int64]query.RuleAlbum{
		1: {Rule: query.Rule{Field: "stars", From: &four}},
		2: {Rule: query.Rule{Match: query.Any, Rules: []query.Rule{{Field: "album", IDs: []int64{1, 9}}, {Field: "keeper"}}}},
		3: {Rule: query.Rule{Field: "album", IDs: []int64{4}}},
		4: {Rule: query.Rule{Match: query.Any, Rules: []query.Rule{{Field: "album", IDs: []int64{3}}, {Field: "keeper"}}}},
	}}
	in := func(album int64) query.Rule {
		return w.Expand(query.Rule{Field: "album", IDs: []int64{album}}, query.Now{})
	}
	starred, kept, by9, plain := &querytest.Item{Stars: 4}, &querytest.Item{Keeper: true}, &querytest.Item{Albums: []int64{9}},
		&querytest.Item{}
	for album, want := range map[int64][]bool{1: {true, false, false, false}, 2: {true, true, true, false}, 3: {false, true, false, false}} {
		r := in(album)
		assert.Equal(t, want, []bool{querytest.Matches(&r, starred), querytest.Matches(&r, kept), querytest.Matches(&r, by9),
			querytest.Matches(&r, plain)}, album)
	}
	two := in(2)
	assert.False(t, querytest.Matches(&two, &querytest.Item{Stars: 4, Binned: true}))
	assert.False(t, querytest.Matches(&two, &querytest.Item{Stars: -1, Keeper: true}), "set aside")
	for rule, want := range map[int64]bool{1: true, 9: true, 3: false} {
		assert.Equal(t, want, w.Reaches(&query.Rule{Field: "album", IDs: []int64{2}}, rule), rule)
	}
	assert.True(t, w.Reaches(&query.Rule{Match: query.None, Rules: []query.Rule{{Field: "album", IDs: []int64{7}}}}, 7), "itself")
}

// TestManyAlbumsInOneAnother asks for albums that each ask for all the others: it is refused, and where it came to be all the same it
// shows nothing instead of taking for ever.
func TestManyAlbumsInOneAnother(t *testing.T) {
	w := &query.World{Rules: map[int64]query.RuleAlbum{}}
	for id := int64(1); id <= 14; id++ {
		var others []int64
		for other := int64(1); other < id; other++ {
			others = append(others, other)
		}
		by := query.RuleAlbum{Rule: query.Rule{Match: query.Any, Rules: []query.Rule{{Field: "album", IDs: others}, {Field: "keeper"}}}}
		if id <= 8 {
			require.NoError(t, w.CheckAlbum(&by, id))
		}
		w.Rules[id] = by
	}
	by := w.Rules[14]
	assert.Error(t, w.CheckAlbum(&by, 99))
	shown, nothing := w.Expand(query.Rule{Field: "album", IDs: []int64{8}}, query.Now{}), w.Expand(query.Rule{Field: "album",
		IDs: []int64{14}}, query.Now{})
	assert.True(t, querytest.Matches(&shown, &querytest.Item{Keeper: true}))
	assert.False(t, querytest.Matches(&nothing, &querytest.Item{Keeper: true}))
	long := make([]query.Rule, 6)
	for i := range long {
		long[i] = query.Rule{Match: query.All, Rules: slices.Repeat([]query.Rule{{Field: "keeper"}}, 150)}
		require.NoError(t, long[i].Check())
	}
	assert.Error(t, query.CheckAll(long))
	assert.NoError(t, query.CheckAll(long[:4]))
}

// TestLotsAreSteadyAndSpread draws the same all day, another way the next, and nobody is always first.
func TestLotsAreSteadyAndSpread(t *testing.T) {
	pick := func(day int64, ids []int64, n int) []int64 {
		sorted := slices.Clone(ids)
		slices.SortFunc(sorted, func(a, b int64) int { return int(query.Lot(a, day) - query.Lot(b, day)) })
		return sorted[:n]
	}
	rapid.Check(t, func(t *rapid.T) {
		ids := rapid.SliceOfNDistinct(rapid.Int64Range(1, 1<<40), 20, 60, rapid.ID).Draw(t, "ids")
		day := query.DayNumber(rapid.SampledFrom([]string{"2026-11-26", "2027-02-28", "2031-01-01"}).Draw(t, "day"))
		for _, id := range ids {
			require.True(t, query.Lot(id, day) >= 0 && query.Lot(id, day) < 1<<31)
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
		for _, id := range pick(query.DayNumber(time.Date(2026, 1, 1+d, 0, 0, 0, 0, time.UTC).Format(time.DateOnly)), ids, 10) {
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
	names := &query.Names{Tags: map[int64]string{1: "Kite", 2: "Sea"}, Stages: map[int64]string{3: "Cleared"},
		Folders: map[int64]string{4: "Shoots"}}
	good := query.Rule{Match: query.All, Rules: []query.Rule{{Field: "stars", From: n(4), To: n(5)}, {Field: "stage", IDs: []int64{3}}}}
	for want, r := range map[string]query.Rule{
		"at least 4 stars and stage Cleared, or my keepers": {Match: query.Any, Rules: []query.Rule{good, {Field: "keeper"}}},
		"tagged Kite or Sea and in Shoots or below": {Match: query.All, Rules: []query.Rule{{Field: "tag", IDs: []int64{1, 2}},
			{Field: "folder", IDs: []int64{4}, Below: true}}},
		"my keepers and either no stars or undated": {Match: query.All, Rules: []query.Rule{{Field: "keeper"},
			{Match: query.Any, Rules: []query.Rule{{Field: "stars", From: n(0), To: n(0)}, {Field: "taken", Missing: true}}}}},
		"neither a clip nor tagged something that was removed": {Match: query.None, Rules: []query.Rule{{Field: "kind", Names: []string{"clip"}},
			{Field: "tag", IDs: []int64{77}}}},
		"not (at least 4 stars and stage Cleared)": {Match: query.None, Rules: []query.Rule{good}},
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
		"everything":                               {Match: query.All},
	} {
		assert.Equal(t, want, r.Say(names))
	}
}

// TestEveryConditionHasWords says each field that one can filter by.
func TestEveryConditionHasWords(t *testing.T) {
	n := int64(1)
	for field, takes := range query.Fields {
		r := query.Rule{Field: field}
		if takes.IDs {
			r.IDs = []int64{1}
		}
		if takes.Names {
			r.Names = []string{"x"}
		}
		if takes.Range {
			r.From = &n
		}
		assert.NotEqual(t, "everything", r.Say(&query.Names{}), field)
	}
}
