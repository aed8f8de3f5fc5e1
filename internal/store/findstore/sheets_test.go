package findstore_test

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
)

var ctx = context.Background()

func sheet(t *testing.T, db *store.DB, v *access.Viewer, q query.Query) []int64 {
	t.Helper()
	ids, err := findstore.Find(db).IDs(ctx, v, q)
	require.NoError(t, err)
	return ids
}

func TestWhatASheetShows(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "sheet")[access.Coordinator]
	var folder, below, red int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		folder, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Kites")
		below, _ = folderstore.AddFolder(ctx, tx, v.Brand, folder, "Red ones")
		red, err = tagstore.EnsureTag(ctx, tx, v.Brand, "Crimson", "")
		return err
	}))
	v = storetest.See(t, db, v.Person, "sheet")
	top := storetest.Items(t, db, v, folder, "shot 10.jpg", "Shot 2.jpg")
	inner := storetest.Items(t, db, v, below, "été_1.jpg")
	loose := storetest.Items(t, db, v, 0, "100%.jpg")
	binned := storetest.Items(t, db, v, 0, "gone.jpg")
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		if _, err := assetstore.BinAssets(ctx, tx, binned, true); err != nil {
			return 0, err
		}
		if _, err := assetstore.RateAssets(ctx, tx, v, top[:1], 4); err != nil {
			return 0, err
		}
		if _, err := assetstore.RateAssets(ctx, tx, v, loose, -1); err != nil {
			return 0, err
		}
		if _, err := assetstore.KeepAssets(ctx, tx, v.Brand, v.Person, inner, true); err != nil {
			return 0, err
		}
		return tagstore.ChangeTags(ctx, tx, v.Brand, inner, []int64{red}, nil)
	})
	cases := []struct {
		name string
		q    query.Query
		want []int64
	}{
		{"everything but set aside and binned", query.Query{Place: "everything", Sort: "name"}, []int64{inner[0], top[1], top[0]}},
		{"set aside on request", query.Query{Place: "unfiled", Filter: query.Both(query.WithAside)}, loose},
		{"one folder, naturally ordered", query.Query{Place: "folder", ID: folder, Sort: "name"}, []int64{top[1], top[0]}},
		{"with everything below", query.Query{Place: "folder", ID: folder, Below: true, Sort: "name", Descending: true},
			[]int64{top[0], top[1], inner[0]}},
		{"the bin", query.Query{Place: "bin"}, binned},
		{"stars", query.Query{Place: "everything", Filter: query.Both(query.AtLeast(4))}, top[:1]},
		{"my keepers", query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "keeper"})}, inner},
		{"by tag", query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "tag", IDs: []int64{red}})}, inner},
		{"words without accents and case", query.Query{Place: "everything", Filter: query.Both(query.Words("ETE"))}, inner},
		{"words in tags", query.Query{Place: "everything", Filter: query.Both(query.Words("crims"))}, inner},
		{"every word must match", query.Query{Place: "everything", Filter: query.Both(query.Words("shot 10"))}, top[:1]},
		{"signs stand for themselves", query.Query{Place: "everything", Filter: query.Both(query.Words("100%"), query.WithAside)}, loose},
		{"and are no wildcards; a search finds what is aside too", query.Query{Place: "everything", Filter: query.Both(query.Words("%"))},
			loose},
		{"kinds", query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "kind", Names: []string{"clip"}})}, []int64{}},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, sheet(t, db, v, c.q), c.name)
	}
	counts, err := findstore.Find(db).Counts(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, findstore.Counts{Everything: 3, Unfiled: 0, Undescribed: 3, Unchosen: 2, Bin: 1, Lookable: 4}, counts)
}

func TestNobodySeesWhatWasNotGranted(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "mine")
	others := storetest.Brand(t, db, "other")
	v, guest := people[access.Coordinator], people[access.Associate]
	var granted, inside, beside, album int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		granted, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Granted")
		inside, _ = folderstore.AddFolder(ctx, tx, v.Brand, granted, "Inside")
		beside, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Beside")
		album, _ = albumstore.AddAlbum(ctx, tx, v.Brand, 0, "Shared")
		_ = peoplestore.AddGrant(ctx, tx, v.Brand, guest.Person, access.Grant{Album: album, Level: access.LevelLook})
		return peoplestore.AddGrant(ctx, tx, v.Brand, guest.Person, access.Grant{Folder: granted, Level: access.LevelContribute})
	}))
	guest = storetest.See(t, db, guest.Person, "mine")
	in := storetest.Items(t, db, v, inside, "in.jpg")[0]
	out := storetest.Items(t, db, v, beside, "out.jpg")[0]
	shared := storetest.Items(t, db, v, beside, "shared.jpg")[0]
	foreign := storetest.Items(t, db, others[access.Coordinator], 0, "foreign.jpg")[0]
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		return albumstore.AddToAlbum(ctx, tx, v.Brand, album, []int64{shared})
	})

	assert.ElementsMatch(t, []int64{in, shared}, sheet(t, db, guest, query.Query{Place: "everything"}))
	rows, err := findstore.Rows(ctx, db, guest, []int64{in, out, shared, foreign})
	require.NoError(t, err)
	assert.Len(t, rows, 2)
	for _, hidden := range []int64{out, foreign} {
		_, err := assetstore.AssetByID(ctx, db, guest, hidden)
		var missing *fault.NotFound
		require.ErrorAs(t, err, &missing)
	}
	_, err = assetstore.AssetByID(ctx, db, v, foreign)
	require.Error(t, err, "another brand's items are not there, whatever the role")

	_, err = findstore.Select(ctx, db, guest, access.Describe, query.Selection{IDs: []int64{in}})
	require.NoError(t, err)
	_, err = findstore.Select(ctx, db, guest, access.Describe, query.Selection{IDs: []int64{in, shared}})
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden, "an album grant is for looking")
	_, err = findstore.Select(ctx, db, guest, access.Look, query.Selection{IDs: []int64{in, out}})
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing)
}

func TestASelectionOfEverythingLeavesOutTheExceptions(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "all")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	got, err := findstore.Select(ctx, db, v, access.File, query.Selection{Everything: &query.Query{Place: "unfiled"}, Except: ids[1:2]})
	require.NoError(t, err)
	assert.ElementsMatch(t, []int64{ids[0], ids[2]}, got)
	_, err = findstore.Select(ctx, db, v, access.File, query.Selection{})
	require.Error(t, err, "nothing is selected")
}

func TestTheOrderOfAnAlbumIsWhatWasDragged(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "order")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a", "b", "c", "d", "e", "f", "g")
	var album int64
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) {
		var err error
		if album, err = albumstore.AddAlbum(ctx, tx, v.Brand, 0, "Ordered"); err != nil {
			return 0, err
		}
		return albumstore.AddToAlbum(ctx, tx, v.Brand, album, ids)
	})
	model := slices.Clone(ids)
	rapid.Check(t, func(rt *rapid.T) {
		moved := rapid.SliceOfNDistinct(rapid.SampledFrom(ids), 1, 3, rapid.ID[int64]).Draw(rt, "moved")
		rest := slices.DeleteFunc(slices.Clone(model), func(id int64) bool { return slices.Contains(moved, id) })
		at := rapid.IntRange(0, len(rest)).Draw(rt, "at")
		before := int64(0)
		if at < len(rest) {
			before = rest[at]
		}
		storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return albumstore.OrderAlbum(ctx, tx, album, moved, before) })
		model = slices.Insert(rest, at, moved...)
		require.Equal(rt, model, sheet(t, db, v, query.Query{Place: "album", ID: album}))
	})
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return albumstore.TakeOutOfAlbum(ctx, tx, album, ids[:2]) })
	assert.Len(t, sheet(t, db, v, query.Query{Place: "album", ID: album}), 5)
	assert.Len(t, sheet(t, db, v, query.Query{Place: "everything"}), 7, "taking out is never deleting")
}
