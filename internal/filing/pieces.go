package filing

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/riverqueue/river"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Up to so many items are changed while one waits; more are changed in pieces, which others can see growing.
const (
	atOnce     = 250
	piece      = 1000
	mostCopies = 2000
)

func tooMany(n, most int) error {
	return fault.Invalidf("selection", "%s are selected; this works for up to %d at once.", query.Items(n), most)
}

func notInside() error {
	return fault.Invalidf("ids", "Some of them are not in this folder any more.")
}

// moveTo is the argument of a move in pieces.
type moveTo struct {
	Folder int64  `json:"folder"`
	Name   string `json:"name"`
}

// PiecesArgs is the job that goes on with a change of many items.
type PiecesArgs struct {
	Bulk int64 `json:"bulk"`
}

// Kind names the job in the queue.
func (PiecesArgs) Kind() string { return "change_many" }

// InsertOpts puts it before files that are brought in: somebody watches.
func (PiecesArgs) InsertOpts() river.InsertOpts { return river.InsertOpts{Priority: 1} }

func (s *Service) inPieces(ctx context.Context, tx *store.Tx, v *access.Viewer, action string, argument any, ids []int64, said string) (store.Done, error) {
	id, err := tx.AddBulk(ctx, v.Brand, v.Person, action, argument, ids)
	if err != nil {
		return store.Done{}, err
	}
	return store.Done{Said: said, Changed: len(ids), GoesOn: true}, s.Queue.Enqueue(ctx, tx, PiecesArgs{Bulk: id})
}

// Changer does the job.
type Changer struct {
	river.WorkerDefaults[PiecesArgs]
	Service *Service
}

// Work does piece after piece, each in its own transaction: a server that is killed goes on where it was.
func (c *Changer) Work(ctx context.Context, job *river.Job[PiecesArgs]) error {
	b, err := store.BulkByID(ctx, c.Service.DB, job.Args.Bulk)
	if err != nil || b.Finished != nil {
		return err
	}
	for more := true; more && err == nil; {
		more, err = c.Service.nextPiece(ctx, b)
	}
	return c.giveUp(ctx, b, job.Attempt, err)
}

// giveUp ends a change that cannot go on. What is done stays, and is said.
func (c *Changer) giveUp(ctx context.Context, b store.Bulk, attempt int, err error) error {
	if err == nil || ctx.Err() != nil {
		return err
	}
	var pg *pgconn.PgError
	gone := errors.As(err, &pg) && pg.Code == "23503" // what it was to refer to is not there
	if !gone && attempt < queue.Attempts {
		return err
	}
	slog.Error("a change of many items could not go on", "bulk", b.ID, "error", err)
	why := "Something went wrong on the server."
	if gone {
		why = "The folder they were to go to has been removed."
	}
	return c.Service.DB.InTx(ctx, func(tx *store.Tx) error {
		now, err := store.BulkByID(ctx, tx, b.ID)
		if err != nil {
			return err
		}
		return tx.EndBulk(ctx, b.ID, fmt.Sprintf("%s, but only %d of them", doneWords(b, now.Changed), now.Changed), fmt.Sprintf("%s %s stayed as they were.", why, query.Items(now.Left)))
	})
}

// nextPiece does one piece and says whether there are more.
func (s *Service) nextPiece(ctx context.Context, b store.Bulk) (more bool, err error) {
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		ids, err := tx.TakeBulk(ctx, b.ID, piece)
		if err != nil {
			return err
		}
		if more = len(ids) > 0; !more {
			now, err := store.BulkByID(ctx, tx, b.ID)
			if err != nil {
				return err
			}
			return tx.EndBulk(ctx, b.ID, doneWords(b, now.Changed), "")
		}
		if err := tx.ContinueTrail(ctx, b.Trail); err != nil {
			return err
		}
		n, err := applyPiece(ctx, tx, b, ids)
		if err != nil {
			return err
		}
		return tx.AdvanceBulk(ctx, b.ID, len(ids), n)
	})
	return more, err
}

func applyPiece(ctx context.Context, tx *store.Tx, b store.Bulk, ids []int64) (int, error) {
	switch b.Action {
	case "move":
		var to moveTo
		if err := json.Unmarshal(b.Argument, &to); err != nil {
			return 0, err
		}
		return tx.MoveAssets(ctx, ids, to.Folder)
	case "bin", "restore":
		return tx.BinAssets(ctx, ids, b.Action == "bin")
	}
	return 0, fmt.Errorf("nobody knows how to %q many items", b.Action)
}

func doneWords(b store.Bulk, n int) string {
	switch b.Action {
	case "move":
		var to moveTo
		_ = json.Unmarshal(b.Argument, &to)
		return fmt.Sprintf("Moved %s to %s", query.Items(n), to.Name)
	case "bin":
		return fmt.Sprintf("Put %s in the bin", query.Items(n))
	}
	return fmt.Sprintf("Put %s back from the bin", query.Items(n))
}

// Pieces lists the changes of many items that the viewer began and that go on, or ended just now.
func (s *Service) Pieces(ctx context.Context, v *access.Viewer) ([]store.Bulk, error) {
	return store.OpenBulks(ctx, s.DB, v.Brand, v.Person)
}
