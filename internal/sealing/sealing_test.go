package sealing

import (
	"encoding/base64"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func newKey(fill byte) string {
	return base64.StdEncoding.EncodeToString([]byte(strings.Repeat(string(rune('a'+fill)), keyBytes)))
}

func TestWhatIsSealedOpensForTheSameOnly(t *testing.T) {
	old, err := Read(newKey(1))
	require.NoError(t, err)
	rapid.Check(t, func(rt *rapid.T) {
		plain := rapid.SliceOf(rapid.Byte()).Draw(rt, "plain")
		sealed := old.Seal(plain, "outlet 7")
		got, current, err := old.Open(sealed, "outlet 7")
		require.NoError(rt, err)
		assert.True(rt, current)
		assert.Equal(rt, string(plain), string(got))
		_, _, err = old.Open(sealed, "outlet 8")
		require.ErrorIs(rt, err, ErrKey)
		at := rapid.IntRange(0, len(sealed)-1).Draw(rt, "at")
		sealed[at] ^= 1
		_, _, err = old.Open(sealed, "outlet 7")
		require.ErrorIs(rt, err, ErrKey)
	})
	for _, cut := range [][]byte{nil, {1}, old.Seal(nil, "x")[:6]} {
		_, _, err = old.Open(cut, "x")
		require.ErrorIs(t, err, ErrKey)
	}
}

func TestAKeyIsChangedByPuttingAnotherBeforeIt(t *testing.T) {
	old, err := Read(newKey(1))
	require.NoError(t, err)
	sealed := old.Seal([]byte("secret"), "outlet 7")
	both, err := Read(newKey(2) + ",\n" + newKey(1))
	require.NoError(t, err)
	got, current, err := both.Open(sealed, "outlet 7")
	require.NoError(t, err)
	assert.Equal(t, "secret", string(got))
	assert.False(t, current, "it is to be sealed anew")
	_, _, err = old.Open(both.Seal([]byte("secret"), "outlet 7"), "outlet 7")
	require.ErrorIs(t, err, ErrKey, "the first one seals")
	for _, wrong := range []string{"", " ,\n", "short", newKey(1) + "," + "x"} {
		_, err := Read(wrong)
		require.Error(t, err, wrong)
	}
}

func TestAFileOfKeysIsMadeOnce(t *testing.T) {
	path := filepath.Join(t.TempDir(), "keys")
	sealed := make([][]byte, 16)
	var all sync.WaitGroup
	for i := range sealed {
		all.Go(func() {
			if keys, err := FromFile(path); assert.NoError(t, err) {
				sealed[i] = keys.Seal([]byte("x"), "y")
			}
		})
	}
	all.Wait()
	keys, err := FromFile(path)
	require.NoError(t, err)
	for _, s := range sealed {
		_, _, err := keys.Open(s, "y")
		require.NoError(t, err)
	}
	is, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), is.Mode().Perm())
}
