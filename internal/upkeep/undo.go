package upkeep

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/riverqueue/river"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Up to so many changes are undone while one waits.
const atOnce = 500

// Undo takes back what a trail entry changed, all of it or nothing; a large change in the background.
func (s *Service) Undo(ctx context.Context, v *access.Viewer, entry int64) (store.Done, error) {
	e, err := s.DB.MayUndo(ctx, v, entry)
	if err != nil {
		return store.Done{}, err
	}
	if e.Changes <= atOnce || e.Action == "bring_in" {
		return s.DB.Undo(ctx, v, entry)
	}
	return s.DB.Act(ctx, v, "undo", func(tx *store.Tx) (store.Done, error) {
		id, err := tx.AddBulk(ctx, v.Brand, v.Person, "undo", undoOf{Entry: entry}, []int64{})
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: "Undoing: " + e.Said, Changed: e.Changes}, s.Queue.Enqueue(ctx, tx, UndoArgs{Bulk: id})
	})
}

type undoOf struct {
	Entry int64 `json:"entry"`
}

// UndoArgs is the job that undoes a change of many items.
type UndoArgs struct {
	Bulk int64 `json:"bulk"`
}

// Kind names the job in the queue.
func (UndoArgs) Kind() string { return "undo_many" }

// InsertOpts puts it before files that are brought in: somebody watches.
func (UndoArgs) InsertOpts() river.InsertOpts { return river.InsertOpts{Priority: 1} }

// Undoer does the job.
type Undoer struct {
	river.WorkerDefaults[UndoArgs]
	Service *Service
}

// Work undoes in one transaction.
func (u *Undoer) Work(ctx context.Context, job *river.Job[UndoArgs]) error {
	db := u.Service.DB
	b, err := store.BulkByID(ctx, db, job.Args.Bulk)
	if err != nil || b.Finished != nil {
		return err
	}
	var of undoOf
	if err := json.Unmarshal(b.Argument, &of); err != nil {
		return fmt.Errorf("the argument of bulk %d: %w", b.ID, err)
	}
	said, failed := "", ""
	done, err := db.UndoInto(ctx, of.Entry, b.Trail)
	said = done.Said
	var refused *fault.Conflict
	if errors.As(err, &refused) {
		said, failed, err = "Could not undo it", refused.Text, nil
	}
	if err != nil {
		return err
	}
	return db.InTx(ctx, func(tx *store.Tx) error { return tx.EndBulk(ctx, b.ID, said, failed) })
}
