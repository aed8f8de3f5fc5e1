package embedding_test

import (
	"strings"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// shownBy lists the ids of what an embed shows now, when it is live.
func shownBy(t *testing.T, h *house.House, code string) []int64 {
	t.Helper()
	e, err := h.Embedding.LiveEmbed(ctx, code)
	require.NoError(t, err)
	ids := []int64{}
	for _, a := range e.Pictures {
		ids = append(ids, a.ID)
	}
	return ids
}

// embedOf makes a live embed of some places.
func embedOf(t *testing.T, h *house.House, v *access.Viewer, sources ...assetstore.Place) embedstore.Embed {
	t.Helper()
	d, err := h.Embedding.CreateEmbed(ctx, v, embedding.EmbedChange{Sources: sources})
	require.NoError(t, err)
	live := true
	_, err = h.Embedding.ChangeEmbed(ctx, v, d.ID, embedding.EmbedChange{Live: &live})
	require.NoError(t, err)
	all, err := h.Embedding.Embeds(ctx, v)
	require.NoError(t, err)
	require.Equal(t, d.ID, all[0].ID, "the newest first")
	return all[0]
}

func albumOf(t *testing.T, h *house.House, v *access.Viewer, name string, ids ...int64) int64 {
	t.Helper()
	d, err := h.Gathering.Create(ctx, v, 0, name, &query.Selection{IDs: ids}, nil)
	require.NoError(t, err)
	return d.ID
}

func TestAnEmbedFollowsWhatItShows(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "embed")
	v := people[access.Coordinator]
	first, second := albumOf(t, h, v, "First", ids[2], ids[0]), albumOf(t, h, v, "Second", ids[0], ids[1])
	e := embedOf(t, h, v, assetstore.Place{Album: first}, assetstore.Place{Album: second})
	assert.Equal(t, "First", e.Name, "as the first place is called")
	assert.Equal(t, []int64{ids[2], ids[0], ids[1]}, shownBy(t, h, e.Code), "one place after the other, each item once")

	live := func() (n int) {
		rows, err := findstore.Rows(ctx, h.DB, v, ids)
		require.NoError(t, err)
		for _, row := range rows {
			if row.Live {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 3, live(), "tiles say that they are shown outside")

	by := e.Settings.Settings
	by.Sort, by.Most = "name", 2
	_, err := h.Embedding.ChangeEmbed(ctx, v, e.ID, embedding.EmbedChange{Settings: &by})
	require.NoError(t, err)
	assert.Len(t, shownBy(t, h, e.Code), 2)
	by.Sort, by.Most = "hand", 60

	// what should not go out goes by itself, and comes back
	_, err = h.Embedding.ChangeEmbed(ctx, v, e.ID, embedding.EmbedChange{Settings: &by})
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).
		Exec(`update asset set rights_until = $2 where id = $1`, ids[0], time.Now().AddDate(0, 0, -2).Format(time.DateOnly))
	require.NoError(t, err)
	assert.Equal(t, []int64{ids[2], ids[1]}, shownBy(t, h, e.Code), "its rights have ended")
	_, err = storetest.SQL(h.DB).Exec(`update asset set rights_until = null, stars = -1 where id = $1`, ids[0])
	require.NoError(t, err)
	assert.Equal(t, []int64{ids[2], ids[1]}, shownBy(t, h, e.Code), "it was set aside")
	_, err = storetest.SQL(h.DB).Exec(`update asset set stars = 0 where id = $1`, ids[0])
	require.NoError(t, err)
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{ids[2]}})
	require.NoError(t, err)
	assert.Equal(t, []int64{ids[0], ids[1]}, shownBy(t, h, e.Code), "it is in the bin")

	// an album that is removed goes from it, and comes back with its place
	removed, err := h.Gathering.Remove(ctx, v, first, false)
	require.NoError(t, err)
	require.Len(t, shownBy(t, h, e.Code), 2)
	all, err := h.Embedding.Embeds(ctx, v)
	require.NoError(t, err)
	require.Len(t, all[0].Sources, 1)
	_, err = undostore.Undo(ctx, h.DB, v, removed.Trail)
	require.NoError(t, err)
	all, err = h.Embedding.Embeds(ctx, v)
	require.NoError(t, err)
	require.Len(t, all[0].Sources, 2)
	assert.Equal(t, first, all[0].Sources[0].Album)

	off := false
	switched, err := h.Embedding.ChangeEmbed(ctx, v, e.ID, embedding.EmbedChange{Live: &off})
	require.NoError(t, err)
	_, err = h.Embedding.LiveEmbed(ctx, e.Code)
	assert.ErrorAs(t, err, new(*fault.NotFound))
	assert.Zero(t, live())
	card, err := h.Finding.Card(ctx, v, ids[0])
	require.NoError(t, err)
	assert.Empty(t, card.Shown)
	_, err = undostore.Undo(ctx, h.DB, v, switched.Trail)
	require.NoError(t, err)
	assert.Len(t, shownBy(t, h, e.Code), 2, "under the same code")

	// a folder above the one in which an item lives, and a rule, show it as well
	a, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	above := assetstore.Place{Below: true}
	require.NoError(t, storetest.SQL(h.DB).Get(&above.Folder, `select parent_id from folder where id = $1`, a.Folder.Int64))
	_, err = h.Embedding.ChangeEmbed(ctx, v, e.ID, embedding.EmbedChange{Sources: []assetstore.Place{above}})
	require.NoError(t, err)
	assert.ElementsMatch(t, ids[:2], shownBy(t, h, e.Code))
	assert.Equal(t, 3, live(), "the one in the bin lives there as well")
	card, err = h.Finding.Card(ctx, v, ids[0])
	require.NoError(t, err)
	require.Len(t, card.Shown, 1)
	assert.Equal(t, "/e/"+e.Code, card.Shown[0].Path)
	by4 := query.Rule{Field: "item", IDs: ids[1:2]}
	rule, err := h.Gathering.CreateByRule(ctx, v, 0, "By rule", query.RuleAlbum{Rule: by4})
	require.NoError(t, err)
	_, err = h.Embedding.ChangeEmbed(ctx, v, e.ID, embedding.EmbedChange{Sources: []assetstore.Place{{Album: rule.ID}}})
	require.NoError(t, err)
	assert.Equal(t, ids[1:2], shownBy(t, h, e.Code))
}

func TestPicturesForPages(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "forpages")
	v := people[access.Coordinator]
	a, err := assetstore.AssetByID(ctx, h.DB, v, ids[0]) // 400 pixels wide
	require.NoError(t, err)
	made := map[string]bool{}
	for _, ending := range embeds.Formats {
		key, err := h.Embedding.ForPage(ctx, v.Brand, a, 320, ending)
		require.NoError(t, err)
		assert.True(t, strings.HasSuffix(key, "."+ending), key)
		made[key] = true
	}
	assert.Len(t, made, 3)
	for _, wrong := range []struct {
		width  int
		ending string
	}{{640, "jpg"}, {321, "jpg"}, {0, "webp"}, {320, "png"}, {320, "original"}, {320, ""}} {
		_, err := h.Embedding.ForPage(ctx, v.Brand, a, wrong.width, wrong.ending)
		assert.ErrorAs(t, err, new(*fault.NotFound), wrong)
	}
	_, err = h.Embedding.FilmForPage(ctx, v.Brand, a)
	assert.ErrorAs(t, err, new(*fault.NotFound))
	before, err := h.Embedding.ForPage(ctx, v.Brand, a, 320, "webp")
	require.NoError(t, err)
	_, err = h.Preparing.Set(ctx, v, ids[0], "", recipe.Recipe{Turn: 90}, 0)
	require.NoError(t, err)
	a, err = assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	after, err := h.Embedding.ForPage(ctx, v.Brand, a, embeds.Widest(a.Width, 320), "webp")
	require.NoError(t, err)
	assert.NotEqual(t, before, after, "pages show what was prepared")
}

func TestAPublicAddressStays(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "address")
	v := people[access.Coordinator]
	made, done, err := h.Embedding.MakePublic(ctx, v, query.Selection{IDs: ids[:2]})
	require.NoError(t, err)
	require.Len(t, made, 2)
	assert.Equal(t, 2, done.Changed)
	again, done, err := h.Embedding.MakePublic(ctx, v, query.Selection{IDs: ids[:2]})
	require.NoError(t, err)
	assert.Equal(t, made, again, "the same addresses")
	assert.Zero(t, done.Changed)

	_, err = storetest.SQL(h.DB).Exec(`update asset set rights_until = '2020-01-01' where id = $1`, ids[2])
	require.NoError(t, err)
	_, _, err = h.Embedding.MakePublic(ctx, v, query.Selection{IDs: ids})
	var wrong *fault.Invalid
	require.ErrorAs(t, err, &wrong)
	assert.Contains(t, wrong.Text, "1 item should not go out: their rights have ended")

	ended, err := h.Embedding.EndPublic(ctx, v, []int64{made[0].ID})
	require.NoError(t, err)
	_, _, err = embedstore.LiveAddress(ctx, h.DB, made[0].Code)
	assert.ErrorAs(t, err, new(*fault.NotFound))
	_, err = undostore.Undo(ctx, h.DB, v, ended.Trail)
	require.NoError(t, err)
	_, a, err := embedstore.LiveAddress(ctx, h.DB, made[0].Code)
	require.NoError(t, err)
	assert.Equal(t, made[0].Asset, a.ID)
	_, err = undostore.Undo(ctx, h.DB, people[access.Contributor], ended.Trail)
	assert.Error(t, err, "who may not make things public may not take it back either")
}

func TestSitesAreNamedOnce(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "sites")
	v := people[access.Steward]
	_, err := h.Embedding.AddSite(ctx, v, "Ours", "www.example.org/start")
	require.NoError(t, err)
	_, err = h.Embedding.AddSite(ctx, v, "Ours again", "https://WWW.example.org")
	var wrong *fault.Invalid
	require.ErrorAs(t, err, &wrong)
	assert.Equal(t, "origin", wrong.Field)
	_, err = h.Embedding.AddSite(ctx, v, "", "javascript:alert(1)")
	require.ErrorAs(t, err, &wrong)
	all, err := h.Embedding.Sites(ctx, v)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, "https://www.example.org", all[0].Origin)
}
