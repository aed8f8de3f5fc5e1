package albumstore_test

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// orders is a brand with an album and a folder of the same three items, put in order by hand, and how to change both.
type orders struct {
	*testing.T
	db            *store.DB
	v             *access.Viewer
	album, folder int64
	items         []int64
}

func newOrders(t *testing.T) *orders {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "house")[access.Steward]
	o := &orders{T: t, db: db, v: v}
	require.NoError(t, storetest.SQL(db).Get(&o.folder, `insert into folder (brand_id, name) values ($1, 'Kit') returning id`, v.Brand))
	require.NoError(t, storetest.SQL(db).Get(&o.album, `insert into album (brand_id, name) values ($1, 'Kit') returning id`, v.Brand))
	v = storetest.See(t, db, v.Person, "house")
	o.v, o.items = v, storetest.Items(t, db, v, o.folder, "a.jpg", "b.jpg", "c.jpg", "d.jpg")
	o.act(func(tx *store.Tx) (int, error) {
		return albumstore.AddToAlbum(context.Background(), tx, v.Brand, o.album, o.items[:3])
	})
	o.act(func(tx *store.Tx) (int, error) {
		return folderstore.OrderInFolder(context.Background(), tx, o.folder, o.items, 0)
	})
	return o
}

// act does something and returns the trail entry of it.
func (o *orders) act(f func(*store.Tx) (int, error)) int64 {
	o.Helper()
	done, err := o.db.Act(o.Context(), o.v, "order", func(tx *store.Tx) (store.Done, error) {
		n, err := f(tx)
		return store.Done{Said: "Did it", Changed: n}, err
	})
	require.NoError(o, err)
	return done.Trail
}

func (o *orders) undo(entry int64) {
	o.Helper()
	_, err := undostore.Undo(o.Context(), o.db, o.v, entry)
	require.NoError(o, err)
}

// doubled counts the places that two rows share.
func (o *orders) doubled() (n int) {
	require.NoError(o, storetest.SQL(o.db).Get(&n, `select (select count(*) - count(distinct (album_id, position)) from album_item)
		+ (select count(position) - count(distinct position) from asset where position is not null)`))
	return n
}

func (o *orders) inAlbum() (ids []int64) {
	require.NoError(
		o,
		storetest.SQL(o.db).Select(&ids, `select asset_id from album_item where album_id = $1 order by position, asset_id`, o.album),
	)
	return ids
}

func (o *orders) inFolder() (ids []int64) {
	require.NoError(o, storetest.SQL(o.db).Select(&ids, `select id from asset where folder_id = $1 order by position, id`, o.folder))
	return ids
}

func TestUndoGivesEachItemOfAnAlbumAPlaceOfItsOwn(t *testing.T) {
	o := newOrders(t)
	a, b, c, d := o.items[0], o.items[1], o.items[2], o.items[3]
	out := o.act(func(tx *store.Tx) (int, error) {
		return albumstore.TakeOutOfAlbum(t.Context(), tx, o.album, []int64{c})
	})
	o.act(func(tx *store.Tx) (int, error) {
		return albumstore.AddToAlbum(t.Context(), tx, o.v.Brand, o.album, []int64{d})
	})
	o.undo(out)
	assert.Equal(t, []int64{a, b, d, c}, o.inAlbum())
	assert.Zero(t, o.doubled())
	o.act(func(tx *store.Tx) (int, error) { return albumstore.OrderAlbum(t.Context(), tx, o.album, []int64{a}, c) })
	assert.Equal(t, []int64{b, d, a, c}, o.inAlbum())
}

func TestUndoGivesEachItemOfAFolderAPlaceOfItsOwn(t *testing.T) {
	o := newOrders(t)
	a, b, c, d := o.items[0], o.items[1], o.items[2], o.items[3]
	out := o.act(func(tx *store.Tx) (int, error) { return assetstore.MoveAssets(t.Context(), tx, []int64{b, d}, 0) })
	o.act(func(tx *store.Tx) (int, error) {
		return folderstore.OrderInFolder(t.Context(), tx, o.folder, []int64{a}, 0)
	})
	o.undo(out)
	assert.Zero(t, o.doubled())
	o.act(func(tx *store.Tx) (int, error) {
		return folderstore.OrderInFolder(t.Context(), tx, o.folder, []int64{c}, d)
	})
	order := o.inFolder()
	assert.Len(t, order, 4)
	assert.Less(t, slices.Index(order, c), slices.Index(order, d))
}

func TestPlacesThatAreSharedAreMendedWhenSomethingGoesBetween(t *testing.T) {
	o := newOrders(t)
	a, b, c, d := o.items[0], o.items[1], o.items[2], o.items[3]
	for _, table := range []string{"album_item", "asset"} {
		_, err := storetest.SQL(o.db).Exec(`update ` + table + ` set position = 'V'`)
		require.NoError(t, err)
	}
	o.act(func(tx *store.Tx) (int, error) {
		return folderstore.OrderInFolder(t.Context(), tx, o.folder, []int64{d}, c)
	})
	assert.Equal(t, []int64{a, b, d, c}, o.inFolder())
	o.act(func(tx *store.Tx) (int, error) { return albumstore.OrderAlbum(t.Context(), tx, o.album, []int64{c}, b) })
	assert.Equal(t, []int64{a, c, b}, o.inAlbum())
	assert.Zero(t, o.doubled())
}
