package finding

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/poststore"
)

// shownAt lists where an item is shown outside now.
func (s *Service) shownAt(ctx context.Context, v *access.Viewer, id int64) ([]poststore.ShownAt, error) {
	showing := func(places []assetstore.Place) (bool, error) {
		n, err := s.Count(ctx, v, query.Query{Place: "everything", Sort: "taken",
			Filter: query.Both(query.Rule{Field: "item", IDs: []int64{id}}, assetstore.RuleOfPlaces(places))})
		return n > 0, err
	}
	sizes, err := downloadstore.OutputSizes(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	open, err := gallerystore.Galleries(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	var out []poststore.ShownAt
	for _, g := range open {
		places := g.Places()
		if !g.Open || g.Ended() || len(places) == 0 {
			continue
		}
		if shown, err := showing(places); err != nil {
			return nil, err
		} else if shown {
			out = append(out, poststore.ShownAt{Kind: "gallery", Name: g.Title, Path: g.At(), Since: g.OpenedAt, Size: largestIn(&g, sizes)})
		}
	}
	live, err := embedstore.Embeds(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	for _, e := range live {
		if !e.Live || len(e.Sources) == 0 {
			continue
		}
		if shown, err := showing(e.Sources); err != nil {
			return nil, err
		} else if shown {
			out = append(out, poststore.ShownAt{Kind: "embed", Name: e.Name, Path: "/e/" + e.Code, Pages: e.Pages,
				Size: fmt.Sprintf("up to %d pixels wide", slices.Max(embeds.Widths))})
		}
	}
	addresses, err := poststore.AddressShowing(ctx, s.DB, id)
	if err != nil {
		return nil, err
	}
	placed, err := poststore.PlacedAt(ctx, s.DB, id)
	return append(append(out, addresses...), placed...), err
}

// previewSide is the longer side of what guests see who take nothing along, in pixels.
const previewSide = 1600

// largestIn says how large guests of a gallery have what it shows.
func largestIn(g *gallerystore.Gallery, sizes []downloadstore.OutputSize) string {
	var sides []galleries.Side
	for _, size := range sizes {
		if slices.Contains(g.Settings.Sizes, size.ID) {
			sides = append(sides, galleries.Side{Size: size.ID, Longest: max(size.Width, size.Height)})
		}
	}
	may := g.Settings.Allowance(sides, previewSide)
	if may.Original || may.Largest == 0 {
		return "as large as it is"
	}
	return fmt.Sprintf("up to %d pixels", may.Largest)
}
