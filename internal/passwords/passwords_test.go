package passwords_test

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store/storetest"
)

func TestGuessingEnds(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	guard := passwords.NewGuard(db)
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	other, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	assert.NotEqual(t, hash, other, "each has its own salt")
	assert.Contains(t, hash, "$argon2id$")
	try := func(from, password string) error {
		return guard.Check(ctx, passwords.Attempt{What: "the gallery", From: from}, password, hash, "No.")
	}
	for range 8 {
		var invalid *fault.Invalid
		require.ErrorAs(t, try("here", "guess"), &invalid)
		assert.Equal(t, "password", invalid.Field)
		require.NoError(t, try("elsewhere", "mind the gulls"), "others are not held up")
	}
	var many *fault.TooMany
	require.ErrorAs(t, try("here", "mind the gulls"), &many)
	assert.InDelta(t, passwords.Window, many.After, float64(time.Minute), "it says how long to wait")
	_, err = db.Exec(`update attempt_count set began = began - interval '16 minutes'`)
	require.NoError(t, err)
	require.NoError(t, try("here", "mind the gulls"), "after a quarter of an hour")
	require.Error(t, guard.Check(ctx, passwords.Attempt{What: "new"}, "", passwords.Nobody, "No."), "nobody signs in as nobody")
}

func TestGuessesFromManyAddressesEndToo(t *testing.T) {
	ctx := context.Background()
	guard := passwords.NewGuard(storetest.New(t))
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	looked := 0
	for i := range 70 {
		err := guard.Check(ctx, passwords.Attempt{What: "an account", From: time.Unix(int64(i), 0).String()}, "guess", hash, "No.")
		if many := (*fault.TooMany)(nil); !errors.As(err, &many) {
			looked++
		}
	}
	assert.Equal(t, 50, looked)
}

// TestAFloodOfGuesses makes 256 guesses at the same time: they are counted before they are looked at, and few are computed
// at a time.
func TestAFloodOfGuesses(t *testing.T) {
	ctx := context.Background()
	guard := passwords.NewGuard(storetest.New(t))
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	var mu sync.Mutex
	var wait sync.WaitGroup
	looked, refused := 0, 0
	for range 256 {
		wait.Go(func() {
			err := guard.Check(ctx, passwords.Attempt{What: "an account", From: "here"}, "guess", hash, "No.")
			mu.Lock()
			defer mu.Unlock()
			var invalid *fault.Invalid
			var many *fault.TooMany
			switch {
			case errors.As(err, &invalid):
				looked++
			case errors.As(err, &many):
				refused++
			default:
				t.Error(err)
			}
		})
	}
	wait.Wait()
	assert.LessOrEqual(t, looked, 8)
	assert.Equal(t, 256, looked+refused)
}
