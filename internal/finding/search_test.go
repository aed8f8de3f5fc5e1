package finding_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/finding/index"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
)

// searched is a brand with three kites and a secret, seen by a coordinator and by somebody who was given the folder of one of them.
func searched(t *testing.T) (db *store.DB, boss, guest *access.Viewer, ids []int64) {
	t.Helper()
	ctx := context.Background()
	db = storetest.New(t)
	people := storetest.Brand(t, db, "search")
	boss, guest = people[access.Coordinator], people[access.Associate]
	var given int64
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) (err error) {
		if given, err = folderstore.AddFolder(ctx, tx, boss.Brand, 0, "Harbour"); err != nil {
			return err
		}
		return peoplestore.AddGrant(ctx, tx, boss.Brand, guest.Person, access.Grant{Folder: given, Level: access.LevelLook})
	}))
	ids = append(storetest.Items(t, db, boss, given, "one.jpg"), storetest.Items(t, db, boss, 0, "two.jpg", "three.jpg", "secret.jpg")...)
	for i, title := range []string{"A red kite", "A blue Kité", "Gusts", "Wolframite kitten"} {
		_, err := storetest.SQL(db).Exec(`update asset set title = $2, alt = 'Seen from the pier' where id = $1`, ids[i], title)
		require.NoError(t, err)
	}
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		tag, err := tagstore.EnsureTag(ctx, tx, boss.Brand, "Thermals", "")
		if err == nil {
			_, err = tagstore.ChangeTags(ctx, tx, boss.Brand, ids[2:3], []int64{tag}, nil)
		}
		if err != nil {
			return err
		}
		album, err := albumstore.AddAlbum(ctx, tx, boss.Brand, 0, "Lookbook")
		if err == nil {
			_, err = albumstore.AddToAlbum(ctx, tx, boss.Brand, album, ids[1:2])
		}
		return err
	}))
	return db, storetest.See(t, db, boss.Person, "search"), storetest.See(t, db, guest.Person, "search"), ids
}

func TestASlipIsForgiven(t *testing.T) {
	ctx := context.Background()
	db, boss, guest, ids := searched(t)
	x := index.New(db)
	require.NoError(t, x.Load(ctx, boss.Brand))
	for name, finder := range map[string]findstore.Finder{"index": x, "SQL": findstore.Find(db)} {
		for word, nearest := range map[string][]string{"kyte": {"kite"}, "thremals": {"thermals"}, "harbor": {"harbour"}, "lokbok": {},
			"lookbok": {"lookbook"}, "kit": {}, "wolframits": {"wolframite"}} {
			near, err := finder.Nearest(ctx, boss, word)
			require.NoError(t, err)
			assert.Equal(t, nearest, near, "%s: %s", name, word)
		}
		near, err := finder.Nearest(ctx, guest, "wolframits")
		require.NoError(t, err)
		assert.Empty(t, near, "%s: no word of what others see only", name)

		find := &finding.Service{Finder: finder, DB: db}
		q := query.Query{Place: "everything", Filter: query.Both(query.Words("blue kyte"), query.AtLeast(0))}
		miss, err := find.Miss(ctx, boss, q)
		require.NoError(t, err)
		assert.Equal(t, map[string][]finding.Near{"kyte": {{Word: "kite", Items: 1}}}, miss.Nearest, name)
		assert.Equal(t, []finding.Loosened{{Word: "kyte", Rule: 0, Items: 1}}, miss.Without, name)
		assert.Equal(t, finding.Near{Word: "blue kite", Items: 1}, miss.Meant, name)
		assert.True(t, miss.Certain)
		miss, err = find.Miss(ctx, boss, query.Query{Place: "everything", Filter: query.Both(query.Words("xyzzyx kyte"))})
		require.NoError(t, err)
		assert.Equal(t, finding.Near{Word: "kite", Items: 2}, miss.Meant, name)
		assert.False(t, miss.Certain, "a word is left out")
		album, err := find.IDs(ctx, boss, query.Query{Place: "everything", Filter: query.Both(query.Words("lookb"))})
		require.NoError(t, err)
		assert.Equal(t, ids[1:2], album, "%s: by the name of an album", name)
	}
	// what is written is known at once, and what is not there any more is not proposed
	_, err := storetest.SQL(db).Exec(`update asset set title = 'A red moth' where id = any($1)`, ids[:2])
	require.NoError(t, err)
	near, err := x.Nearest(ctx, boss, "kyte")
	require.NoError(t, err)
	assert.Empty(t, near)
	near, err = x.Nearest(ctx, boss, "mothh")
	require.NoError(t, err)
	assert.Equal(t, []string{"moth"}, near)
}

func TestWhatWasFoundSaysWhy(t *testing.T) {
	ctx := context.Background()
	db, boss, guest, ids := searched(t)
	find := &finding.Service{Finder: findstore.Find(db), DB: db}
	why, err := find.Why(ctx, boss, "KITE pier", ids)
	require.NoError(t, err)
	assert.Equal(t, []query.Reason{{Field: "title", Before: "A blue ", Match: "Kité"},
		{Field: "alt", Before: "Seen from the ", Match: "pier"}}, why[ids[1]])
	why, err = find.Why(ctx, boss, "lookbook thermals harbour", ids)
	require.NoError(t, err)
	assert.Equal(t, "folder", why[ids[0]][0].Field)
	assert.Equal(t, "album", why[ids[1]][0].Field)
	assert.Equal(t, "tag", why[ids[2]][0].Field)
	assert.Empty(t, why[ids[3]])
	why, err = find.Why(ctx, guest, "kite", ids)
	require.NoError(t, err)
	assert.Len(t, why, 1, "nothing of what one does not see")
	_, err = find.Why(ctx, boss, "kite", make([]int64, 201))
	require.Error(t, err)
}

// TestAPluralFindsTheOneToo searches for the many and finds one.
func TestAPluralFindsTheOneToo(t *testing.T) {
	ctx := context.Background()
	db, boss, _, ids := searched(t)
	x := index.New(db)
	require.NoError(t, x.Load(ctx, boss.Brand))
	for _, finder := range []findstore.Finder{x, findstore.Find(db)} {
		found, err := finder.IDs(ctx, boss, query.Query{Place: "everything", Sort: "name", Filter: query.Both(query.Words("KITES"))})
		require.NoError(t, err)
		assert.ElementsMatch(t, ids[:2], found)
	}
	why, err := (&finding.Service{Finder: x, DB: db}).Why(ctx, boss, "kites", ids[:1])
	require.NoError(t, err)
	assert.Equal(t, []query.Reason{{Field: "title", Before: "A red ", Match: "kite"}}, why[ids[0]])
}
