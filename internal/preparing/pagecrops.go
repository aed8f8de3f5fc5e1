package preparing

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/store/poststore"
)

// PageCrop is what a connected page takes of an item: the proportions between which it takes pictures, and the one that the item is cut to,
// each in the smallest whole numbers; 0 × 0 is none.
type PageCrop struct {
	Page                    poststore.Page
	Narrowest, Widest, Crop geometry.Size
}

// PageCrops says what each connected page takes of an item, to those who may send something to pages.
func (s *Service) PageCrops(ctx context.Context, v *access.Viewer, asset int64) ([]PageCrop, error) {
	a, err := s.Item(ctx, v, asset)
	if err != nil || !v.Can(access.Galleries) {
		return nil, err
	}
	pages, err := poststore.Pages(ctx, s.DB, v.Brand)
	out := make([]PageCrop, len(pages))
	for i, p := range pages {
		out[i] = PageCrop{Page: p}
		if a.Kind == "picture" {
			out[i].Narrowest, out[i].Widest = p.Limits.Bounds()
			out[i].Crop = p.Limits.CutTo(geometry.Size{Width: a.Width, Height: a.Height})
		}
	}
	return out, err
}
