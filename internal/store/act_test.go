package store_test

import (
	"context"
	"errors"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/internal/store/wordstore"
)

var ctx = context.Background()

func folderOf(t *testing.T, db *store.DB, v *access.Viewer, id int64) int64 {
	t.Helper()
	a, err := assetstore.AssetByID(ctx, db, v, id)
	require.NoError(t, err)
	return a.Folder.Int64
}

func TestUndoPutsBackWhatAnActionChanged(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "undo")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	var folder int64
	made := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		var err error
		folder, err = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Harbour")
		return 1, err
	})
	moved := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return assetstore.MoveAssets(ctx, tx, ids, folder) })
	assert.Equal(t, 3, moved.Changed)

	_, err := undostore.Undo(ctx, db, v, made.Trail)
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict, "the folder has things in it by now")

	undone, err := undostore.Undo(ctx, db, v, moved.Trail)
	require.NoError(t, err)
	assert.Equal(t, 3, undone.Changed)
	assert.Zero(t, folderOf(t, db, v, ids[0]))

	_, err = undostore.Undo(ctx, db, v, moved.Trail)
	require.ErrorAs(t, err, &conflict, "once only")

	_, err = undostore.Undo(ctx, db, v, undone.Trail)
	require.NoError(t, err, "an undo can be undone")
	assert.Equal(t, folder, folderOf(t, db, v, ids[0]))
}

// TestWhatWasUndoneIsDoneAgain and again undone; and what a machine did is the trail's, not the person's.
func TestWhatWasUndoneIsDoneAgain(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "again")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	ctx := store.ByAgent(context.Background(), "The loader")
	step, err := db.Act(ctx, v, "rate", func(tx *store.Tx) (store.Done, error) {
		n, err := assetstore.RateAssets(ctx, tx, v, ids, 4)
		return store.Done{Said: "Gave 2 items 4 ★", Changed: n}, err
	})
	require.NoError(t, err)
	ctx = context.Background()
	for _, said := range []string{"Undone: gave 2 items 4 ★", "Done again: gave 2 items 4 ★", "Undone: gave 2 items 4 ★"} {
		step, err = undostore.Undo(ctx, db, v, step.Trail)
		require.NoError(t, err)
		assert.Equal(t, said, step.Said)
		var stars []int
		require.NoError(t, storetest.SQL(db).Select(&stars, `select stars from asset where id = any($1)`, ids))
		assert.Equal(t, map[bool][]int{true: {4, 4}, false: {0, 0}}[strings.HasPrefix(said, "Done")], stars)
	}
	trail, err := store.Trail(ctx, db, v.Brand, store.TrailFilter{Limit: 10})
	require.NoError(t, err)
	require.Len(t, trail, 4)
	assert.Equal(t, []bool{true, false, false, false}, []bool{trail[0].Can, trail[1].Can, trail[2].Can, trail[3].Can},
		"what was taken back is no step to take back; taking it back is, once more, and not by a key")
	byKey, err := store.Trail(ctx, db, v.Brand, store.TrailFilter{Limit: 10, Can: true})
	require.NoError(t, err)
	assert.Empty(t, byKey)
	assert.Equal(t, "The loader", trail[3].By)
	assert.Equal(t, "The loader", trail[3].Agent)
	assert.Equal(t, "The coordinator", trail[0].By)
}

func TestUndoRefusesWhereSomebodyChangedTheThingSince(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "since")
	mine, theirs := people[access.Reviewer], people[access.Coordinator]
	ids := storetest.Items(t, db, mine, 0, "a.jpg", "b.jpg")
	rated := storetest.Act(t, db, mine, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, mine, ids, 3) })
	storetest.Act(t, db, theirs, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, theirs, ids[1:], 5) })

	_, err := undostore.Undo(ctx, db, mine, rated.Trail)
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, "The coordinator", conflict.By)
	a, err := assetstore.AssetByID(ctx, db, mine, ids[0])
	require.NoError(t, err)
	assert.Equal(t, 3, a.Stars, "nothing was touched")

	other := storetest.Act(t, db, theirs, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, theirs, ids, 1) })
	_, err = undostore.Undo(ctx, db, mine, other.Trail)
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden, "a reviewer undoes only their own")
}

func TestAnActionThatChangedNothingLeavesNoTrail(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "nothing")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg")
	done := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, v, ids, 0) })
	assert.Zero(t, done.Trail)
	trail, err := store.Trail(ctx, db, v.Brand, store.TrailFilter{Limit: 10})
	require.NoError(t, err)
	assert.Empty(t, trail)
}

func TestUndoOfRemovingAFolderBringsEverythingBack(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "remove")[access.Coordinator]
	var top, inner, deep int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		top, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Top")
		inner, _ = folderstore.AddFolder(ctx, tx, v.Brand, top, "Inner")
		deep, err = folderstore.AddFolder(ctx, tx, v.Brand, inner, "Deep")
		return err
	}))
	ids := storetest.Items(t, db, v, inner, "a.jpg", "b.jpg")
	before, err := folderstore.FolderByID(ctx, db, v.Brand, inner)
	require.NoError(t, err)
	removed := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		items, folders, err := folderstore.RemoveFolder(ctx, tx, inner, top)
		assert.Equal(t, 2, items)
		assert.Equal(t, 1, folders)
		return 1, err
	})
	assert.Equal(t, top, folderOf(t, db, v, ids[0]), "items move up")
	_, err = undostore.Undo(ctx, db, v, removed.Trail)
	require.NoError(t, err)
	assert.Equal(t, inner, folderOf(t, db, v, ids[1]))
	after, err := folderstore.FolderByID(ctx, db, v.Brand, inner)
	require.NoError(t, err)
	assert.Equal(t, before, after, "with the same id and code")
	d, err := folderstore.FolderByID(ctx, db, v.Brand, deep)
	require.NoError(t, err)
	assert.Equal(t, inner, d.Parent.Int64)
}

func TestSiblingsCannotShareAName(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "names")[access.Coordinator]
	err := db.InTx(ctx, func(tx *store.Tx) error {
		if _, err := folderstore.AddFolder(ctx, tx, v.Brand, 0, "Été"); err != nil {
			return err
		}
		_, err := folderstore.AddFolder(ctx, tx, v.Brand, 0, "e\u0301TE\u0301")
		return err
	})
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid, "case and Unicode form are ignored")
	assert.Equal(t, "name", invalid.Field)
}

func TestDescribingTellsWhoChangedTheSameField(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "stale")
	mine, theirs := people[access.Coordinator], people[access.Steward]
	id := storetest.Items(t, db, mine, 0, "a.jpg")[0]
	describe := func(v *access.Viewer, d wordstore.Description) error {
		_, err := db.Act(ctx, v, "describe", func(tx *store.Tx) (store.Done, error) {
			n, err := wordstore.Describe(ctx, tx, id, d)
			return store.Done{Said: "x", Changed: n}, err
		})
		return err
	}
	seen, err := assetstore.AssetByID(ctx, db, mine, id)
	require.NoError(t, err)
	require.NoError(t, describe(theirs, wordstore.Description{Revision: seen.Revision, Words: map[string]string{"title": "Theirs"}}))

	require.NoError(t, describe(mine, wordstore.Description{Revision: seen.Revision, Words: map[string]string{"alt": "Another field"}}),
		"other fields do not matter")
	err = describe(mine, wordstore.Description{Revision: seen.Revision, Words: map[string]string{"title": "Mine"}})
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict)
	assert.Equal(t, fault.Conflict{Text: "The steward changed the title meanwhile.", Field: "title", Mine: "Mine", Theirs: "Theirs",
		By: "The steward"}, *conflict)

	err = describe(mine, wordstore.Description{Revision: 999, Words: map[string]string{"title": "Mine"}})
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid, "a revision that does not exist")
}

// TestTheTrailKeepsWhatDiffersInEachRow changes several columns of several items in one statement, not the same in each.
func TestTheTrailKeepsWhatDiffersInEachRow(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "rows")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, v, ids[:1], 4) })
	done := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		_, err := tx.ExecContext(ctx, `update asset set stars = 4, title = case when id = $1 then title else 'Renamed' end where id = any($2)`,
			ids[2], ids)
		return 3, err
	})
	var kept []struct{ Key, Before, After string }
	require.NoError(
		t,
		storetest.SQL(db).Select(&kept, `select key ->> 'id' as key, before::text, after::text from trail_change where trail_id = $1
		order by key`, done.Trail),
	)
	require.Len(t, kept, 3)
	assert.JSONEq(t, `{"title": ""}`, kept[0].Before, "its stars were the same")
	assert.JSONEq(t, `{"title": "Renamed", "stars": 4}`, kept[1].After)
	assert.JSONEq(t, `{"stars": 0}`, kept[2].Before, "its title stayed")
	unchanged := storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		_, err := tx.ExecContext(ctx, `update asset set stars = 4 where id = any($1)`, ids)
		return 3, err
	})
	var n int
	require.NoError(t, storetest.SQL(db).Get(&n, `select count(*) from trail_change where trail_id = $1`, unchanged.Trail))
	assert.Zero(t, n, "what changes nothing leaves nothing to undo")
	_, err := undostore.Undo(ctx, db, v, done.Trail)
	require.NoError(t, err)
	var titles, stars []string
	require.NoError(t, storetest.SQL(db).Select(&titles, `select title from asset where brand_id = $1 order by id`, v.Brand))
	require.NoError(t, storetest.SQL(db).Select(&stars, `select stars from asset where brand_id = $1 order by id`, v.Brand))
	assert.Equal(t, []string{"", "", ""}, titles)
	assert.Equal(t, []string{"4", "0", "0"}, stars)
}

// TestWordsAreFoundAfterTheyChange derives what is searched in and sorted by when one of its sources changes.
func TestWordsAreFoundAfterTheyChange(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "words")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "Été 2.jpg")
	derived := func() (search, name string) {
		require.NoError(t, storetest.SQL(db).QueryRow(`select search, name_key from asset where id = $1`, ids[0]).Scan(&search, &name))
		return search, name
	}
	search, name := derived()
	assert.Contains(t, search, "ete 2")
	assert.Contains(t, name, "000000000000000000000002", "so that 2 sorts before 10")
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return assetstore.RateAssets(ctx, tx, v, ids, 3) })
	again, same := derived()
	assert.Equal(t, []string{search, name}, []string{again, same}, "stars are neither")
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		_, err := tx.ExecContext(ctx, `update asset set title = 'Harbour', place = 'Brill' where id = $1`, ids[0])
		return 1, err
	})
	search, name = derived()
	assert.Contains(t, search, "harbour")
	assert.Contains(t, search, "brill")
	assert.Equal(t, "harbour", name)
}

// TestWhoeverDescribesKeepsNobodyFromReferring: while the words of an item are written, others may still make rows that refer to
// it, such as possible duplicates. Waiting for each other they would lock up.
func TestWhoeverDescribesKeepsNobodyFromReferring(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "referring")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	_, err := db.Act(ctx, v, "describe", func(tx *store.Tx) (store.Done, error) {
		n, err := wordstore.Describe(ctx, tx, ids[0], wordstore.Description{Revision: 1, Words: map[string]string{"title": "Kite"}})
		require.NoError(t, err)
		soon, cancel := context.WithTimeout(ctx, 20*time.Second)
		defer cancel()
		_, err = db.ExecContext(soon, `insert into twin (brand_id, asset_id, other_id, distance) values ($1, $2, $3, 3)`, v.Brand, ids[1], ids[0])
		return store.Done{Said: "x", Changed: n}, err
	})
	require.NoError(t, err)
}

// TestTransactionsInACircleAreDoneAgain: two that lock the same items in opposite orders both come through, each with what it did once.
func TestTransactionsInACircleAreDoneAgain(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "circle")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	var wait sync.WaitGroup
	var met sync.WaitGroup
	met.Add(2)
	runs := [2]int{}
	for i, order := range [][]int64{{ids[0], ids[1]}, {ids[1], ids[0]}} {
		wait.Go(func() {
			assert.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
				runs[i]++
				for n, id := range order {
					if _, err := tx.ExecContext(ctx, `update asset set stars = stars + 1 where id = $1`, id); err != nil {
						return err
					}
					if n == 0 && runs[i] == 1 {
						met.Done()
						met.Wait()
					}
				}
				return nil
			}))
		})
	}
	wait.Wait()
	assert.GreaterOrEqual(t, runs[0]+runs[1], 3, "one of them was done again, or more often")
	var stars []int
	require.NoError(t, storetest.SQL(db).Select(&stars, `select stars from asset order by id`))
	assert.Equal(t, []int{2, 2}, stars)
	assert.False(t, store.Contended(errors.New("another fault")))
}
