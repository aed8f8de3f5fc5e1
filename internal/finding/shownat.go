package finding

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// shownAt lists where an item is shown outside now.
func (s *Service) shownAt(ctx context.Context, v *access.Viewer, id int64) ([]store.ShownAt, error) {
	showing := func(places []store.Place) (bool, error) {
		n, err := s.Count(ctx, v, query.Query{Place: "everything", Sort: "taken",
			Filter: query.Both(query.Rule{Field: "item", IDs: []int64{id}}, store.RuleOfPlaces(places))})
		return n > 0, err
	}
	galleries, err := store.Galleries(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	var out []store.ShownAt
	for _, g := range galleries {
		places := g.Places()
		if !g.Open || g.Ended() || len(places) == 0 {
			continue
		}
		if shown, err := showing(places); err != nil {
			return nil, err
		} else if shown {
			out = append(out, store.ShownAt{Kind: "gallery", Name: g.Title, Path: g.At(), Since: g.OpenedAt})
		}
	}
	embeds, err := store.Embeds(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	for _, e := range embeds {
		if !e.Live || len(e.Sources) == 0 {
			continue
		}
		if shown, err := showing(e.Sources); err != nil {
			return nil, err
		} else if shown {
			out = append(out, store.ShownAt{Kind: "embed", Name: e.Name, Path: "/e/" + e.Code, Pages: e.Pages})
		}
	}
	addresses, err := store.AddressShowing(ctx, s.DB, id)
	if err != nil {
		return nil, err
	}
	placed, err := store.PlacedAt(ctx, s.DB, id)
	return append(append(out, addresses...), placed...), err
}
