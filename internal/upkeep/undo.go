package upkeep

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/undostore"
)

// Up to so many changes are undone while one waits: what was done at once is undone at once, and an act changes two rows of an item at
// most (the item, and what it is in or has).
const undoneAtOnce = 2 * pieces.AtOnce

// undo is what undoing a large act is called.
const undo = "undo"

// undoOf is the argument of a large undoing.
type undoOf struct {
	Entry int64 `json:"entry"`
}

func (s *Service) addUndoing() {
	s.pieces.RegisterWhole(pieces.Whole{Name: undo, Do: s.undoMany, Not: "Could not undo it",
		Failed: "Something went wrong on the server. Nothing was undone; try again."})
}

// Undo takes back what a trail entry changed, all of it or nothing; a large change behind an answer that comes at once.
func (s *Service) Undo(ctx context.Context, v *access.Viewer, entry int64) (store.Done, error) {
	e, err := undostore.MayUndo(ctx, s.DB, v, entry)
	if err != nil {
		return store.Done{}, err
	}
	if e.Changes <= undoneAtOnce || e.Action == "bring_in" {
		return undostore.Undo(ctx, s.DB, v, entry)
	}
	return s.DB.Act(ctx, v, e.Opposite(), func(tx *store.Tx) (store.Done, error) {
		done := store.Done{Said: e.DoingOpposite(), Changed: e.Changes, GoesOn: true}
		return done, s.pieces.Begin(ctx, tx, v, undo, undoOf{Entry: entry}, []int64{})
	})
}

// undoMany undoes in one transaction, which ends the bulk change too.
func (s *Service) undoMany(ctx context.Context, b undostore.Bulk) error {
	of, err := pieces.Argument[undoOf](b)
	if err != nil {
		return err
	}
	_, err = undostore.UndoInto(ctx, s.DB, of.Entry, b)
	return err
}
