package query_test

import (
	"testing"
	"time"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/query/querytest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
)

func number(n int64) *int64 { return &n }

// walk is an item that has a value of everything.
func walk() *querytest.Item {
	taken := time.Date(2026, 5, 17, 23, 59, 59, 0, time.UTC)
	return &querytest.Item{ID: 1, Folder: 10, Stage: 20, Albums: []int64{30, 31}, Tags: []int64{40, 41}, Outlets: []int64{50},
		Intakes: []int64{60},
		Kind:    "picture", Camera: "Tarn K2", Place: "Sandholm", Source: "upload", Text: "harbour walk ost_0412.jpg", Stars: 4,
		Bytes: 5_000_000,
		Width: 6000, Height: 4000,
		Taken: &taken, Added: time.Date(2026, 5, 18, 0, 30, 0, 0, time.FixedZone("", 2*3600)), Keeper: true, RightsUntil: "2026-12-31",
		States: []string{"sent"}}
}

func TestWhatAComparisonMatches(t *testing.T) {
	bare := &querytest.Item{ID: 2, Kind: "clip", Source: "server", Added: time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC), Binned: true,
		States: []string{"sent", "older"}, Lacks: []string{"alt", "tags"}, Behind: true}
	cases := []struct {
		name       string
		rule       query.Rule
		full, bare bool
	}{
		{"folder", query.Rule{Field: "folder", IDs: []int64{9, 10}}, true, false},
		{"unfiled", query.Rule{Field: "folder", Missing: true}, false, true},
		{"a folder or unfiled", query.Rule{Field: "folder", IDs: []int64{10}, Missing: true}, true, true},
		{"no folder at all asked for", query.Rule{Field: "folder"}, false, false},
		{"0 is no folder", query.Rule{Field: "folder", IDs: []int64{0}}, false, false},
		{"one of several albums", query.Rule{Field: "album", IDs: []int64{31, 99}}, true, false},
		{"tag", query.Rule{Field: "tag", IDs: []int64{41}}, true, false},
		{"another tag", query.Rule{Field: "tag", IDs: []int64{42}}, false, false},
		{"without tags", query.Rule{Field: "tag", Missing: true}, false, true},
		{"stage", query.Rule{Field: "stage", IDs: []int64{20}}, true, false},
		{"without stage", query.Rule{Field: "stage", Missing: true}, false, true},
		{"outlet", query.Rule{Field: "outlet", IDs: []int64{50}}, true, false},
		{"intake", query.Rule{Field: "intake", IDs: []int64{60}}, true, false},
		{"kinds", query.Rule{Field: "kind", Names: []string{"clip", "document"}}, false, true},
		{"source", query.Rule{Field: "source", Names: []string{"upload"}}, true, false},
		{"camera", query.Rule{Field: "camera", Names: []string{"Tarn K2"}}, true, false},
		{"place", query.Rule{Field: "place", Names: []string{"Sandholm"}}, true, false},
		{"without place", query.Rule{Field: "place", Missing: true}, false, true},
		{"without camera", query.Rule{Field: "camera", Missing: true}, false, true},
		{"every word", query.Rule{Field: "words", Names: []string{"walk", "ost_04"}}, true, false},
		{"one word too many", query.Rule{Field: "words", Names: []string{"walk", "rain"}}, false, false},
		{"no words ask for nothing", query.Rule{Field: "words"}, true, true},
		{"stars from", query.Rule{Field: "stars", From: number(4)}, true, false},
		{"stars to", query.Rule{Field: "stars", To: number(3)}, false, true},
		{"bytes between", query.Rule{Field: "bytes", From: number(5_000_000), To: number(5_000_000)}, true, false},
		{"width", query.Rule{Field: "width", From: number(6001)}, false, false},
		{"height", query.Rule{Field: "height", From: number(4000)}, true, false},
		{"the longer side", query.Rule{Field: "longer", From: number(6000)}, true, false},
		{"taken on that day, to its last second", query.Rule{Field: "taken", Since: "2026-05-17", Until: "2026-05-17"}, true, false},
		{"taken before", query.Rule{Field: "taken", Until: "2026-05-16"}, false, false},
		{"dated", query.Rule{Field: "taken"}, true, false},
		{"undated", query.Rule{Field: "taken", Missing: true}, false, true},
		{"this year or undated", query.Rule{Field: "taken", Since: "2026-01-01", Missing: true}, true, true},
		{"added, by the day in UTC", query.Rule{Field: "added", Since: "2026-05-17", Until: "2026-05-17"}, true, false},
		{"keeper", query.Rule{Field: "keeper"}, true, false},
		{"prepared or sent out", query.Rule{Field: "state", Names: []string{"prepared", "sent"}}, true, true},
		{"changed since", query.Rule{Field: "state", Names: []string{"older"}}, false, true},
		{"lacks any of them", query.Rule{Field: "lacks", Names: []string{"title", "tags"}}, false, true},
		{"lacks nothing that is asked", query.Rule{Field: "lacks", Names: []string{"title"}}, false, false},
		{"rights end in 2026", query.Rule{Field: "rights", Since: "2026-01-01", Until: "2026-12-31"}, true, false},
		{"rights have an end", query.Rule{Field: "rights"}, true, false},
		{"rights without an end", query.Rule{Field: "rights", Missing: true}, false, true},
		{"in the bin", query.Rule{Field: "binned"}, false, true},
		{"behind a front", query.Rule{Field: "behind"}, false, true},
	}
	for _, c := range cases {
		require.NoError(t, c.rule.Check(), c.name)
		assert.Equal(t, c.full, querytest.Matches(&c.rule, walk()), c.name)
		assert.Equal(t, c.bare, querytest.Matches(&c.rule, bare), c.name+", of one that has nothing")
	}
}

func TestGroups(t *testing.T) {
	yes, no := query.Rule{Field: "keeper"}, query.Rule{Field: "binned"}
	cases := []struct {
		match string
		rules []query.Rule
		want  bool
	}{
		{query.All, []query.Rule{yes, yes}, true}, {query.All, []query.Rule{yes, no}, false}, {query.All, nil, true},
		{query.Any, []query.Rule{no, yes}, true}, {query.Any, []query.Rule{no, no}, false}, {query.Any, nil, false},
		{query.None, []query.Rule{no, no}, true}, {query.None, []query.Rule{no, yes}, false}, {query.None, nil, true},
	}
	for _, c := range cases {
		rule := query.Rule{Match: c.match, Rules: c.rules}
		assert.Equal(t, c.want, querytest.Matches(&rule, walk()), "%s of %v", c.match, c.rules)
	}
}

func TestARuleThatSomebodySendsIsChecked(t *testing.T) {
	deep := query.Rule{Field: "keeper"}
	for range 8 {
		deep = query.Rule{Match: query.All, Rules: []query.Rule{deep}}
	}
	long := query.Rule{Match: query.Any}
	for range 300 {
		long.Rules = append(long.Rules, query.Rule{Field: "keeper"})
	}
	cases := map[string]query.Rule{
		"too long":              deep,
		"is too long":           long,
		`"some" is not a way`:   {Match: "some"},
		`"all" is not a way`:    {Match: query.All, Field: "keeper"},
		`no filter by "shoe"`:   {Field: "shoe"},
		`no filter by ""`:       {},
		"by kind does not take": {Field: "kind", IDs: []int64{1}},
		"by tag does not take":  {Field: "tag", Below: true},
		"by stars does not":     {Field: "stars", Names: []string{"4"}},
		"by album does not":     {Field: "album", Missing: true},
		"by words does not":     {Field: "words", From: number(1)},
		`"17 May" is not a day`: {Field: "taken", Since: "17 May"},
		`is not a day`:          {Field: "stars", Until: "2026-05-17"},
	}
	for says, rule := range cases {
		err := rule.Check()
		var invalid *fault.Invalid
		require.ErrorAs(t, err, &invalid, says)
		assert.Equal(t, "filter", invalid.Field)
		assert.Contains(t, invalid.Text, says)
	}
}

func TestWhatPlacesAskFor(t *testing.T) {
	shown := func(q query.Query, change func(*querytest.Item)) bool {
		t.Helper()
		require.NoError(t, q.Check())
		it := walk()
		change(it)
		rule := q.Rule()
		return querytest.Matches(&rule, it)
	}
	as := func(*querytest.Item) {}
	assert.True(t, shown(query.Query{Place: "everything"}, as))
	assert.False(t, shown(query.Query{Place: "everything"}, func(it *querytest.Item) { it.Binned = true }))
	assert.True(t, shown(query.Query{Place: "bin"}, func(it *querytest.Item) { it.Binned, it.Stars = true, -1 }), "the bin shows all of it")
	assert.False(t, shown(query.Query{Place: "everything"}, func(it *querytest.Item) { it.Stars = -1 }))
	assert.True(t, shown(query.Query{Place: "everything", Filter: query.Both(query.WithAside)}, func(it *querytest.Item) { it.Stars = -1 }))
	assert.True(t, shown(query.Query{Place: "album", ID: 30}, func(it *querytest.Item) { it.Stars, it.Behind = -1, true }),
		"an album is somebody's own pick")
	assert.False(t, shown(query.Query{Place: "folder", ID: 10}, func(it *querytest.Item) { it.Behind = true }))
	found := query.Both(query.Rule{Match: query.Any, Rules: []query.Rule{{Field: "words", Names: []string{"Harbour"}}}})
	assert.True(t, shown(query.Query{Place: "folder", ID: 10, Filter: found}, func(it *querytest.Item) { it.Stars, it.Behind = -1, true }),
		"a search looks everywhere")
	aside, leavesOut := (&query.Query{Place: "folder", ID: 10, Filter: query.Both(query.Rule{Field: "keeper"})}).Aside()
	assert.True(t, leavesOut)
	assert.True(t, shown(aside, func(it *querytest.Item) { it.Stars = -1 }))
	assert.False(t, shown(aside, as))
	_, leavesOut = (&query.Query{Place: "folder", ID: 10, Filter: found}).Aside()
	assert.False(t, leavesOut)
	assert.True(t, shown(query.Query{Place: "intake", ID: 60}, func(it *querytest.Item) { it.Behind = true }))
	assert.False(t, shown(query.Query{Place: "unfiled"}, as))
	assert.False(t, shown(query.Query{Place: "undescribed"}, as))
	assert.True(t, shown(query.Query{Place: "unchosen"}, func(it *querytest.Item) { it.Stars = 0 }))
	assert.True(t, shown(query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "keeper"})}, as))
	assert.False(t, shown(query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "aside"})}, as))
	minus := int64(-1)
	assert.True(t, shown(query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "stars", From: &minus, To: &minus})},
		func(it *querytest.Item) { it.Stars = -1 }), "who asks for stars below nothing gets them")
	assert.False(t, shown(query.Query{Place: "everything", Filter: query.Both(query.AtLeast(5))}, as))
	assert.True(t, shown(query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "kind", Names: []string{"picture"}},
		query.Rule{Field: "tag", IDs: []int64{40}}, query.Rule{Field: "source", Names: []string{"upload"}}, query.Rule{Field: "outlet",
			IDs: []int64{50}},
		query.Words(" HARBOUR  walk"))}, as))
	assert.False(t, shown(query.Query{Place: "everything", Filter: &query.Rule{Match: query.None, Rules: []query.Rule{{Field: "keeper"}}}},
		as))
}

func TestWithinKeepsOutWhatLiesElsewhere(t *testing.T) {
	all := query.Rule{Match: query.All}
	for name, c := range map[string]struct {
		folders, albums []int64
		want            bool
	}{"nothing granted": {nil, nil, false}, "its folder": {[]int64{10}, nil, true}, "one of its albums": {nil, []int64{31}, true},
		"others": {[]int64{11}, []int64{32}, false}} {
		rule := query.Within(all, c.folders, c.albums)
		assert.Equal(t, c.want, querytest.Matches(&rule, walk()), name)
	}
}

func TestNoneIsTheContraryOfAny(t *testing.T) {
	fields := []string{"keeper", "described", "binned", "behind", "stars", "taken", "words", "tag"}
	rapid.Check(t, func(rt *rapid.T) {
		var rules []query.Rule
		for range rapid.IntRange(0, 4).Draw(rt, "n") {
			rules = append(rules, query.Rule{Field: rapid.SampledFrom(fields).Draw(rt, "field")})
		}
		it := walk()
		it.Stars, it.Binned = rapid.IntRange(-1, 5).Draw(rt, "stars"), rapid.Bool().Draw(rt, "binned")
		either, neither := query.Rule{Match: query.Any, Rules: rules}, query.Rule{Match: query.None, Rules: rules}
		assert.NotEqual(rt, querytest.Matches(&either, it), querytest.Matches(&neither, it))
		if all := (query.Rule{Match: query.All, Rules: rules}); len(rules) > 0 && querytest.Matches(&all, it) {
			assert.True(rt, querytest.Matches(&either, it), "all of some is any of them")
		}
	})
}
