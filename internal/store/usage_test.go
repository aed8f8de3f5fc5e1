package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

// TestHowMuchABrandUsesIsKept: each content counts once, whatever is added and removed together.
func TestHowMuchABrandUsesIsKept(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "usage")[access.Coordinator]
	used := func() int64 {
		l, err := peoplestore.Limits(ctx, db, v.Brand)
		require.NoError(t, err)
		return l.Used
	}
	assert.Zero(t, used())
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	ids = append(ids, storetest.Items(t, db, v, 0, "a.jpg")...)
	assert.EqualValues(t, 2000, used(), "one content, one time")
	storetest.Act(t, db, v, func(tx *store.Tx) (int, error) { return assetstore.CopyAssets(ctx, tx, v.Brand, v.Person, ids, 0) })
	assert.EqualValues(t, 2000, used(), "second items share their files")
	_, err := storetest.SQL(db).Exec(`delete from asset where id = $1`, ids[0])
	require.NoError(t, err)
	assert.EqualValues(t, 2000, used())
	_, err = storetest.SQL(db).Exec(`delete from asset where file_name = 'a.jpg'`)
	require.NoError(t, err)
	assert.EqualValues(t, 1000, used(), "all of one content at once")
}
