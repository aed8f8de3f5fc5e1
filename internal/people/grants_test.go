package people_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/people"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

var ctx = context.Background()

func TestRolesAndGrants(t *testing.T) {
	db := storetest.New(t)
	everybody := storetest.Brand(t, db, "rights")
	steward, guest := everybody[access.Steward], everybody[access.Associate]
	s := &people.Service{DB: db}
	var folder int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		folder, err = folderstore.AddFolder(ctx, tx, steward.Brand, 0, "Press")
		return err
	}))
	id := storetest.Items(t, db, steward, folder, "a.jpg")[0]
	sees := func() bool {
		as, err := s.As(ctx, steward, guest.Person)
		require.NoError(t, err)
		_, err = assetstore.AssetByID(ctx, db, as, id)
		return err == nil
	}
	assert.False(t, sees())
	given, err := s.Give(ctx, steward, 0, access.Associate, access.Grant{Folder: folder, Level: access.LevelLook})
	require.NoError(t, err)
	assert.Equal(t, "Let everybody who is associate look in “Press”", given.Said)
	assert.True(t, sees(), "by the role")
	_, err = s.Give(ctx, steward, guest.Person, "", access.Grant{Folder: folder, Level: access.LevelManage})
	require.NoError(t, err)
	rights, err := s.Rights(ctx, steward)
	require.NoError(t, err)
	require.Len(t, rights.Grants, 2)
	_, err = undostore.Undo(ctx, db, steward, given.Trail)
	require.NoError(t, err)
	assert.True(t, sees(), "by their own")
	_, err = s.Take(ctx, steward, rights.Grants[1].ID)
	require.NoError(t, err)
	assert.False(t, sees())
	_, err = s.Take(ctx, steward, rights.Grants[1].ID)
	require.ErrorContains(t, err, "already")
	_, err = s.Give(ctx, steward, guest.Person, access.Associate, access.Grant{Folder: folder, Level: access.LevelLook})
	require.ErrorContains(t, err, "for a person or for a role")

	require.ErrorContains(t, s.SetRole(ctx, steward, steward.Person, access.Reviewer), "needs a steward")
	require.NoError(t, s.SetRole(ctx, steward, guest.Person, access.Steward))
	require.NoError(t, s.SetRole(ctx, steward, steward.Person, access.Reviewer))
}

func TestBrandsAndPreferences(t *testing.T) {
	db := storetest.New(t)
	everybody := storetest.Brand(t, db, "first")
	steward := everybody[access.Steward]
	s := &people.Service{DB: db}
	_, err := s.CreateBrand(ctx, everybody[access.Coordinator], "Mine")
	require.ErrorContains(t, err, "Only a steward")
	code, err := s.CreateBrand(ctx, steward, "  Été & Fils, Ltd. ")
	require.NoError(t, err)
	assert.Equal(t, "ete-fils-ltd", code)
	_, err = s.CreateBrand(ctx, steward, "Été & fils, ltd.")
	require.ErrorContains(t, err, "already")
	_, err = s.CreateBrand(ctx, steward, "!!")
	require.ErrorContains(t, err, "letters")
	brands, err := s.Brands(ctx, steward.Person)
	require.NoError(t, err)
	assert.Len(t, brands, 2)
	v, err := s.Viewer(ctx, steward.Person, code)
	require.NoError(t, err)
	assert.Equal(t, access.Steward, v.Role)

	_, err = s.SetPreferences(ctx, v, map[string]any{"start": map[string]any{"place": "unfiled"}, "unfolded": []int{1, 2}})
	require.NoError(t, err)
	got, err := s.SetPreferences(ctx, v, map[string]any{"start": nil, "view": "list"})
	require.NoError(t, err)
	assert.JSONEq(t, `{"unfolded": [1, 2], "view": "list"}`, string(got))
	got, err = s.Preferences(ctx, steward)
	require.NoError(t, err)
	assert.JSONEq(t, `{}`, string(got), "each brand has its own")
}
