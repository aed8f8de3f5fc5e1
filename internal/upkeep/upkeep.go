// Package upkeep looks after the library: the trail of who did what, and undo.
package upkeep

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/acts"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/undostore"
)

// Service looks after the library.
type Service struct {
	DB     *store.DB
	pieces *pieces.Service
}

// New returns the service, with large undoing made known.
func New(db *store.DB, large *pieces.Service) *Service {
	s := &Service{DB: db, pieces: large}
	s.addUndoing()
	return s
}

// page is how many entries of the trail are read at once.
const page = 100

// Wanted says which entries of the trail somebody wants to see; what is zero does not matter. Folder is meant with
// subfolders.
type Wanted struct {
	Before, Person, Item, Folder int64
	Step                         acts.Step
	Undoable                     bool
	Limit                        int
}

// Trail lists entries, newest first: everybody's for those who may read them, else the viewer's own. It says whether there
// are more.
func (s *Service) Trail(ctx context.Context, v *access.Viewer, w Wanted) (entries []store.TrailEntry, more bool, err error) {
	if w.Limit == 0 {
		w.Limit = page
	}
	f := store.TrailFilter{Before: w.Before, Person: w.Person, Asset: w.Item, Can: w.Undoable, Limit: w.Limit + 1}
	if !v.Can(access.Trail) {
		f.Person = v.Person
	}
	if w.Step != "" {
		f.Actions = acts.Of(w.Step)
	}
	if w.Folder != 0 {
		f.Folders = append(v.Tree.Below(w.Folder), w.Folder)
	}
	entries, err = store.Trail(ctx, s.DB, v.Brand, f)
	if more = len(entries) > w.Limit; more {
		entries = entries[:w.Limit]
	}
	return entries, more, err
}

// People are those of the brand, for whoever reads what they did; none for others.
func (s *Service) People(ctx context.Context, v *access.Viewer) ([]peoplestore.Member, error) {
	if !v.Can(access.Trail) {
		return nil, nil
	}
	return peoplestore.Members(ctx, s.DB, v.Brand)
}

// Extent says how far a step reaches that changed an item the viewer may look at.
func (s *Service) Extent(ctx context.Context, v *access.Viewer, entry, item int64) (store.Extent, error) {
	if _, err := assetstore.AssetByID(ctx, s.DB, v, item); err != nil {
		return store.Extent{}, err
	}
	step, err := undostore.StepByID(ctx, s.DB, v.Brand, entry)
	if err != nil {
		return store.Extent{}, err
	}
	if !v.MayUndo(step.Person) {
		return store.Extent{}, fault.Forbiddenf("Only the person who did it, or a coordinator, can undo that.")
	}
	return store.ExtentOf(ctx, s.DB, v, entry, item)
}
