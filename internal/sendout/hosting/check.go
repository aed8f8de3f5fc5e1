package hosting

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/gallerystore"
)

// CheckGallery says what is against showing what a gallery would show.
func (s *Service) CheckGallery(ctx context.Context, v *access.Viewer, id int64) (leaving.Checked, error) {
	g, err := gallerystore.GalleryByID(ctx, s.DB, v, id)
	if err != nil {
		return leaving.Checked{}, err
	}
	_, ids, err := s.galleryIDs(ctx, &g)
	if err != nil {
		return leaving.Checked{}, err
	}
	whole, err := s.givesAllThatFilesSay(ctx, &g)
	if err != nil {
		return leaving.Checked{}, err
	}
	return leaving.Check(ctx, s.DB, v.Brand, ids, whole)
}

// givesAllThatFilesSay says whether guests of a gallery can take along files with all that is written in them.
func (s *Service) givesAllThatFilesSay(ctx context.Context, g *gallerystore.Gallery) (bool, error) {
	if !g.Settings.Downloads || g.Settings.Original {
		return g.Settings.Downloads, nil
	}
	sizes, err := downloadstore.OutputSizes(ctx, s.DB, g.Brand)
	return slices.ContainsFunc(sizes, func(size downloadstore.OutputSize) bool {
		return size.Metadata == outputs.Keep && slices.Contains(g.Settings.Sizes, size.ID)
	}), err
}
