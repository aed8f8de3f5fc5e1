package renditions

import (
	"context"
	"os"
	"path/filepath"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
)

// Frame draws a picture by a recipe that it does not have yet, to fit in a box in pixels, as a JPEG. Nothing of it is kept.
func (s *Service) Frame(ctx context.Context, a store.Asset, by recipe.Recipe, box geometry.Size) (frame []byte, err error) {
	// Whoever goes on dragging does not end the drawing, which would cost the worker and what it holds.
	ctx = context.WithoutCancel(ctx)
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		target := filepath.Join(dir, "frame.jpg")
		if err := s.Media.Frame(ctx, original, by, geometry.Fit(by.Size(a.FileSize()), box), target); err != nil {
			return err
		}
		frame, err = os.ReadFile(target)
		return err
	})
	return frame, err
}

// Sample reads a small copy of the file of an item, with a longer side in pixels; 0 is what is enough for its tones. Of a clip it is the
// frame that stands for it by a recipe.
func (s *Service) Sample(ctx context.Context, a store.Asset, by recipe.Recipe, side int) (sample recipe.Sample, err error) {
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		sample, err = s.Media.Sample(ctx, original, by, side, dir)
		return err
	})
	return sample, err
}
