package passwords_test

import (
	"context"
	"errors"
	"fmt"
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
		return guard.Check(ctx, passwords.Attempt{What: "the gallery", Caller: passwords.Caller{From: from}}, password, hash, "No.")
	}
	for range 8 {
		var invalid *fault.Invalid
		require.ErrorAs(t, try("here", "guess"), &invalid)
		assert.Equal(t, "password", invalid.Field)
		require.NoError(t, try("elsewhere", "mind the gulls"), "others are not held up")
	}
	var many *fault.TooMany
	require.ErrorAs(t, try("here", "mind the gulls"), &many)
	assert.InDelta(t, 15*time.Second, many.After, float64(5*time.Second), "it says how long to wait")
	assert.Contains(t, many.Text, " seconds")
	_, err = storetest.SQL(db).Exec(`update attempt_count set last_at = last_at - interval '20 seconds'`)
	require.NoError(t, err)
	require.NoError(t, try("here", "mind the gulls"), "after that")
	require.Error(t, guard.Check(ctx, passwords.Attempt{What: "new"}, "", passwords.Nobody(), "No."), "nobody signs in as nobody")
}

func TestGuessesFromManyAddressesEndToo(t *testing.T) {
	ctx := context.Background()
	guard := passwords.NewGuard(storetest.New(t))
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	looked := 0
	for i := range 70 {
		by := passwords.Caller{From: time.Unix(int64(i), 0).String()}
		err := guard.Check(ctx, passwords.Attempt{What: "an account", Caller: by}, "guess", hash, "No.")
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
			err := guard.Check(ctx, passwords.Attempt{What: "an account", Caller: passwords.Caller{From: "here"}}, "guess", hash, "No.")
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

// TestNobodyUsesUpWhatIsOthers: whatever strangers try, a device on which the password was right before is asked for it at once, and so is
// whoever comes from another address than theirs; and no bound is one of everybody together.
func TestNobodyUsesUpWhatIsOthers(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	guard := passwords.NewGuard(db)
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	try := func(what, from, device, password string) error {
		return guard.Check(ctx, passwords.Attempt{What: what, Caller: passwords.Caller{From: from, Device: device}}, password, hash, "No.")
	}
	looked := 0
	for i := range 4000 { // one address, many accounts, and one of them over and over
		what := "the account"
		if i%2 == 1 {
			what = fmt.Sprint("account ", i)
		}
		var many *fault.TooMany
		if !errors.As(try(what, "a stranger", "", "guess"), &many) {
			looked++
		}
	}
	assert.LessOrEqual(t, looked, 61, "one address does not go on for ever")
	var counted int
	require.NoError(t, storetest.SQL(db).Get(&counted, `select n from attempt_count where key = 'the account'`))
	assert.LessOrEqual(t, counted, 8, "what was refused is not counted against the account")
	require.NoError(t, try("the account", "at home", "", "mind the gulls"), "from elsewhere, on a new device")
	require.NoError(t, try("the account", "a stranger", "a phone", "mind the gulls"), "even from the same address, on a known device")
	_, err = storetest.SQL(db).Exec(`insert into attempt_count (key, n) values ('the account', 5000) on conflict (key) do update set n = 5000`)
	require.NoError(t, err) // very many strangers
	require.NoError(t, try("the account", "at home", "a phone", "mind the gulls"))
	for range 8 {
		require.Error(t, try("the account", "at home", "a phone", "guess"))
	}
	var many *fault.TooMany
	require.ErrorAs(t, try("the account", "at home", "a phone", "guess"), &many, "guessing ends on a stolen phone, too")
}
