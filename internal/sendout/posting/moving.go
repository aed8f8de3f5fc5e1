package posting

import (
	"context"
	"database/sql"
	"errors"
	"log/slog"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

// endMove is the job that takes the post back that a dispatch moved, once all of the dispatch is out.
type endMove struct {
	Dispatch int64 `json:"dispatch"`
}

// Kind names the job.
func (endMove) Kind() string { return "end_move" }

func (s *Service) addMoves() {
	queue.Add(s.Queue, queue.Kind[endMove]{Do: func(ctx context.Context, job endMove) error { return s.endMove(ctx, job.Dispatch) },
		GaveUp: queue.Nothing[endMove], Tries: queue.Soon, Queue: queue.Waited, Priority: 3, Alone: true})
}

// moved checks that a post can be moved, and is what a dispatch keeps of it; 0 moves none.
func (s *Service) moved(ctx context.Context, v *access.Viewer, post int64) (sql.NullInt64, error) {
	if post == 0 {
		return sql.NullInt64{}, nil
	}
	row, err := poststore.PostByID(ctx, s.DB, post)
	switch {
	case err == nil && row.Brand != v.Brand:
		err = fault.NotFoundf("That post is not there any more.")
	case err == nil && (row.Post.Phase != once.Out || row.Withdrawn.Valid):
		err = fault.Invalidf("moves", "The post on “%s” is not out there.", row.PageName)
	case err == nil && !row.TakesBack:
		err = fault.Invalidf("moves", "“%s” lets nothing be taken back from here, so that it cannot be moved.", row.PageName)
	}
	return sql.NullInt64{Int64: post, Valid: true}, err
}

// endMove takes the post back that was moved, in the name of who moved it, if they may. What cannot be taken back stays where it is: it is
// better seen twice than not at all.
func (s *Service) endMove(ctx context.Context, dispatch int64) error {
	m, found, err := poststore.Moved(ctx, s.DB, dispatch)
	if err != nil || !found {
		return err
	}
	code, err := peoplestore.BrandCode(ctx, s.DB, m.Brand)
	if err != nil {
		return err
	}
	v, err := peoplestore.LoadViewer(ctx, s.DB, m.Person.Int64, code)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && !v.Can(access.Galleries) {
		slog.Info("a moved post stays where it was", "dispatch", dispatch)
		return nil
	}
	if err != nil {
		return err
	}
	_, err = s.withdraw(ctx, v, m.Post)
	return err
}
