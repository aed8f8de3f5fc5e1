package filing

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/keeping"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/renditionstore"
)

var binAct = pieces.Act[struct{}]{
	Name: "bin", Needs: access.Remove,
	Doing: func(n int, _ struct{}) string { return fmt.Sprintf("Putting %s in the bin", wording.Items(n)) },
	Done: func(n, of int, _ struct{}) string {
		return fmt.Sprintf("Put %s in the bin", wording.Items(n)) + wording.Rest(n, of, "was in it already", "were in it already")
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ struct{}) (int, error) {
		return assetstore.BinAssets(ctx, tx, p.IDs, true)
	},
}

// Bin puts a selection in the bin, from where it can be put back for keeping.BinDays days.
func (s *Service) Bin(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.acts.bin.Do(ctx, v, sel, pieces.Just(struct{}{}))
}

// putBack says of what cannot go back to where it was where it goes instead.
type putBack struct {
	Also string `json:"also"`
}

var restoreAct = pieces.Act[putBack]{
	Name: "restore", Needs: access.Remove,
	Doing: func(n int, b putBack) string {
		return fmt.Sprintf("Putting %s back from the bin%s", wording.Items(n), b.Also)
	},
	Done: func(n, _ int, b putBack) string {
		return fmt.Sprintf("Put %s back from the bin%s", wording.Items(n), b.Also)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ putBack) (int, error) {
		return assetstore.BinAssets(ctx, tx, p.IDs, false)
	},
}

// Restore puts a selection from the bin back to where it was, or to the nearest folder above that is still there, and says so.
func (s *Service) Restore(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Remove, sel)
	if err != nil {
		return store.Done{}, err
	}
	return s.acts.restore.DoTo(ctx, v, ids, func(tx *store.Tx) (putBack, error) {
		elsewhere, err := assetstore.ElsewhereOf(ctx, tx, ids)
		b := putBack{}
		for _, e := range elsewhere {
			b.Also += fmt.Sprintf("; %s now in %s, since “%s” is not there any more", wording.Items(e.Items), e.Now, e.Was)
		}
		return b, err
	})
}

// Empty removes everything in the bin for good. It cannot be undone, and the trail says so.
func (s *Service) Empty(ctx context.Context, v *access.Viewer) (store.Done, error) {
	if !v.Can(access.EmptyBin) {
		return store.Done{}, fault.Forbiddenf("Only a steward empties the bin.")
	}
	ids, err := assetstore.BinOf(ctx, s.DB, v)
	if err != nil {
		return store.Done{}, err
	}
	if len(ids) == 0 {
		return store.Done{Said: "The bin is empty already"}, nil
	}
	erased := 0
	for len(ids) > 0 {
		n := min(len(ids), pieces.Size)
		gone, err := s.erase(ctx, ids[:n])
		if err != nil {
			return store.Done{}, err
		}
		erased, ids = erased+gone, ids[n:]
	}
	done := store.Done{Said: fmt.Sprintf("Emptied the bin: %s deleted for good", wording.Items(erased)), Changed: erased}
	return done, s.DB.InTx(ctx, func(tx *store.Tx) error { return tx.Note(ctx, v.Brand, v.Person, "empty_bin", done.Said) })
}

// erase removes items that are in the bin, and then the bytes that nothing refers to any more. Killed in between it leaves
// bytes without rows, never rows without bytes.
func (s *Service) erase(ctx context.Context, ids []int64) (int, error) {
	sums, err := renditionstore.SumsOf(ctx, s.DB, ids)
	if err != nil {
		return 0, err
	}
	n := 0
	err = s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		if err = renditionstore.NoteContents(ctx, tx, sums); err != nil {
			return err
		}
		n, err = assetstore.EraseAssets(ctx, tx, ids)
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
			if err := assetstore.LockContent(ctx, tx, 0, sum); err != nil { // against a file with this content that is being brought in
				return err
			}
			free, err := renditionstore.Unreferenced(ctx, tx, sum)
			if err != nil {
				return err
			}
			if free {
				if err := s.Blobs.RemoveContent(ctx, sum); err != nil {
					return err
				}
			}
			return renditionstore.ForgetContent(ctx, tx, sum)
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

// ClearEvery is how often what is due is cleared away.
const ClearEvery = 24 * time.Hour

func (s *Service) addClearing(jobs *queue.Queue) {
	queue.Add(jobs, queue.Kind[ClearArgs]{
		Do:     func(ctx context.Context, _ ClearArgs) error { return s.ClearDue(ctx) },
		GaveUp: queue.Nothing[ClearArgs], Tries: queue.Once, Queue: queue.Background, Alone: true,
	})
	jobs.Regularly(ClearEvery, true, ClearArgs{})
}

// ClearDue removes items whose days in the bin are over, and bytes that a killed server left behind.
func (s *Service) ClearDue(ctx context.Context) error {
	cleared := 0
	for {
		ids, err := assetstore.DueItems(ctx, s.DB, keeping.BinDays, pieces.Size)
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
	left, err := renditionstore.NotedContents(ctx, s.DB)
	if err != nil {
		return err
	}
	if err := s.clearContents(ctx, left); err != nil {
		return err
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.ClearAttempts(ctx, tx, ClearEvery) }); err != nil {
		return err
	}
	return renditionstore.ClearFeed(ctx, s.DB)
}
