package blob

import (
	"bytes"
	"io"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestSmallFilesAreHeld: few bytes come from memory, also when the file is gone; many from the file; and what is written anew or removed is
// not held any more.
func TestSmallFilesAreHeld(t *testing.T) {
	s, err := Open(t.TempDir())
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	const key = "renditions/ab/abc/small.jpg"
	put := func(key string, data []byte) {
		t.Helper()
		require.NoError(t, s.Put(ctx, key, func(w io.Writer) error {
			_, err := w.Write(data)
			return err
		}))
	}
	_, _, err = s.Quickly(key)
	require.ErrorIs(t, err, ErrMissing)
	put(key, []byte("kite"))
	for range 2 {
		data, file, err := s.Quickly(key)
		require.NoError(t, err)
		assert.Nil(t, file)
		assert.Equal(t, "kite", string(data))
		path, err := s.Local(ctx, key)
		if err == nil {
			require.NoError(t, os.Remove(path))
		}
	}
	put(key, []byte("another kite"))
	data, _, err := s.Quickly(key)
	require.NoError(t, err)
	assert.Equal(t, "another kite", string(data))
	require.NoError(t, s.RemoveMade(ctx, key))
	_, _, err = s.Quickly(key)
	require.ErrorIs(t, err, ErrMissing)

	const many = "renditions/ab/abc/large.jpg"
	put(many, bytes.Repeat([]byte("k"), largestHeld+1))
	data, file, err := s.Quickly(many)
	require.NoError(t, err)
	assert.Nil(t, data)
	require.NotNil(t, file)
	require.NoError(t, file.Close())
	empty := "renditions/ab/abc/empty.jpg"
	put(empty, nil)
	data, file, err = s.Quickly(empty)
	require.NoError(t, err)
	assert.Nil(t, file)
	assert.Empty(t, data)
}
