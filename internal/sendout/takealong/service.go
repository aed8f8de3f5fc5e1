// Package takealong makes files of items for somebody to take along: in output sizes, as a ZIP or in a folder on the server.
package takealong

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// Service makes files to take along.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Queue      *queue.Queue
	Renditions *renditions.Service
}
