package renditions

import (
	"context"
	"os"
	"path/filepath"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/store"
)

// Frame draws a picture by a recipe that it does not have yet, to fit in a box in pixels, as a JPEG. Nothing of it is kept.
func (s *Service) Frame(ctx context.Context, a store.Asset, by recipe.Recipe, box geometry.Size) ([]byte, error) {
	original, err := s.original(ctx, a)
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp("", "satchel-work-frame-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	target := filepath.Join(dir, "frame.jpg")
	// Whoever goes on dragging does not end the drawing, which would cost the worker and what it holds.
	ctx = context.WithoutCancel(ctx)
	if err := s.Media.Frame(ctx, original, a.MediaType, by, geometry.Fit(by.Size(a.FileSize()), box), target); err != nil {
		return nil, err
	}
	return os.ReadFile(target)
}
