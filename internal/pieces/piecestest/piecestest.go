// Package piecestest gives tests of single steps what they do acts on many items with.
package piecestest

import (
	"testing"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/pieces"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// New returns the service on a database, with a queue that only takes jobs.
func New(t *testing.T, db *store.DB) (*pieces.Service, *queue.Queue) {
	t.Helper()
	jobs, err := queue.New(db)
	require.NoError(t, err)
	return pieces.New(db, jobs), jobs
}
