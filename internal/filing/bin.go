package filing

import (
	"context"
	"fmt"
	"log/slog"

	"github.com/riverqueue/river"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/keeping"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Bin puts a selection in the bin, from where it can be put back for keeping.BinDays days.
func (s *Service) Bin(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.DB.Act(ctx, v, "bin", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Remove, sel)
		if err != nil {
			return store.Done{}, err
		}
		if len(ids) > atOnce {
			return s.inPieces(ctx, tx, v, "bin", nil, ids, fmt.Sprintf("Putting %s in the bin", query.Items(len(ids))))
		}
		n, err := tx.BinAssets(ctx, ids, true)
		return store.Done{Said: fmt.Sprintf("Put %s in the bin", query.Items(n)), Changed: n}, err
	})
}

// Restore puts a selection from the bin back to where it was, or to the nearest folder above that is still there, and says so.
func (s *Service) Restore(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.DB.Act(ctx, v, "restore", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Remove, sel)
		if err != nil {
			return store.Done{}, err
		}
		elsewhere, err := store.ElsewhereOf(ctx, tx, ids)
		if err != nil {
			return store.Done{}, err
		}
		also := ""
		for _, e := range elsewhere {
			also += fmt.Sprintf("; %s now in %s, since “%s” is not there any more", query.Items(e.Items), e.Now, e.Was)
		}
		if len(ids) > atOnce {
			return s.inPieces(ctx, tx, v, "restore", nil, ids, fmt.Sprintf("Putting %s back from the bin%s", query.Items(len(ids)), also))
		}
		n, err := tx.BinAssets(ctx, ids, false)
		return store.Done{Said: fmt.Sprintf("Put %s back from the bin%s", query.Items(n), also), Changed: n}, err
	})
}

// Empty removes everything in the bin for good. It cannot be undone, and the trail says so.
func (s *Service) Empty(ctx context.Context, v *access.Viewer) (store.Done, error) {
	if !v.Can(access.Settings) {
		return store.Done{}, fault.Forbiddenf("Only a steward empties the bin.")
	}
	ids, err := store.BinOf(ctx, s.DB, v)
	if err != nil {
		return store.Done{}, err
	}
	if len(ids) == 0 {
		return store.Done{Said: "The bin is empty already"}, nil
	}
	erased := 0
	for len(ids) > 0 {
		n := min(len(ids), piece)
		gone, err := s.erase(ctx, ids[:n])
		if err != nil {
			return store.Done{}, err
		}
		erased, ids = erased+gone, ids[n:]
	}
	done := store.Done{Said: fmt.Sprintf("Emptied the bin: %s deleted for good", query.Items(erased)), Changed: erased}
	return done, s.DB.InTx(ctx, func(tx *store.Tx) error { return tx.Note(ctx, v.Brand, v.Person, "empty_bin", done.Said) })
}

// erase removes items that are in the bin, and then the bytes that nothing refers to any more. Killed in between it leaves
// bytes without rows, never rows without bytes.
func (s *Service) erase(ctx context.Context, ids []int64) (int, error) {
	sums, err := store.SumsOf(ctx, s.DB, ids)
	if err != nil {
		return 0, err
	}
	n := 0
	err = s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		if err = tx.NoteContents(ctx, sums); err != nil {
			return err
		}
		n, err = tx.EraseAssets(ctx, ids)
		return err
	})
	if err != nil {
		return 0, err
	}
	return n, s.clearContents(ctx, sums)
}

// clearContents removes the bytes of contents that nothing refers to.
func (s *Service) clearContents(ctx context.Context, sums [][]byte) error {
	for _, sum := range sums {
		err := s.DB.InTx(ctx, func(tx *store.Tx) error {
			if err := tx.LockContent(ctx, 0, sum); err != nil { // against a file with this content that is being brought in
				return err
			}
			free, err := store.Unreferenced(ctx, tx, sum)
			if err != nil {
				return err
			}
			if free {
				if err := s.Blobs.RemoveContent(ctx, sum); err != nil {
					return err
				}
			}
			return tx.ForgetContent(ctx, sum)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// ClearArgs is the nightly job that clears away what is due.
type ClearArgs struct{}

// Kind names the job in the queue.
func (ClearArgs) Kind() string { return "clear_away" }

// InsertOpts lets it run once at a time, behind what people wait for.
func (ClearArgs) InsertOpts() river.InsertOpts {
	o := queue.OneAtATime()
	o.Queue = queue.Background
	return o
}

// Clearer does the job.
type Clearer struct {
	river.WorkerDefaults[ClearArgs]
	Service *Service
}

// Work removes items whose days in the bin are over, and bytes that a killed server left behind.
func (c *Clearer) Work(ctx context.Context, _ *river.Job[ClearArgs]) error {
	return c.Service.ClearDue(ctx)
}

// ClearDue removes items whose days in the bin are over, and bytes that a killed server left behind.
func (s *Service) ClearDue(ctx context.Context) error {
	cleared := 0
	for {
		ids, err := store.DueItems(ctx, s.DB, keeping.BinDays, piece)
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			break
		}
		n, err := s.erase(ctx, ids)
		if err != nil {
			return err
		}
		cleared += n
	}
	if cleared > 0 {
		slog.Info("the days of items in the bin were over", "items", cleared)
	}
	left, err := store.NotedContents(ctx, s.DB)
	if err != nil {
		return err
	}
	if err := s.clearContents(ctx, left); err != nil {
		return err
	}
	return s.DB.ClearFeed(ctx)
}
