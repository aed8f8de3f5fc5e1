package bringin_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestSidecarsAreSaidBesideTheFiles in the trail, and never number a title.
func TestSidecarsAreSaidBesideTheFiles(t *testing.T) {
	h := housetest.New(t, "beside")
	v := storetest.Brand(t, h.DB, "beside")[access.Coordinator]
	var folder int64
	require.NoError(t, storetest.SQL(h.DB).Get(&folder, `insert into folder (brand_id, name) values ($1, 'Dune trials') returning id`,
		v.Brand))
	v = storetest.See(t, h.DB, v.Person, "beside")
	xmp := []byte(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"/></x:xmpmeta>`)
	names := []string{"a.xmp", "a.jpg", "b.jpg"}
	batch := begin(t, h, v, folder, names, xmp, mediatest.JPEG(t, 300, 200, 1), mediatest.JPEG(t, 310, 200, 9))
	pattern := "Dune {n}"
	_, err := h.BringIn.Describe(ctx, v, batch.ID, nil, arrival.Words{Title: &pattern})
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	settled := housetest.Settled(t, h, v, batch.ID)
	titles := map[string]string{}
	for _, f := range settled.Files {
		if f.Asset.Valid && f.State == string(arrival.Added) {
			card, err := h.Finding.Card(ctx, v, f.Asset.Int64)
			require.NoError(t, err)
			titles[f.Name] = card.Title
		}
	}
	assert.Equal(t, map[string]string{"a.jpg": "Dune 1", "b.jpg": "Dune 2"}, titles)
	said, err := store.Trail(ctx, h.DB, v.Brand, store.TrailFilter{Actions: []string{"bring_in"}, Folders: []int64{folder}, Limit: 5})
	require.NoError(t, err)
	require.Len(t, said, 1)
	assert.Equal(t, "Brought in 2 files and 1 sidecar to Dune trials", said[0].Said)
}

// TestALabelBecomesAStage of the brand when a steward says so, for every file that says it.
func TestALabelBecomesAStage(t *testing.T) {
	h := housetest.New(t, "labels")
	people := storetest.Brand(t, h.DB, "labels")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	labelled := func(shade uint8) []byte {
		return mediatest.Tagged(t, mediatest.JPEG(t, 320, 200, shade), "-XMP-xmp:Label=For print", "-IFD0:Artist=Greta Ollin")
	}
	batch := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg", "b.jpg", "c.jpg"}, labelled(1), labelled(90),
		mediatest.JPEG(t, 300, 200, 200)).ID)
	first := batch.Files[0].Asset.Int64
	card, err := h.Finding.Card(ctx, v, first)
	require.NoError(t, err)
	assert.Equal(t, "For print", card.Label)
	assert.Equal(t, "Greta Ollin", card.Credit, "who made it is its credit when it says none")
	done, err := h.Choosing.MakeStage(ctx, people[access.Steward], " for   PRINT ")
	require.NoError(t, err)
	assert.Equal(t, 2, done.Changed)
	card, err = h.Finding.Card(ctx, v, first)
	require.NoError(t, err)
	assert.Empty(t, card.Label)
	assert.Equal(t, "for PRINT", card.Stage.String)
	_, err = h.Upkeep.Undo(ctx, people[access.Steward], done.Trail)
	require.NoError(t, err)
	_, err = h.Choosing.MakeStage(ctx, people[access.Steward], "  ")
	require.Error(t, err)
	stages, err := h.Choosing.Stages(ctx, v)
	require.NoError(t, err)
	for _, s := range stages {
		_, err = h.Choosing.Stage(ctx, v, query.Selection{IDs: []int64{first}}, s.ID)
		require.NoError(t, err)
	}
	none, err := h.Choosing.Stage(ctx, v, query.Selection{IDs: []int64{first}}, 0)
	require.NoError(t, err)
	assert.Equal(t, "Took the stage off 1 item", none.Said)
}

// TestAWatchedFolderIsAskedAboutWhatIsThere leaves out what was there before, and takes what lands later.
func TestAWatchedFolderIsAskedAboutWhatIsThere(t *testing.T) {
	h := housetest.New(t, "there")
	people := storetest.Brand(t, h.DB, "there")
	v := people[access.Coordinator]
	id, root := disk(t, h, people[access.Steward], map[string][]byte{"old.jpg": mediatest.JPEG(t, 300, 200, 3), "Thumbs.db": []byte("x")})
	done, err := h.BringIn.Watch(ctx, v, id, "", 0, false, false)
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	require.NoError(t, h.BringIn.LookAtWatched(ctx, 0))
	list, err := h.BringIn.List(ctx, v)
	require.NoError(t, err)
	assert.Empty(t, list)
	require.NoError(t, os.WriteFile(filepath.Join(root, "new.jpg"), mediatest.JPEG(t, 300, 220, 77), 0o600))
	require.NoError(t, h.BringIn.LookAtWatched(ctx, 0))
	list, err = h.BringIn.List(ctx, v)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, 1, housetest.Settled(t, h, v, list[0].ID).Sums.Added)
	_, err = h.BringIn.StopWatching(ctx, v, done.ID)
	require.NoError(t, err)
	again, err := h.BringIn.Watch(ctx, v, id, "", 0, false, true)
	require.NoError(t, err)
	assert.Contains(t, again.Said, "with the 2 files that are there now")
}
