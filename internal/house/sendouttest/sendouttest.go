// Package sendouttest furnishes brands for the tests of what sends out.
package sendouttest

import (
	"archive/zip"
	"bytes"
	"image"
	"image/jpeg"
	"io"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/storetest"
)

// Stocked is a house with three pictures of one name in a folder, and one output size of at most 200 pixels. The test that asks for it
// goes on beside others: most of what it does is waiting.
func Stocked(t *testing.T, name string) (*house.House, map[access.Role]*access.Viewer, []int64, int64) {
	t.Helper()
	t.Parallel()
	h := housetest.New(t, name)
	require.NoError(t, h.Work(t.Context()))
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
	batch, err := h.BringIn.Begin(t.Context(), v, bringin.Target{}, dropped, 0)
	require.NoError(t, err)
	for i, f := range batch.Files {
		require.NoError(t, h.BringIn.Receive(t.Context(), f.Code, bytes.NewReader(data[i])))
	}
	batch = housetest.Settled(t, h, v, batch.ID)
	var ids []int64
	for _, f := range batch.Files {
		require.Equal(t, "added", f.State, f.Why)
		ids = append(ids, f.Asset.Int64)
	}
	var size int64
	require.NoError(t, h.DB.InTx(t.Context(), func(tx *store.Tx) error {
		size, err = downloadstore.AddOutputSize(t.Context(), tx, v.Brand, outputs.Size{Name: "Small 200", Width: 200, Height: 200,
			Fit:    outputs.Inside,
			Format: "jpeg", Quality: 80, Metadata: outputs.StripPrivate, Pattern: "{name}"})
		return err
	}))
	return h, people, ids, size
}

// Ready waits until the newest download of somebody is made.
func Ready(t *testing.T, h *house.House, v *access.Viewer) takealong.Taken {
	t.Helper()
	var d takealong.Taken
	require.Eventually(t, func() bool {
		list, err := h.TakeAlong.Downloads(t.Context(), v)
		require.NoError(t, err)
		d = list[0]
		return d.State != "making"
	}, 30*time.Second, 20*time.Millisecond)
	return d
}

// Unpack reads how large the pictures of a ZIP are, by their names.
func Unpack(t *testing.T, data []byte) map[string][2]int {
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

// SizeOf reads the dimensions of what is stored under a key.
func SizeOf(t *testing.T, h *house.House, key string, decode func(io.Reader) (image.Config, error)) image.Config {
	t.Helper()
	r, err := h.Blobs.Open(t.Context(), key)
	require.NoError(t, err)
	defer func() { _ = r.Close() }()
	config, err := decode(r)
	require.NoError(t, err)
	return config
}

// Bring brings in one picture of a size, and gives its id.
func Bring(t *testing.T, h *house.House, v *access.Viewer, width, height int) int64 {
	t.Helper()
	picture := mediatest.JPEG(t, width, height, uint8(width%200))
	batch, err := h.BringIn.Begin(t.Context(), v, bringin.Target{}, []bringin.Dropped{{Name: "wide.jpg", Bytes: int64(len(picture))}}, 0)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.Receive(t.Context(), batch.Files[0].Code, bytes.NewReader(picture)))
	batch = housetest.Settled(t, h, v, batch.ID)
	require.Equal(t, "added", batch.Files[0].State, batch.Files[0].Why)
	return batch.Files[0].Asset.Int64
}
