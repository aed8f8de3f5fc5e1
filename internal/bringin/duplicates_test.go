package bringin_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

func sumOf(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// announce opens an intake for one file and announces its sum, without sending a byte.
func announce(t *testing.T, h *house.House, v *access.Viewer, policy arrival.Policy, name string, data []byte) bringin.Batch {
	t.Helper()
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{Policy: policy}, []bringin.Dropped{{Name: name, Bytes: int64(len(data))}}, 0)
	require.NoError(t, err)
	batch, err = h.BringIn.Announce(ctx, v, batch.ID, []bringin.Announced{{Code: batch.Files[0].Code, Sum: sumOf(data)}})
	require.NoError(t, err)
	return batch
}

func count(t *testing.T, h *house.House, v *access.Viewer, place string) int {
	t.Helper()
	page, err := findstore.Find(h.DB).Sheet(ctx, v, query.Query{Place: place}, 0, 10_000)
	rows := page.Rows
	require.NoError(t, err)
	return len(rows)
}

func TestWhatIsHereAlreadyIsSettledBeforeItTravels(t *testing.T) {
	h := housetest.New(t, "announced")
	people := storetest.Brand(t, h.DB, "announced")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	first := announce(t, h, v, arrival.Skip, "a.jpg", data)
	assert.Equal(t, "waiting", first.Files[0].State, "nobody has it yet")
	require.NoError(t, h.BringIn.Receive(ctx, first.Files[0].Code, bytes.NewReader(data)))
	first = housetest.Settled(t, h, v, first.ID)

	skipped := announce(t, h, v, arrival.Skip, "again.jpg", data)
	assert.Equal(t, "skipped", skipped.Files[0].State)
	assert.Equal(t, "It is here already as “a.jpg”.", skipped.Files[0].Why)
	assert.Equal(t, first.Files[0].Asset, skipped.Files[0].Asset)

	both := housetest.Settled(t, h, v, announce(t, h, v, arrival.KeepBoth, "both.jpg", data).ID)
	assert.Equal(t, "added", both.Files[0].State, "from our own storage")
	assert.NotEqual(t, first.Files[0].Asset, both.Files[0].Asset)
	version := housetest.Settled(t, h, v, announce(t, h, v, arrival.NewVersion, "newer.jpg", data).ID)
	assert.Equal(t, "version", version.Files[0].State)
	assert.Equal(t, arrival.Sums{Dropped: 1, Versions: 1}, version.Sums)
	assert.Equal(t, 2, count(t, h, v, "everything"))

	_, err := h.BringIn.Announce(ctx, v, first.ID, []bringin.Announced{{Code: first.Files[0].Code, Sum: "abc"}})
	require.ErrorContains(t, err, "not a SHA-256")
	_, err = h.BringIn.Announce(ctx, people[access.Steward], first.ID, []bringin.Announced{{Code: first.Files[0].Code, Sum: sumOf(data)}})
	require.ErrorContains(t, err, "The coordinator's intake")
}

func TestNobodyGetsAtBytesByKnowingTheirSum(t *testing.T) {
	h := housetest.New(t, "knowing")
	people := storetest.Brand(t, h.DB, "knowing")
	require.NoError(t, h.Work(ctx))
	secret := mediatest.JPEG(t, 300, 200, 8)
	housetest.Settled(t, h, people[access.Coordinator], begin(t, h, people[access.Coordinator], 0, []string{"secret.jpg"}, secret).ID)
	var mine int64
	associate := people[access.Associate]
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		mine, _ = folderstore.AddFolder(ctx, tx, associate.Brand, 0, "Theirs")
		return peoplestore.AddGrant(ctx, tx, associate.Brand, associate.Person, access.Grant{Folder: mine, Level: access.LevelContribute})
	}))
	associate = storetest.See(t, h.DB, associate.Person, "knowing")
	batch, err := h.BringIn.Begin(ctx, associate, bringin.Target{Folder: mine, Policy: arrival.KeepBoth},
		[]bringin.Dropped{{Name: "x.jpg", Bytes: int64(len(secret))}}, 0)
	require.NoError(t, err)
	batch, err = h.BringIn.Announce(ctx, associate, batch.ID, []bringin.Announced{{Code: batch.Files[0].Code, Sum: sumOf(secret)}})
	require.NoError(t, err)
	assert.Equal(t, "waiting", batch.Files[0].State, "it has to be sent")
	hidden := housetest.Settled(t, h, associate, begin(t, h, associate, mine, []string{"again.jpg"}, secret).ID).Files[0]
	assert.Equal(t, "It is here already, where you may not look.", hidden.Why)
	assert.False(t, hidden.Asset.Valid, "nothing of the item is told")
}

func TestWhatIsNotWhatWasAnnouncedIsRefused(t *testing.T) {
	h := housetest.New(t, "damaged")
	v := storetest.Brand(t, h.DB, "damaged")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	batch := announce(t, h, v, arrival.Skip, "a.jpg", mediatest.JPEG(t, 300, 200, 1))
	require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(mediatest.JPEG(t, 300, 200, 2))))
	done := housetest.Settled(t, h, v, batch.ID)
	assert.Equal(t, "refused", done.Files[0].State)
	assert.Contains(t, done.Files[0].Why, "checksums differ")
	assert.Zero(t, count(t, h, v, "everything"))
}

func TestADecisionAboutADuplicateCanBeChangedAfterwards(t *testing.T) {
	h := housetest.New(t, "decide")
	v := storetest.Brand(t, h.DB, "decide")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	first := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg"}, data).ID)
	second := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"b.jpg"}, data).ID)
	decide := func(policy arrival.Policy) intakestore.IntakeFile {
		_, err := h.BringIn.Decide(ctx, v, second.ID, second.Files[0].Code, policy)
		require.NoError(t, err)
		batch := housetest.Settled(t, h, v, second.ID)
		assert.Equal(t, 1, batch.Sums.Dropped)
		return batch.Files[0]
	}
	both := decide(arrival.KeepBoth)
	assert.Equal(t, "added", both.State)
	assert.Equal(t, 2, count(t, h, v, "everything"))
	version := decide(arrival.NewVersion)
	assert.Equal(t, "version", version.State)
	assert.Equal(t, first.Files[0].Asset, version.Asset)
	assert.Equal(t, 1, count(t, h, v, "everything"), "the second item went to the bin")
	asset, err := assetstore.AssetByID(ctx, h.DB, v, version.Asset.Int64)
	require.NoError(t, err)
	assert.Equal(t, "b.jpg", asset.FileName)
	skipped := decide(arrival.Skip)
	assert.Equal(t, "skipped", skipped.State)
	asset, err = assetstore.AssetByID(ctx, h.DB, v, version.Asset.Int64)
	require.NoError(t, err)
	assert.Equal(t, "a.jpg", asset.FileName, "the version before is back")
	_, err = h.BringIn.Decide(ctx, v, first.ID, first.Files[0].Code, arrival.NewVersion)
	require.NoError(t, err, "the first is a duplicate of the one that went to the bin")
}

func TestADuplicateOfSomethingInTheBinSaysSo(t *testing.T) {
	h := housetest.New(t, "binned")
	v := storetest.Brand(t, h.DB, "binned")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 1)
	first := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg"}, data).ID)
	_, err := h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{first.Files[0].Asset.Int64}})
	require.NoError(t, err)
	again := announce(t, h, v, arrival.Skip, "a.jpg", data)
	assert.Equal(t, "skipped", again.Files[0].State)
	assert.Equal(t, "It was put in the bin on "+time.Now().Format("2 January")+" as “a.jpg”.", again.Files[0].Why)
	assert.True(t, again.Files[0].AssetBinned.Valid, "so that it can be put back")
}

func TestLikelyTwinsAreShownAndAPersonDecides(t *testing.T) {
	h := housetest.New(t, "twins")
	v := storetest.Brand(t, h.DB, "twins")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	portrait := mediatest.Portrait(t)
	first := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"large.jpg"}, portrait).ID)
	path, small := mediatest.File(t, "large.jpg", portrait), t.TempDir()+"/small.webp"
	_, err := h.Media.Pictures.Do(ctx, pictures.Request{Path: path, MediaType: "image/jpeg",
		Outputs: []pictures.Output{{Path: small, Width: 534, Height: 800, Format: "webp", Quality: 50}}})
	require.NoError(t, err)
	saved := readFile(t, small)
	second := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"small.webp", "other.jpg"}, saved, mediatest.JPEG(t, 480, 600, 9)).ID)
	assert.Equal(t, 2, second.Sums.Added, "nothing is blocked")
	var pairs []bringin.Pair
	require.Eventually(t, func() bool {
		pairs, err = h.BringIn.Twins(ctx, v, second.ID)
		require.NoError(t, err)
		return len(pairs) > 0
	}, 2*time.Minute, 50*time.Millisecond)
	require.Len(t, pairs, 1)
	assert.Equal(t, first.Files[0].Asset.Int64, pairs[0].Earlier.ID)
	require.GreaterOrEqual(t, len(pairs[0].Differences), 3)
	assert.Contains(t, pairs[0].Differences[0], "smaller: 534 × 800 instead of")
	loaded, err := h.BringIn.Load(ctx, v, second.ID)
	require.NoError(t, err)
	assert.Equal(t, first.Files[0].Asset, loaded.Files[0].Twin, "the list of files says so too")

	done, err := h.BringIn.DecideTwins(ctx, v, pairs[0].Later.ID, pairs[0].Earlier.ID, "version")
	require.NoError(t, err)
	asset, err := assetstore.AssetByID(ctx, h.DB, v, pairs[0].Earlier.ID)
	require.NoError(t, err)
	assert.Equal(t, "small.webp", asset.FileName)
	assert.Equal(t, 534, asset.Width)
	_, err = h.Upkeep.Undo(ctx, v, done.Trail)
	require.NoError(t, err)
	asset, err = assetstore.AssetByID(ctx, h.DB, v, pairs[0].Earlier.ID)
	require.NoError(t, err)
	assert.Equal(t, "large.jpg", asset.FileName, "undone")
	_, err = h.BringIn.DecideTwins(ctx, v, pairs[0].Later.ID, pairs[0].Earlier.ID, "different")
	require.NoError(t, err)
	pairs, err = h.BringIn.Twins(ctx, v, 0)
	require.NoError(t, err)
	assert.Empty(t, pairs, "it is not asked again")
}

func TestUndoingAnIntakeTakesBackExactlyWhatItDid(t *testing.T) {
	h := housetest.New(t, "exactly")
	v := storetest.Brand(t, h.DB, "exactly")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	one, two, three := mediatest.JPEG(t, 300, 200, 1), mediatest.JPEG(t, 300, 200, 2), mediatest.JPEG(t, 300, 200, 3)
	before := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"old.jpg"}, one).ID)
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{Policy: arrival.NewVersion}, []bringin.Dropped{
		{Name: "new.jpg", Bytes: int64(len(one))}, {Name: "b.jpg", Path: "Walk", Bytes: int64(len(two))},
		{Name: "c.jpg", Bytes: int64(len(three))}}, 0)
	require.NoError(t, err)
	for i, data := range [][]byte{one, two, three} {
		require.NoError(t, h.BringIn.Receive(ctx, batch.Files[i].Code, bytes.NewReader(data)))
	}
	batch = housetest.Settled(t, h, v, batch.ID)
	assert.Equal(t, arrival.Sums{Dropped: 3, Added: 2, Versions: 1}, batch.Sums)
	// meanwhile somebody describes one of them and bins another
	_, err = h.Describing.Tag(ctx, v, query.Selection{IDs: []int64{batch.Files[1].Asset.Int64}}, "kite", nil)
	require.NoError(t, err)
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{batch.Files[2].Asset.Int64}})
	require.NoError(t, err)
	done, err := h.Upkeep.Undo(ctx, v, batch.Trail.Int64)
	require.NoError(t, err)
	assert.Equal(t, 2, done.Changed, "one into the bin, one back to the version before")
	assert.Equal(t, 1, count(t, h, v, "everything"))
	assert.Equal(t, 2, count(t, h, v, "bin"))
	asset, err := assetstore.AssetByID(ctx, h.DB, v, before.Files[0].Asset.Int64)
	require.NoError(t, err)
	assert.Equal(t, "old.jpg", asset.FileName)
	_, err = h.Filing.Restore(ctx, v, query.Selection{IDs: []int64{batch.Files[1].Asset.Int64}})
	require.NoError(t, err)
	rows, err := findstore.Rows(ctx, h.DB, v, []int64{batch.Files[1].Asset.Int64})
	require.NoError(t, err)
	require.Len(t, rows, 1, "what comes back from the bin has its picture")
}

// TestALaterStateProposesToJoinItsOriginal by the document that both say they are states of, and by its name.
func TestALaterStateProposesToJoinItsOriginal(t *testing.T) {
	h := housetest.New(t, "later")
	people := storetest.Brand(t, h.DB, "later")
	v := people[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	taken := "-DateTimeOriginal=2026:05:17 10:00:00"
	add := func(name string, data []byte) int64 {
		batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: name, Bytes: int64(len(data))}}, 0)
		require.NoError(t, err)
		require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(data)))
		id := housetest.Settled(t, h, v, batch.ID).Files[0].Asset.Int64
		require.Eventually(t, func() bool {
			a, err := assetstore.AssetByID(ctx, h.DB, v, id)
			return err == nil && a.Looked
		}, time.Minute, 50*time.Millisecond)
		return id
	}
	walk := add("walk.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 600, 400, 1), taken))
	pier := add("pier.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 500, 90), taken, "-XMP-xmpMM:DocumentID=xmp.did:pier"))
	edited := add("walk-edit.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 300, 400, 150), taken))
	add("walk-edit-2.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 310, 400, 190), "-DateTimeOriginal=2026:05:18 10:00:00"))
	back := add("for the poster.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 200, 200, 210), "-XMP-xmpMM:DocumentID=xmp.did:poster",
		"-XMP-xmpMM:OriginalDocumentID=xmp.did:pier"))
	pairs, err := h.BringIn.Twins(ctx, v, 0)
	require.NoError(t, err)
	var joined [][2]int64
	for _, p := range pairs {
		if p.LaterState {
			joined = append(joined, [2]int64{p.Later.ID, p.Earlier.ID})
		}
	}
	assert.Equal(t, [][2]int64{{back, pier}, {edited, walk}}, joined, "another date taken is another picture")
	_, err = h.BringIn.DecideTwins(ctx, people[access.Reviewer], back, pier, "stack")
	require.Error(t, err)
	done, err := h.BringIn.DecideTwins(ctx, v, back, pier, "stack")
	require.NoError(t, err)
	assert.Equal(t, "Stacked “for the poster.jpg” with “pier.jpg”", done.Said)
	rows, err := findstore.Rows(ctx, h.DB, v, []int64{pier, back})
	require.NoError(t, err)
	assert.Equal(t, [2]bool{true, false}, [2]bool{rows[0].Behind, rows[1].Behind}, "the later one is in front")
}
