// Package choosing is going through items and saying which are good: stars, set aside, keepers.
package choosing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Service records choices.
type Service struct{ DB *store.DB }

// Rate gives a selection stars from 0 to 5, or sets it aside with -1 (XMP Rating).
func (s *Service) Rate(ctx context.Context, v *access.Viewer, sel query.Selection, stars int) (store.Done, error) {
	return s.act(ctx, v, access.Rate, sel, func(tx *store.Tx, ids []int64) (int, string, error) {
		n, err := tx.RateAssets(ctx, ids, stars)
		switch {
		case stars < 0:
			return n, fmt.Sprintf("Set %s aside", query.Items(n)), err
		case stars == 0:
			return n, fmt.Sprintf("Took the stars off %s", query.Items(n)), err
		}
		return n, fmt.Sprintf("Gave %s %d ★", query.Items(n), stars), err
	})
}

// Keep sets or takes away the viewer's own mark on a selection.
func (s *Service) Keep(ctx context.Context, v *access.Viewer, sel query.Selection, keep bool) (store.Done, error) {
	return s.act(ctx, v, access.Keep, sel, func(tx *store.Tx, ids []int64) (int, string, error) {
		n, err := tx.KeepAssets(ctx, v.Brand, v.Person, ids, keep)
		if keep {
			return n, fmt.Sprintf("Made %s a keeper", query.Items(n)), err
		}
		return n, fmt.Sprintf("Took the keeper mark off %s", query.Items(n)), err
	})
}

func (s *Service) act(ctx context.Context, v *access.Viewer, action access.Action, sel query.Selection, do func(*store.Tx, []int64) (int, string, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, string(action), func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, action, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, said, err := do(tx, ids)
		return store.Done{Said: said, Changed: n}, err
	})
}
