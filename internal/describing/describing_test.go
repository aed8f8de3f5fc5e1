package describing_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/internal/store/wordstore"
)

var ctx = context.Background()

func TestTaggingSeveral(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "tags")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	done, err := s.Tag(ctx, v, query.Selection{IDs: ids[:2]}, "Kite, Wind", nil)
	require.NoError(t, err)
	assert.Equal(t, "Tagged 2 items with Kite, Wind", done.Said)
	again, err := s.Tag(ctx, v, query.Selection{IDs: ids[:2]}, "kite", nil)
	require.NoError(t, err)
	assert.Zero(t, again.Trail, "tagging twice does nothing")
	_, err = s.Tag(ctx, v, query.Selection{IDs: ids}, "wind", nil)
	require.NoError(t, err)

	tags, items, err := s.TagsOf(ctx, v, query.Selection{IDs: ids})
	require.NoError(t, err)
	assert.Equal(t, 3, items)
	require.Len(t, tags, 2)
	assert.Equal(t, []any{"Wind", 3, "Kite", 2}, []any{tags[0].Name, tags[0].Uses, tags[1].Name, tags[1].Uses},
		"which are on all, which on some")

	_, err = s.Tag(ctx, v, query.Selection{IDs: ids}, "", []int64{tags[0].ID})
	require.NoError(t, err)
	all, err := s.Tags(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Kite": 2, "Wind": 0}, map[string]int{all[0].Name: all[0].Uses, all[1].Name: all[1].Uses})

	_, err = undostore.Undo(ctx, db, v, done.Trail)
	var conflict *fault.Conflict
	require.ErrorAs(t, err, &conflict, "a tag has been taken off since")
}

func TestClosedGroupsAreForThoseWhoKeepThem(t *testing.T) {
	db := storetest.New(t)
	people := storetest.Brand(t, db, "closed")
	v := people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	var folder int64
	contributor := people[access.Contributor]
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		if _, err = tagstore.EnsureTag(ctx, tx, v.Brand, "Spring catalogue", "Campaign"); err != nil {
			return err
		}
		folder, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Mine")
		return peoplestore.AddGrant(ctx, tx, v.Brand, contributor.Person, access.Grant{Folder: folder, Level: access.LevelContribute})
	}))
	_, err := storetest.SQL(db).Exec(`update tag_group set closed = true`)
	require.NoError(t, err)
	contributor = storetest.See(t, db, contributor.Person, "closed")
	ids := storetest.Items(t, db, v, folder, "a.jpg")
	_, err = s.Tag(ctx, contributor, query.Selection{IDs: ids}, "spring CATALOGUE", nil)
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
	_, err = s.Tag(ctx, contributor, query.Selection{IDs: ids}, "windy", nil)
	require.NoError(t, err)
	_, err = s.Tag(ctx, v, query.Selection{IDs: ids}, "spring catalogue", nil)
	require.NoError(t, err)
	_, err = s.Tag(ctx, people[access.Reviewer], query.Selection{IDs: ids}, "x", nil)
	require.ErrorAs(t, err, &forbidden)
}

func TestDescribingTidiesWhatIsTyped(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "words")[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := describing.New(db, many, nil, jobsOf(db))
	id := storetest.Items(t, db, v, 0, "a.jpg")[0]
	title, description := "  Two\nlines  and\tmore ", "Kept\nas it is"
	now, err := assetstore.AssetByID(ctx, db, v, id)
	require.NoError(t, err)
	_, err = s.Describe(ctx, v, id, wordstore.Description{Revision: now.Revision,
		Words: map[string]string{"title": title, "description": description}})
	require.NoError(t, err)
	after, err := assetstore.AssetByID(ctx, db, v, id)
	require.NoError(t, err)
	assert.Equal(t, "Two lines and more", after.Title)
	assert.Equal(t, "Kept\nas it is", after.Description)
	same, err := s.Describe(ctx, v, id, wordstore.Description{Revision: after.Revision, Words: map[string]string{"title": title}})
	require.NoError(t, err)
	assert.Zero(t, same.Trail)
}

func TestTagsOfNeighboursAreSuggested(t *testing.T) {
	b := newBook(t, "suggested", 5)
	_, err := b.db.ExecContext(ctx, `update asset set captured_at = '2026-05-17 10:00', camera = 'Tarn' where id = any($1)`, b.ids[:4])
	require.NoError(t, err)
	wind := b.tag("Wind", b.ids[1:4]...)
	b.tag("Once", b.ids[1])
	b.tag("Elsewhere", b.ids[4])
	suggested, err := b.s.Suggest(ctx, b.v, b.ids[0])
	require.NoError(t, err)
	assert.Equal(t, []describing.Suggested{{ID: wind, Name: "Wind", Why: "on 3 of the 3 taken within seconds"}}, suggested)
	b.tag("Wind", b.ids[0])
	suggested, err = b.s.Suggest(ctx, b.v, b.ids[0])
	require.NoError(t, err)
	assert.Empty(t, suggested, "it has it now")
	_, err = b.s.Suggest(ctx, b.v, 987654)
	require.ErrorAs(t, err, new(*fault.NotFound))
}

func TestTagsOfThePlaceAreSuggested(t *testing.T) {
	b := newBook(t, "places", 8)
	_, err := b.db.ExecContext(ctx, `update asset set place = 'Sandholm' where id = any($1)`, b.ids[:4])
	require.NoError(t, err)
	_, err = b.db.ExecContext(ctx, `update asset set latitude = 57.5 + (id - $1) * 0.0004, longitude = 10.4 where id = any($2)`,
		b.ids[4], b.ids[4:])
	require.NoError(t, err)
	dunes := b.tag("Dunes", b.ids[1:4]...)
	pier := b.tag("Pier", b.ids[5:]...) // about 45, 90 and 135 metres away
	suggested, err := b.s.Suggest(ctx, b.v, b.ids[0])
	require.NoError(t, err)
	assert.Equal(t, []describing.Suggested{{ID: dunes, Name: "Dunes", Why: "on 3 of the 3 taken at this place"}}, suggested)
	suggested, err = b.s.Suggest(ctx, b.v, b.ids[4])
	require.NoError(t, err)
	assert.Equal(t, []describing.Suggested{{ID: pier, Name: "Pier", Why: "on 3 of the 3 taken within 200 metres"}}, suggested)
	_, err = b.db.ExecContext(ctx, `update asset set latitude = latitude + 1 where id = $1`, b.ids[4])
	require.NoError(t, err)
	suggested, err = b.s.Suggest(ctx, b.v, b.ids[4])
	require.NoError(t, err)
	assert.Empty(t, suggested, "too far away")
}
