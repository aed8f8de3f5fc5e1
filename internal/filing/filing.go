// Package filing is where items live: folders, moving, copying, stacks, the bin.
package filing

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Service files items.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	Queue *queue.Queue
}

// mayFile checks that the viewer may file in a folder; the top and Unfiled (0) are for those who may file everywhere.
func (s *Service) mayFile(v *access.Viewer, folder int64) error {
	if v.May(access.File).Folder(folder) {
		return nil
	}
	return fault.Forbiddenf("You may not file there. Ask a steward for a grant on that folder.")
}
