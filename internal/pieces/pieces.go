// Package pieces does acts on selections of items: a few at once, while one waits, and many behind an answer that comes at
// once, piece after piece with their progress in sight. A server that is killed goes on where it was. Each kind of act
// registers itself; all pieces of an act write into one step of the trail, which is undone as a whole.
package pieces

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/undostore"
)

// Up to AtOnce items are changed while one waits; more are changed in pieces of Size.
const (
	AtOnce = 250
	Size   = 1000
)

// Piece is some of the items of an act, in the order of the selection. Before is how many of them came earlier.
type Piece struct {
	Viewer *access.Viewer
	IDs    []int64
	Before int
}

// Act is a kind of act on items, with an argument that is kept as JSON while it goes on.
type Act[A any] struct {
	// Name says what is done, in the trail and in what is left to do: "move".
	Name string
	// Needs is what the person must be allowed to do to every item, when it begins and for each piece.
	Needs access.Action
	// Doing says what begins, for so many items: "Moving 40,000 items to Harbour".
	Doing func(n int, a A) string
	// Done says what was done when so many of them changed: "Moved 7 items to Harbour".
	Done func(changed, of int, a A) string
	// Apply does it to some items and returns how many changed.
	Apply func(ctx context.Context, tx *store.Tx, p Piece, a A) (int, error)
	// Blocked says why it could not go on, where the error tells it; "" for a fault of ours.
	Blocked func(error) string
}

// Service does acts. Register every kind before the first.
type Service struct {
	DB     *store.DB
	Queue  *queue.Queue
	kinds  map[string]kind
	wholes map[string]Whole
}

// kind is an Act whose argument is still JSON.
type kind struct {
	needs   access.Action
	done    func(changed, of int, argument json.RawMessage) (string, error)
	apply   func(ctx context.Context, tx *store.Tx, p Piece, argument json.RawMessage) (int, error)
	blocked func(error) string
}

// New returns a service and makes the queue know its job.
func New(db *store.DB, jobs *queue.Queue) *Service {
	s := &Service{DB: db, Queue: jobs, kinds: map[string]kind{}, wholes: map[string]Whole{}}
	queue.Add(jobs, queue.Kind[goOn]{Do: s.goOn, GaveUp: s.gaveUp, Tries: queue.Soon, Queue: queue.LargeActs})
	return s
}

// Registered is a kind of act that can be done.
type Registered[A any] struct {
	service *Service
	act     Act[A]
}

// Register makes a kind of act known, also to the jobs that go on with it.
func Register[A any](s *Service, a Act[A]) *Registered[A] {
	if _, known := s.kinds[a.Name]; known {
		panic("two acts are called " + a.Name)
	}
	read := func(argument json.RawMessage) (out A, err error) {
		if err = json.Unmarshal(argument, &out); err != nil {
			err = fmt.Errorf("the argument of %q: %w", a.Name, err)
		}
		return out, err
	}
	s.kinds[a.Name] = kind{
		needs:   a.Needs,
		blocked: a.Blocked,
		done: func(changed, of int, argument json.RawMessage) (string, error) {
			arg, err := read(argument)
			if err != nil {
				return "", err
			}
			return a.Done(changed, of, arg), nil
		},
		apply: func(ctx context.Context, tx *store.Tx, p Piece, argument json.RawMessage) (int, error) {
			arg, err := read(argument)
			if err != nil {
				return 0, err
			}
			return a.inOrder(ctx, tx, p, arg)
		},
	}
	return &Registered[A]{s, a}
}

// Do does the act to a selection: at once, or so that it goes on.
func (r *Registered[A]) Do(ctx context.Context, v *access.Viewer, sel query.Selection,
	prepare func(tx *store.Tx) (A, error)) (store.Done, error) {
	ids, err := findstore.Select(ctx, r.service.DB, v, r.act.Needs, sel)
	if err != nil {
		return store.Done{}, err
	}
	return r.DoTo(ctx, v, ids, prepare)
}

// DoTo is Do for items that were selected before. Prepare, in the same transaction, gives the argument.
func (r *Registered[A]) DoTo(ctx context.Context, v *access.Viewer, ids []int64, prepare func(tx *store.Tx) (A, error)) (store.Done,
	error) {
	return r.service.DB.Act(ctx, v, r.act.Name, func(tx *store.Tx) (store.Done, error) {
		argument, err := prepare(tx)
		if err != nil {
			return store.Done{}, err
		}
		return r.Within(ctx, tx, v, ids, argument)
	})
}

// inOrder applies the act once its items are locked in one order, so that those who change the same items wait for each other in turn and
// never in a circle. What changes nothing about an item waits for nobody.
func (a *Act[A]) inOrder(ctx context.Context, tx *store.Tx, p Piece, argument A) (int, error) {
	if !slices.Contains([]access.Action{access.Look, access.Keep, access.Carry}, a.Needs) {
		if err := assetstore.LockAssets(ctx, tx, p.IDs); err != nil {
			return 0, err
		}
	}
	return a.Apply(ctx, tx, p, argument)
}

// Within does the act as a part of a step that was begun.
func (r *Registered[A]) Within(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64, argument A) (store.Done, error) {
	if len(ids) <= AtOnce {
		if err := store.StillReachable(ctx, tx, v, r.act.Needs, ids); err != nil {
			return store.Done{}, err
		}
		n, err := r.act.inOrder(ctx, tx, Piece{Viewer: v, IDs: ids}, argument)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: r.act.Done(n, len(ids), argument), Changed: n}, nil
	}
	done := store.Done{Said: r.act.Doing(len(ids), argument), Changed: len(ids), GoesOn: true}
	return done, r.service.Begin(ctx, tx, v, r.act.Name, argument, ids)
}

// Just is the prepare of an act whose argument is known.
func Just[A any](a A) func(*store.Tx) (A, error) { return func(*store.Tx) (A, error) { return a, nil } }

// Open lists the acts that the viewer began and that go on, or ended just now.
func (s *Service) Open(ctx context.Context, v *access.Viewer) ([]undostore.Bulk, error) {
	return undostore.OpenBulks(ctx, s.DB, v.Brand, v.Person)
}

// goOn is the job that goes on with an act.
type goOn struct {
	Bulk int64 `json:"bulk"`
	// Before is how many acts of the same person were under way when it was begun: who has many lets others go first.
	Before int `json:"before,omitempty"`
}

// Rank implements queue.Ranked.
func (g goOn) Rank() int {
	switch {
	case g.Before == 0:
		return 1
	case g.Before < 4:
		return 2
	case g.Before < 20:
		return 3
	}
	return 4
}

// Kind names the job in the queue.
func (goOn) Kind() string { return "change_many" }

// turn is how long an act goes on while others' acts wait: one person with hundreds of them holds nobody up.
const turn = time.Second

// goOn does piece after piece, each in a transaction of its own.
func (s *Service) goOn(ctx context.Context, job goOn) error {
	b, err := undostore.BulkByID(ctx, s.DB, job.Bulk)
	if err != nil || b.Finished != nil {
		return err
	}
	if w, whole := s.wholes[b.Action]; whole {
		return s.doWhole(ctx, w, b)
	}
	k, known := s.kinds[b.Action]
	if !known {
		return fmt.Errorf("nobody knows how to %q many items", b.Action)
	}
	for began, more := time.Now(), true; more; {
		if time.Since(began) > turn {
			wait, err := undostore.OthersWait(ctx, s.DB, b)
			if err != nil {
				return err
			}
			if wait {
				return queue.Later(0) // it goes on where it was, after one of theirs
			}
			began = time.Now()
		}
		if more, err = s.nextPiece(ctx, k, b); err != nil {
			if why := whyBlocked(k, err); why != "" {
				return s.end(ctx, k, b.ID, why)
			}
			return err
		}
	}
	return nil
}

// whyBlocked says why an act cannot go on, however often it is tried; "" when it can.
func whyBlocked(k kind, err error) string {
	var forbidden *fault.Forbidden
	var missing *fault.NotFound
	var invalid *fault.Invalid
	switch {
	case k.blocked != nil && k.blocked(err) != "":
		return k.blocked(err)
	case errors.As(err, &forbidden):
		return "You may not do that to the rest of them any more."
	case errors.As(err, &missing), errors.As(err, &invalid):
		return err.Error()
	}
	return ""
}

// nextPiece does one piece and says whether there are more.
func (s *Service) nextPiece(ctx context.Context, k kind, b undostore.Bulk) (more bool, err error) {
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		ids, before, err := undostore.TakeBulk(ctx, tx, b.ID, Size)
		if err != nil {
			return err
		}
		if more = len(ids) > 0; !more {
			return s.finish(ctx, tx, k, b.ID, "")
		}
		v, err := peoplestore.ViewerIn(ctx, tx, b.Person, b.Brand)
		if err != nil {
			return err
		}
		// What is gone since it began is not there to be changed; what may no longer be changed ends it.
		if ids, err = store.ThoseThere(ctx, tx, b.Brand, ids); err != nil {
			return err
		}
		if err := store.StillReachable(ctx, tx, v, k.needs, ids); err != nil {
			return err
		}
		if err := tx.ContinueTrail(ctx, b.Trail); err != nil {
			return err
		}
		n, err := k.apply(ctx, tx, Piece{Viewer: v, IDs: ids, Before: before}, b.Argument)
		if err != nil {
			return err
		}
		return undostore.AdvanceBulk(ctx, tx, b.ID, Size, n)
	})
	return more, err
}

// finish ends an act within a transaction; failed says why it did not go on.
func (s *Service) finish(ctx context.Context, tx *store.Tx, k kind, id int64, failed string) error {
	now, err := undostore.BulkByID(ctx, tx, id)
	if err != nil || now.Finished != nil {
		return err
	}
	said, err := k.done(now.Changed, now.Total, now.Argument)
	if err != nil {
		return err
	}
	if failed != "" {
		said = fmt.Sprintf("%s, but not %s", said, wording.Items(now.Left))
		if now.Changed == 0 {
			said = "Nothing was changed of " + wording.Items(now.Total)
		}
		failed = fmt.Sprintf("%s %s stayed as they were.", failed, wording.Items(now.Left))
	}
	return undostore.EndBulk(ctx, tx, id, said, failed)
}

func (s *Service) end(ctx context.Context, k kind, id int64, why string) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return s.finish(ctx, tx, k, id, why) })
}

// gaveUp ends an act that cannot go on. What is done stays, and is said.
func (s *Service) gaveUp(ctx context.Context, job goOn, why error) error {
	b, err := undostore.BulkByID(ctx, s.DB, job.Bulk)
	if err != nil || b.Finished != nil {
		return err
	}
	if w, whole := s.wholes[b.Action]; whole {
		return s.gaveUpWhole(ctx, w, b, why)
	}
	slog.Error("an act on many items could not go on", "bulk", b.ID, "act", b.Action, "error", why)
	k, known := s.kinds[b.Action]
	if !known {
		return s.DB.InTx(ctx, func(tx *store.Tx) error {
			return undostore.EndBulk(ctx, tx, b.ID, "", "Something went wrong on the server.")
		})
	}
	return s.end(ctx, k, b.ID, "Something went wrong on the server.")
}
