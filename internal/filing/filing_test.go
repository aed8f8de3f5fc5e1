package filing_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

var ctx = context.Background()

// cabinet is a brand with the folders "Shoots/2025/May" and "Brand", and the ids of those by name.
func cabinet(t *testing.T) (*filing.Service, map[access.Role]*access.Viewer, map[string]int64) {
	t.Helper()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "cabinet")
	many, jobs := piecestest.New(t, db)
	s := filing.New(db, nil, many, jobs)
	_, err := s.Create(ctx, people[access.Coordinator], 0, "Shoots/2025/May")
	require.NoError(t, err)
	_, err = s.Create(ctx, people[access.Coordinator], 0, "Brand")
	require.NoError(t, err)
	for role, v := range people {
		people[role] = storetest.See(t, db, v.Person, "cabinet")
	}
	ids := map[string]int64{}
	folders, err := s.Folders(ctx, people[access.Coordinator])
	require.NoError(t, err)
	for _, f := range folders {
		ids[f.Name] = f.ID
	}
	return s, people, ids
}

func counts(t *testing.T, s *filing.Service, v *access.Viewer) map[string][2]int {
	t.Helper()
	folders, err := s.Folders(ctx, v)
	require.NoError(t, err)
	out := map[string][2]int{}
	for _, f := range folders {
		out[f.Name] = [2]int{f.Own, f.Below}
	}
	return out
}

func TestCountsOfItselfAndWithEverythingBelow(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	storetest.Items(t, s.DB, v, ids["May"], "a.jpg", "b.jpg")
	storetest.Items(t, s.DB, v, ids["Shoots"], "c.jpg")
	gone := storetest.Items(t, s.DB, v, ids["May"], "gone.jpg")
	_, err := s.Bin(ctx, v, query.Selection{IDs: gone})
	require.NoError(t, err)
	assert.Equal(t, map[string][2]int{"Shoots": {1, 3}, "2025": {0, 2}, "May": {2, 2}, "Brand": {0, 0}}, counts(t, s, v))
}

func TestAGrantShowsWhatItIsForAndNothingElse(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	guest := people[access.Associate]
	storetest.Items(t, s.DB, v, ids["Shoots"], "hidden.jpg")
	storetest.Items(t, s.DB, v, ids["May"], "shown.jpg")
	require.NoError(t, s.DB.InTx(ctx, func(tx *store.Tx) error {
		return peoplestore.AddGrant(ctx, tx, v.Brand, guest.Person, access.Grant{Folder: ids["May"], Level: access.LevelContribute})
	}))
	guest = storetest.See(t, s.DB, guest.Person, "cabinet")
	assert.Equal(t, map[string][2]int{"May": {1, 1}}, counts(t, s, guest), "of what is above not even the name")
	folders, err := s.Folders(ctx, guest)
	require.NoError(t, err)
	for _, f := range folders {
		assert.Nil(t, f.May, "in May as everywhere")
		assert.False(t, f.Parent.Valid)
	}
	_, err = s.Create(ctx, guest, ids["2025"], "June")
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
	_, err = s.Create(ctx, guest, ids["May"], "Second week")
	require.NoError(t, err)
}

func TestAFolderCannotGoIntoItself(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	for _, into := range []int64{ids["Shoots"], ids["May"]} {
		_, err := s.Change(ctx, v, ids["Shoots"], filing.Change{Move: true, Parent: into})
		var invalid *fault.Invalid
		require.ErrorAs(t, err, &invalid)
		assert.Equal(t, "parent", invalid.Field)
	}
	done, err := s.Change(ctx, v, ids["May"], filing.Change{Move: true, Parent: ids["Brand"]})
	require.NoError(t, err)
	assert.Equal(t, "Moved the folder “May” to “Brand”", done.Said)
	done, err = s.Change(ctx, v, ids["May"], filing.Change{Move: true})
	require.NoError(t, err)
	assert.Equal(t, "Moved the folder “May” to the top level", done.Said)
}

func TestRenamingAndItsLimits(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	name := func(n string) *string { return &n }
	for bad, says := range map[string]string{"": "one name", "a/b": "one name", "SHOOTS": "already", "..": "one name"} {
		_, err := s.Change(ctx, v, ids["Brand"], filing.Change{Name: name(bad)})
		assert.ErrorContains(t, err, says, bad)
	}
	done, err := s.Change(ctx, v, ids["Brand"], filing.Change{Name: name("  Our   brand\u202e ")})
	require.NoError(t, err)
	assert.Equal(t, "Renamed the folder “Brand” to “Our brand”", done.Said)
	done, err = s.Change(ctx, v, ids["Brand"], filing.Change{Name: name("Our brand")})
	require.NoError(t, err)
	assert.Zero(t, done.Trail, "the same name is no change")
	_, err = s.Change(ctx, v, 99999, filing.Change{Name: name("x")})
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing)
}

func TestRemovingAFolderDeletesNothing(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, ids["May"], "a.jpg", "b.jpg")
	done, err := s.Remove(ctx, v, ids["May"])
	require.NoError(t, err)
	assert.Equal(t, "Removed the folder “May”; 2 items moved to “2025”", done.Said)
	storetest.Items(t, s.DB, v, ids["Brand"], "c.jpg")
	done, err = s.Remove(ctx, v, ids["Brand"])
	require.NoError(t, err)
	assert.Equal(t, "Removed the folder “Brand”; 1 item moved to Unfiled", done.Said)
	rows, err := findstore.Rows(ctx, s.DB, v, items)
	require.NoError(t, err)
	assert.Len(t, rows, 2)
	_, err = s.Remove(ctx, people[access.Reviewer], ids["Shoots"])
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
}

func TestMovingSaysHowManyAndWhere(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, 0, "a.jpg", "b.jpg", "c.jpg")
	done, err := s.Move(ctx, v, query.Selection{IDs: append(items, items[0])}, ids["May"])
	require.NoError(t, err)
	assert.Equal(t, store.Done{Said: "Moved 3 items to May", Changed: 3, Trail: done.Trail}, done, "one that is named twice counts once")
	done, err = s.Move(ctx, v, query.Selection{IDs: items[:1]}, ids["May"])
	require.NoError(t, err)
	assert.Equal(t, "Already in May", done.Said)
	done, err = s.Move(ctx, v, query.Selection{Everything: &query.Query{Place: "folder", ID: ids["May"]}, Except: items[2:]}, 0)
	require.NoError(t, err)
	assert.Equal(t, "Moved 2 items to Unfiled", done.Said)
	for _, sel := range []query.Selection{{}, {IDs: []int64{424242}}} {
		_, err = s.Move(ctx, v, sel, ids["May"])
		require.Error(t, err)
	}
	_, err = s.Move(ctx, v, query.Selection{IDs: items}, 424242)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing, "a folder that is not there")
}

func TestTheBinGivesBack(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, ids["May"], "a.jpg", "b.jpg")
	done, err := s.Bin(ctx, v, query.Selection{IDs: items})
	require.NoError(t, err)
	assert.Equal(t, "Put 2 items in the bin", done.Said)
	assert.Equal(t, [2]int{0, 0}, counts(t, s, v)["May"])
	done, err = s.Restore(ctx, v, query.Selection{IDs: items[:1]})
	require.NoError(t, err)
	assert.Equal(t, "Put 1 item back from the bin", done.Said)
	assert.Equal(t, [2]int{1, 1}, counts(t, s, v)["May"], "where it was")
	_, err = s.Bin(ctx, people[access.Reviewer], query.Selection{IDs: items[:1]})
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
}
