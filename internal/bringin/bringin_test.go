package bringin_test

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// begin opens an intake for files and hands all their bytes over.
func begin(t *testing.T, h *house.House, v *access.Viewer, folder int64, names []string, data ...[]byte) bringin.Batch {
	t.Helper()
	dropped := make([]bringin.Dropped, len(data))
	for i := range data {
		dir, name := filepath.Split(names[i])
		dropped[i] = bringin.Dropped{Name: name, Path: dir, Bytes: int64(len(data[i]))}
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{Folder: folder}, dropped, 0)
	require.NoError(t, err)
	for i, f := range batch.Files {
		if f.State == "waiting" {
			require.NoError(t, h.BringIn.Receive(ctx, f.Code, bytes.NewReader(data[i])))
		}
	}
	return batch
}

func states(b bringin.Batch) []string {
	var out []string
	for _, f := range b.Files {
		out = append(out, f.State)
	}
	return out
}

func TestEveryFileHasItsOutcome(t *testing.T) {
	h := housetest.New(t, "outcomes")
	v := storetest.Brand(t, h.DB, "outcomes")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	first, second := mediatest.JPEG(t, 300, 200, 1), mediatest.JPEG(t, 300, 200, 2)
	names := []string{"Walk/Day 1/a.jpg", "b\n../\u202e.jpg", "same as a.jpg", "cut.jpg", "empty.jpg"}
	batch := begin(t, h, v, 0, names, first, second, first, mediatest.Truncated(t), nil)
	done := housetest.Settled(t, h, v, batch.ID)
	got := states(done)
	assert.ElementsMatch(t, []string{"added", "skipped"}, []string{got[0], got[2]}, "whichever of the two came first")
	assert.Equal(t, []string{"added", "refused", "refused"}, []string{got[1], got[3], got[4]})
	assert.Contains(t, done.Files[4].Why, "empty")
	assert.NotContains(t, done.Files[1].Name, "\n")

	folders, err := folderstore.Folders(ctx, h.DB, v.Brand)
	require.NoError(t, err)
	if got[0] == "added" {
		require.Len(t, folders, 3, "the folder trees are kept: Walk with Day 1, and b")
	}
	// The bytes go after the outcome is told.
	require.Eventually(t, func() bool {
		left, err := os.ReadDir(h.BringIn.Uploads)
		return err == nil && len(left) == 0
	}, 2*time.Minute, 50*time.Millisecond, "nothing of an upload is left behind")

	again := begin(t, h, v, 0, []string{"a.jpg", "b.jpg"}, first, second)
	assert.Equal(t, []string{"skipped", "skipped"}, states(housetest.Settled(t, h, v, again.ID)))

	page, err := findstore.Find(h.DB).Sheet(ctx, v, query.Query{Place: "everything"}, 0, 10_000)
	rows := page.Rows
	require.NoError(t, err)
	require.Len(t, rows, 2)
	for _, row := range rows {
		a, err := assetstore.AssetByID(ctx, h.DB, v, row.ID)
		require.NoError(t, err)
		original, err := h.Blobs.Local(ctx, blob.Original(a.SHA256))
		require.NoError(t, err)
		sum, err := blob.Sum(original)
		require.NoError(t, err)
		assert.Equal(t, a.SHA256, sum)
		for _, size := range media.PreviewNames {
			_, err := h.Blobs.Local(ctx, blob.Picture(a.SHA256, size, ""))
			assert.NoError(t, err)
		}
	}
}

func TestRacingUploadsOfTheSameFileBecomeOneItem(t *testing.T) {
	h := housetest.New(t, "racing")
	people := storetest.Brand(t, h.DB, "racing")
	data := mediatest.JPEG(t, 600, 400, 9)
	one := begin(t, h, people[access.Coordinator], 0, []string{"a.jpg"}, data)
	two := begin(t, h, people[access.Steward], 0, []string{"b.jpg"}, data)
	require.NoError(t, h.Work(ctx)) // both jobs start at once
	got := append(states(housetest.Settled(t, h, people[access.Coordinator], one.ID)),
		states(housetest.Settled(t, h, people[access.Steward], two.ID))...)
	assert.ElementsMatch(t, []string{"added", "skipped"}, got)
}

func TestWhatAKilledWorkerLeftIsDoneAgain(t *testing.T) {
	h := housetest.New(t, "killed")
	v := storetest.Brand(t, h.DB, "killed")[access.Coordinator]
	batch := begin(t, h, v, 0, []string{"a.jpg", "b.jpg"}, mediatest.JPEG(t, 300, 200, 1), mediatest.JPEG(t, 300, 200, 2))
	// as a process leaves it that is killed while it holds the first job: nobody holds its identity any more
	host, err := os.Hostname()
	require.NoError(t, err)
	gone := host + ".gone"
	require.NoError(t, os.MkdirAll(filepath.Join(h.Config.Data, "processes"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(h.Config.Data, "processes", gone), nil, 0o600))
	_, err = storetest.SQL(h.DB).Exec(`update river_job set state = 'running', attempt = 1, attempted_at = now(), attempted_by = array[$1]
		where id = (select min(id) from river_job)`, gone)
	require.NoError(t, err)
	// and as a server leaves it that is killed before it notes that the last byte came
	_, err = storetest.SQL(h.DB).Exec(`update intake_file set state = 'waiting' where id = $1`, batch.Files[1].ID)
	require.NoError(t, err)
	require.NoError(t, h.Work(ctx))
	assert.Equal(t, []string{"added", "added"}, states(housetest.Settled(t, h, v, batch.ID)))
}

func TestContributorsBringInOnlyWhereTheyWereGranted(t *testing.T) {
	h := housetest.New(t, "granted")
	people := storetest.Brand(t, h.DB, "granted")
	v := people[access.Contributor]
	var mine, other int64
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		mine, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Mine")
		other, _ = folderstore.AddFolder(ctx, tx, v.Brand, 0, "Other")
		return peoplestore.AddGrant(ctx, tx, v.Brand, v.Person, access.Grant{Folder: mine, Level: access.LevelContribute})
	}))
	v = storetest.See(t, h.DB, v.Person, "granted")
	files := []bringin.Dropped{{Name: "a.jpg", Bytes: 10}}
	_, err := h.BringIn.Begin(ctx, v, bringin.Target{Folder: mine}, files, 0)
	require.NoError(t, err)
	for _, folder := range []int64{other, 0} {
		_, err = h.BringIn.Begin(ctx, v, bringin.Target{Folder: folder}, files, 0)
		var forbidden *fault.Forbidden
		require.ErrorAs(t, err, &forbidden)
	}
	_, err = h.BringIn.Begin(ctx, people[access.Coordinator], bringin.Target{},
		[]bringin.Dropped{{Name: "vast.mp4", Bytes: 3 << 30}, {Name: "vast.mp4", Bytes: 1 << 60}}, 0)
	require.NoError(t, err, "what is too large is refused by itself")
	many := make([]bringin.Dropped, 4000)
	for i := range many {
		many[i] = bringin.Dropped{Name: "big.mp4", Bytes: bringin.MaxFile}
	}
	_, err = h.BringIn.Begin(ctx, people[access.Coordinator], bringin.Target{}, many, 0)
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid, "a disk without room is told before anything travels")
	assert.Contains(t, invalid.Text, "room for")
}

func TestCancellingKeepsWhatIsIn(t *testing.T) {
	h := housetest.New(t, "cancel")
	v := storetest.Brand(t, h.DB, "cancel")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	data := mediatest.JPEG(t, 300, 200, 4)
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "in.jpg", Bytes: int64(len(data))},
		{Name: "never.jpg", Bytes: 99}}, 0)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(data)))
	_, err = h.BringIn.Cancel(ctx, v, batch.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"added", "cancelled"}, states(housetest.Settled(t, h, v, batch.ID)))
}

func TestUndoingAnIntakePutsWhatItAddedInTheBin(t *testing.T) {
	h := housetest.New(t, "undointake")
	v := storetest.Brand(t, h.DB, "undointake")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	batch := housetest.Settled(t, h, v, begin(t, h, v, 0, []string{"a.jpg"}, mediatest.JPEG(t, 300, 200, 1)).ID)
	_, err := h.Upkeep.Undo(ctx, v, batch.Trail.Int64)
	require.NoError(t, err)
	page, err := findstore.Find(h.DB).Sheet(ctx, v, query.Query{Place: "bin"}, 0, 10_000)
	rows := page.Rows
	require.NoError(t, err)
	assert.Len(t, rows, 1)
}
