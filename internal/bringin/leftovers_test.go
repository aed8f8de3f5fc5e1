package bringin_test

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store/storetest"
)

// TestWhatKilledProcessesLeftIsCleared: working folders that nobody can be at work in any more, and nothing else.
func TestWhatKilledProcessesLeftIsCleared(t *testing.T) {
	h := housetest.New(t, "leftovers")
	v := storetest.Brand(t, h.DB, "leftovers")[access.Coordinator]
	t.Setenv("TMPDIR", t.TempDir())
	hours := func(n int) time.Time { return time.Now().Add(-time.Duration(n) * time.Hour) }
	for name, at := range map[string]time.Time{"satchel-work-old": hours(3), "satchel-work-young": hours(1), "of-another-program": hours(3)} {
		path := filepath.Join(os.TempDir(), name)
		require.NoError(t, os.Mkdir(path, 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(path, "half.webp"), []byte("half"), 0o600))
		require.NoError(t, os.Chtimes(path, at, at))
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "shot.jpg", Bytes: 7}}, 0)
	require.NoError(t, err)
	waiting := batch.Files[0].Code
	of := func(name string) string { return filepath.Join(h.BringIn.Uploads, name) }
	for name, at := range map[string]time.Time{
		waiting: hours(3), "of-nothing": hours(3), "of-nothing.info": hours(3), "begun-just-now": hours(0),
	} {
		require.NoError(t, os.WriteFile(of(name), []byte("shot"), 0o600))
		require.NoError(t, os.Chtimes(of(name), at, at))
	}

	require.NoError(t, h.BringIn.ClearLeftovers(ctx, time.Now()))
	assert.NoDirExists(t, filepath.Join(os.TempDir(), "satchel-work-old"))
	assert.DirExists(t, filepath.Join(os.TempDir(), "satchel-work-young"), "somebody may be at work in it")
	assert.DirExists(t, filepath.Join(os.TempDir(), "of-another-program"))
	assert.FileExists(t, of(waiting), "it goes on from where it broke off")
	assert.FileExists(t, of("begun-just-now"))
	assert.NoFileExists(t, of("of-nothing"))
	assert.NoFileExists(t, of("of-nothing.info"))

	// Whoever asks for a later day does not take the folders of those who are at work today.
	require.NoError(t, h.BringIn.ClearLeftovers(ctx, time.Now().Add(25*time.Hour)))
	assert.DirExists(t, filepath.Join(os.TempDir(), "satchel-work-young"))
}
