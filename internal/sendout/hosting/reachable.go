package hosting

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/embedstore"
)

// Reachable is something of the brand that people who do not sign in can reach now.
type Reachable struct {
	Kind  string // gallery, embed, addresses
	Name  string
	Path  string // below the address of this server, "" where there is none
	Who   string // can reach it, in words
	Items int
}

// Public lists all that people who do not sign in can reach: open galleries, live embeds, and public addresses together.
func (s *Service) Public(ctx context.Context, v *access.Viewer) ([]Reachable, error) {
	var out []Reachable
	all, err := s.Galleries(ctx, v)
	if err != nil {
		return nil, err
	}
	for _, g := range all {
		if g.Open && !g.Ended() {
			out = append(out, Reachable{"gallery", g.Title, g.At(), WhoSees(g), g.Items})
		}
	}
	embeds, err := embedstore.Embeds(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	for _, e := range embeds {
		if !e.Live || len(e.Sources) == 0 {
			continue
		}
		items, err := showing.CountPlaces(ctx, s.DB, v.Brand, e.Sources)
		if err != nil {
			return nil, err
		}
		out = append(out, Reachable{"embed", e.Name, "/e/" + e.Code, "anyone on a page that holds it", min(items, e.Settings.Most)})
	}
	addresses, err := embedstore.CountPublicAddresses(ctx, s.DB, v.Brand)
	if addresses > 0 {
		out = append(out, Reachable{"addresses", "Public addresses", "", "anyone who has one", addresses})
	}
	return out, err
}
