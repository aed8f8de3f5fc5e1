package takealong_test

import (
	"archive/zip"
	"bytes"
	"io"
	"os"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/undostore"
)

// fetched is the ZIP of a download, as somebody fetches it.
func fetched(t *testing.T, h *house.House, v *access.Viewer, code string) []byte {
	t.Helper()
	d, err := h.TakeAlong.Archive(ctx, v, code)
	require.NoError(t, err)
	var data bytes.Buffer
	require.NoError(t, h.TakeAlong.WriteZIP(ctx, d, &data))
	return data.Bytes()
}

func TestADownloadHasWhatItsPreviewSaid(t *testing.T) {
	h, people, ids, size := sendouttest.Stocked(t, "download")
	v := people[access.Coordinator]
	wanted := takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, Pattern: "{date} {name}", KeepFolders: true}
	total, preview, err := h.TakeAlong.Preview(ctx, v, wanted)
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

	_, err = h.TakeAlong.Take(ctx, v, wanted)
	require.NoError(t, err)
	d := sendouttest.Ready(t, h, v)
	require.Equal(t, "ready", d.State)
	assert.Equal(t, said, sendouttest.Unpack(t, fetched(t, h, v, d.Code)))
	assert.Positive(t, d.Bytes.Int64)

	_, err = h.TakeAlong.Archive(ctx, people[access.Steward], d.Code)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing, "somebody else's download")
}

// TestWhatWasTakenAlongIsSentOut until it is changed: then what was sent is older than what is here, and its page says which.
func TestWhatWasTakenAlongIsSentOut(t *testing.T) {
	h, people, ids, size := sendouttest.Stocked(t, "sent")
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
	_, err = h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids[:2]}, OutputSizes: []int64{size}})
	require.NoError(t, err)
	require.Equal(t, "ready", sendouttest.Ready(t, h, v).State)
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
	h, people, ids, size := sendouttest.Stocked(t, "retry")
	v := people[access.Coordinator]
	asset, err := assetstore.AssetByID(ctx, h.DB, v, ids[0])
	require.NoError(t, err)
	original, err := h.Blobs.Local(ctx, blob.Original(asset.SHA256))
	require.NoError(t, err)
	require.NoError(t, os.Rename(original, original+".away"))
	_, err = h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}})
	require.NoError(t, err)
	d := sendouttest.Ready(t, h, v)
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
	_, err = h.TakeAlong.Retry(ctx, v, d.ID)
	require.NoError(t, err)
	d = sendouttest.Ready(t, h, v)
	assert.Equal(t, []int{3, 3, 0}, []int{d.Total, d.Made, d.Failed})
	_, err = h.TakeAlong.Retry(ctx, people[access.Steward], d.ID)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing)
}

// TestADownloadWaitsForAStep that puts a look on its items in pieces.
func TestADownloadWaitsForAStep(t *testing.T) {
	h, people, ids, size := sendouttest.Stocked(t, "waits")
	v := people[access.Coordinator]
	var bulk int64
	step, err := h.DB.Act(ctx, v, "prepare", func(tx *store.Tx) (store.Done, error) {
		var err error
		bulk, err = undostore.AddBulk(ctx, tx, v.Brand, v.Person, "prepare", struct{}{}, ids)
		return store.Done{Said: "Putting a look on 3 items", Changed: 3}, err
	})
	require.NoError(t, err)
	wanted := takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, After: step.Trail}
	_, err = h.TakeAlong.Take(ctx, people[access.Steward], wanted)
	require.ErrorAs(t, err, new(*fault.Invalid), "that is another person's step")
	_, err = h.TakeAlong.Take(ctx, v, wanted)
	require.NoError(t, err)
	time.Sleep(1500 * time.Millisecond)
	list, err := h.TakeAlong.Downloads(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, "making", list[0].State)
	assert.Zero(t, list[0].Made)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { return undostore.EndBulk(ctx, tx, bulk, "", "") }))
	d := sendouttest.Ready(t, h, v)
	assert.Equal(t, "ready", d.State)
	assert.Equal(t, 3, d.Made)
}

func TestADownloadThatMakesNoSense(t *testing.T) {
	h, people, ids, size := sendouttest.Stocked(t, "nonsense")
	v := people[access.Coordinator]
	cases := map[string]takealong.Wanted{
		"not understood": {Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}, Pattern: "{nmae}"},
		"output size":    {Selection: query.Selection{IDs: ids}, OutputSizes: []int64{4711}},
		"Nothing is":     {OutputSizes: []int64{size}},
		"cannot be":      {Selection: query.Selection{IDs: []int64{4711}}, OutputSizes: []int64{size}},
	}
	for says, wanted := range cases {
		_, err := h.TakeAlong.Take(ctx, v, wanted)
		assert.ErrorContains(t, err, says)
	}
	_, err := h.TakeAlong.Take(ctx, people[access.Reviewer], takealong.Wanted{Selection: query.Selection{IDs: ids},
		OutputSizes: []int64{size}})
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden)
}
