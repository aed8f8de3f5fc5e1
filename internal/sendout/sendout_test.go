package sendout_test

import (
	"archive/zip"
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"io"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// stocked is a house with three pictures of one name in a folder, and one output size of at most 200 pixels. The test that asks for it
// goes on beside others: most of what it does is waiting.
func stocked(t *testing.T, name string) (*house.House, map[access.Role]*access.Viewer, []int64, int64) {
	t.Helper()
	t.Parallel()
	h := housetest.New(t, name)
	require.NoError(t, h.Work(ctx))
	people := storetest.Brand(t, h.DB, name)
	v := people[access.Coordinator]
	var dropped []bringin.Dropped
	var data [][]byte
	for i, width := range []int{400, 300, 120} {
		picture := mediatest.Tagged(t, mediatest.JPEG(t, width, 200, uint8(50*i)), "-GPSLatitude=51", "-GPSLatitudeRef=N",
			"-XMP-dc:Rights=© Somebody", "-DateTimeOriginal=2026:05:17 10:00:00")
		data = append(data, picture)
		dropped = append(dropped, bringin.Dropped{Name: "shot.jpg", Path: "Walk/May", Bytes: int64(len(picture))})
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, dropped, 0)
	require.NoError(t, err)
	for i, f := range batch.Files {
		require.NoError(t, h.BringIn.Receive(ctx, f.Code, bytes.NewReader(data[i])))
	}
	batch = housetest.Settled(t, h, v, batch.ID)
	var ids []int64
	for _, f := range batch.Files {
		require.Equal(t, "added", f.State, f.Why)
		ids = append(ids, f.Asset.Int64)
	}
	var size int64
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		size, err = downloadstore.AddOutputSize(ctx, tx, v.Brand, outputs.Size{Name: "Small 200", Width: 200, Height: 200, Fit: outputs.Inside,
			Format: "jpeg", Quality: 80, Metadata: outputs.StripPrivate, Pattern: "{name}"})
		return err
	}))
	return h, people, ids, size
}

func ready(t *testing.T, h *house.House, v *access.Viewer) sendout.Taken {
	t.Helper()
	var d sendout.Taken
	require.Eventually(t, func() bool {
		list, err := h.SendOut.Downloads(ctx, v)
		require.NoError(t, err)
		d = list[0]
		return d.State != "making"
	}, 30*time.Second, 20*time.Millisecond)
	return d
}

func unpack(t *testing.T, data []byte) map[string][2]int {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	out := map[string][2]int{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		config, err := jpeg.DecodeConfig(r)
		require.NoError(t, err)
		out[f.Name] = [2]int{config.Width, config.Height}
	}
	return out
}

// fetched is the ZIP of a download, as somebody fetches it.
func fetched(t *testing.T, h *house.House, v *access.Viewer, code string) []byte {
	t.Helper()
	d, err := h.SendOut.Archive(ctx, v, code)
	require.NoError(t, err)
	var data bytes.Buffer
	require.NoError(t, h.SendOut.WriteZIP(ctx, d, &data))
	return data.Bytes()
}

func TestADownloadHasWhatItsPreviewSaid(t *testing.T) {
	h, people, ids, size := stocked(t, "download")
	v := people[access.Coordinator]
	wanted := sendout.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, Pattern: "{date} {name}", KeepFolders: true}
	total, preview, err := h.SendOut.Preview(ctx, v, wanted)
	require.NoError(t, err)
	assert.Equal(t, 3, total)
	said := map[string][2]int{}
	for _, f := range preview {
		said[f.Name] = [2]int{f.Width, f.Height}
	}
	assert.Equal(t, map[string][2]int{
		"Walk/May/2026-05-17 shot.jpg": {200, 100}, "Walk/May/2026-05-17 shot 2.jpg": {200, 133},
		"Walk/May/2026-05-17 shot 3.jpg": {120, 200},
	}, said, "in its folders, with different names, never enlarged")

	_, err = h.SendOut.Take(ctx, v, wanted)
	require.NoError(t, err)
	d := ready(t, h, v)
	require.Equal(t, "ready", d.State)
	assert.Equal(t, said, unpack(t, fetched(t, h, v, d.Code)))
	assert.Positive(t, d.Bytes.Int64)

	_, err = h.SendOut.Archive(ctx, people[access.Steward], d.Code)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing, "somebody else's download")
}

// TestWhatWasTakenAlongIsSentOut until it is changed: then what was sent is older than what is here, and its page says which.
func TestWhatWasTakenAlongIsSentOut(t *testing.T) {
	h, people, ids, size := stocked(t, "sent")
	v := people[access.Coordinator]
	in := func(state string) []int64 {
		found, err := findstore.Find(h.DB).IDs(ctx, v, query.Query{Place: "everything",
			Filter: query.Both(query.Rule{Field: "state", Names: []string{state}})})
		require.NoError(t, err)
		return found
	}
	assert.Empty(t, in("sent"))
	before, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	_, err = h.SendOut.Take(ctx, v, sendout.Wanted{Selection: query.Selection{IDs: ids[:2]}, OutputSizes: []int64{size}})
	require.NoError(t, err)
	require.Equal(t, "ready", ready(t, h, v).State)
	assert.ElementsMatch(t, ids[:2], in("sent"))
	assert.Empty(t, in("older"))
	after, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	assert.Equal(t, "as_it_is", after.Sent)
	assert.Equal(t, before.Changed, after.Changed, "nobody has changed it")
	assert.Equal(t, before.Revision, after.Revision)

	turned, err := h.Preparing.Change(ctx, v, query.Selection{IDs: ids[:1]}, recipe.Change{Turn: 90}, 0)
	require.NoError(t, err)
	assert.Equal(t, ids[:1], in("older"))
	history, err := h.Finding.History(ctx, v, ids[0])
	require.NoError(t, err)
	require.Len(t, history.Sent, 1)
	assert.True(t, history.Sent[0].Older)
	assert.Equal(t, v.Name, history.Sent[0].By)
	_, err = h.Upkeep.Undo(ctx, v, turned.Trail)
	require.NoError(t, err)
	assert.Empty(t, in("older"), "what was sent is what is here again")
}

func TestWhatFailedIsToldAndTriedAgain(t *testing.T) {
	h, people, ids, size := stocked(t, "retry")
	v := people[access.Coordinator]
	asset, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	original, err := h.Blobs.Local(ctx, blob.Original(asset.SHA256))
	require.NoError(t, err)
	require.NoError(t, os.Rename(original, original+".away"))
	_, err = h.SendOut.Take(ctx, v, sendout.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}})
	require.NoError(t, err)
	d := ready(t, h, v)
	assert.Equal(t, "ready", d.State, "the others are there")
	assert.Equal(t, []int{3, 2, 1}, []int{d.Total, d.Made, d.Failed})
	require.Len(t, d.Failures, 1)
	assert.Contains(t, d.Failures[0].Why, "missing")
	data := fetched(t, h, v, d.Code)
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	require.Len(t, z.File, 3)
	told, err := z.Open("_not made.txt")
	require.NoError(t, err)
	text, err := io.ReadAll(told)
	require.NoError(t, err)
	assert.Contains(t, string(text), "missing", "the ZIP says what it lacks")

	require.NoError(t, os.Rename(original+".away", original))
	_, err = h.SendOut.Retry(ctx, v, d.ID)
	require.NoError(t, err)
	d = ready(t, h, v)
	assert.Equal(t, []int{3, 3, 0}, []int{d.Total, d.Made, d.Failed})
	_, err = h.SendOut.Retry(ctx, people[access.Steward], d.ID)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing)
}

// TestADownloadWaitsForAStep that puts a look on its items in pieces.
func TestADownloadWaitsForAStep(t *testing.T) {
	h, people, ids, size := stocked(t, "waits")
	v := people[access.Coordinator]
	var bulk int64
	step, err := h.DB.Act(ctx, v, "prepare", func(tx *store.Tx) (store.Done, error) {
		var err error
		bulk, err = undostore.AddBulk(ctx, tx, v.Brand, v.Person, "prepare", struct{}{}, ids)
		return store.Done{Said: "Putting a look on 3 items", Changed: 3}, err
	})
	require.NoError(t, err)
	wanted := sendout.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, After: step.Trail}
	_, err = h.SendOut.Take(ctx, people[access.Steward], wanted)
	require.ErrorAs(t, err, new(*fault.Invalid), "that is another person's step")
	_, err = h.SendOut.Take(ctx, v, wanted)
	require.NoError(t, err)
	time.Sleep(1500 * time.Millisecond)
	list, err := h.SendOut.Downloads(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, "making", list[0].State)
	assert.Zero(t, list[0].Made)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { return undostore.EndBulk(ctx, tx, bulk, "", "") }))
	d := ready(t, h, v)
	assert.Equal(t, "ready", d.State)
	assert.Equal(t, 3, d.Made)
}

func TestADownloadThatMakesNoSense(t *testing.T) {
	h, people, ids, size := stocked(t, "nonsense")
	v := people[access.Coordinator]
	cases := map[string]sendout.Wanted{
		"not understood": {Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, Pattern: "{nmae}"},
		"output size":    {Selection: query.Selection{IDs: ids}, OutputSizes: []int64{4711}},
		"Nothing is":     {OutputSizes: []int64{size}},
		"cannot be":      {Selection: query.Selection{IDs: []int64{4711}}, OutputSizes: []int64{size}},
	}
	for says, wanted := range cases {
		_, err := h.SendOut.Take(ctx, v, wanted)
		assert.ErrorContains(t, err, says)
	}
	_, err := h.SendOut.Take(ctx, people[access.Reviewer], sendout.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}})
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
}

// sizeOf reads the dimensions of what is stored under a key.
func sizeOf(t *testing.T, h *house.House, key string, decode func(io.Reader) (image.Config, error)) image.Config {
	t.Helper()
	r, err := h.Blobs.Open(ctx, key)
	require.NoError(t, err)
	defer func() { _ = r.Close() }()
	config, err := decode(r)
	require.NoError(t, err)
	return config
}
