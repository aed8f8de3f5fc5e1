package renditions

import (
	"context"
	"os"
	"path/filepath"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/assetstore"
)

// Frame draws a picture by a recipe that it does not have yet, to fit in a box in pixels, as a JPEG, or as a PNG that has lost nothing.
// Nothing of it is kept.
func (s *Service) Frame(ctx context.Context, a assetstore.Asset, by recipe.Recipe, box geometry.Size, lossless bool) ([]byte, error) {
	name := "frame.jpg"
	if lossless {
		name = "frame.png"
	}
	return s.drawn(ctx, a, name, func(ctx context.Context, original media.Original, target string) error {
		return s.Media.Frame(ctx, original, by, FrameSize(a, by, box), target)
	})
}

// BaseMap is the base map that such a frame is drawn with, as the pictures package writes it.
func (s *Service) BaseMap(ctx context.Context, a assetstore.Asset, by recipe.Recipe, box geometry.Size) ([]byte, error) {
	return s.drawn(ctx, a, "base", func(ctx context.Context, original media.Original, target string) error {
		return s.Media.BaseMap(ctx, original, by, FrameSize(a, by, box), target)
	})
}

// FrameSize is the size of a frame in pixels that fits in a box.
func FrameSize(a assetstore.Asset, by recipe.Recipe, box geometry.Size) geometry.Size {
	return geometry.Fit(by.Size(a.FileSize()), box)
}

func (s *Service) drawn(ctx context.Context, a assetstore.Asset, name string, draw func(ctx context.Context, original media.Original,
	target string) error) (out []byte, err error) {
	// Whoever goes on dragging does not end the drawing, which would cost the worker and what it holds.
	ctx = context.WithoutCancel(ctx)
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		target := filepath.Join(dir, name)
		if err := draw(ctx, original, target); err != nil {
			return err
		}
		out, err = os.ReadFile(target)
		return err
	})
	return out, err
}

// Sample reads a small copy of the file of an item, with a longer side in pixels; 0 is what is enough for its tones. Of a clip it is the
// frame that stands for it by a recipe.
func (s *Service) Sample(ctx context.Context, a assetstore.Asset, by recipe.Recipe, side int) (sample recipe.Sample, err error) {
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		sample, err = s.Media.Sample(ctx, original, by, side, dir)
		return err
	})
	return sample, err
}
