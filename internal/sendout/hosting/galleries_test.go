package hosting_test

import (
	"bytes"
	"image/jpeg"
	"strings"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/webp"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/media"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// against are the items that something is said against.
func against(c leaving.Checked, reason string) []int64 {
	for _, a := range c.Against {
		if a.Reason == reason {
			return a.IDs
		}
	}
	return nil
}

func of(album int64) []gallerystore.Chapter {
	return []gallerystore.Chapter{{Place: assetstore.Place{Album: album}}}
}

func TestAGalleryFromClosedToClosed(t *testing.T) {
	h, people, ids, size := sendouttest.Stocked(t, "gallery")
	v := people[access.Coordinator]
	album, err := h.Gathering.Create(ctx, v, 0, "For the client", &query.Selection{IDs: ids[:2]}, nil)
	require.NoError(t, err)
	password, yes, no, empty := "mind the gulls", true, false, ""
	settings := galleries.Usual()
	settings.Sizes = []int64{size}
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Password: &password, Settings: &settings,
		Chapters: of(album.ID)})
	require.NoError(t, err)
	assert.Equal(t, "Made the gallery “For the client”. It is closed", made.Said)
	all, err := h.Hosting.Galleries(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, 2, all[0].Items)
	assert.Equal(t, ids[0], all[0].CoverID.Int64, "its first picture is its cover")
	code := all[0].Code
	locked := func(gallerystore.Gallery) galleries.Caller { return galleries.Caller{} }
	unlocked := func(gallerystore.Gallery) galleries.Caller { return galleries.Caller{Password: true} }

	_, err = h.Hosting.Visit(ctx, code, unlocked)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing, "invisible until opened")
	opened, err := h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &yes})
	require.NoError(t, err)
	assert.Equal(t, "Gallery “For the client”: opened it to anyone with the link and the password", opened.Said)

	view, err := h.Hosting.Visit(ctx, code, locked)
	require.NoError(t, err)
	assert.Equal(t, galleries.Locked, view.State)
	inside, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	outside, err := assetstore.AssetByID(ctx, h.DB, v, ids[2])
	require.NoError(t, err)
	_, err = h.Hosting.ShownIn(ctx, &view)
	require.Error(t, err, "locked is locked, also for who knows an address")
	_, err = h.Hosting.Unlock(ctx, view.Gallery, "wrong", passwords.Caller{From: "here"})
	require.ErrorContains(t, err, "not the password")
	given, err := h.Hosting.Unlock(ctx, view.Gallery, password, passwords.Caller{From: "here"})
	require.NoError(t, err)
	assert.True(t, given)

	view, err = h.Hosting.Visit(ctx, code, unlocked)
	require.NoError(t, err)
	shown, err := h.Hosting.ShownIn(ctx, &view)
	require.NoError(t, err)
	require.Len(t, shown.Pictures, 2)
	_, there := shown.Picture(outside.Code)
	assert.False(t, there, "a picture of the library that is not in the gallery")
	picture, there := shown.Picture(inside.Code)
	require.True(t, there)
	var given1 hosting.Given
	require.NoError(t, h.Hosting.Give(ctx, &view, []assetstore.Asset{picture}, size, "",
		func(g hosting.Given) error { given1 = g; return nil }))
	assert.Equal(t, "shot.jpg", given1.Name)
	config := sendouttest.SizeOf(t, h, given1.Blob, jpeg.DecodeConfig)
	assert.Equal(t, [2]int{200, 100}, [2]int{config.Width, config.Height})
	for _, name := range []string{"original", "film", "../original", "", "download"} {
		_, _, err = h.Hosting.ForGuest(ctx, &view, picture, name)
		assert.Error(t, err, name)
	}
	for _, other := range []int64{0, size + 1, -1} {
		err := h.Hosting.Give(ctx, &view, []assetstore.Asset{picture}, other, "", func(hosting.Given) error { return nil })
		assert.Error(t, err, "neither the original nor another size: %d", other)
	}
	for _, name := range media.PreviewNames {
		_, key, err := h.Hosting.ForGuest(ctx, &view, picture, name)
		require.NoError(t, err)
		looked := sendouttest.SizeOf(t, h, key, webp.DecodeConfig)
		assert.LessOrEqual(t, max(looked.Width, looked.Height), 200, "nothing is larger than the size that the gallery allows: %s", name)
	}
	var archive bytes.Buffer
	require.NoError(t, h.Hosting.ZipForGuest(ctx, &view, shown.Pictures, size, &archive))
	assert.Len(t, sendouttest.Unpack(t, archive.Bytes()), 2)

	_, err = storetest.SQL(h.DB).Exec(`update asset set latitude = 51.5, longitude = 10.25 where brand_id = $1`, v.Brand)
	require.NoError(t, err)
	check, err := h.Hosting.CheckGallery(ctx, v, made.ID)
	require.NoError(t, err)
	assert.Empty(t, against(check, sending.SaysWhere), "sizes that strip what is private")
	settings.Original = true
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Settings: &settings})
	require.NoError(t, err)
	view, err = h.Hosting.Visit(ctx, code, unlocked)
	require.NoError(t, err)
	check, err = h.Hosting.CheckGallery(ctx, v, made.ID)
	require.NoError(t, err)
	assert.Len(t, against(check, sending.SaysWhere), 2, "originals say where they were taken")
	archive.Reset()
	require.NoError(t, h.Hosting.ZipForGuest(ctx, &view, shown.Pictures, 0, &archive))
	assert.Len(t, sendouttest.Unpack(t, archive.Bytes()), 2, "the originals")

	settings.Downloads = false
	changed, err := h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Settings: &settings})
	require.NoError(t, err)
	assert.Equal(t, "Gallery “For the client”: guests may only look", changed.Said)
	view, err = h.Hosting.Visit(ctx, code, unlocked)
	require.NoError(t, err)
	for _, any := range []int64{0, size} {
		err = h.Hosting.Give(ctx, &view, []assetstore.Asset{picture}, any, "", func(hosting.Given) error { return nil })
		require.Error(t, err, "for looking at only")
	}

	yesterday := time.Now().AddDate(0, 0, -2).Format(time.DateOnly)
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Ends: &yesterday})
	require.Error(t, err, "a last day lies ahead")
	_, err = storetest.SQL(h.DB).Exec(`update gallery set ends_on = $2 where id = $1`, made.ID, yesterday) // as time goes by
	require.NoError(t, err)
	view, err = h.Hosting.Visit(ctx, code, unlocked)
	require.NoError(t, err)
	assert.Equal(t, galleries.Closed, view.State, "its last day is over")
	rows, err := findstore.Rows(ctx, h.DB, v, []int64{inside.ID})
	require.NoError(t, err)
	assert.False(t, rows[0].Live, "and what is in it is not shown outside any more")
	item, err := h.Finding.Card(ctx, v, inside.ID)
	require.NoError(t, err)
	assert.Empty(t, item.Shown)
	closed, err := h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &no, Ends: &empty, Password: &empty})
	require.NoError(t, err)
	assert.Equal(t, "Gallery “For the client”: closed it; its link says so, removed its password, it has no last day any more",
		closed.Said)
	_, err = h.Hosting.Unlock(ctx, view.Gallery, password, passwords.Caller{From: "there"})
	require.ErrorContains(t, err, "closed", "a closed gallery does not say whether a password is right")
}

func TestChaptersShowEachItemOnceInTheirOrder(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "chapters")
	v := people[access.Coordinator]
	first, err := h.Gathering.Create(ctx, v, 0, "First", &query.Selection{IDs: ids[:2]}, nil)
	require.NoError(t, err)
	second, err := h.Gathering.Create(ctx, v, 0, "Second", &query.Selection{IDs: ids[1:3]}, nil)
	require.NoError(t, err)
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Web, hosting.GalleryChange{Chapters: append(of(second.ID), of(first.ID)...)})
	require.NoError(t, err)
	yes, address := true, "Spring Kites"
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &yes, Address: &address})
	require.NoError(t, err)
	anybody := func(gallerystore.Gallery) galleries.Caller { return galleries.Caller{} }
	look := func() (hosting.GuestView, *hosting.Shown) {
		view, err := h.Hosting.Visit(ctx, "spring-kites", anybody)
		require.NoError(t, err)
		shown, err := h.Hosting.ShownIn(ctx, &view)
		require.NoError(t, err)
		return view, shown
	}
	order := func(assets []assetstore.Asset) (out []int64) {
		for _, a := range assets {
			out = append(out, a.ID)
		}
		return out
	}
	view, shown := look()
	assert.Equal(t, []hosting.ShownChapter{{Title: "Second", Pictures: 2}, {Title: "First", Pictures: 1}}, shown.Chapters)
	assert.Equal(t, []int64{ids[1], ids[2], ids[0]}, order(shown.Pictures))
	assert.Equal(t, []int64{ids[0]}, order(shown.Of(2)))
	assert.Empty(t, shown.Of(3))
	public, err := h.Hosting.Public(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, []hosting.Reachable{{Kind: "gallery", Name: "Second", Path: "/g/spring-kites", Who: "everyone; it is listed",
		Items: 3}}, public)
	listed, err := h.Hosting.Listed(ctx, v.Brand)
	require.NoError(t, err)
	require.Len(t, listed, 1)
	assert.Equal(t, made.ID, listed[0].ID)

	// turned round, the second one with a title and words; its places cannot be changed for others by an id
	chapters := []gallerystore.Chapter{
		{ID: view.Chapters[1].ID, Title: " The best ", Words: "of all", Place: assetstore.Place{Album: second.ID}},
		{ID: view.Chapters[0].ID},
	}
	done, err := h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Chapters: chapters})
	require.NoError(t, err)
	_, shown = look()
	assert.Equal(t, []hosting.ShownChapter{{Title: "The best", Words: "of all", Pictures: 2}, {Title: "Second", Pictures: 1}}, shown.Chapters)
	_, err = undostore.Undo(ctx, h.DB, v, done.Trail)
	require.NoError(t, err)
	_, shown = look()
	assert.Equal(t, "Second", shown.Chapters[0].Title)

	_, err = h.Gathering.Remove(ctx, v, second.ID, false)
	require.ErrorContains(t, err, "shows this album")
	other, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Chapters: of(first.ID)})
	require.NoError(t, err)
	merged, err := h.Hosting.MergeGalleries(ctx, v, other.ID, made.ID)
	require.NoError(t, err)
	assert.Equal(t, "Merged the gallery “Second” into “First”, which has 2 chapters now", merged.Said)
	all, err := h.Hosting.Galleries(ctx, v)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, 3, all[0].Items, "each item once")
	_, err = undostore.Undo(ctx, h.DB, v, merged.Trail)
	require.NoError(t, err)
	_, shown = look()
	assert.Len(t, shown.Pictures, 3, "it is back under its address")
}

// TestFoldersAndRulesLeaveOutWhatShouldNotGoOut since nobody looks at what comes into them before guests do.
func TestFoldersAndRulesLeaveOutWhatShouldNotGoOut(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "leaveout")
	v := people[access.Coordinator]
	var folder int64
	require.NoError(t, storetest.SQL(h.DB).Get(&folder, `insert into folder (brand_id, name) values ($1, 'Meet') returning id`, v.Brand))
	_, err := storetest.SQL(h.DB).
		Exec(`update asset set folder_id = $2, rights_until = case when id = $3 then date '2020-01-01' end where brand_id = $1`,
			v.Brand, folder, ids[0])
	require.NoError(t, err)
	album, err := h.Gathering.Create(ctx, v, 0, "By hand", &query.Selection{IDs: ids[:1]}, nil)
	require.NoError(t, err)
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{
		Chapters: append([]gallerystore.Chapter{{Place: assetstore.Place{Folder: folder}}}, of(album.ID)...)})
	require.NoError(t, err)
	yes := true
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &yes})
	require.NoError(t, err)
	g, err := gallerystore.GalleryByID(ctx, h.DB, v, made.ID)
	require.NoError(t, err)
	view, err := h.Hosting.Visit(ctx, g.Code, func(gallerystore.Gallery) galleries.Caller { return galleries.Caller{} })
	require.NoError(t, err)
	shown, err := h.Hosting.ShownIn(ctx, &view)
	require.NoError(t, err)
	assert.Equal(t, len(ids)-1, shown.Chapters[0].Pictures, "the folder without the one whose rights ended")
	assert.Equal(t, 1, shown.Chapters[1].Pictures, "which somebody put into the album on purpose")
}

func TestAGalleryNeedsSense(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "sense")
	v := people[access.Coordinator]
	album, err := h.Gathering.Create(ctx, v, 0, "Album", &query.Selection{IDs: ids}, nil)
	require.NoError(t, err)
	word := func(s string) *string { return &s }
	nothing := int64(4711)
	set := func(change func(*galleries.Settings)) *galleries.Settings {
		s := galleries.Usual()
		change(&s)
		return &s
	}
	many := make([]gallerystore.Chapter, 10_000)
	for i := range many {
		many[i] = of(album.ID)[0]
	}
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Chapters: of(album.ID), Address: word("taken")})
	require.NoError(t, err)
	for says, change := range map[string]hosting.GalleryChange{
		"needs a title":          {Title: word("  ")},
		"at least 6 characters":  {Password: word("abc")},
		"not a day":              {Ends: word("soon")},
		"cannot be found":        {Cover: &nothing},
		"output sizes":           {Settings: set(func(s *galleries.Settings) { s.Sizes = []int64{nothing} })},
		"none of sea":            {Settings: set(func(s *galleries.Settings) { s.Accent = "pink" })},
		"from 10 to 100":         {Settings: set(func(s *galleries.Settings) { s.Mark.Strength = 0 })},
		"at most 60 characters":  {Settings: set(func(s *galleries.Settings) { s.Mark.Words = strings.Repeat("x", 61) })},
		"cannot be drawn":        {Settings: set(func(s *galleries.Settings) { s.Mark.Words = "風" })},
		"at least one letter":    {Settings: set(func(s *galleries.Settings) { s.Mark.Words = "🪁 !" })},
		"none of link":           {Audience: word("nobody")},
		"is no address":          {Address: word("../admin")},
		"at least one folder":    {Chapters: []gallerystore.Chapter{}},
		"not there any more":     {Chapters: of(nothing)},
		"100 chapters at most":   {Chapters: many},
		"at most 200 characters": {Chapters: []gallerystore.Chapter{{Title: strings.Repeat("x", 201), Place: assetstore.Place{Album: album.ID}}}},
	} {
		_, err := h.Hosting.ChangeGallery(ctx, v, made.ID, change)
		assert.ErrorContains(t, err, says)
	}
	_, err = h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Chapters: of(album.ID), Address: word("taken")})
	require.ErrorContains(t, err, "Another gallery has the address")
	_, err = h.Hosting.MergeGalleries(ctx, v, made.ID, made.ID)
	require.ErrorContains(t, err, "another gallery")
}

// TestALogoAcrossWhatGuestsSee is drawn in place of words; where it is gone, words stand for it, and nothing goes out without.
func TestALogoAcrossWhatGuestsSee(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "logos")
	v := people[access.Coordinator]
	item := galleries.Usual()
	item.Mark.Item = ids[1]
	album, err := h.Gathering.Create(ctx, v, 0, "Kites", &query.Selection{IDs: ids[:1]}, nil)
	require.NoError(t, err)
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{Chapters: of(album.ID)})
	require.NoError(t, err)
	g := made.ID
	_, err = h.Hosting.ChangeGallery(ctx, v, g, hosting.GalleryChange{Settings: &item})
	require.ErrorContains(t, err, "no logo of the brand")
	_, err = h.Embedding.SetLogos(ctx, v, query.Selection{IDs: ids[1:2]}, true)
	require.NoError(t, err)
	_, err = h.Hosting.ChangeGallery(ctx, v, g, hosting.GalleryChange{Settings: &item})
	require.NoError(t, err)
	mark, err := h.Renditions.MarkOf(ctx, v.Brand, item.Mark)
	require.NoError(t, err)
	assert.NotEmpty(t, mark.Picture)
	assert.Empty(t, mark.Words)
	items, err := assetstore.AssetsIn(ctx, h.DB, v.Brand, ids[:1])
	require.NoError(t, err)
	with, err := h.Renditions.Marked(ctx, items[0], "large", access.Allowance{}, mark)
	require.NoError(t, err)
	without, err := h.Renditions.Marked(ctx, items[0], "large", access.Allowance{}, outputs.Mark{})
	require.NoError(t, err)
	assert.NotEqual(t, without, with)
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: ids[1:2]})
	require.NoError(t, err)
	logos, err := h.Embedding.Logos(ctx, v)
	require.NoError(t, err)
	assert.Empty(t, logos)
	mark, err = h.Renditions.MarkOf(ctx, v.Brand, item.Mark)
	require.NoError(t, err)
	assert.Equal(t, "PROOF", mark.Words)
}
