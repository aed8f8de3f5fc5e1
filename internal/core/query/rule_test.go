package query

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
)

func number(n int64) *int64 { return &n }

// walk is an item that has a value of everything.
func walk() *Item {
	taken := time.Date(2026, 5, 17, 23, 59, 59, 0, time.UTC)
	return &Item{ID: 1, Folder: 10, Stage: 20, Albums: []int64{30, 31}, Tags: []int64{40, 41}, Outlets: []int64{50}, Intakes: []int64{60},
		Kind: "picture", Camera: "Tarn K2", Place: "Sandholm", Source: "upload", Text: "harbour walk ost_0412.jpg", Stars: 4,
		Bytes: 5_000_000,
		Width: 6000, Height: 4000,
		Taken: &taken, Added: time.Date(2026, 5, 18, 0, 30, 0, 0, time.FixedZone("", 2*3600)), Keeper: true, RightsUntil: "2026-12-31",
		States: []string{"sent"}}
}

func TestWhatAComparisonMatches(t *testing.T) {
	bare := &Item{ID: 2, Kind: "clip", Source: "server", Added: time.Date(2020, 1, 1, 0, 0, 0, 0, time.UTC), Binned: true,
		States: []string{"sent", "older"}, Lacks: []string{"alt", "tags"}, Behind: true}
	cases := []struct {
		name       string
		rule       Rule
		full, bare bool
	}{
		{"folder", Rule{Field: "folder", IDs: []int64{9, 10}}, true, false},
		{"unfiled", Rule{Field: "folder", Missing: true}, false, true},
		{"a folder or unfiled", Rule{Field: "folder", IDs: []int64{10}, Missing: true}, true, true},
		{"no folder at all asked for", Rule{Field: "folder"}, false, false},
		{"0 is no folder", Rule{Field: "folder", IDs: []int64{0}}, false, false},
		{"one of several albums", Rule{Field: "album", IDs: []int64{31, 99}}, true, false},
		{"tag", Rule{Field: "tag", IDs: []int64{41}}, true, false},
		{"another tag", Rule{Field: "tag", IDs: []int64{42}}, false, false},
		{"without tags", Rule{Field: "tag", Missing: true}, false, true},
		{"stage", Rule{Field: "stage", IDs: []int64{20}}, true, false},
		{"without stage", Rule{Field: "stage", Missing: true}, false, true},
		{"outlet", Rule{Field: "outlet", IDs: []int64{50}}, true, false},
		{"intake", Rule{Field: "intake", IDs: []int64{60}}, true, false},
		{"kinds", Rule{Field: "kind", Names: []string{"clip", "document"}}, false, true},
		{"source", Rule{Field: "source", Names: []string{"upload"}}, true, false},
		{"camera", Rule{Field: "camera", Names: []string{"Tarn K2"}}, true, false},
		{"place", Rule{Field: "place", Names: []string{"Sandholm"}}, true, false},
		{"without place", Rule{Field: "place", Missing: true}, false, true},
		{"without camera", Rule{Field: "camera", Missing: true}, false, true},
		{"every word", Rule{Field: "words", Names: []string{"walk", "ost_04"}}, true, false},
		{"one word too many", Rule{Field: "words", Names: []string{"walk", "rain"}}, false, false},
		{"no words ask for nothing", Rule{Field: "words"}, true, true},
		{"stars from", Rule{Field: "stars", From: number(4)}, true, false},
		{"stars to", Rule{Field: "stars", To: number(3)}, false, true},
		{"bytes between", Rule{Field: "bytes", From: number(5_000_000), To: number(5_000_000)}, true, false},
		{"width", Rule{Field: "width", From: number(6001)}, false, false},
		{"height", Rule{Field: "height", From: number(4000)}, true, false},
		{"the longer side", Rule{Field: "longer", From: number(6000)}, true, false},
		{"taken on that day, to its last second", Rule{Field: "taken", Since: "2026-05-17", Until: "2026-05-17"}, true, false},
		{"taken before", Rule{Field: "taken", Until: "2026-05-16"}, false, false},
		{"dated", Rule{Field: "taken"}, true, false},
		{"undated", Rule{Field: "taken", Missing: true}, false, true},
		{"this year or undated", Rule{Field: "taken", Since: "2026-01-01", Missing: true}, true, true},
		{"added, by the day in UTC", Rule{Field: "added", Since: "2026-05-17", Until: "2026-05-17"}, true, false},
		{"keeper", Rule{Field: "keeper"}, true, false},
		{"prepared or sent out", Rule{Field: "state", Names: []string{"prepared", "sent"}}, true, true},
		{"changed since", Rule{Field: "state", Names: []string{"older"}}, false, true},
		{"lacks any of them", Rule{Field: "lacks", Names: []string{"title", "tags"}}, false, true},
		{"lacks nothing that is asked", Rule{Field: "lacks", Names: []string{"title"}}, false, false},
		{"rights end in 2026", Rule{Field: "rights", Since: "2026-01-01", Until: "2026-12-31"}, true, false},
		{"rights have an end", Rule{Field: "rights"}, true, false},
		{"rights without an end", Rule{Field: "rights", Missing: true}, false, true},
		{"in the bin", Rule{Field: "binned"}, false, true},
		{"behind a front", Rule{Field: "behind"}, false, true},
	}
	for _, c := range cases {
		require.NoError(t, c.rule.Check(), c.name)
		assert.Equal(t, c.full, c.rule.Matches(walk()), c.name)
		assert.Equal(t, c.bare, c.rule.Matches(bare), c.name+", of one that has nothing")
	}
}

func TestGroups(t *testing.T) {
	yes, no := Rule{Field: "keeper"}, Rule{Field: "binned"}
	cases := []struct {
		match string
		rules []Rule
		want  bool
	}{
		{All, []Rule{yes, yes}, true}, {All, []Rule{yes, no}, false}, {All, nil, true},
		{Any, []Rule{no, yes}, true}, {Any, []Rule{no, no}, false}, {Any, nil, false},
		{None, []Rule{no, no}, true}, {None, []Rule{no, yes}, false}, {None, nil, true},
	}
	for _, c := range cases {
		rule := Rule{Match: c.match, Rules: c.rules}
		assert.Equal(t, c.want, rule.Matches(walk()), "%s of %v", c.match, c.rules)
	}
}

func TestARuleThatSomebodySendsIsChecked(t *testing.T) {
	deep := Rule{Field: "keeper"}
	for range 8 {
		deep = Rule{Match: All, Rules: []Rule{deep}}
	}
	long := Rule{Match: Any}
	for range 300 {
		long.Rules = append(long.Rules, Rule{Field: "keeper"})
	}
	cases := map[string]Rule{
		"too long":              deep,
		"is too long":           long,
		`"some" is not a way`:   {Match: "some"},
		`"all" is not a way`:    {Match: All, Field: "keeper"},
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
	shown := func(q Query, change func(*Item)) bool {
		t.Helper()
		require.NoError(t, q.Check())
		it := walk()
		change(it)
		rule := q.Rule()
		return rule.Matches(it)
	}
	as := func(*Item) {}
	assert.True(t, shown(Query{Place: "everything"}, as))
	assert.False(t, shown(Query{Place: "everything"}, func(it *Item) { it.Binned = true }))
	assert.True(t, shown(Query{Place: "bin"}, func(it *Item) { it.Binned, it.Stars = true, -1 }), "the bin shows all of it")
	assert.False(t, shown(Query{Place: "everything"}, func(it *Item) { it.Stars = -1 }))
	assert.True(t, shown(Query{Place: "everything", Filter: Both(WithAside)}, func(it *Item) { it.Stars = -1 }))
	assert.True(t, shown(Query{Place: "album", ID: 30}, func(it *Item) { it.Stars, it.Behind = -1, true }),
		"an album is somebody's own pick")
	assert.False(t, shown(Query{Place: "folder", ID: 10}, func(it *Item) { it.Behind = true }))
	found := Both(Rule{Match: Any, Rules: []Rule{{Field: "words", Names: []string{"Harbour"}}}})
	assert.True(t, shown(Query{Place: "folder", ID: 10, Filter: found}, func(it *Item) { it.Stars, it.Behind = -1, true }),
		"a search looks everywhere")
	aside, leavesOut := (&Query{Place: "folder", ID: 10, Filter: Both(Rule{Field: "keeper"})}).Aside()
	assert.True(t, leavesOut)
	assert.True(t, shown(aside, func(it *Item) { it.Stars = -1 }))
	assert.False(t, shown(aside, as))
	_, leavesOut = (&Query{Place: "folder", ID: 10, Filter: found}).Aside()
	assert.False(t, leavesOut)
	assert.True(t, shown(Query{Place: "intake", ID: 60}, func(it *Item) { it.Behind = true }))
	assert.False(t, shown(Query{Place: "unfiled"}, as))
	assert.False(t, shown(Query{Place: "undescribed"}, as))
	assert.True(t, shown(Query{Place: "unchosen"}, func(it *Item) { it.Stars = 0 }))
	assert.True(t, shown(Query{Place: "everything", Filter: Both(Rule{Field: "keeper"})}, as))
	assert.False(t, shown(Query{Place: "everything", Filter: Both(Rule{Field: "aside"})}, as))
	minus := int64(-1)
	assert.True(t, shown(Query{Place: "everything", Filter: Both(Rule{Field: "stars", From: &minus, To: &minus})},
		func(it *Item) { it.Stars = -1 }), "who asks for stars below nothing gets them")
	assert.False(t, shown(Query{Place: "everything", Filter: Both(AtLeast(5))}, as))
	assert.True(t, shown(Query{Place: "everything", Filter: Both(Rule{Field: "kind", Names: []string{"picture"}},
		Rule{Field: "tag", IDs: []int64{40}}, Rule{Field: "source", Names: []string{"upload"}}, Rule{Field: "outlet", IDs: []int64{50}},
		Words(" HARBOUR  walk"))}, as))
	assert.False(t, shown(Query{Place: "everything", Filter: &Rule{Match: None, Rules: []Rule{{Field: "keeper"}}}}, as))
}

func TestWithinKeepsOutWhatLiesElsewhere(t *testing.T) {
	all := Rule{Match: All}
	for name, c := range map[string]struct {
		folders, albums []int64
		want            bool
	}{"nothing granted": {nil, nil, false}, "its folder": {[]int64{10}, nil, true}, "one of its albums": {nil, []int64{31}, true},
		"others": {[]int64{11}, []int64{32}, false}} {
		rule := Within(all, c.folders, c.albums)
		assert.Equal(t, c.want, rule.Matches(walk()), name)
	}
}

func TestNoneIsTheContraryOfAny(t *testing.T) {
	fields := []string{"keeper", "described", "binned", "behind", "stars", "taken", "words", "tag"}
	rapid.Check(t, func(rt *rapid.T) {
		var rules []Rule
		for range rapid.IntRange(0, 4).Draw(rt, "n") {
			rules = append(rules, Rule{Field: rapid.SampledFrom(fields).Draw(rt, "field")})
		}
		it := walk()
		it.Stars, it.Binned = rapid.IntRange(-1, 5).Draw(rt, "stars"), rapid.Bool().Draw(rt, "binned")
		either, neither := Rule{Match: Any, Rules: rules}, Rule{Match: None, Rules: rules}
		assert.NotEqual(rt, either.Matches(it), neither.Matches(it))
		if all := (Rule{Match: All, Rules: rules}); len(rules) > 0 && all.Matches(it) {
			assert.True(rt, either.Matches(it), "all of some is any of them")
		}
	})
}
