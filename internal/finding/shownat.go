package finding

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// shownAt lists where an item is shown outside now.
func (s *Service) shownAt(ctx context.Context, v *access.Viewer, id int64) ([]store.ShownAt, error) {
	out, err := store.GalleriesShowing(ctx, s.DB, id)
	if err != nil {
		return nil, err
	}
	embeds, err := store.Embeds(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	for _, e := range embeds {
		if !e.Live || len(e.Sources) == 0 {
			continue
		}
		n, err := s.Count(ctx, v, query.Query{Place: "everything", Sort: "taken",
			Filter: query.Both(query.Rule{Field: "item", IDs: []int64{id}}, store.RuleOfPlaces(e.Sources))})
		if err != nil {
			return nil, err
		}
		if n > 0 {
			out = append(out, store.ShownAt{Kind: "embed", Name: e.Name, Path: "/e/" + e.Code, Pages: e.Pages})
		}
	}
	addresses, err := store.AddressShowing(ctx, s.DB, id)
	return append(out, addresses...), err
}
