package embedding

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
)

// LiveEmbed reads what an embed shows to the outside now.
func (s *Service) LiveEmbed(ctx context.Context, code string) (showing.Embedded, error) {
	e, err := embedstore.LiveEmbed(ctx, s.DB, code)
	if err != nil {
		return showing.Embedded{}, err
	}
	return showing.OfEmbed(ctx, s.DB, e)
}

// SeenEmbed reads what an embed of the brand shows or would show.
func (s *Service) SeenEmbed(ctx context.Context, v *access.Viewer, id int64) (showing.Embedded, error) {
	e, err := embedstore.SeenEmbed(ctx, s.DB, v.Brand, id)
	if err != nil {
		return showing.Embedded{}, err
	}
	return showing.OfEmbed(ctx, s.DB, e)
}

// EmbedFormats are the formats in which an item is offered to pages.
func EmbedFormats(a assetstore.Asset) []string {
	if a.Kind == "clip" {
		return []string{"webp"} // of its poster frame
	}
	return embeds.Formats
}

// ofPages are the qualities of pictures for pages, by their endings.
var ofPages = map[string]struct {
	format  string
	quality int
}{"avif": {"avif", 55}, "webp": {"webp", 80}, "jpg": {"jpeg", 82}}

// ForPage gives the key of a picture for somebody's page, in one of the widths and formats that are offered.
func (s *Service) ForPage(ctx context.Context, brand int64, a assetstore.Asset, width int, ending string) (key string, err error) {
	size, offered := ofPages[ending]
	if !offered || !slices.Contains(EmbedFormats(a), ending) || !slices.Contains(embeds.WidthsOf(a.Width), width) {
		return "", fault.NotFoundf("There is no such size.")
	}
	if a.Kind == "clip" {
		tall := geometry.Fit(geometry.Size{Width: a.Width, Height: a.Height}, geometry.Size{Width: width})
		return s.Renditions.Preview(ctx, a, "large", access.Allowance{Largest: max(tall.Width, tall.Height)})
	}
	made, err := s.Renditions.Ensure(ctx, brand, a, outputs.Size{Name: "for pages", Width: width, Fit: outputs.Inside, Format: size.format,
		Quality: size.quality, Metadata: outputs.StripPrivate})
	return made.Blob, err
}

// InSize gives the key of what an output size makes of an item.
func (s *Service) InSize(ctx context.Context, brand int64, a assetstore.Asset, size outputs.Size) (key string, err error) {
	made, err := s.Renditions.Ensure(ctx, brand, a, size)
	return made.Blob, err
}

// FilmForPage gives the key of the film of a clip for somebody's page.
func (s *Service) FilmForPage(ctx context.Context, brand int64, a assetstore.Asset) (key string, err error) {
	if a.Kind != "clip" {
		return "", fault.NotFoundf("That is no clip.")
	}
	return s.Renditions.Film(ctx, brand, a, access.Allowance{})
}
