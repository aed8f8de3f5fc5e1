package upkeep

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/undostore"
)

// Up to so many changes are undone while one waits.
const atOnce = 500

// Undo takes back what a trail entry changed, all of it or nothing; a large change behind an answer that comes at once.
func (s *Service) Undo(ctx context.Context, v *access.Viewer, entry int64) (store.Done, error) {
	e, err := undostore.MayUndo(ctx, s.DB, v, entry)
	if err != nil {
		return store.Done{}, err
	}
	if e.Changes <= atOnce || e.Action == "bring_in" {
		return undostore.Undo(ctx, s.DB, v, entry)
	}
	return s.DB.Act(ctx, v, e.Opposite(), func(tx *store.Tx) (store.Done, error) {
		id, err := undostore.AddBulk(ctx, tx, v.Brand, v.Person, "undo", undoOf{Entry: entry}, []int64{})
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: e.DoingOpposite(), Changed: e.Changes, GoesOn: true}, s.Queue.Enqueue(ctx, tx, undoMany{Bulk: id})
	})
}

type undoOf struct {
	Entry int64 `json:"entry"`
}

// undoMany is the job that undoes a change of many items.
type undoMany struct {
	Bulk int64 `json:"bulk"`
}

// Kind names the job in the queue.
func (undoMany) Kind() string { return "undo_many" }

func (s *Service) addUndoing() {
	queue.Add(s.Queue, queue.Kind[undoMany]{Do: s.undoMany, GaveUp: s.gaveUpUndoing, Tries: queue.Soon, Queue: queue.LargeActs})
}

// undoMany undoes in one transaction, which ends the bulk change too.
func (s *Service) undoMany(ctx context.Context, job undoMany) error {
	b, err := undostore.BulkByID(ctx, s.DB, job.Bulk)
	if err != nil || b.Finished != nil {
		return err
	}
	var of undoOf
	if err := json.Unmarshal(b.Argument, &of); err != nil {
		return fmt.Errorf("the argument of bulk %d: %w", b.ID, err)
	}
	_, err = undostore.UndoInto(ctx, s.DB, of.Entry, b)
	var refused *fault.Conflict
	var forbidden *fault.Forbidden
	if errors.As(err, &refused) || errors.As(err, &forbidden) {
		return s.couldNotUndo(ctx, b.ID, err.Error())
	}
	return err
}

func (s *Service) couldNotUndo(ctx context.Context, bulk int64, why string) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return undostore.EndBulk(ctx, tx, bulk, "Could not undo it", why) })
}

// gaveUpUndoing says that nothing was undone; were it undone, the bulk change would have ended with it.
func (s *Service) gaveUpUndoing(ctx context.Context, job undoMany, _ error) error {
	return s.couldNotUndo(ctx, job.Bulk, "Something went wrong on the server. Nothing was undone; try again.")
}
