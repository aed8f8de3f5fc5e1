package filing_test

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/renditionstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

func many(t *testing.T, n int) (*house.House, *access.Viewer, []int64) {
	t.Helper()
	h := housetest.New(t, "filing_many")
	v := storetest.Brand(t, h.DB, "many")[access.Coordinator]
	storetest.Library(t, h.DB, v.Brand, v.Person, n)
	require.NoError(t, h.Index.Load(ctx, v.Brand))
	v = storetest.See(t, h.DB, v.Person, "many")
	ids, err := findstore.Find(h.DB).IDs(ctx, v, query.Query{Place: "everything", Filter: query.Both(query.WithAside)})
	require.NoError(t, err)
	return h, v, ids
}

// settled waits until no change of many items goes on, and returns the last one.
func settled(t *testing.T, h *house.House, v *access.Viewer) undostore.Bulk {
	t.Helper()
	var last undostore.Bulk
	require.Eventually(t, func() bool {
		list, err := h.Pieces.Open(ctx, v)
		require.NoError(t, err)
		require.NotEmpty(t, list)
		last = list[len(list)-1]
		return last.Finished != nil
	}, 30*time.Second, 10*time.Millisecond)
	return last
}

func TestMovingManyGoesInPiecesAndIsUndoneAsOne(t *testing.T) {
	h, v, ids := many(t, 3000)
	require.NoError(t, h.Work(ctx))
	where := func(folder int64) int {
		got, err := findstore.Find(h.DB).IDs(ctx, v, query.Query{Place: "folder", ID: folder, Filter: query.Both(query.WithAside)})
		require.NoError(t, err)
		return len(got)
	}
	before := where(2)
	everything := query.Selection{Everything: &query.Query{Place: "everything", Filter: query.Both(query.WithAside)}, Except: ids[:10]}
	done, err := h.Filing.Move(ctx, v, everything, 1)
	require.NoError(t, err)
	assert.Contains(t, done.Said, "Moving ")
	bulk := settled(t, h, v)
	assert.Empty(t, bulk.Failed)
	assert.Equal(t, len(ids)-10, bulk.Total)
	assert.Contains(t, bulk.Said, "Moved ")
	assert.GreaterOrEqual(t, where(1), len(ids)-10)
	undone, err := h.Upkeep.Undo(ctx, v, done.Trail)
	require.NoError(t, err)
	assert.Contains(t, undone.Said, "Undoing: moved")
	bulk = settled(t, h, v)
	assert.Empty(t, bulk.Failed)
	assert.Equal(t, before, where(2))
	_, err = h.Upkeep.Undo(ctx, v, done.Trail)
	require.ErrorContains(t, err, "undone already")
}

func TestUndoOfManyRefusesWhenSomebodyChangedOne(t *testing.T) {
	h, v, ids := many(t, 1500)
	require.NoError(t, h.Work(ctx))
	done, err := h.Filing.Move(ctx, v, query.Selection{IDs: ids}, 1)
	require.NoError(t, err)
	settled(t, h, v)
	_, err = h.Filing.Move(ctx, v, query.Selection{IDs: ids[700:701]}, 3)
	require.NoError(t, err)
	_, err = h.Upkeep.Undo(ctx, v, done.Trail)
	require.NoError(t, err)
	bulk := settled(t, h, v)
	assert.Contains(t, bulk.Failed, "has changed it since")
	got, err := findstore.Find(h.DB).IDs(ctx, v, query.Query{Place: "folder", ID: 1, Filter: query.Both(query.WithAside)})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(got), len(ids)-1, "all or nothing")
}

func TestMovingManyIntoAFolderThatGoes(t *testing.T) {
	h, v, ids := many(t, 1500)
	made, err := h.Filing.Create(ctx, v, 0, "Soon gone")
	require.NoError(t, err)
	v = storetest.See(t, h.DB, v.Person, "many")
	_, err = h.Filing.Move(ctx, v, query.Selection{IDs: ids}, made.ID)
	require.NoError(t, err)
	_, err = h.Filing.Remove(ctx, v, made.ID)
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	bulk := settled(t, h, v)
	assert.Contains(t, bulk.Failed, "has been removed")
	assert.Contains(t, bulk.Said, "Nothing was changed")
}

func TestWhoGainsByAMoveIsToldOnce(t *testing.T) {
	s, people, ids := cabinet(t)
	v, guest := people[access.Coordinator], people[access.Associate]
	require.NoError(t, s.DB.InTx(ctx, func(tx *store.Tx) error {
		return peoplestore.AddGrant(ctx, tx, v.Brand, guest.Person, access.Grant{Folder: ids["Shoots"], Level: access.LevelLook})
	}))
	sel := query.Selection{IDs: storetest.Items(t, s.DB, v, 0, "a.jpg", "b.jpg")}
	a, err := s.Widens(ctx, v, sel, ids["May"])
	require.NoError(t, err)
	assert.Equal(t, filing.Audience{Gains: []string{"The associate (associate)"}, Items: 2}, a)
	require.NoError(t, s.Tell(ctx, v, ids["May"], a))
	a, err = s.Widens(ctx, v, sel, ids["May"])
	require.NoError(t, err)
	assert.True(t, a.Told)
	a, err = s.Widens(ctx, v, sel, ids["Brand"])
	require.NoError(t, err)
	assert.Empty(t, a.Gains)
	_, err = s.Move(ctx, v, sel, ids["May"])
	require.NoError(t, err)
	a, err = s.Widens(ctx, v, sel, ids["2025"])
	require.NoError(t, err)
	assert.Empty(t, a.Gains, "they could see it before")
}

func TestASecondItemOnTheSameBytes(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	one := storetest.Items(t, s.DB, v, ids["May"], "a.jpg")
	done, err := s.Copy(ctx, v, query.Selection{IDs: one}, ids["Brand"])
	require.NoError(t, err)
	assert.Contains(t, done.Said, "Copied 1 item to Brand. No second file is stored")
	copies, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "folder", ID: ids["Brand"]})
	require.NoError(t, err)
	require.Len(t, copies, 1)
	both, err := assetstore.AssetsIn(ctx, s.DB, v.Brand, []int64{one[0], copies[0]})
	require.NoError(t, err)
	assert.Equal(t, both[0].SHA256, both[1].SHA256)
	assert.NotEqual(t, both[0].Code, both[1].Code)
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, [2]int{0, 0}, counts(t, s, v)["Brand"])
	assert.Equal(t, [2]int{1, 1}, counts(t, s, v)["May"])
}

func TestFilingByDate(t *testing.T) {
	s, people, _ := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, 0, "a.jpg", "b.jpg", "c.jpg", "d.jpg")
	for i, taken := range []string{"2025-05-03 10:00", "2025-05-03 12:00", "2026-01-09 09:00"} {
		_, err := storetest.SQL(s.DB).Exec(`update asset set captured_at = $2, title = 'Harbour walk ' || id where id = $1`, items[i], taken)
		require.NoError(t, err)
	}
	unfiled := query.Selection{Everything: &query.Query{Place: "unfiled"}}
	found, err := s.ByDate(ctx, v, unfiled, 6*time.Hour)
	require.NoError(t, err)
	require.Len(t, found.Shoots, 2)
	assert.Equal(t, items[3:], found.Undated)
	named := []filing.NamedShoot{}
	for _, shoot := range found.Shoots {
		_, name := shoot.Folder()
		named = append(named, filing.NamedShoot{First: shoot.First, Items: len(shoot.IDs), Name: name})
	}
	_, err = s.FileByDate(ctx, v, unfiled, 6*time.Hour, 0, named[:1])
	require.ErrorContains(t, err, "others now")
	done, err := s.FileByDate(ctx, v, unfiled, 6*time.Hour, 0, named)
	require.NoError(t, err)
	assert.Equal(t, "Filed 3 items by date into 2 folders", done.Said)
	got := counts(t, s, storetest.See(t, s.DB, v.Person, "cabinet"))
	assert.Equal(t, [2]int{2, 2}, got["2025-05-03 Harbour walk"])
	assert.Equal(t, [2]int{0, 1}, got["2026"])
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.NotContains(t, counts(t, s, v), "2026")
}

func TestStacks(t *testing.T) {
	s, people, ids := cabinet(t)
	v := people[access.Coordinator]
	items := storetest.Items(t, s.DB, v, ids["May"], "a.raw", "a.jpg", "b.jpg")
	shown := func() []int64 {
		got, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "folder", ID: ids["May"], Sort: "name"})
		require.NoError(t, err)
		return got
	}
	_, err := s.Stack(ctx, v, query.Selection{IDs: items[:1]}, 0)
	require.ErrorContains(t, err, "two items or more")
	_, err = s.Stack(ctx, v, query.Selection{IDs: items[:2]}, items[1])
	require.NoError(t, err)
	assert.Equal(t, items[1:], shown())
	folders, err := s.Folders(ctx, v)
	require.NoError(t, err)
	for _, f := range folders {
		if f.ID == ids["May"] {
			assert.Equal(t, []int{2, 3}, []int{f.Own, f.All}, "one in the sheet, all in the tooltip")
		}
	}
	_, err = s.Pick(ctx, v, items[0])
	require.NoError(t, err)
	assert.Equal(t, []int64{items[0], items[2]}, shown())
	done, err := s.Unstack(ctx, v, query.Selection{IDs: items[:1]})
	require.NoError(t, err)
	assert.Equal(t, "Took a stack of 2 items apart", done.Said)
	assert.Len(t, shown(), 3)
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Len(t, shown(), 2)
}

func TestTheBin(t *testing.T) {
	s, people, ids := cabinet(t)
	var err error
	s.Blobs, err = blob.Open(t.TempDir())
	require.NoError(t, err)
	v, steward := people[access.Coordinator], people[access.Steward]
	source := filepath.Join(t.TempDir(), "bytes")
	require.NoError(t, os.WriteFile(source, []byte("x"), 0o600))
	items := storetest.Items(t, s.DB, v, ids["May"], "a.jpg", "b.jpg", "kept.jpg")
	for _, name := range []string{"a.jpg", "b.jpg", "kept.jpg"} {
		require.NoError(t, s.Blobs.PutFile(ctx, blob.Original([]byte(name)), source))
		require.NoError(t, s.Blobs.PutFile(ctx, blob.Picture([]byte(name), "small", ""), source))
	}
	_, err = s.Copy(ctx, v, query.Selection{IDs: items[1:2]}, ids["Brand"]) // refers to the same bytes
	require.NoError(t, err)
	_, err = s.Bin(ctx, v, query.Selection{IDs: items[:2]})
	require.NoError(t, err)
	_, err = s.Remove(ctx, v, ids["May"])
	require.NoError(t, err)
	done, err := s.Restore(ctx, v, query.Selection{IDs: items[:1]})
	require.NoError(t, err)
	assert.Equal(t, "Put 1 item back from the bin; 1 item now in 2025, since “May” is not there any more", done.Said)
	_, err = s.Bin(ctx, v, query.Selection{IDs: items[:1]})
	require.NoError(t, err)

	_, err = s.Empty(ctx, v)
	require.ErrorContains(t, err, "Only a steward")
	require.NoError(t, s.ClearDue(ctx), "nothing is due yet")
	_, err = storetest.SQL(s.DB).Exec(`update asset set binned_at = now() - interval '61 days' where id = $1`, items[0])
	require.NoError(t, err)
	require.NoError(t, s.ClearDue(ctx))
	there := func(key string) bool {
		_, err := s.Blobs.Local(ctx, key)
		return err == nil
	}
	assert.False(t, there(blob.Original([]byte("a.jpg"))), "its days are over and nothing refers to it")
	assert.False(t, there(blob.Picture([]byte("a.jpg"), "small", "")))
	done, err = s.Empty(ctx, steward)
	require.NoError(t, err)
	assert.Equal(t, "Emptied the bin: 1 item deleted for good", done.Said)
	assert.True(t, there(blob.Original([]byte("b.jpg"))), "a second item has these bytes")
	assert.True(t, there(blob.Original([]byte("kept.jpg"))))
	left, err := renditionstore.NotedContents(ctx, s.DB)
	require.NoError(t, err)
	assert.Empty(t, left)
}

// TestAFileIsFoundByTheNameThatItCameWith, whatever it is called now; called so again, there is nothing to keep.
func TestAFileIsFoundByTheNameThatItCameWith(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "renamed")[access.Coordinator]
	id := storetest.Items(t, db, v, 0, "DSC_4711.jpg")[0]
	many, jobs := piecestest.New(t, db)
	s := filing.New(db, nil, many, jobs)
	state := func() (out struct {
		Name   string `db:"file_name"`
		CameAs string `db:"came_as"`
		Found  bool   `db:"found"`
	}) {
		require.NoError(t, storetest.SQL(db).Get(&out, `select file_name, came_as, search like '%dsc_4711%' as found from asset where id = $1`,
			id))
		return out
	}
	for _, name := range []string{"kite.jpg", "red kite.jpg"} {
		done, err := s.RenameFile(ctx, v, id, name)
		require.NoError(t, err)
		now := state()
		assert.Equal(t, name, now.Name)
		assert.Equal(t, "DSC_4711.jpg", now.CameAs)
		assert.True(t, now.Found)
		assert.NotZero(t, done.Trail)
	}
	_, err := s.RenameFile(ctx, v, id, "DSC_4711.jpg")
	require.NoError(t, err)
	assert.Empty(t, state().CameAs)
	back, err := s.RenameFile(ctx, v, id, "once more.jpg")
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, db, v, back.Trail)
	require.NoError(t, err)
	assert.Empty(t, state().CameAs)
}
