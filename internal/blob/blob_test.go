package blob

import (
	"context"
	"errors"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func TestTheSameBytesAreStoredOnce(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(filepath.Join(dir, "media"))
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	file := filepath.Join(dir, "a.jpg")
	require.NoError(t, os.WriteFile(file, []byte("bytes of a kite"), 0o600))
	sum, err := Sum(file)
	require.NoError(t, err)
	key := Original(sum)
	require.NoError(t, s.PutFile(ctx, key, file))
	path, err := s.Local(ctx, key)
	require.NoError(t, err)
	before, err := os.Stat(path)
	require.NoError(t, err)
	require.NoError(t, s.PutFile(ctx, key, file))
	after, err := os.Stat(path)
	require.NoError(t, err)
	assert.True(t, os.SameFile(before, after), "not written a second time")

	r, err := s.Open(ctx, key)
	require.NoError(t, err)
	_, err = r.Seek(9, io.SeekStart)
	require.NoError(t, err)
	rest, err := io.ReadAll(r)
	require.NoError(t, err)
	require.NoError(t, r.Close())
	assert.Equal(t, "a kite", string(rest))
}

func TestWhatFailsHalfWayLeavesNothing(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(dir)
	require.NoError(t, err)
	broken := errors.New("the line broke")
	err = s.Put(ctx, "downloads/x.zip", func(w io.Writer) error {
		_, _ = w.Write([]byte("half"))
		return broken
	})
	require.ErrorIs(t, err, broken)
	_, err = s.Open(ctx, "downloads/x.zip")
	require.ErrorIs(t, err, ErrMissing)
	_, err = s.Local(ctx, "downloads/x.zip")
	require.ErrorIs(t, err, ErrMissing)
	var left []string
	require.NoError(t, filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			left = append(left, path)
		}
		return err
	}))
	assert.Empty(t, left, "no half file")
}

// TestPicturesByEarlierRecipesGo removes what is shown by recipes that nobody has any more, and nothing else.
func TestPicturesByEarlierRecipesGo(t *testing.T) {
	s, err := Open(t.TempDir())
	require.NoError(t, err)
	sum, other := make([]byte, 32), append(make([]byte, 31), 1)
	keys := []string{Picture(sum, "large", ""), Picture(sum, "large", "aaaaaaaaaaaa"), Picture(sum, "within-480", "aaaaaaaaaaaa"),
		Picture(sum, "large", "bbbbbbbbbbbb"), Picture(sum, "page-1", ""), Picture(sum, "strip", ""),
		Picture(other, "large", "aaaaaaaaaaaa")}
	for _, key := range keys {
		require.NoError(t, s.Put(ctx, key, func(w io.Writer) error { _, err := io.WriteString(w, key); return err }))
	}
	require.NoError(t, s.RemovePictures(ctx, sum, func(recipe string) bool { return recipe == "aaaaaaaaaaaa" }))
	for i, key := range keys {
		_, err := s.Local(ctx, key)
		if i == 1 || i == 2 {
			assert.ErrorIs(t, err, ErrMissing, key)
		} else {
			assert.NoError(t, err, key)
		}
	}
}
