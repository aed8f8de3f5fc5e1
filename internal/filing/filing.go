// Package filing is where items live: folders, moving, copying, stacks, the bin.
package filing

import (
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Service files items.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	acts  acts
}

// acts are what is done to selections of items here.
type acts struct {
	move    *pieces.Registered[moveTo]
	copy    *pieces.Registered[moveTo]
	bin     *pieces.Registered[struct{}]
	restore *pieces.Registered[putBack]
	byDate  *pieces.Registered[byDate]
}

// New returns the service, with its acts and jobs made known.
func New(db *store.DB, blobs *blob.Store, many *pieces.Service, jobs *queue.Queue) *Service {
	s := &Service{DB: db, Blobs: blobs}
	s.acts = acts{
		move: pieces.Register(many, moveAct), copy: pieces.Register(many, copyAct), byDate: pieces.Register(many, byDateAct),
		bin: pieces.Register(many, binAct), restore: pieces.Register(many, restoreAct),
	}
	s.addClearing(jobs)
	return s
}

func tooMany(n, most int) error {
	return fault.Invalidf("selection", "%s are selected; this works for up to %d at once.", wording.Items(n), most)
}

func notInside() error {
	return fault.Invalidf("ids", "Some of them are not in this folder any more.")
}

// mayFile checks that the viewer may file in a folder; the top and Unfiled (0) are for those who may file everywhere.
func mayFile(v *access.Viewer, folder int64) error {
	if v.May(access.File).Folder(folder) {
		return nil
	}
	return fault.Forbiddenf("You may not file there. Ask a steward for a grant on that folder.")
}
