package describing_test

import (
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/undostore"
)

// book is a brand with tags to be kept in order.
type book struct {
	t   *testing.T
	db  *store.DB
	s   *describing.Service
	v   *access.Viewer
	ids []int64
}

func newBook(t *testing.T, name string, items int) book {
	db := storetest.New(t)
	v := storetest.Brand(t, db, name)[access.Coordinator]
	many, _ := piecestest.New(t, db)
	names := make([]string, items)
	for i := range names {
		names[i] = fmt.Sprintf("%d.jpg", i)
	}
	return book{t, db, describing.New(db, many, nil, jobsOf(db)), v, storetest.Items(t, db, v, 0, names...)}
}

// tag tags some items and returns the id of the tag.
func (b book) tag(name string, ids ...int64) int64 {
	b.t.Helper()
	_, err := b.s.Tag(ctx, b.v, query.Selection{IDs: ids}, name, nil)
	require.NoError(b.t, err)
	id, err := tagstore.TagNamed(ctx, b.db, b.v.Brand, name)
	require.NoError(b.t, err)
	return id
}

// on says on how many items each tag is, by name.
func (b book) on() map[string]int {
	b.t.Helper()
	all, err := b.s.Tags(ctx, b.v)
	require.NoError(b.t, err)
	out := map[string]int{}
	for _, t := range all {
		out[t.Name] = t.Uses
	}
	return out
}

func TestATagIsRenamedMergedAndFoundByItsOtherSpelling(t *testing.T) {
	b := newBook(t, "book", 3)
	kite := b.tag("Kite", b.ids[:2]...)
	drake := b.tag("Drake", b.ids[1:]...)
	_, err := b.s.Rename(ctx, b.v, drake, "kite", false)
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, "There is a tag “Kite” already, on 2 items.", conflict.Text)
	merged, err := b.s.Rename(ctx, b.v, drake, "kite", true)
	require.NoError(t, err)
	assert.Equal(t, "Merged “Drake” into “Kite” on 2 items", merged.Said)
	assert.Equal(t, map[string]int{"Kite": 3}, b.on(), "once on each")
	assert.Equal(t, kite, b.tag("drake", b.ids[0]), "the other spelling leads to it")
	found, err := findstore.Find(b.db).IDs(ctx, b.v, query.Query{Place: "everything", Filter: query.Both(query.Words("drake"))})
	require.NoError(t, err)
	assert.Len(t, found, 3, "and finds what has it")

	_, err = b.s.Merge(ctx, b.v, kite, []int64{kite})
	require.ErrorContains(t, err, "into itself")
	swapped, err := b.s.Rename(ctx, b.v, kite, "Drake", false)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Drake": 3}, b.on())
	assert.Equal(t, kite, b.tag("KITE", b.ids[0]), "the name before is the other spelling now")
	spelt, err := b.s.Spell(ctx, b.v, kite, "Flier")
	require.NoError(t, err)
	assert.Equal(t, kite, b.tag("flier", b.ids[0]))
	_, err = b.s.Spell(ctx, b.v, kite, "Wind")
	require.NoError(t, err)
	wind, err := b.s.Spellings(ctx, b.v)
	require.NoError(t, err)
	last := wind[len(wind)-1]
	assert.Equal(t, "Wind", last.Name)
	_, err = b.s.Unspell(ctx, b.v, last.ID)
	require.NoError(t, err)
	assert.NotEqual(t, kite, b.tag("Wind", b.ids[0]), "free for a tag of its own")
	_, err = b.s.Spell(ctx, b.v, kite, "wind")
	require.ErrorContains(t, err, "Merge that one")
	_, err = b.s.Remove(ctx, b.v, []int64{b.tag("Wind", b.ids[0])})
	require.NoError(t, err)
	for _, step := range []int64{spelt.Trail, swapped.Trail, merged.Trail} {
		_, err = undostore.Undo(ctx, b.db, b.v, step)
		require.NoError(t, err)
	}
	assert.Equal(t, map[string]int{"Kite": 2, "Drake": 2}, b.on())
}

func TestTagsAreRemovedAndTidied(t *testing.T) {
	b := newBook(t, "tidy", 2)
	wind := b.tag("Wind", b.ids...)
	b.tag("Sun", b.ids[0])
	removed, err := b.s.Remove(ctx, b.v, []int64{wind})
	require.NoError(t, err)
	assert.Equal(t, "Removed the tag “Wind” on 2 items", removed.Said)
	assert.Equal(t, map[string]int{"Sun": 1}, b.on())
	again := b.tag("Wind", b.ids[1])
	assert.NotEqual(t, wind, again, "its name is free")
	_, err = undostore.Undo(ctx, b.db, b.v, removed.Trail)
	require.ErrorAs(t, err, new(*fault.Conflict), "and taken now")
	_, err = b.s.Tag(ctx, b.v, query.Selection{IDs: b.ids}, "", []int64{again})
	require.NoError(t, err)
	tidied, err := b.s.Tidy(ctx, b.v)
	require.NoError(t, err)
	assert.Equal(t, "Removed 1 tag that was on nothing", tidied.Said)
	_, err = undostore.Undo(ctx, b.db, b.v, removed.Trail)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Sun": 1, "Wind": 2}, b.on())
	_, err = b.s.Remove(ctx, b.v, []int64{wind, 987654})
	require.ErrorContains(t, err, "not there any more")
}

func TestGroupsAreMadeClosedAndRemoved(t *testing.T) {
	b := newBook(t, "groups", 1)
	wind := b.tag("Wind", b.ids...)
	moved, err := b.s.Group(ctx, b.v, []int64{wind}, "Weather")
	require.NoError(t, err)
	assert.Equal(t, "Moved 1 tag to the group “Weather”", moved.Said)
	groups, err := b.s.Groups(ctx, b.v)
	require.NoError(t, err)
	require.Equal(t, "Weather", groups[0].Name)
	assert.Equal(t, 1, groups[0].Tags)
	closed, err := b.s.ChangeGroup(ctx, b.v, groups[0].ID, "Weather", true)
	require.NoError(t, err)
	assert.Contains(t, closed.Said, "Closed the group")
	groups, err = b.s.Groups(ctx, b.v)
	require.NoError(t, err)
	assert.True(t, groups[0].Closed)
	kept, err := b.s.KeptTag(ctx, b.v, wind)
	require.NoError(t, err)
	assert.Equal(t, tagstore.KeptTag{ID: wind, Name: "Wind", Group: "Weather", Items: 1}, kept)
	gone, err := b.s.RemoveGroup(ctx, b.v, groups[0].ID)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Wind": 1}, b.on(), "its tags stay")
	for _, step := range []int64{gone.Trail, closed.Trail, moved.Trail} {
		_, err = undostore.Undo(ctx, b.db, b.v, step)
		require.NoError(t, err)
	}
	kept, err = b.s.KeptTag(ctx, b.v, wind)
	require.NoError(t, err)
	assert.Empty(t, kept.Group)
}

// TestTwoPeopleRenameOneTag at once: the name that stays is one of theirs, and neither gets an error that says nothing.
func TestTwoPeopleRenameOneTag(t *testing.T) {
	b := newBook(t, "race", 1)
	wind, sun := b.tag("Wind", b.ids...), b.tag("Sun", b.ids...)
	var both sync.WaitGroup
	errs := make([]error, 2)
	for i, id := range []int64{wind, sun} {
		both.Go(func() { _, errs[i] = b.s.Rename(ctx, b.v, id, "Weather", false) })
	}
	both.Wait()
	failed := 0
	for _, err := range errs {
		if err != nil {
			require.ErrorAs(t, err, new(*fault.Conflict))
			failed++
		}
	}
	assert.Equal(t, 1, failed)
	assert.Equal(t, 1, b.on()["Weather"])
}

// TestMergingNeverLosesOrDoubles merges and takes back at random, and compares what is on what with sets.
func TestMergingNeverLosesOrDoubles(t *testing.T) {
	b := newBook(t, "merging", 6)
	round := 0
	rapid.Check(t, func(r *rapid.T) {
		round++
		has := map[int64]map[int64]bool{}
		var tags []int64
		for i := range 4 {
			some := rapid.SliceOfNDistinct(rapid.SampledFrom(b.ids), 1, 6, rapid.ID).Draw(r, "items")
			id := b.tag(fmt.Sprintf("r%d t%d", round, i), some...)
			tags = append(tags, id)
			has[id] = map[int64]bool{}
			for _, item := range some {
				has[id][item] = true
			}
		}
		from := rapid.SliceOfNDistinct(rapid.SampledFrom(tags[1:]), 1, 3, rapid.ID).Draw(r, "from")
		done, err := b.s.Merge(ctx, b.v, tags[0], from)
		require.NoError(r, err)
		want := map[int64]bool{}
		for _, id := range append(from, tags[0]) {
			for item := range has[id] {
				want[item] = true
			}
		}
		now, err := tagstore.TaggedWith(ctx, b.db, b.v.Brand, tags[:1])
		require.NoError(r, err)
		require.Len(r, now, len(want))
		if rapid.Bool().Draw(r, "back") {
			_, err = undostore.Undo(ctx, b.db, b.v, done.Trail)
			require.NoError(r, err)
			for _, id := range tags {
				now, err := tagstore.TaggedWith(ctx, b.db, b.v.Brand, []int64{id})
				require.NoError(r, err)
				require.Len(r, now, len(has[id]))
			}
		}
	})
}
