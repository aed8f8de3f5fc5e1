package finding_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
)

func TestTheCardOfAnItem(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "card")
	v := people[access.Coordinator]
	find := &finding.Service{Finder: findstore.Find(db), DB: db}
	var inner, album int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		outer, err := folderstore.AddFolder(ctx, tx, v.Brand, 0, "Shoots")
		if err != nil {
			return err
		}
		if inner, err = folderstore.AddFolder(ctx, tx, v.Brand, outer, "2026"); err != nil {
			return err
		}
		album, err = albumstore.AddAlbum(ctx, tx, v.Brand, 0, "Press kit")
		return err
	}))
	id := storetest.Items(t, db, v, inner, "a.jpg")[0]
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		tag, err := tagstore.EnsureTag(ctx, tx, v.Brand, "Ada", "People")
		if err != nil {
			return err
		}
		if _, err = tagstore.ChangeTags(ctx, tx, v.Brand, []int64{id}, []int64{tag}, nil); err != nil {
			return err
		}
		_, err = albumstore.AddToAlbum(ctx, tx, v.Brand, album, []int64{id})
		return err
	}))
	card, err := find.Card(ctx, v, id)
	require.NoError(t, err)
	assert.Equal(t, "Shoots / 2026", card.FolderPath)
	assert.Equal(t, []tagstore.Tag{{ID: card.Tags[0].ID, Name: "Ada", Group: "People", Uses: 1}}, card.Tags)
	assert.Equal(t, "Press kit", card.Albums[0].Name)
	assert.Empty(t, card.Shown)
	assert.Contains(t, card.May, access.Describe)

	seen, err := find.Card(ctx, people[access.Reviewer], id)
	require.NoError(t, err)
	assert.NotContains(t, seen.May, access.Describe)
	assert.Contains(t, seen.May, access.Rate)
	_, err = find.Card(ctx, people[access.Associate], id)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing)
}
