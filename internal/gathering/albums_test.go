package gathering_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// tree writes the albums below each other with their items, as "Outer 2, Outer / Inner 1".
func tree(t *testing.T, s *gathering.Service, v *access.Viewer) string {
	t.Helper()
	albums, err := s.Albums(ctx, v)
	require.NoError(t, err)
	byID := map[int64]albumstore.Album{}
	for _, a := range albums {
		byID[a.ID] = a
	}
	var path func(a albumstore.Album) string
	path = func(a albumstore.Album) string {
		if up, nested := byID[a.Parent.Int64]; nested {
			return path(up) + " / " + a.Name
		}
		return a.Name
	}
	var out []string
	for _, a := range albums {
		out = append(out, path(a)+" "+string(rune('0'+a.Items)))
	}
	slices.Sort(out)
	return strings.Join(out, ", ")
}

func TestAlbumsInAlbums(t *testing.T) {
	s, v, ids := started(t)
	make := func(parent int64, name string, items ...int64) int64 {
		done, err := s.Create(ctx, v, parent, name, &query.Selection{IDs: items}, nil)
		require.NoError(t, err)
		return done.ID
	}
	spring := make(0, "Spring", ids[0], ids[1])
	walk := make(spring, "Walk", ids[1], ids[2])
	make(walk, "Details", ids[3])
	shown := func(below bool) []int64 {
		found, err := findstore.Find(s.DB).IDs(ctx, v, query.Query{Place: "album", ID: spring, Below: below, Sort: "name"})
		require.NoError(t, err)
		return found
	}
	assert.Len(t, shown(false), 2)
	assert.ElementsMatch(t, ids, shown(true), "each once")

	var invalid *fault.Invalid
	_, err := s.Change(ctx, v, spring, gathering.Change{Parent: &walk})
	require.ErrorAs(t, err, &invalid, "not into what is in it")
	_, err = s.Change(ctx, v, spring, gathering.Change{Parent: &spring})
	require.ErrorAs(t, err, &invalid, "not into itself")
	copied, err := s.Duplicate(ctx, v, spring, true)
	require.NoError(t, err)
	assert.Equal(t, "Duplicated the album “Spring” with 2 albums in it as “Spring copy”; no item was copied", copied.Said)
	assert.Equal(t, "Spring / Walk / Details 1, Spring / Walk 2, Spring 2, Spring copy / Walk / Details 1, Spring copy / Walk 2, "+
		"Spring copy 2", tree(t, s, v))
	top := int64(0)
	moved, err := s.Change(ctx, v, walk, gathering.Change{Parent: &top})
	require.NoError(t, err)
	assert.Equal(t, "Moved the album “Walk” to the top", moved.Said)
	removed, err := s.Remove(ctx, v, copied.ID, true)
	require.NoError(t, err)
	assert.Equal(t, "Spring 2, Walk / Details 1, Walk 2", tree(t, s, v))
	for _, step := range []int64{removed.Trail, moved.Trail, copied.Trail} {
		_, err = undostore.Undo(ctx, s.DB, v, step)
		require.NoError(t, err)
	}
	assert.Equal(t, "Spring / Walk / Details 1, Spring / Walk 2, Spring 2", tree(t, s, v))
	_, err = s.Remove(ctx, v, walk, false)
	require.NoError(t, err)
	assert.Equal(t, "Spring / Details 1, Spring 2", tree(t, s, v), "what was in it moves up")
	parked := true
	_, err = s.Change(ctx, v, spring, gathering.Change{Parked: &parked})
	require.NoError(t, err)
	albums, err := s.Albums(ctx, v)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(albums, func(a albumstore.Album) bool { return a.ID == spring && a.Parked }))
}

func TestItemsGoBetweenAlbums(t *testing.T) {
	s, v, ids := started(t)
	var made []int64
	for _, name := range []string{"One", "Two", "Three"} {
		done, err := s.Create(ctx, v, 0, name, nil, nil)
		require.NoError(t, err)
		made = append(made, done.ID)
	}
	in := func(album int64) []int64 {
		found, err := albumstore.AlbumItemIDs(ctx, s.DB, album)
		require.NoError(t, err)
		return found
	}
	added, err := s.Add(ctx, v, made, query.Selection{IDs: ids[:2]})
	require.NoError(t, err)
	assert.Equal(t, "Added 2 items to One, Two and Three", added.Said)
	for _, album := range made {
		assert.Equal(t, ids[:2], in(album))
	}
	moved, err := s.Move(ctx, v, made[0], made[1], query.Selection{IDs: []int64{ids[1]}})
	require.NoError(t, err)
	assert.Equal(t, "Moved 1 item from One to Two", moved.Said)
	assert.Equal(t, ids[:1], in(made[0]))
	assert.Equal(t, ids[:2], in(made[1]), "it was there already")
	_, err = s.Move(ctx, v, made[0], made[0], query.Selection{IDs: ids[:1]})
	require.ErrorAs(t, err, new(*fault.Invalid))
	_, err = undostore.Undo(ctx, s.DB, v, moved.Trail)
	require.NoError(t, err)
	assert.Equal(t, ids[:2], in(made[0]))

	_, err = s.Add(ctx, v, made[:1], query.Selection{IDs: ids})
	require.NoError(t, err)
	_, err = s.OrderBy(ctx, v, made[0], "name", true)
	require.NoError(t, err)
	backwards := slices.Clone(ids)
	slices.Reverse(backwards)
	assert.Equal(t, backwards, in(made[0]))
	_, err = s.OrderBy(ctx, v, made[0], "hand", false)
	require.ErrorAs(t, err, new(*fault.Invalid))
}

// TestAlbumsOfAFolder are in each other as the folders are, and hold what lives there.
func TestAlbumsOfAFolder(t *testing.T) {
	s, v, _ := started(t)
	folder := func(parent int64, name string) (id int64) {
		require.NoError(t, s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
			id, _, err = folderstore.EnsureFolder(ctx, tx, v.Brand, parent, name)
			return err
		}))
		return id
	}
	spring := folder(0, "Spring")
	walk := folder(spring, "Walk")
	folder(spring, "Empty")
	storetest.Items(t, s.DB, v, spring, "e.jpg")
	storetest.Items(t, s.DB, v, walk, "f.jpg", "g.jpg")
	v = storetest.See(t, s.DB, v.Person, "gather")
	done, err := s.FromFolder(ctx, v, spring, true)
	require.NoError(t, err)
	assert.Equal(t, "Made the album “Spring” and 2 albums in it with 3 items", done.Said)
	assert.Equal(t, "Spring / Empty 0, Spring / Walk 2, Spring 1", tree(t, s, v))
	again, err := s.FromFolder(ctx, v, walk, false)
	require.NoError(t, err)
	assert.Equal(t, "Made the album “Walk” with 2 items", again.Said)
	_, err = undostore.Undo(ctx, s.DB, v, again.Trail)
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, s.DB, v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, "", tree(t, s, v))
	_, err = s.FromFolder(ctx, v, 4711, true)
	require.ErrorAs(t, err, new(*fault.NotFound))
}

// TestAnAlbumFollowsItsChoice when somebody says so, and says before how far it is from it.
func TestAnAlbumFollowsItsChoice(t *testing.T) {
	s, v, ids := started(t)
	rate := func(stars int, ids ...int64) {
		require.NoError(t, s.DB.InTx(ctx, func(tx *store.Tx) error {
			_, err := assetstore.RateAssets(ctx, tx, v, ids, stars)
			return err
		}))
	}
	rate(4, ids[0], ids[1], ids[2])
	four := int64(4)
	choice := query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "stars", From: &four})}
	made, err := s.Create(ctx, v, 0, "Best", &query.Selection{Everything: &choice}, &gathering.Choice{Query: choice, Whole: true})
	require.NoError(t, err)
	now, err := s.Standing(ctx, v, made.ID)
	require.NoError(t, err)
	assert.Equal(t, gathering.Standing{Said: "at least 4 stars", Gone: []int64{}, More: []int64{}}, *now)

	rate(2, ids[0], ids[1])
	rate(5, ids[3])
	now, err = s.Standing(ctx, v, made.ID)
	require.NoError(t, err)
	assert.ElementsMatch(t, ids[:2], now.Gone)
	assert.Equal(t, ids[3:], now.More)
	followed, err := s.Follow(ctx, v, made.ID)
	require.NoError(t, err)
	assert.Equal(t, "“Best” follows its choice again: took out 2 items, added 1 item", followed.Said)
	inside, err := albumstore.AlbumItemIDs(ctx, s.DB, made.ID)
	require.NoError(t, err)
	assert.Equal(t, ids[2:], inside)
	_, err = undostore.Undo(ctx, s.DB, v, followed.Trail)
	require.NoError(t, err)
	_, err = s.Forget(ctx, v, made.ID)
	require.NoError(t, err)
	now, err = s.Standing(ctx, v, made.ID)
	require.NoError(t, err)
	assert.Nil(t, now)

	picked, err := s.Create(ctx, v, 0, "Picked", &query.Selection{IDs: ids[2:]}, &gathering.Choice{Query: choice})
	require.NoError(t, err)
	rate(0, ids[3])
	now, err = s.Standing(ctx, v, picked.ID)
	require.NoError(t, err)
	assert.Equal(t, ids[3:], now.Gone)
	assert.Empty(t, now.More, "what else is chosen was left out on purpose")
	_, err = s.Follow(ctx, v, made.ID)
	require.ErrorAs(t, err, new(*fault.Invalid))
}

// TestManyPutAlbumsIntoEachOther at once, and items from one to the other and back: none is in itself afterwards, and nobody is told of
// anything but that.
func TestManyPutAlbumsIntoEachOther(t *testing.T) {
	s, v, ids := started(t)
	var albums []int64
	for _, name := range []string{"A", "B", "C", "D"} {
		done, err := s.Create(ctx, v, 0, name, &query.Selection{IDs: ids}, nil)
		require.NoError(t, err)
		albums = append(albums, done.ID)
	}
	var group sync.WaitGroup
	for i := range 40 {
		group.Go(func() {
			one, other := albums[i%4], albums[(i*7+1)%4]
			var invalid *fault.Invalid
			if _, err := s.Change(ctx, v, one, gathering.Change{Parent: &other}); err != nil {
				assert.ErrorAs(t, err, &invalid)
			}
			if _, err := s.Move(ctx, v, one, other, query.Selection{IDs: ids[:1]}); err != nil {
				assert.ErrorAs(t, err, &invalid)
			}
			_, err := s.Add(ctx, v, albums, query.Selection{IDs: ids[:2]})
			assert.NoError(t, err)
		})
	}
	group.Wait()
	tree(t, s, v) // it would not end in a ring
	for _, album := range albums {
		within, err := albumstore.AlbumsWithin(ctx, s.DB, v.Brand, album)
		require.NoError(t, err)
		assert.LessOrEqual(t, len(within), 4)
	}
}
