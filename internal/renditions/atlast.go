package renditions

import (
	"context"
	"errors"

	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/renditionstore"
)

// EnsureAtLast makes a rendition however long that takes, as it may for a film.
func (s *Service) EnsureAtLast(ctx context.Context, brand int64, a assetstore.Asset, size outputs.Size) (renditionstore.Rendition, error) {
	for {
		made, err := s.Ensure(ctx, brand, a, size)
		if !errors.Is(err, ErrMaking) || ctx.Err() != nil {
			return made, err
		}
	}
}
