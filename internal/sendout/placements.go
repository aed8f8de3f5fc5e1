package sendout

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Placed lists which pages show items now, and from which albums of outlets items came.
func (s *Service) Placed(ctx context.Context, v *access.Viewer) ([]store.PlacedOn, []store.CameFrom, error) {
	pages, err := store.PlacedPages(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, nil, err
	}
	origins, err := store.Origins(ctx, s.DB, v.Brand)
	return pages, origins, err
}

// CountPlaced says how many of a selection are on pages now, and at addresses of their own.
func (s *Service) CountPlaced(ctx context.Context, v *access.Viewer, sel query.Selection) ([]store.PlacedOn, int, error) {
	ids, err := store.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, 0, err
	}
	pages, err := store.PlacementsOf(ctx, s.DB, ids)
	if err != nil {
		return nil, 0, err
	}
	addresses, err := store.CountAddresses(ctx, s.DB, ids)
	return pages, addresses, err
}
