// Package upkeep looks after the library: the trail of who did what, and undo.
package upkeep

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Service looks after the library.
type Service struct {
	DB    *store.DB
	Queue *queue.Queue
}

// New returns the service, with its job made known.
func New(db *store.DB, jobs *queue.Queue) *Service {
	s := &Service{DB: db, Queue: jobs}
	s.addUndoing()
	return s
}

// Trail lists the last entries: everybody's for stewards and coordinators, else the viewer's own.
func (s *Service) Trail(ctx context.Context, v *access.Viewer) ([]store.TrailEntry, error) {
	person := v.Person
	if v.Role == access.Steward || v.Role == access.Coordinator {
		person = 0
	}
	return store.Trail(ctx, s.DB, v.Brand, person)
}
