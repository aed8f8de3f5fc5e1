package pieces

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/undostore"
)

// Whole is an act that is done as one piece, all of it or nothing, behind an answer that comes at once: undoing a large one.
type Whole struct {
	// Name says what is done, in the trail and in what is left to do.
	Name string
	// Do does it in one transaction, which ends the bulk change too. A Conflict or a Forbidden says why it cannot be done.
	Do func(ctx context.Context, b undostore.Bulk) error
	// Not is said in place of what was done when it is not, and Failed why, for a fault of ours.
	Not, Failed string
}

// RegisterWhole makes such an act known, also to the jobs that do it.
func (s *Service) RegisterWhole(w Whole) {
	if _, known := s.wholes[w.Name]; known {
		panic("two acts are called " + w.Name)
	}
	s.wholes[w.Name] = w
}

// Begin has an act of its name done by a job, as a part of a step that was begun: to items, or as a whole without any.
func (s *Service) Begin(ctx context.Context, tx *store.Tx, v *access.Viewer, name string, argument any, ids []int64) error {
	id, err := undostore.AddBulk(ctx, tx, v.Brand, v.Person, name, argument, ids)
	if err != nil {
		return err
	}
	before, err := undostore.CountOpenBulks(ctx, tx, v.Brand, v.Person)
	if err != nil {
		return err
	}
	return s.Queue.Enqueue(ctx, tx, goOn{Bulk: id, Before: before - 1})
}

// Argument reads what an act was begun with.
func Argument[A any](b undostore.Bulk) (out A, err error) {
	if err = json.Unmarshal(b.Argument, &out); err != nil {
		err = fmt.Errorf("the argument of bulk %d: %w", b.ID, err)
	}
	return out, err
}

func (s *Service) doWhole(ctx context.Context, w Whole, b undostore.Bulk) error {
	err := w.Do(ctx, b)
	var refused *fault.Conflict
	var forbidden *fault.Forbidden
	if errors.As(err, &refused) || errors.As(err, &forbidden) {
		return s.endWhole(ctx, w, b.ID, err.Error())
	}
	return err
}

func (s *Service) endWhole(ctx context.Context, w Whole, id int64, why string) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return undostore.EndBulk(ctx, tx, id, w.Not, why) })
}

// gaveUpWhole says that nothing was done; were it done, the bulk change would have ended with it.
func (s *Service) gaveUpWhole(ctx context.Context, w Whole, b undostore.Bulk, why error) error {
	slog.Error("a large act could not be done", "bulk", b.ID, "act", b.Action, "error", why)
	return s.endWhole(ctx, w, b.ID, w.Failed)
}
