package sendout

import (
	"context"
	"net/url"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
)

// Pages lists the pages that posts can be sent to, as they said last what they are.
func (s *Service) Pages(ctx context.Context, v *access.Viewer) ([]store.Page, error) {
	return store.Pages(ctx, s.DB, v.Brand)
}

// RefreshPages asks the connected outlets again what their pages are and take. An outlet that is away is left as it was.
func (s *Service) RefreshPages(ctx context.Context, v *access.Viewer) ([]store.Page, error) {
	all, err := store.Outlets(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	for _, o := range all {
		if err := s.learnPages(ctx, o); err != nil && ctx.Err() != nil {
			return nil, err
		}
	}
	return s.Pages(ctx, v)
}

// learnPages writes down what the pages of an outlet say of themselves.
func (s *Service) learnPages(ctx context.Context, o store.Outlet) error {
	to, err := s.poster(o)
	if err != nil {
		return err
	}
	pages, err := to.Pages(ctx)
	if err != nil {
		return outlets.Fault(o.Name, err)
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		for _, p := range pages {
			saved := store.Page{Brand: o.Brand, Outlet: o.ID, Remote: p.ID, Name: p.Name, Audience: p.Audience}
			if at, err := url.Parse(p.Address); err == nil && (at.Scheme == "https" || at.Scheme == "http") {
				saved.Address = at.String() // it is a link here, so nothing else is taken
			}
			saved.Limits.Limits, saved.Ways.Ways = p.Limits, p.Ways
			if _, err := tx.SavePage(ctx, saved); err != nil {
				return err
			}
		}
		return nil
	})
}

// poster is the connection to an outlet that posts are sent to.
func (s *Service) poster(o store.Outlet) (outlets.Poster, error) {
	to, err := s.Outlets.Connect(o.Kind, o.Address, o.Token)
	if err != nil {
		return nil, err
	}
	poster, posts := to.(outlets.Poster)
	if !posts {
		return nil, fault.Invalidf("page", "Nothing can be posted to “%s”.", o.Name)
	}
	return poster, nil
}
