package posting

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

// planFromDrive is the job that makes dispatches of what was copied into the folders of pages on the drive.
type planFromDrive struct{}

// Kind names the job.
func (planFromDrive) Kind() string { return "plan_from_drive" }

const (
	driveEvery = 2 * time.Second
	driveStill = 4 * time.Second // since something was copied there last
)

func (s *Service) addFromDrive() {
	queue.Add(s.Queue, queue.Kind[planFromDrive]{
		Do:     func(ctx context.Context, _ planFromDrive) error { return s.PlanFromDrive(ctx, driveStill) },
		GaveUp: queue.Nothing[planFromDrive], Tries: queue.Once, Queue: queue.Waited, Priority: 3, Alone: true})
	s.Queue.Regularly(driveEvery, false, planFromDrive{})
}

// PlanFromDrive makes a draft that waits for "go" of what each person copied into the folder of a page on the drive, once nothing was
// copied there for so long; or sends it, where the page is set to. What cannot be sent as it is becomes a draft too, which says why.
func (s *Service) PlanFromDrive(ctx context.Context, still time.Duration) error {
	groups, err := poststore.ReadyForPages(ctx, s.DB, still)
	if err != nil {
		return err
	}
	for _, g := range groups {
		if err := s.planGroup(ctx, g); err != nil {
			slog.Warn("what was copied onto the drive for a page could not be planned", "page", g.Page, "error", err)
		}
	}
	return nil
}

func (s *Service) planGroup(ctx context.Context, g drivestore.DriveGroup) error {
	v, err := peoplestore.ViewerIn(ctx, s.DB, g.Person, g.Brand)
	if err != nil {
		return err
	}
	page, err := poststore.PageByID(ctx, s.DB, g.Brand, g.Page)
	if err != nil {
		return err
	}
	ids, err := poststore.WaitsForPage(ctx, s.DB, g, mostDispatched)
	if err != nil {
		return err
	}
	take := func(tx *store.Tx) error {
		_, err := poststore.TakeForPage(ctx, tx, g, mostDispatched)
		return err
	}
	if len(ids) == 0 || !v.Can(access.Galleries) { // all of it is in the bin by now, or they may not any more
		return s.DB.InTx(ctx, take)
	}
	w := Dispatching{Selection: query.Selection{IDs: ids}, Pages: []WantedPost{{Page: page.ID, Mends: map[int64]sending.Mend{}, Split: true}}}
	why := ""
	if page.DriveSends {
		_, err := s.goWith(ctx, v, w, take)
		if !refused(err) {
			return err
		}
		why = fault.Words(err)
	}
	d, err := draftOf(v, fmt.Sprintf("From the drive: %s for %s", query.Items(len(ids)), page.Name), w, ids)
	if err != nil {
		return err
	}
	d.Why = why
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := take(tx); err != nil {
			return err
		}
		_, err := poststore.AddDraft(ctx, tx, d)
		return err
	})
}

// refused says whether an error is something that a person can see to.
func refused(err error) bool {
	var (
		invalid   *fault.Invalid
		forbidden *fault.Forbidden
	)
	return errors.As(err, &invalid) || errors.As(err, &forbidden)
}

// SetDriveSends says whether what is copied into the folder of a page on the drive is sent at once, without anybody's "go".
func (s *Service) SetDriveSends(ctx context.Context, v *access.Viewer, page int64, sends bool) (store.Done, error) {
	p, err := poststore.PageByID(ctx, s.DB, v.Brand, page)
	if err != nil {
		return store.Done{}, err
	}
	said := fmt.Sprintf("What is copied into the folder of “%s” waits for “go”", p.Name)
	if sends {
		said = fmt.Sprintf("What is copied into the folder of “%s” is sent at once", p.Name)
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.SetDriveSends(ctx, tx, v.Brand, page, sends) })
	return store.Done{Said: said, Changed: 1}, err
}
