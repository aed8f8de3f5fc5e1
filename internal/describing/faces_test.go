package describing_test

import (
	"math"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/recipestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/tagstore"
	"brightsatchel/internal/store/undostore"
)

var onTheLeft = geometry.Region{X: 0.1, Y: 0.2, Width: 0.2, Height: 0.3}

// faces lists the outlines of an item, as it is shown.
func (b book) faces(asset int64) []facestore.Face {
	b.t.Helper()
	a, err := assetstore.AssetByID(ctx, b.db, b.v, asset)
	require.NoError(b.t, err)
	found, err := facestore.FacesOf(ctx, b.db, asset, a.Frame())
	require.NoError(b.t, err)
	return found
}

func (b book) draw(asset int64, name string) int64 {
	b.t.Helper()
	done, err := b.s.DrawFace(ctx, b.v, asset, onTheLeft, name)
	require.NoError(b.t, err)
	return done.ID
}

func (b book) undo(done store.Done) {
	b.t.Helper()
	_, err := undostore.Undo(ctx, b.db, b.v, done.Trail)
	require.NoError(b.t, err)
}

func TestANameOnAFaceIsATag(t *testing.T) {
	b := newBook(t, "faces", 2)
	id := b.draw(b.ids[0], "")
	done, err := b.s.NameFace(ctx, b.v, b.ids[0], id, "Ada Quill")
	require.NoError(t, err)
	assert.Equal(t, "Named a face: Ada Quill", done.Said)
	assert.Equal(t, map[string]int{"Ada Quill": 1}, b.on())
	people, err := b.s.PeopleShown(ctx, b.v)
	require.NoError(t, err)
	require.Len(t, people, 1)
	assert.Equal(t, "Ada Quill", people[0].Name)
	assert.Equal(t, []int{1, 1}, []int{people[0].Items, people[0].Faces})
	assert.Equal(t, id, people[0].Portrait.ID)

	// it was somebody else: the tag that came with the name goes with it, one that somebody typed stays
	other, err := b.s.NameFace(ctx, b.v, b.ids[0], id, "Bo Marsh")
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Ada Quill": 0, "Bo Marsh": 1}, b.on())
	b.undo(other)
	assert.Equal(t, "Ada Quill", b.faces(b.ids[0])[0].Name)
	assert.Equal(t, map[string]int{"Ada Quill": 1, "Bo Marsh": 0}, b.on())
	b.undo(done)
	assert.Empty(t, b.faces(b.ids[0])[0].Name)
	b.tag("Ada Quill", b.ids[1])
	second := b.draw(b.ids[1], "ada quill")
	_, err = b.s.DropFace(ctx, b.v, b.ids[1], second)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"Ada Quill": 1, "Bo Marsh": 0}, b.on(), "typed by hand")
	assert.Empty(t, b.faces(b.ids[1]))
}

// TestOutlinesTurnWithTheirPicture draws on pictures that are turned in every way, and turns them on.
func TestOutlinesTurnWithTheirPicture(t *testing.T) {
	b := newBook(t, "turned", 1)
	turn := func(rt require.TestingT, degrees int) {
		a, err := assetstore.AssetByID(ctx, b.db, b.v, b.ids[0])
		require.NoError(rt, err)
		require.NoError(rt, b.db.InTx(ctx, func(tx *store.Tx) error {
			_, err := recipestore.SetRecipes(ctx, tx, []int64{a.ID},
				func(recipestore.Prepared) recipe.Recipe { return recipe.Recipe{Turn: degrees} })
			return err
		}))
	}
	turns := rapid.SampledFrom([]int{0, 90, 180, 270})
	rapid.Check(t, func(rt *rapid.T) {
		first, then := turns.Draw(rt, "first"), turns.Draw(rt, "then")
		fraction := rapid.Float64Range(0.1, 0.4)
		r := geometry.Region{X: fraction.Draw(rt, "x"), Y: fraction.Draw(rt, "y"), Width: fraction.Draw(rt, "w"), Height: fraction.Draw(rt, "h")}
		turn(rt, first)
		done, err := b.s.DrawFace(ctx, b.v, b.ids[0], r, "")
		require.NoError(rt, err)
		drawn := b.faces(b.ids[0])[0].Region()
		near(rt, r, drawn)
		turn(rt, then)
		by := geometry.Cut{Turn: then - first}
		near(rt, by.Orientation().Region(r), b.faces(b.ids[0])[0].Region())
		b.undo(done)
	})
}

func near(t require.TestingT, want, got geometry.Region) {
	const fine = 1e-6 // they are kept as real
	require.InDelta(t, want.X, got.X, fine)
	require.InDelta(t, want.Y, got.Y, fine)
	require.InDelta(t, want.Width, got.Width, fine)
	require.InDelta(t, want.Height, got.Height, fine)
}

func TestWhatIsNoFaceIsNotFoundAgain(t *testing.T) {
	b := newBook(t, "nofaces", 1)
	a, err := assetstore.AssetByID(ctx, b.db, b.v, b.ids[0])
	require.NoError(t, err)
	look := func() {
		require.NoError(t, b.db.InTx(ctx, func(tx *store.Tx) error {
			_, err := assetstore.SaveLooked(ctx, tx, b.v.Brand, a.ID, a.VersionID, assetstore.Looked{FacesLooked: true,
				Faces: []geometry.Region{onTheLeft, {X: 0.6, Y: 0.6, Width: 0.2, Height: 0.2}}})
			return err
		}))
	}
	look()
	found := b.faces(b.ids[0])
	require.Len(t, found, 2)
	open, err := b.s.NextFace(ctx, b.v, 0, false)
	require.NoError(t, err)
	assert.Equal(t, []int64{2, found[0].ID, b.ids[0]}, []int64{int64(open.Left), open.Next.ID, open.Next.Asset})
	dropped, err := b.s.DropFace(ctx, b.v, b.ids[0], found[0].ID)
	require.NoError(t, err)
	_, err = b.s.PlaceFace(ctx, b.v, b.ids[0], found[1].ID, geometry.Region{X: 0.55, Y: 0.55, Width: 0.3, Height: 0.3})
	require.NoError(t, err)
	look()
	after := b.faces(b.ids[0])
	require.Len(t, after, 1, "neither the one that is none nor the one that a person moved")
	assert.Equal(t, "drawn", after[0].State)
	b.undo(dropped)
	assert.Len(t, b.faces(b.ids[0]), 2)
	open, err = b.s.NextFace(ctx, b.v, after[0].ID, false)
	require.NoError(t, err)
	assert.Zero(t, open.Next.ID)
	open, err = b.s.NextFace(ctx, b.v, after[0].ID, true)
	require.NoError(t, err)
	assert.Equal(t, found[0].ID, open.Next.ID)
}

func TestOutlinesAreBounded(t *testing.T) {
	b := newBook(t, "bounded", 1)
	for _, r := range []geometry.Region{{X: -5, Y: 0.9, Width: 40, Height: 0.5}, {X: 0.999, Y: 2, Width: 0, Height: -1}} {
		_, err := b.s.DrawFace(ctx, b.v, b.ids[0], r, "")
		require.NoError(t, err)
	}
	for _, f := range b.faces(b.ids[0]) {
		assert.True(t, f.X >= 0 && f.Y >= 0 && f.X+f.Width <= 1.000001 && f.Y+f.Height <= 1.000001 && f.Width > 0 && f.Height > 0, f)
	}
	_, err := b.s.DrawFace(ctx, b.v, b.ids[0], geometry.Region{X: math.NaN(), Width: 0.1, Height: 0.1}, "")
	assert.ErrorAs(t, err, new(*fault.Invalid))
	_, err = b.s.DrawFace(ctx, b.v, b.ids[0], onTheLeft, "Ada, Bo")
	assert.ErrorAs(t, err, new(*fault.Invalid))
}

// TestFortyNameOnePersonAtOnce makes one tag of one name, whoever comes first.
func TestFortyNameOnePersonAtOnce(t *testing.T) {
	b := newBook(t, "forty", 40)
	var all sync.WaitGroup
	for _, id := range b.ids {
		all.Go(func() {
			_, err := b.s.DrawFace(ctx, b.v, id, onTheLeft, "Ada Quill")
			assert.NoError(t, err)
		})
	}
	all.Wait()
	assert.Equal(t, map[string]int{"Ada Quill": 40}, b.on())
}

func TestFacesAreForThoseWhoDescribe(t *testing.T) {
	b := newBook(t, "whose", 1)
	id := b.draw(b.ids[0], "")
	for _, role := range []access.Role{access.Reviewer, access.Contributor, access.Associate} {
		v := storetest.Brand(t, b.db, "other"+string(role))[role]
		_, err := b.s.NameFace(ctx, v, b.ids[0], id, "Ada Quill")
		assert.ErrorAs(t, err, new(*fault.NotFound), "another brand")
	}
	_, err := b.s.NameFace(ctx, b.v, b.ids[0], id+99, "Ada Quill")
	assert.ErrorAs(t, err, new(*fault.NotFound))
}

func TestConsentMarksAndFinds(t *testing.T) {
	b := newBook(t, "consent", 4)
	ada, bo := b.draw(b.ids[0], "Ada Quill"), b.draw(b.ids[1], "Bo Marsh")
	require.NotEqual(t, ada, bo)
	tags, err := tagstore.TagIDs(ctx, b.db, b.v.Brand)
	require.NoError(t, err)
	text := func(s string) *string { return &s }
	refused, err := b.s.WriteAbout(ctx, b.v, tags["Ada Quill"], describing.AboutPerson{Consent: text("refused"), Note: text("By letter")})
	require.NoError(t, err)
	assert.Equal(t, "Ada Quill does not agree to be shown in public", refused.Said)
	ended, err := b.s.WriteAbout(ctx, b.v, tags["Bo Marsh"], describing.AboutPerson{Consent: text("given"), ConsentUntil: text("2026-01-31"),
		Email: text("bo@marsh.example")})
	require.NoError(t, err)
	assert.Equal(t, "Bo Marsh agrees to be shown in public until 2026-01-31", ended.Said)
	finds := func(standing string) []int64 {
		ids, err := findstore.Find(b.db).IDs(ctx, b.v, query.Query{Place: "everything", Filter: query.Both(query.Rule{Field: "consent",
			Names: []string{standing}})})
		require.NoError(t, err)
		return ids
	}
	assert.Equal(t, []int64{b.ids[0]}, finds(sending.Refused))
	assert.Equal(t, []int64{b.ids[1]}, finds(sending.Ended))
	assert.Empty(t, finds(sending.Given))
	for _, wrong := range []describing.AboutPerson{{Consent: text("ended")}, {Consent: text("maybe")}, {Email: text("Bo <bo@x.example>")},
		{ConsentUntil: text("31.1.2026")}, {Note: text(strings.Repeat("x", 1001))}} {
		_, err := b.s.WriteAbout(ctx, b.v, tags["Bo Marsh"], wrong)
		assert.ErrorAs(t, err, new(*fault.Invalid), wrong)
	}

	// who refused under one name has refused under all
	merged, err := b.s.Merge(ctx, b.v, tags["Bo Marsh"], []int64{tags["Ada Quill"]})
	require.NoError(t, err)
	assert.ElementsMatch(t, b.ids[:2], finds(sending.Refused))
	b.undo(merged)
	assert.Equal(t, []int64{b.ids[0]}, finds(sending.Refused))
	b.undo(refused)
	assert.Empty(t, finds(sending.Refused))
	assert.Equal(t, []int64{b.ids[0]}, finds(sending.Open))
}
