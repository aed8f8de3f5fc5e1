package posting

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// Placed lists which pages show items now, and from which albums of outlets items came, as far as the viewer may see them. Where items came
// from is for those who see all.
func (s *Service) Placed(ctx context.Context, v *access.Viewer) ([]assetstore.PlacedOn, []assetstore.CameFrom, error) {
	pages, err := assetstore.PlacedPages(ctx, s.DB, v)
	if err != nil {
		return nil, nil, err
	}
	origins, err := assetstore.Origins(ctx, s.DB, v)
	return pages, origins, err
}

// PlacedOf is what is shown of a selection now: on which pages, at how many addresses of its own, and what would be taken back with it.
type PlacedOf struct {
	Pages     []assetstore.PlacedOn
	Addresses int
	Beside    assetstore.Beside
}

// CountPlaced says how many of a selection are on pages now, and at addresses of their own.
func (s *Service) CountPlaced(ctx context.Context, v *access.Viewer, sel query.Selection) (out PlacedOf, err error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return out, err
	}
	if out.Pages, err = assetstore.PlacementsOf(ctx, s.DB, ids); err != nil {
		return out, err
	}
	if out.Addresses, err = assetstore.CountAddresses(ctx, s.DB, ids); err != nil {
		return out, err
	}
	out.Beside, err = assetstore.ShowingBeside(ctx, s.DB, v.Brand, ids, mostTakenBack)
	return out, err
}

// mostTakenBack is how many posts are taken back by one press.
const mostTakenBack = 200

// TakeBackEverywhere takes every post back that shows some of these items, from every page that allows it. It goes on where one refuses.
func (s *Service) TakeBackEverywhere(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return store.Done{}, err
	}
	showing, err := assetstore.PostsShowing(ctx, s.DB, v.Brand, ids)
	switch {
	case err != nil:
		return store.Done{}, err
	case len(showing) == 0:
		return store.Done{}, fault.Invalidf("selection", "Nothing of it is on a page now.")
	case len(showing) > mostTakenBack:
		return store.Done{}, fault.Invalidf("selection", "More than %d posts show them. Select fewer.", mostTakenBack)
	}
	return s.changeAll(ctx, v, showing, "withdraw", "Took %s back")
}
