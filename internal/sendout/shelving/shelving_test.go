package shelving_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/sendout/rehearsals"
	"brightsatchel/internal/sendout/shelving"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// TestParking puts things into folders of their own kind, and out of sight.
func TestParking(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "parking")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	s := &shelving.Service{DB: db}
	ctx := t.Context()
	made, err := (&rehearsals.Service{DB: db}).Make(ctx, v, "One", query.Selection{IDs: ids[:1]})
	require.NoError(t, err)
	folder, err := s.MakeFolder(ctx, v, "rehearsal", "Spring")
	require.NoError(t, err)
	_, err = s.MakeFolder(ctx, v, "rehearsal", " spring ")
	require.ErrorContains(t, err, "There is a folder")
	_, err = s.MakeFolder(ctx, v, "gallery", "Spring")
	require.NoError(t, err, "of another kind")
	_, err = s.Place(ctx, v, "gallery", []int64{made.ID}, &folder.ID, nil)
	require.Error(t, err, "the folder of another kind")
	yes := true
	placed, err := s.Place(ctx, v, "rehearsal", []int64{made.ID, made.ID}, &folder.ID, &yes)
	require.NoError(t, err)
	assert.Equal(t, "Parked 1 rehearsal", placed.Said)
	for _, unknown := range []int64{made.ID + 1, 1 << 40} {
		_, err = s.Place(ctx, v, "rehearsal", []int64{made.ID, unknown}, nil, &yes)
		require.ErrorContains(t, err, "Some of these rehearsals are not there any more", "what is not there is not put away")
	}
	again, err := s.Place(ctx, v, "rehearsal", []int64{made.ID}, nil, &yes)
	require.NoError(t, err)
	assert.Zero(t, again.Changed)
	lies, err := s.Read(ctx, v, "rehearsal")
	require.NoError(t, err)
	require.Len(t, lies.Things, 1)
	assert.Equal(t, folder.ID, lies.Things[0].Folder.Int64)
	assert.True(t, lies.Things[0].Parked)
	_, err = undostore.Undo(ctx, db, v, placed.Trail)
	require.NoError(t, err)
	lies, err = s.Read(ctx, v, "rehearsal")
	require.NoError(t, err)
	assert.Empty(t, lies.Things)

	_, err = s.Place(ctx, v, "rehearsal", []int64{made.ID}, &folder.ID, nil)
	require.NoError(t, err)
	name := "Summer"
	_, err = s.ChangeFolder(ctx, v, "rehearsal", folder.ID, &name, &yes)
	require.NoError(t, err)
	gone, err := s.RemoveFolder(ctx, v, "rehearsal", folder.ID)
	require.NoError(t, err)
	lies, err = s.Read(ctx, v, "rehearsal")
	require.NoError(t, err)
	assert.Empty(t, lies.Things, "what was in it lies open")
	_, err = undostore.Undo(ctx, db, v, gone.Trail)
	require.NoError(t, err)
	lies, err = s.Read(ctx, v, "rehearsal")
	require.NoError(t, err)
	require.Len(t, lies.Folders, 1)
	assert.True(t, lies.Folders[0].Parked)
	assert.Len(t, lies.Things, 1)
	stranger := *v
	stranger.Brand++
	lies, err = s.Read(ctx, &stranger, "rehearsal")
	require.NoError(t, err)
	assert.Empty(t, lies.Folders)
}
