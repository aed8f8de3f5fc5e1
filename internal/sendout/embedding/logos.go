package embedding

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/findstore"
)

// mostLogos is how many logos a brand has.
const mostLogos = 50

// Logos lists the logos of the brand that the viewer may look at, the newest first.
func (s *Service) Logos(ctx context.Context, v *access.Viewer) ([]albumstore.Cover, error) {
	all, err := embedstore.Logos(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(all))
	for i, l := range all {
		ids[i] = l.CoverID.Int64
	}
	seen, err := assetstore.Visible(ctx, s.DB, v, ids)
	out := all[:0]
	for _, l := range all {
		if seen[l.CoverID.Int64] {
			out = append(out, l)
		}
	}
	return out, err
}

// SetLogos makes pictures logos of the brand, which can be drawn across what guests see; or ends that.
func (s *Service) SetLogos(ctx context.Context, v *access.Viewer, sel query.Selection, on bool) (store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return store.Done{}, err
	}
	if len(ids) > mostLogos {
		return store.Done{}, fault.Invalidf("selection", "A brand has at most %d logos; these are %d items.", mostLogos, len(ids))
	}
	return s.DB.Act(ctx, v, "logo", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Look, ids); err != nil {
			return store.Done{}, err
		}
		if !on {
			n, err := embedstore.SetLogos(ctx, tx, v.Brand, ids, false)
			return store.Done{Said: wording.Count(n, "item is", "items are") + " not a logo any more", Changed: n}, err
		}
		items, err := assetstore.AssetsIn(ctx, tx, v.Brand, ids)
		if err != nil {
			return store.Done{}, err
		}
		for _, a := range items {
			if a.Kind == "clip" || a.Kind == "file" {
				return store.Done{}, fault.Invalidf("selection", "“%s” is no picture, so it cannot be a logo.", a.FileName)
			}
		}
		n, err := embedstore.SetLogos(ctx, tx, v.Brand, ids, true)
		if err != nil {
			return store.Done{}, err
		}
		all, err := embedstore.Logos(ctx, tx, v.Brand)
		if len(all) > mostLogos {
			return store.Done{}, fault.Invalidf("selection", "A brand has at most %d logos.", mostLogos)
		}
		said := fmt.Sprintf("%d items are logos of the brand now", len(ids))
		if len(ids) == 1 {
			said = fmt.Sprintf("“%s” is a logo of the brand now", items[0].Called())
		}
		return store.Done{Said: said, Changed: n}, err
	})
}

// Websites lists the websites that were seen to show something of the brand.
func (s *Service) Websites(ctx context.Context, v *access.Viewer) ([]assetstore.Website, error) {
	return assetstore.Websites(ctx, s.DB, v.Brand)
}
