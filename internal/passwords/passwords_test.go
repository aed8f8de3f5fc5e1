package passwords_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store/storetest"
)

func TestGuessingEnds(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	hash, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	other, err := passwords.Hash("mind the gulls")
	require.NoError(t, err)
	assert.NotEqual(t, hash, other, "each has its own salt")
	assert.Contains(t, hash, "$argon2id$")
	for range 8 {
		err := passwords.Check(ctx, db, "here", "guess", hash, "No.")
		var invalid *fault.Invalid
		require.ErrorAs(t, err, &invalid)
		assert.Equal(t, "password", invalid.Field)
		require.NoError(t, passwords.Check(ctx, db, "elsewhere", "mind the gulls", hash, "No."), "others are not held up")
	}
	err = passwords.Check(ctx, db, "here", "mind the gulls", hash, "No.")
	var many *fault.TooMany
	require.ErrorAs(t, err, &many)
	_, err = db.Exec(`update attempt set at = at - interval '16 minutes'`)
	require.NoError(t, err)
	require.NoError(t, passwords.Check(ctx, db, "here", "mind the gulls", hash, "No."), "after a quarter of an hour")
	require.Error(t, passwords.Check(ctx, db, "new", "", passwords.Nobody, "No."), "nobody signs in as nobody")
}
