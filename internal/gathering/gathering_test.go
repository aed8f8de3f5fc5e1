package gathering_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

var ctx = context.Background()

func started(t *testing.T) (*gathering.Service, *access.Viewer, []int64) {
	t.Helper()
	db := storetest.New(t)
	v := storetest.Brand(t, db, "gather")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	return gathering.New(db, nil, nil, many), v, storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg", "d.jpg")
}

func TestAnAlbumOfASelection(t *testing.T) {
	s, v, ids := started(t)
	made, err := s.Create(ctx, v, 0, " Press / kit ", &query.Selection{IDs: ids[:2]}, nil)
	require.NoError(t, err)
	assert.Equal(t, "Made the album “Press - kit” with 2 items", made.Said)
	_, err = s.Create(ctx, v, 0, "PRESS - KIT", nil, nil)
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid)

	added, err := s.Add(ctx, v, []int64{made.ID}, query.Selection{IDs: ids[1:]})
	require.NoError(t, err)
	assert.Equal(t, "Added 2 items to Press - kit; 1 was in it already", added.Said)
	albums, err := s.Albums(ctx, v)
	require.NoError(t, err)
	require.Len(t, albums, 1)
	assert.Equal(t, 4, albums[0].Items)
	assert.Equal(t, ids[0], albums[0].CoverID.Int64, "the first stands for it until one is chosen")

	_, err = s.Change(ctx, v, made.ID, gathering.Change{Cover: &ids[3]})
	require.NoError(t, err)
	albums, err = s.Albums(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, ids[3], albums[0].CoverID.Int64)

	out, err := s.TakeOut(ctx, v, made.ID, query.Selection{IDs: ids[:3]})
	require.NoError(t, err)
	assert.Equal(t, "Took 3 items out of Press - kit", out.Said)
	_, err = undostore.Undo(ctx, s.DB, v, out.Trail)
	require.NoError(t, err)
	order, err := albumstore.AlbumItemIDs(ctx, s.DB, made.ID)
	require.NoError(t, err)
	assert.Equal(t, ids, order, "back in their places")
}

func TestAnAlbumThatAGalleryShowsStays(t *testing.T) {
	s, v, ids := started(t)
	made, err := s.Create(ctx, v, 0, "Shown", &query.Selection{IDs: ids}, nil)
	require.NoError(t, err)
	_, err = storetest.SQL(s.DB).Exec(`with g as (insert into gallery (brand_id, title) values ($1, 'For the client') returning id)
		insert into gallery_chapter (brand_id, gallery_id, position, album_id) select $1, id, 0, $2 from g`, v.Brand, made.ID)
	require.NoError(t, err)
	_, err = s.Remove(ctx, v, made.ID, false)
	assert.ErrorContains(t, err, "For the client")
	other, err := s.Create(ctx, v, 0, "Loose", &query.Selection{IDs: ids}, nil)
	require.NoError(t, err)
	removed, err := s.Remove(ctx, v, other.ID, false)
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, s.DB, v, removed.Trail)
	require.NoError(t, err)
	order, err := albumstore.AlbumItemIDs(ctx, s.DB, other.ID)
	require.NoError(t, err)
	assert.Equal(t, ids, order)
}

func TestTheSatchelIsOnesOwn(t *testing.T) {
	s, v, ids := started(t)
	_, err := s.Carry(ctx, v, query.Selection{IDs: ids[:2]})
	require.NoError(t, err)
	_, err = s.Carry(ctx, v, query.Selection{IDs: ids[1:]})
	require.NoError(t, err)
	carried := func(v *access.Viewer) []int64 {
		rows, err := s.Satchel(ctx, v)
		require.NoError(t, err)
		out := []int64{}
		for _, r := range rows {
			out = append(out, r.ID)
		}
		return out
	}
	assert.Equal(t, ids, carried(v))
	_, err = s.OrderSatchel(ctx, v, []int64{ids[3]}, ids[0])
	require.NoError(t, err)
	assert.Equal(t, []int64{ids[3], ids[0], ids[1], ids[2]}, carried(v))
	_, err = s.OrderSatchel(ctx, v, nil, 0)
	require.Error(t, err)
	again, err := s.Carry(ctx, v, query.Selection{IDs: ids})
	require.NoError(t, err)
	assert.Equal(t, "Already in the satchel", again.Said)
	_, err = s.PutDown(ctx, v, query.Selection{IDs: ids[:3]})
	require.NoError(t, err)
	assert.Equal(t, ids[3:], carried(v))
	all := query.Selection{Everything: &query.Query{Place: "everything"}}
	out, err := s.PutDown(ctx, v, all)
	require.NoError(t, err)
	assert.Equal(t, "Took 1 item out of the satchel", out.Said, "what is carried, and not all that there is")
	assert.Empty(t, carried(v))
	out, err = s.PutDown(ctx, v, all)
	require.NoError(t, err)
	assert.Zero(t, out.Changed)
	other := *v
	other.Person++
	assert.Empty(t, carried(&other))
}
