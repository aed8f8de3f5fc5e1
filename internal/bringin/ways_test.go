package bringin_test

import (
	"bytes"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/windward"
)

func readFile(t *testing.T, path string) []byte {
	t.Helper()
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	return data
}

// disk makes a folder on the server with files and lets the brand bring in from it.
func disk(t *testing.T, h *house.House, v *access.Viewer, files map[string][]byte) (id int64, root string) {
	t.Helper()
	root = t.TempDir()
	for name, data := range files {
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(root, name)), 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(root, name), data, 0o600))
	}
	h.BringIn.Allowed = []string{root}
	done, err := h.BringIn.AllowServerFolder(ctx, v, "Studio disk", root)
	require.NoError(t, err)
	return done.ID, root
}

func TestBringingInFromAFolderOnTheServer(t *testing.T) {
	h := housetest.New(t, "server")
	people := storetest.Brand(t, h.DB, "server")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	outside := mediatest.File(t, "outside.jpg", mediatest.JPEG(t, 90, 60, 77))
	id, root := disk(t, h, people[access.Steward], map[string][]byte{
		"Walk/Day 1/a.jpg": mediatest.JPEG(t, 300, 200, 1), "Walk/Day 1/.DS_Store": []byte("x"),
		"Walk/b.jpg":         mediatest.JPEG(t, 300, 200, 2),
		"Walk/.hidden/c.jpg": mediatest.JPEG(t, 300, 200, 3), "loose.jpg": mediatest.JPEG(t, 300, 200, 4),
	})
	require.NoError(t, os.Symlink(outside, filepath.Join(root, "Walk", "link.jpg")))
	listing, err := h.BringIn.Browse(ctx, v, id, "Walk")
	require.NoError(t, err)
	assert.Equal(t, []string{"Day 1"}, listing.Folders)
	assert.Equal(t, []string{"b.jpg"}, listing.Files, "no link is followed")
	assert.Equal(t, 2, listing.Total)
	assert.Equal(t, 2, listing.LeftOut)

	batch, err := h.BringIn.BeginFromServer(ctx, v, bringin.Target{}, id, "Walk", nil, false)
	require.NoError(t, err)
	batch = housetest.Settled(t, h, v, batch.ID)
	assert.Equal(t, arrival.Sums{Dropped: 2, Added: 2}, batch.Sums)
	assert.Equal(t, 2, batch.LeftOut)
	assert.Equal(t, "Studio disk / Walk", batch.SourceName)
	folders, err := folderstore.Folders(ctx, h.DB, v.Brand)
	require.NoError(t, err)
	require.Len(t, folders, 2, "Walk and Day 1")
	assert.FileExists(t, filepath.Join(root, "Walk/b.jpg"), "what was copied stays there")

	for _, wrong := range []string{"../", "Walk/../..", "No such folder"} {
		_, err = h.BringIn.Browse(ctx, v, id, wrong)
		if wrong == "No such folder" {
			require.Error(t, err)
			continue
		}
		require.NoError(t, err, "never above the folder: it is the folder itself then")
	}
	_, err = h.BringIn.BeginFromServer(ctx, people[access.Contributor], bringin.Target{}, id, "Walk", nil, false)
	require.ErrorContains(t, err, "Only coordinators")
	_, err = h.BringIn.AllowServerFolder(ctx, people[access.Steward], "", "/etc")
	require.ErrorContains(t, err, "not open to the application")
}

func TestFilesThatAreLeftWhereTheyAre(t *testing.T) {
	h := housetest.New(t, "leftthere")
	people := storetest.Brand(t, h.DB, "leftthere")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	id, root := disk(t, h, people[access.Steward], map[string][]byte{"a.jpg": data})
	batch, err := h.BringIn.BeginFromServer(ctx, v, bringin.Target{}, id, "", nil, true)
	require.NoError(t, err)
	batch = housetest.Settled(t, h, v, batch.ID)
	require.Equal(t, 1, batch.Sums.Added)
	asset := batch.Files[0].Asset.Int64
	state := func() assetstore.Asset {
		require.NoError(t, h.InPlace.Check(ctx))
		a, err := assetstore.AssetByID(ctx, h.DB, v, asset)
		require.NoError(t, err)
		return a
	}
	a := state()
	assert.Empty(t, a.LeftOver)
	_, err = h.Blobs.Local(ctx, blob.Original(a.SHA256))
	require.ErrorIs(t, err, blob.ErrMissing, "nothing was copied")
	file, err := h.Blobs.OpenSource(ctx, blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String})
	require.NoError(t, err)
	assert.EqualValues(t, len(data), file.Size())
	require.NoError(t, file.Close())
	limits, err := h.BringIn.Limits(ctx, v)
	require.NoError(t, err)
	assert.Zero(t, limits.Used, "it takes no room")

	// it is moved, found again, and changed
	require.NoError(t, os.MkdirAll(filepath.Join(root, "Elsewhere"), 0o700))
	require.NoError(t, os.Rename(filepath.Join(root, "a.jpg"), filepath.Join(root, "Elsewhere", "b.jpg")))
	assert.Equal(t, "missing", state().LeftOver)
	done, err := h.InPlace.Find(ctx, v, asset)
	require.NoError(t, err)
	assert.Contains(t, done.Said, "Elsewhere")
	assert.Empty(t, state().LeftOver)
	require.NoError(t, os.WriteFile(filepath.Join(root, "Elsewhere", "b.jpg"), mediatest.JPEG(t, 640, 480, 9), 0o600))
	assert.Equal(t, "changed", state().LeftOver)
	_, err = h.InPlace.TakeChanged(ctx, v, asset)
	require.NoError(t, err)
	a = state()
	assert.Empty(t, a.LeftOver)
	assert.Equal(t, 640, a.Width)
	require.NoError(t, os.Remove(filepath.Join(root, "Elsewhere", "b.jpg")))
	assert.Equal(t, "missing", state().LeftOver)
	_, err = h.InPlace.Find(ctx, v, asset)
	require.ErrorContains(t, err, "Its previews are still here")
	_, err = h.BringIn.RemoveServerFolder(ctx, people[access.Steward], id)
	require.ErrorContains(t, err, "shown from there")
}

func TestAWatchedFolderTakesWhatHasStoppedGrowing(t *testing.T) {
	h := housetest.New(t, "watched")
	people := storetest.Brand(t, h.DB, "watched")
	v := people[access.Coordinator]
	id, root := disk(t, h, people[access.Steward], nil)
	_, err := h.BringIn.Watch(ctx, v, id, "", 0, false, true)
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	landing := filepath.Join(root, "Cards", "a.jpg")
	require.NoError(t, os.MkdirAll(filepath.Dir(landing), 0o700))
	require.NoError(t, os.WriteFile(landing, data[:500], 0o600))
	still := 400 * time.Millisecond
	require.NoError(t, h.BringIn.LookAtWatched(ctx, still))
	require.NoError(t, os.WriteFile(landing, data, 0o600))
	require.NoError(t, h.BringIn.LookAtWatched(ctx, still))
	list, err := h.BringIn.List(ctx, v)
	require.NoError(t, err)
	assert.Empty(t, list, "it has grown since it was looked at")
	require.Eventually(t, func() bool {
		require.NoError(t, h.BringIn.LookAtWatched(ctx, still))
		list, err = h.BringIn.List(ctx, v)
		require.NoError(t, err)
		return len(list) == 1
	}, 10*time.Second, 100*time.Millisecond)
	batch := housetest.Settled(t, h, v, list[0].ID)
	assert.Equal(t, 1, batch.Sums.Added)
	assert.Equal(t, "watched", batch.Source)
	assert.Equal(t, "Cards", batch.Files[0].Path)
	require.NoError(t, h.BringIn.LookAtWatched(ctx, 0))
	list, err = h.BringIn.List(ctx, v)
	require.NoError(t, err)
	assert.Len(t, list, 1, "once")

	// what stays empty is named, and what has grown since it was noted is not taken half
	require.NoError(t, os.WriteFile(filepath.Join(root, "nothing.jpg"), nil, 0o600))
	require.NoError(t, h.BringIn.LookAtWatched(ctx, 0))
	list, err = h.BringIn.List(ctx, v)
	require.NoError(t, err)
	assert.Len(t, list, 1, "it may be about to be written")
	_, err = h.DB.ExecContext(ctx, `update watched_file set since = since - interval '1 hour' where path = 'nothing.jpg'`)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.LookAtWatched(ctx, 0))
	list, err = h.BringIn.List(ctx, v)
	require.NoError(t, err)
	require.Len(t, list, 2)
	empty := housetest.Settled(t, h, v, list[0].ID)
	assert.Equal(t, "nothing.jpg", empty.Files[0].Name)
	assert.Contains(t, empty.Files[0].Why, "empty")
	_, err = h.BringIn.Watch(ctx, v, id, "", 0, false, true)
	require.ErrorContains(t, err, "watched already")
}

func TestTakingOverFromAnOutlet(t *testing.T) {
	h := housetest.New(t, "outlet")
	people := storetest.Brand(t, h.DB, "outlet")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	service := windward.New("")
	site := httptest.NewServer(service)
	t.Cleanup(site.Close)
	account := poststore.Outlet{Kind: "windward", Name: "Page", Address: site.URL}
	_, err := (&posting.Service{DB: h.DB, Outlets: &outlets.Connections{DB: h.DB}}).ConnectOutlet(ctx, people[access.Steward], account,
		windward.Token)
	require.ErrorContains(t, err, "private network", "unless whoever runs the server allowed it")
	h.BringIn.Outlets.Allowed = []string{site.Listener.Addr().String()}
	_, err = h.Posting.ConnectOutlet(ctx, people[access.Steward], account, "wrong")
	require.ErrorContains(t, err, "does not accept our access")
	done, err := h.Posting.ConnectOutlet(ctx, people[access.Steward], account, windward.Token)
	require.NoError(t, err)
	albums, err := h.BringIn.OutletAlbums(ctx, v, done.ID)
	require.NoError(t, err)
	require.Len(t, albums, 3)
	media, err := h.BringIn.OutletMedia(ctx, v, done.ID, albums[0].ID)
	require.NoError(t, err)
	require.Len(t, media, 5, "all pages of the list")

	batch, err := h.BringIn.BeginFromOutlet(ctx, v, bringin.Target{}, done.ID, albums[0].ID, nil, false)
	require.NoError(t, err)
	batch = housetest.Settled(t, h, v, batch.ID)
	assert.Equal(t, arrival.Sums{Dropped: 4, Added: 4}, batch.Sums, "without what somebody else posted")
	card, err := h.Finding.Card(ctx, v, batch.Files[0].Asset.Int64)
	require.NoError(t, err)
	require.Len(t, card.Origins, 1)
	assert.Equal(t, "Harbour open day", card.Origins[0].Album)
	assert.NotEmpty(t, card.Description, "the caption there")
	page, err := findstore.Find(h.DB).Sheet(ctx, v, query.Query{Place: "everything",
		Filter: query.Both(query.Rule{Field: "source", Names: []string{"outlet"}}, query.Rule{Field: "outlet", IDs: []int64{done.ID}})},
		0, 10_000)
	rows := page.Rows
	require.NoError(t, err)
	assert.Len(t, rows, 4)

	_, err = h.BringIn.BeginFromOutlet(ctx, v, bringin.Target{}, done.ID, albums[0].ID, nil, false)
	require.ErrorContains(t, err, "Nothing new is there: 4 pictures are here already, and 1 was posted by others")
	others, err := h.BringIn.BeginFromOutlet(ctx, v, bringin.Target{}, done.ID, albums[0].ID, nil, true)
	require.NoError(t, err)
	assert.Equal(t, 4, others.LeftOut)
	assert.Equal(t, 1, housetest.Settled(t, h, v, others.ID).Sums.Added)

	service.SetDown(true)
	_, err = h.BringIn.OutletAlbums(ctx, v, done.ID)
	require.ErrorContains(t, err, "does not answer now")
	service.SetDown(false)
	_, err = h.Posting.DisconnectOutlet(ctx, people[access.Steward], done.ID)
	require.NoError(t, err)
	assert.Equal(t, 5, count(t, h, v, "everything"), "what came from it stays")
}

func TestPausedIntakesWaitAndCancelledOnesStop(t *testing.T) {
	h := housetest.New(t, "paused")
	people := storetest.Brand(t, h.DB, "paused")
	v := people[access.Coordinator]
	id, _ := disk(t, h, people[access.Steward], map[string][]byte{"a.jpg": mediatest.JPEG(t, 300, 200, 1)})
	batch, err := h.BringIn.BeginFromServer(ctx, v, bringin.Target{}, id, "", nil, false)
	require.NoError(t, err)
	yes, no := true, false
	_, err = h.BringIn.Change(ctx, v, batch.ID, intakestore.IntakeChange{Paused: &yes, Ahead: true})
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	require.Eventually(t, func() bool {
		var waits int
		require.NoError(t, storetest.SQL(h.DB).Get(&waits,
			`select count(*) from river_job where kind = 'bring_in_file' and metadata ? 'snoozes'`))
		return waits == 1
	}, 10*time.Second, 20*time.Millisecond)
	loaded, err := h.BringIn.Load(ctx, v, batch.ID)
	require.NoError(t, err)
	assert.Equal(t, 1, loaded.Sums.OnTheWay)
	_, err = h.BringIn.Change(ctx, v, batch.ID, intakestore.IntakeChange{Paused: &no})
	require.NoError(t, err)
	assert.Equal(t, 1, housetest.Settled(t, h, v, batch.ID).Sums.Added)

	again, err := h.BringIn.BeginFromServer(ctx, v, bringin.Target{Policy: arrival.KeepBoth}, id, "", nil, false)
	require.NoError(t, err)
	_, err = h.BringIn.Cancel(ctx, v, again.ID)
	require.NoError(t, err)
	done := housetest.Settled(t, h, v, again.ID)
	assert.Equal(t, 1, done.Sums.Cancelled+done.Sums.Added)
	_, err = h.BringIn.Change(ctx, people[access.Contributor], batch.ID, intakestore.IntakeChange{Paused: &yes})
	require.ErrorContains(t, err, "The coordinator's intake")
}

func TestRawJPEGAndSidecarBelongTogether(t *testing.T) {
	h := housetest.New(t, "raws")
	v := storetest.Brand(t, h.DB, "raws")[access.Coordinator]
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { return assetstore.AddStage(ctx, tx, v.Brand, "Cleared") }))
	require.NoError(t, h.Work(ctx))
	xmp := []byte(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
		<rdf:Description rdf:about=""
		xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/" xmp:Rating="4" xmp:Label="cleared">
		<dc:title><rdf:Alt><rdf:li xml:lang="x-default">Told by the sidecar</rdf:li></rdf:Alt></dc:title>
		<dc:subject><rdf:Bag><rdf:li>dune</rdf:li></rdf:Bag></dc:subject></rdf:Description></rdf:RDF></x:xmpmeta>`)
	names := []string{"Shoot/OST_1.DNG", "Shoot/OST_1.jpg", "Shoot/OST_1.xmp", "alone.xmp"}
	batch := housetest.Settled(t, h, v, begin(t, h, v, 0, names, mediatest.DNG(t, 900, 600, 1), mediatest.JPEG(t, 900, 600, 60), xmp,
		xmp).ID)
	assert.Equal(t, []string{"added", "added", "joined", "refused"}, states(batch))
	assert.Equal(t, arrival.Sums{Dropped: 3, Added: 2, Refused: 1, Joined: 1}, batch.Sums)
	assert.Contains(t, batch.Files[3].Why, "without its picture")
	raw, err := h.Finding.Card(ctx, v, batch.Files[0].Asset.Int64)
	require.NoError(t, err)
	assert.Equal(t, "Told by the sidecar", raw.Title)
	assert.Equal(t, 4, raw.Stars)
	assert.Equal(t, "Cleared", raw.Stage.String)
	require.Len(t, raw.Tags, 1)
	assert.Equal(t, 1, raw.Tags[0].Files, "a tag that came with the file")
	require.Len(t, raw.Stack, 2)
	assert.Equal(t, "OST_1.jpg", raw.Stack[0].FileName, "the JPEG is the front")
	assert.Equal(t, 1, count(t, h, v, "everything"), "a stack shows its front")
	text, err := h.Finding.Metadata(ctx, v, raw.ID)
	require.NoError(t, err)
	assert.Contains(t, string(text), `"Sidecar"`)
}

func TestDescribingWhileFilesTravel(t *testing.T) {
	h := housetest.New(t, "travel")
	v := storetest.Brand(t, h.DB, "travel")[access.Coordinator]
	album, err := h.Gathering.Create(ctx, v, 0, "Picks", nil, nil)
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	text := func(s string) *string { return &s }
	data := [][]byte{mediatest.JPEG(t, 300, 200, 1), mediatest.JPEG(t, 300, 200, 2), mediatest.JPEG(t, 300, 200, 3)}
	var dropped []bringin.Dropped
	for i, name := range []string{"a.jpg", "b.jpg", "c.jpg"} {
		dropped = append(dropped, bringin.Dropped{Name: name, Bytes: int64(len(data[i]))})
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, dropped, 0)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(data[0])))
	require.Eventually(t, func() bool {
		batch, err = h.BringIn.Load(ctx, v, batch.ID)
		require.NoError(t, err)
		return batch.Files[0].State == "added"
	}, 20*time.Second, 20*time.Millisecond)
	turn := 90
	_, err = h.BringIn.Describe(ctx, v, batch.ID, nil, arrival.Words{Title: text("Spring meet {n}"), Credit: text("Farid"),
		Tags: []string{"kite"}, People: []string{"Greta Ollin"}, Album: &album.ID})
	require.NoError(t, err)
	_, err = h.BringIn.Describe(ctx, v, batch.ID, []string{batch.Files[1].Code}, arrival.Words{Title: text("The moth"), Turn: &turn})
	require.NoError(t, err)
	for i := 1; i < 3; i++ {
		require.NoError(t, h.BringIn.Receive(ctx, batch.Files[i].Code, bytes.NewReader(data[i])))
	}
	batch = housetest.Settled(t, h, v, batch.ID)
	for i, title := range []string{"Spring meet 1", "The moth", "Spring meet 3"} {
		card, err := h.Finding.Card(ctx, v, batch.Files[i].Asset.Int64)
		require.NoError(t, err)
		assert.Equal(t, title, card.Title)
		assert.Equal(t, "Farid", card.Credit)
		require.Len(t, card.Albums, 1)
		require.Len(t, card.Tags, 2)
		assert.Zero(t, card.Tags[0].Files, "typed, not inherited")
		if i == 1 {
			assert.Equal(t, []int{200, 300, 90}, []int{card.Width, card.Height, card.Recipe.Turn})
		}
	}
	half := 180
	_, err = h.BringIn.Describe(ctx, v, batch.ID, []string{batch.Files[2].Code}, arrival.Words{Turn: &half})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		a, err := assetstore.AssetByID(ctx, h.DB, v, batch.Files[2].Asset.Int64)
		require.NoError(t, err)
		return a.Recipe.Turn == 180
	}, 20*time.Second, 20*time.Millisecond)
	_, err = h.BringIn.Describe(ctx, v, batch.ID, nil, arrival.Words{Title: text("{what}")})
	require.ErrorContains(t, err, "{what}")
}

func TestLimitsOfABrand(t *testing.T) {
	h := housetest.New(t, "limits")
	people := storetest.Brand(t, h.DB, "limits")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	limits, err := h.BringIn.SetLimits(ctx, people[access.Steward],
		arrival.Limits{LargestFile: 100_000, Kinds: []string{"picture", "file"}, StorageLimit: int64(len(data)) + 100})
	require.NoError(t, err)
	assert.Zero(t, limits.Used)
	batch := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg", "notes.txt", "large.jpg", "moving.gif"}, data,
		[]byte("kite, string\n"), make([]byte, 200_000), mediatest.Animation(t, 3)).ID)
	assert.Equal(t, []string{"added", "added", "refused", "refused"}, states(batch))
	assert.Contains(t, batch.Files[1].Why, "kept as a plain file")
	assert.Contains(t, batch.Files[2].Why, "up to 100 kB")
	assert.Contains(t, batch.Files[3].Why, "does not take animations")
	full := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"b.jpg"}, mediatest.JPEG(t, 300, 200, 2)).ID)
	assert.Contains(t, full.Files[0].Why, "storage is full")
	same := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"c.jpg"}, data).ID)
	assert.Equal(t, []string{"skipped"}, states(same), "what is here already takes no room")
	for _, wrong := range []arrival.Limits{{LargestFile: 0, Kinds: []string{"picture"}}, {LargestFile: 5, Kinds: nil},
		{LargestFile: 5, Kinds: []string{"song"}}} {
		_, err := h.BringIn.SetLimits(ctx, people[access.Steward], wrong)
		require.Error(t, err)
	}
}

func TestLookingAgainIntoEverything(t *testing.T) {
	h := housetest.New(t, "again")
	people := storetest.Brand(t, h.DB, "again")
	v := people[access.Steward]
	require.NoError(t, h.Work(ctx))
	batch := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg", "b.mp4"}, mediatest.Portrait(t),
		mediatest.Film(t, "mpeg4", "mp4", 2)).ID)
	looked := func() bool {
		p, err := h.Looking.Progress(ctx, v)
		require.NoError(t, err)
		return p.Total == 2 && p.Waiting == 0
	}
	require.Eventually(t, looked, 2*time.Minute, 50*time.Millisecond)
	card, err := h.Finding.Card(ctx, v, batch.Files[0].Asset.Int64)
	require.NoError(t, err)
	assert.Equal(t, "proposed", card.FocalBy)
	assert.NotEmpty(t, card.Faces)
	film, err := assetstore.AssetByID(ctx, h.DB, v, batch.Files[1].Asset.Int64)
	require.NoError(t, err)
	_, err = h.Blobs.Local(ctx, renditions.Strip(film))
	require.NoError(t, err)
	made, err := h.Renditions.Film(ctx, v.Brand, film, access.Allowance{Original: true, Take: true})
	require.NoError(t, err)
	_, err = h.Blobs.Local(ctx, made)
	require.NoError(t, err, "browsers do not play the original, so a film was made")
	_, err = storetest.SQL(h.DB).Exec(`update asset set sharpness = -1, focal_by = 'person', focal_x = 0.25`)
	require.NoError(t, err)
	_, err = h.Looking.Again(ctx, v, "sharpness")
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		a, err := assetstore.AssetByID(ctx, h.DB, v, batch.Files[0].Asset.Int64)
		require.NoError(t, err)
		return a.Sharpness.Float64 > 0
	}, 2*time.Minute, 50*time.Millisecond)
	a, err := assetstore.AssetByID(ctx, h.DB, v, batch.Files[0].Asset.Int64)
	require.NoError(t, err)
	assert.InDelta(t, 0.25, a.FocalX, 0.001, "what a person set stays")
	_, err = h.Looking.Again(ctx, v, "beauty")
	require.Error(t, err)
}

// TestACopyOfAnOutletIsKept: what is the brand's own, arranged as it is there, once; what was sent from here is here already.
func TestACopyOfAnOutletIsKept(t *testing.T) {
	h := housetest.New(t, "copies")
	people := storetest.Brand(t, h.DB, "copies")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	site := httptest.NewServer(longtable.New(""))
	t.Cleanup(site.Close)
	h.BringIn.Outlets.Allowed = []string{site.Listener.Addr().String()}
	done, err := h.Posting.ConnectOutlet(ctx, people[access.Steward], poststore.Outlet{Kind: "longtable", Name: "Kites/Longtable",
		Address: site.URL}, longtable.Token)
	require.NoError(t, err)
	_, err = h.BringIn.KeepCopy(ctx, people[access.Reviewer], done.ID, true)
	require.ErrorContains(t, err, "Only coordinators and stewards")
	_, err = h.BringIn.KeepCopy(ctx, v, done.ID, true)
	require.NoError(t, err)
	for range 3 { // the hour begins when it was copied last
		require.NoError(t, h.BringIn.CopyOutlets(ctx))
	}
	batches, err := h.BringIn.List(ctx, v)
	require.NoError(t, err)
	require.Len(t, batches, 1)
	batch := housetest.Settled(t, h, v, batches[0].ID)
	assert.Equal(t, 8, batch.Sums.Added, "4 and 3 of the page, and 1 in the group that is not by others")
	var folders []string
	require.NoError(t, storetest.SQL(h.DB).Select(&folders, `select name from folder where brand_id = $1 order by id`, v.Brand))
	assert.Subset(t, folders, []string{"Kites-Longtable", "Tansyloft Kites on Longtable", "Beach days", "Kite builders"})
	_, err = storetest.SQL(h.DB).Exec(`update outlet set copied_at = now() - interval '2 hours'`)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.CopyOutlets(ctx))
	batches, err = h.BringIn.List(ctx, v)
	require.NoError(t, err)
	assert.Len(t, batches, 1, "nothing twice")
	_, err = storetest.SQL(h.DB).Exec(`update membership set role = 'reviewer' where person_id = $1`, v.Person)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update outlet set copied_at = null`)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.CopyOutlets(ctx))
	o, err := poststore.OutletByID(ctx, h.DB, v.Brand, done.ID)
	require.NoError(t, err)
	assert.False(t, o.Copied, "whoever asked for it may not bring in any more")
}
