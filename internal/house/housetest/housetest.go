// Package housetest gives tests the whole application on a database and a folder of its own. A package that uses it
// calls pictures.RunIfWorker in its TestMain.
package housetest

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house"
	"brightsatchel/internal/store/storetest"
)

// New opens a house; it does no background work until Work is called. Name is part of the database's name.
func New(t *testing.T, name string) *house.House {
	t.Helper()
	ctx := context.Background()
	address, remove, err := storetest.Address(ctx, name)
	require.NoError(t, err)
	t.Cleanup(remove)
	h, err := house.Open(ctx, house.Config{Database: address, Data: t.TempDir(), Workers: 2})
	require.NoError(t, err)
	t.Cleanup(func() { h.Close(ctx) })
	return h
}

// Settled waits until every file of an intake has its outcome.
func Settled(t *testing.T, h *house.House, v *access.Viewer, intake int64) bringin.Batch {
	t.Helper()
	var batch bringin.Batch
	require.Eventually(t, func() bool {
		var err error
		batch, err = h.BringIn.Load(context.Background(), v, intake)
		require.NoError(t, err)
		return batch.Finished.Valid
	}, 30*time.Second, 20*time.Millisecond)
	return batch
}
