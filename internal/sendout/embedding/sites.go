package embedding

import (
	"context"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/findstore"
)

// Sites lists the websites whose editors may pick items of the brand.
func (s *Service) Sites(ctx context.Context, v *access.Viewer) ([]embedstore.Site, error) {
	return embedstore.Sites(ctx, s.DB, v.Brand)
}

// AddSite lets the editors of a website pick items. Origin is what somebody types as its address.
func (s *Service) AddSite(ctx context.Context, v *access.Viewer, name, origin string) (store.Done, error) {
	at, err := embeds.Origin(origin)
	if err != nil {
		return store.Done{}, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = at
	}
	return s.DB.Act(ctx, v, "site", func(tx *store.Tx) (store.Done, error) {
		id, err := embedstore.AddSite(ctx, tx, embedstore.Site{Brand: v.Brand, Name: name, Origin: at})
		return store.Done{Said: fmt.Sprintf("Editors of %s can pick items for it", at), Changed: 1, ID: id}, err
	})
}

// RemoveSite ends that. What its pages show stays there: it has addresses of its own.
func (s *Service) RemoveSite(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "site", func(tx *store.Tx) (store.Done, error) {
		site, err := embedstore.SiteByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("Editors of %s cannot pick items any more", site.Origin),
			Changed: 1,
		}, embedstore.RemoveSite(ctx, tx, v.Brand, id)
	})
}

// mostPublic is how many items are made public in one go.
const mostPublic = 500

// MakePublic gives items public addresses, which anybody can open. What should not go out is refused, all of it.
func (s *Service) MakePublic(ctx context.Context, v *access.Viewer, sel query.Selection) ([]embedstore.PublicAddress, store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return nil, store.Done{}, err
	}
	if len(ids) > mostPublic {
		return nil, store.Done{}, fault.Invalidf("selection", "At most %d items get public addresses in one go. An embed shows more.", mostPublic)
	}
	checked, err := leaving.Check(ctx, s.DB, v.Brand, ids, false)
	if err != nil {
		return nil, store.Done{}, err
	}
	for _, against := range checked.Against {
		if sending.Hinders(against.Reason) {
			return nil, store.Done{}, fault.Invalidf("selection", "%s should not go out: %s. Leave them out, or see to it first.",
				query.Items(len(against.IDs)), leaving.Hindrance[against.Reason])
		}
	}
	done, err := s.DB.Act(ctx, v, "make_public", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Look, ids); err != nil {
			return store.Done{}, err
		}
		n, err := embedstore.MakePublic(ctx, tx, v.Brand, ids)
		return store.Done{Said: fmt.Sprintf("%s can be opened by anyone with the address", query.Items(len(ids))), Changed: n}, err
	})
	if err != nil {
		return nil, done, err
	}
	found, err := embedstore.AddressesOf(ctx, s.DB, v.Brand, ids)
	return found, done, err
}

// EndPublic switches public addresses off: pages that show them show nothing.
func (s *Service) EndPublic(ctx context.Context, v *access.Viewer, ids []int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "end_public", func(tx *store.Tx) (store.Done, error) {
		n, err := embedstore.EndPublic(ctx, tx, v.Brand, ids)
		return store.Done{Said: fmt.Sprintf("Switched off the public address of %s; pages that show it show nothing", query.Items(n)),
			Changed: n}, err
	})
}

// PublicAddresses lists the live public addresses of the brand, the newest first.
func (s *Service) PublicAddresses(ctx context.Context, v *access.Viewer, before int64) ([]embedstore.PublicAddress, error) {
	return embedstore.PublicAddresses(ctx, s.DB, v.Brand, before, 100)
}

// AddressSeen lists the pages that were seen to show an item by its public address.
func (s *Service) AddressSeen(ctx context.Context, v *access.Viewer, id int64) ([]assetstore.Sighting, error) {
	return embedstore.AddressSightings(ctx, s.DB, v.Brand, id)
}
