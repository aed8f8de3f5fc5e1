package preparing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/replacing"
	"brightsatchel/internal/preparing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/storetest"
)

// gathered puts an item into an album that an open gallery shows.
func (b *bench) gathered(id int64) {
	require.NoError(b, b.db.InTx(ctx, func(tx *store.Tx) error {
		album, err := albumstore.AddAlbum(ctx, tx, b.v.Brand, 0, "Press kit")
		if err != nil {
			return err
		}
		if _, err := albumstore.AddToAlbum(ctx, tx, b.v.Brand, album, []int64{id}); err != nil {
			return err
		}
		g := gallerystore.Gallery{Brand: b.v.Brand, Kind: galleries.Client, Title: "For the press", Audience: galleries.Link,
			Chapters: []gallerystore.Chapter{{Place: assetstore.Place{Album: album}}}}
		if g.ID, err = gallerystore.AddGallery(ctx, tx, g); err != nil {
			return err
		}
		g.Open = true
		if err := gallerystore.ChangeGallery(ctx, tx, g); err != nil {
			return err
		}
		_, err = embedstore.AddEmbed(ctx, tx, embedstore.Embed{Brand: b.v.Brand, Name: "On our site",
			Sources: []assetstore.Place{{Album: album}, {Album: album}}})
		if err != nil {
			return err
		}
		_, err = embedstore.MakePublic(ctx, tx, b.v.Brand, []int64{id})
		return err
	}))
}

func TestAFileIsReplacedEverywhere(t *testing.T) {
	b := newBench(t, "replaced")
	of, with := b.ids[0], b.ids[1]
	b.set(of, brighter(1), 0)
	_, err := b.s.Focal(ctx, b.v, of, &geometry.Point{X: 0.2, Y: 0.3})
	require.NoError(t, err)
	b.gathered(of)
	pair := []assetstore.Replacement{{Of: of, With: with}}

	plan, err := b.s.PlanReplacing(ctx, b.v, pair)
	require.NoError(t, err)
	require.Len(t, plan, 1)
	assert.True(t, plan[0].Prepared)
	assert.True(t, plan[0].Mine)
	assert.Equal(t, []assetstore.Showing{{Asset: of, What: "address", Open: true}, {Asset: of, What: "album", Name: "Press kit"},
		{Asset: of, What: "embed", Name: "On our site"}, {Asset: of, What: "gallery", Name: "For the press", Open: true}}, plan[0].Showing)
	assert.Equal(t, "a.jpg", b.item(of).FileName, "nothing is changed by looking at what would change")

	done, err := b.s.Replace(ctx, b.v, pair, replacing.Stays{Recipe: true, Focal: true}, preparing.Afterwards{Bin: true})
	require.NoError(t, err)
	assert.Equal(t, "Replaced 1 item", done.Said)
	a := b.item(of)
	assert.Equal(t, "b.jpg", a.FileName)
	assert.InDelta(t, 1, a.Recipe.Exposure, 1e-9)
	assert.InDelta(t, 0.2, a.FocalX, 1e-6)
	assert.True(t, b.item(with).Binned.Valid)
	_, err = b.up.Undo(ctx, b.v, done.Trail)
	require.NoError(t, err)
	assert.Equal(t, "a.jpg", b.item(of).FileName)
	assert.False(t, b.item(with).Binned.Valid)

	_, err = b.s.Replace(ctx, b.v, pair, replacing.Stays{}, preparing.Afterwards{})
	require.NoError(t, err)
	assert.True(t, b.item(of).Recipe.Neutral(), "what does not stay is as it came")
	assert.False(t, b.item(with).Binned.Valid)
	again, err := b.s.Replace(ctx, b.v, pair, replacing.Stays{}, preparing.Afterwards{})
	require.NoError(t, err)
	assert.Zero(t, again.Changed, "the same file changes nothing")

	versions, err := assetstore.VersionsOf(ctx, b.db, b.v.Brand, of)
	require.NoError(t, err)
	require.Len(t, versions, 2)
	back, err := b.s.ShowVersion(ctx, b.v, of, versions[1].ID)
	require.NoError(t, err)
	assert.Equal(t, "Brought “a.jpg” back", back.Said)
	assert.Equal(t, "a.jpg", b.item(of).FileName)
	_, err = b.s.ShowVersion(ctx, b.v, of, versions[1].ID)
	require.ErrorAs(t, err, new(*fault.NotFound), "it is shown already")
	_, err = b.s.ShowVersion(ctx, b.v, with, versions[0].ID)
	require.ErrorAs(t, err, new(*fault.NotFound), "that is another item's")
}

func TestFilesComeBackUnderTheirNames(t *testing.T) {
	b := newBench(t, "names")
	old := storetest.Items(t, b.db, b.v, 0, "logo.svg", "Logo.SVG", "other.svg")
	fresh := storetest.Items(t, b.db, b.v, 0, "logo.svg", "new.svg")
	plan, alone, err := b.s.PlanByName(ctx, b.v, query.Selection{IDs: fresh})
	require.NoError(t, err)
	assert.Equal(t, 1, alone, "one of them has no namesake")
	var pairs []assetstore.Replacement
	for _, p := range plan {
		pairs = append(pairs, assetstore.Replacement{Of: p.Of.ID, With: p.With.ID})
	}
	assert.Equal(t, []assetstore.Replacement{{Of: old[0], With: fresh[0]}, {Of: old[1], With: fresh[0]}}, pairs)
	for name, wrong := range map[string][]assetstore.Replacement{
		"nothing": nil, "itself": {{Of: old[0], With: old[0]}}, "twice": {{Of: old[0], With: fresh[0]}, {Of: old[0], With: fresh[1]}},
		"in a ring": {{Of: old[0], With: old[1]}, {Of: old[1], With: old[0]}}, "too many": make([]assetstore.Replacement, 501),
	} {
		_, err := b.s.Replace(ctx, b.v, wrong, replacing.Stays{}, preparing.Afterwards{})
		require.ErrorAs(t, err, new(*fault.Invalid), name)
	}
	for _, role := range []access.Role{access.Reviewer, access.Associate} {
		_, err := b.s.Replace(ctx, b.people[role], pairs, replacing.Stays{}, preparing.Afterwards{})
		require.Error(t, err, role)
		_, err = b.s.ShowVersion(ctx, b.people[role], old[0], 1)
		require.Error(t, err, role)
	}
	stranger := storetest.Brand(t, b.db, "elsewhere")[access.Coordinator]
	_, err = b.s.PlanReplacing(ctx, stranger, pairs)
	require.ErrorAs(t, err, new(*fault.NotFound))
}
