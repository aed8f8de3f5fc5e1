package takealong_test

import (
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/undostore"
)

// below lists the files in a folder and all below it.
func below(t *testing.T, folder string) []string {
	t.Helper()
	out := []string{}
	require.NoError(t, filepath.WalkDir(folder, func(p string, e os.DirEntry, err error) error {
		if err == nil && !e.IsDir() {
			name, _ := filepath.Rel(folder, p)
			out = append(out, filepath.ToSlash(name))
		}
		return err
	}))
	slices.Sort(out)
	return out
}

// taking allows a folder that files may be put into.
func taking(t *testing.T, h *house.House, steward *access.Viewer) (folder string, id int64) {
	t.Helper()
	folder = t.TempDir()
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		if id, err = intakestore.AddServerFolder(ctx, tx, steward.Brand, "The website", folder); err != nil {
			return err
		}
		return intakestore.SetServerFolderTakes(ctx, tx, steward.Brand, id, true)
	}))
	return folder, id
}

// TestSeveralSizesGoIntoAFolder with a folder each, and write nothing over: what is there already stays, and the same again is no second
// file.
func TestSeveralSizesGoIntoAFolder(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "into_folder")
	v := people[access.Coordinator]
	var tiny int64
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		tiny, err = downloadstore.AddOutputSize(ctx, tx, v.Brand, outputs.Size{Name: "Tiny", Width: 50, Height: 50, Fit: outputs.Inside,
			Format: "png", Quality: 90, Metadata: outputs.StripAll, Pattern: "{name} {width}"})
		return err
	}))
	folder, id := taking(t, h, people[access.Steward])
	require.NoError(t, os.MkdirAll(filepath.Join(folder, "spring", "Tiny"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(folder, "spring", "Tiny", "01 shot 50.png"), []byte("the client's own"), 0o644))
	wanted := takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{small, tiny}, Numbered: true, ServerFolder: id,
		Path: "../spring/"}
	want := []string{"spring/Small 200/01 shot.jpg", "spring/Small 200/02 shot.jpg", "spring/Small 200/03 shot.jpg",
		"spring/Tiny/01 shot 50 2.png", "spring/Tiny/01 shot 50.png", "spring/Tiny/02 shot 50.png", "spring/Tiny/03 shot 30.png"}
	for range 2 {
		_, err := h.TakeAlong.Take(ctx, v, wanted)
		require.NoError(t, err)
		d := sendouttest.Ready(t, h, v)
		require.Equal(t, "ready", d.State, d.Failures)
		assert.Equal(t, []int{6, 6, 0}, []int{d.Total, d.Made, d.Failed})
		assert.Equal(t, want, below(t, folder))
	}
	own, err := os.ReadFile(filepath.Join(folder, "spring", "Tiny", "01 shot 50.png"))
	require.NoError(t, err)
	assert.Equal(t, "the client's own", string(own))
	log, err := h.TakeAlong.Log(ctx, people[access.Steward], 0)
	require.NoError(t, err)
	require.Len(t, log, 2)
	assert.Equal(t, []string{"The website", "spring", v.Name}, []string{log[0].Place, log[0].Path, log[0].By})

	_, err = h.TakeAlong.Archive(ctx, v, log[0].Code)
	assert.ErrorAs(t, err, new(*fault.NotFound), "that is no ZIP")
	_, err = h.TakeAlong.Take(ctx, people[access.Contributor], wanted)
	assert.Error(t, err, "contributors put nothing on the server")
}

// TestAFolderThatTakesNothingMore fails what is left with its reason, and goes on when it takes files again.
func TestAFolderThatTakesNothingMore(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "no_folder")
	v := people[access.Coordinator]
	folder, id := taking(t, h, people[access.Steward])
	wanted := takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{small}, ServerFolder: id}
	require.NoError(t, os.RemoveAll(folder))
	_, err := h.TakeAlong.Take(ctx, v, wanted)
	require.NoError(t, err)
	d := sendouttest.Ready(t, h, v)
	assert.Equal(t, "failed", d.State)
	require.NotEmpty(t, d.Failures)
	assert.Equal(t, "The folder “The website” on the server: it is not there any more.", d.Failures[0].Why)
	require.NoError(t, os.Mkdir(folder, 0o755))
	_, err = h.TakeAlong.Retry(ctx, v, d.ID)
	require.NoError(t, err)
	d = sendouttest.Ready(t, h, v)
	assert.Equal(t, "ready", d.State)
	assert.Len(t, below(t, folder), 3)

	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.SetServerFolderTakes(ctx, tx, v.Brand, id, false) }))
	_, err = h.TakeAlong.Take(ctx, v, wanted)
	assert.ErrorContains(t, err, "Nothing may be put into “The website”.")
}

// TestAZIPIsFetchedWhileItIsMade, and one that is stopped ends with what there is.
func TestAZIPIsFetchedWhileItIsMade(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "streamed")
	v := people[access.Coordinator]
	taken, err := h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{small}, Pattern: "{n}"})
	require.NoError(t, err)
	assert.Equal(t, "making", taken.State)
	assert.Len(t, sendouttest.Unpack(t, fetched(t, h, v, taken.Code)), 3, "asked for before it was made")

	var bulk int64
	step, err := h.DB.Act(ctx, v, "prepare", func(tx *store.Tx) (store.Done, error) {
		var err error
		bulk, err = undostore.AddBulk(ctx, tx, v.Brand, v.Person, "prepare", struct{}{}, ids)
		return store.Done{Said: "Putting a look on 3 items", Changed: 3}, err
	})
	require.NoError(t, err)
	waits, err := h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{small},
		After: step.Trail})
	require.NoError(t, err)
	stopped, err := h.TakeAlong.Stop(ctx, v, waits.ID)
	require.NoError(t, err)
	assert.Equal(t, "stopped", stopped.State)
	_, err = h.TakeAlong.Stop(ctx, v, waits.ID)
	assert.ErrorAs(t, err, new(*fault.NotFound))
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { return undostore.EndBulk(ctx, tx, bulk, "", "") }))
	time.Sleep(1500 * time.Millisecond)
	list, err := h.TakeAlong.Downloads(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, "stopped", list[0].State, "and stays so")
	assert.Zero(t, list[0].Made)
}
