package gathering_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/storetest"
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// TestAnAlbumHasACoverOfItsOwn that is no item: it stands for the album until an item is chosen, is seen by those who see the album, and is
// taken back like anything else. What is no picture is refused by its name, and nothing changes.
func TestAnAlbumHasACoverOfItsOwn(t *testing.T) {
	h := housetest.New(t, "own_cover")
	people := storetest.Brand(t, h.DB, "house")
	v := people[access.Coordinator]
	item := storetest.Items(t, h.DB, v, 0, "a.jpg")[0]
	album, err := h.Gathering.Create(ctx, v, 0, "Press", nil, nil)
	require.NoError(t, err)
	cover := func(v *access.Viewer) albumstore.Cover {
		all, err := h.Index.Albums(ctx, v)
		require.NoError(t, err)
		require.Len(t, all, 1)
		return all[0].Cover
	}
	file := mediatest.File(t, "sign.png", mediatest.JPEG(t, 640, 480, 9))
	done, err := h.Gathering.OwnCover(ctx, v, album.ID, "sign.png", file)
	require.NoError(t, err)
	own := cover(v)
	assert.Zero(t, own.CoverID)
	require.Contains(t, own.CoverCode.String, albumstore.OwnCoverPrefix)
	code := own.CoverCode.String[len(albumstore.OwnCoverPrefix):]
	sum, err := albumstore.OwnCover(ctx, h.DB, v, code)
	require.NoError(t, err)
	for _, size := range []string{"small", "medium", "large"} {
		_, err := h.Blobs.Local(ctx, blob.OwnCover(sum, size))
		require.NoError(t, err, size)
	}
	_, err = albumstore.OwnCover(ctx, h.DB, people[access.Associate], code)
	require.Error(t, err, "who does not see the album does not see its cover")

	clip := mediatest.File(t, "film.mp4", mediatest.Film(t, "mpeg4", "mp4", 1))
	text := mediatest.File(t, "words.txt", []byte("no picture"))
	for name, path := range map[string]string{"film.mp4": clip, "words.txt": text} {
		_, err = h.Gathering.OwnCover(ctx, v, album.ID, name, path)
		require.ErrorContains(t, err, name)
	}
	_, err = h.Gathering.OwnCover(ctx, people[access.Associate], album.ID, "sign.png", file)
	require.Error(t, err)
	assert.Equal(t, own, cover(v))

	chosen, err := h.Gathering.Change(ctx, v, album.ID, gathering.Change{Cover: &item})
	require.NoError(t, err)
	assert.Equal(t, item, cover(v).CoverID.Int64)
	_, err = h.Upkeep.Undo(ctx, v, chosen.Trail)
	require.NoError(t, err)
	assert.Equal(t, own, cover(v))
	_, err = h.Upkeep.Undo(ctx, v, done.Trail)
	require.NoError(t, err)
	assert.False(t, cover(v).CoverCode.Valid)
}
