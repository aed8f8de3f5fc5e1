package bringin_test

import (
	"bytes"
	"errors"
	"io"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// smallDisk makes everything temporary lie on a disk in memory and returns its folder. It takes the right to mount one.
func smallDisk(t *testing.T, options string) string {
	dir, err := os.MkdirTemp("", "satchel-disk-") // a folder of the test's own would be the place of all of them
	require.NoError(t, err)
	t.Cleanup(func() { _ = os.Remove(dir) })
	if err := syscall.Mount("tmpfs", dir, "tmpfs", 0, options); errors.Is(err, syscall.EPERM) {
		t.Skip("this user may not mount a small disk")
	} else {
		require.NoError(t, err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(dir, syscall.MNT_DETACH) })
	t.Setenv("TMPDIR", dir)
	return dir
}

// zeros never end.
type zeros struct{}

func (zeros) Read(p []byte) (int, error) {
	clear(p)
	return len(p), nil
}

func TestAFullDiskIsNotTheFaultOfTheFiles(t *testing.T) {
	disk := smallDisk(t, "size=60m")
	h := housetest.New(t, "fulldisk")
	v := storetest.Brand(t, h.DB, "fulldisk")[access.Coordinator]
	batch := begin(t, h, v, 0, []string{"a.jpg", "b.jpg"}, mediatest.JPEG(t, 2400, 1600, 1), mediatest.JPEG(t, 2400, 1600, 2))
	late, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "c.jpg", Bytes: 1 << 20}}, 0)
	require.NoError(t, err)

	ballast, err := os.Create(filepath.Join(disk, "ballast"))
	require.NoError(t, err)
	_, err = io.Copy(ballast, zeros{})
	require.ErrorIs(t, err, syscall.ENOSPC)
	require.ErrorIs(t, h.BringIn.Receive(ctx, late.Files[0].Code, bytes.NewReader(make([]byte, 1<<20))), syscall.ENOSPC)
	require.NoError(t, h.Work(ctx))
	require.Eventually(t, func() bool {
		var tried int
		require.NoError(t, storetest.SQL(h.DB).Get(&tried,
			`select count(*) from river_job where kind = 'bring_in_file' and cardinality(errors) > 0`))
		return tried == 2
	}, 20*time.Second, 20*time.Millisecond)
	now, err := h.BringIn.Load(ctx, v, batch.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"arrived", "arrived"}, states(now), "nobody blames the files")

	require.NoError(t, errors.Join(ballast.Close(), os.Remove(ballast.Name())))
	assert.Equal(t, []string{"added", "added"}, states(housetest.Settled(t, h, v, batch.ID)), "they are taken as soon as there is room")
}
