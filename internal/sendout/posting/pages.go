package posting

import (
	"context"
	"fmt"
	"net/url"
	"time"

	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/poststore"
)

// Pages lists the pages that posts can be sent to, as they said last what they are.
func (s *Service) Pages(ctx context.Context, v *access.Viewer) ([]poststore.Page, error) {
	return poststore.Pages(ctx, s.DB, v.Brand)
}

// RefreshPages asks the connected outlets again what their pages are and take. One that is away is left as it was, and what went wrong is
// written down.
func (s *Service) RefreshPages(ctx context.Context, v *access.Viewer) ([]poststore.Page, error) {
	all, err := poststore.Outlets(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	together, ctx2 := errgroup.WithContext(ctx)
	together.SetLimit(4)
	for _, o := range all {
		together.Go(func() error { return s.learnPages(ctx2, o) })
	}
	if err := together.Wait(); err != nil {
		return nil, err
	}
	return s.Pages(ctx, v)
}

// askingLasts is how long an outlet is asked for its pages.
const askingLasts = 15 * time.Second

// What is kept of what an outlet says, whatever it says: pages of one account, and characters of a name.
const (
	mostPages       = 300
	longestPageName = 200
)

// learnPages writes down what the pages of an outlet say of themselves, or what went wrong when it was asked.
func (s *Service) learnPages(ctx context.Context, o poststore.Outlet) error {
	to, err := s.poster(o)
	var pages []outlets.Page
	if err == nil {
		asking, cancel := context.WithTimeout(ctx, askingLasts)
		pages, err = to.Pages(asking)
		cancel()
	}
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err != nil {
			return poststore.NoteAsked(ctx, tx, o.ID, outlets.Fault(o.Name, err).Error())
		}
		var ids []int64
		trouble := ""
		if n := len(pages); n > mostPages {
			trouble, pages = fmt.Sprintf("It has %d pages. The first %d of them are here.", n, mostPages), pages[:mostPages]
		}
		for _, p := range pages {
			id, err := poststore.SavePage(ctx, tx, savedPage(o, p))
			if err != nil {
				return err
			}
			ids = append(ids, id)
		}
		if err := poststore.KeepPages(ctx, tx, o.ID, ids); err != nil {
			return err
		}
		return poststore.NoteAsked(ctx, tx, o.ID, trouble)
	})
}

func savedPage(o poststore.Outlet, p outlets.Page) poststore.Page {
	out := poststore.Page{Brand: o.Brand, Outlet: o.ID, Remote: p.ID, Name: sending.Shortened(p.Name, longestPageName, sending.CodePoints),
		Audience: sending.Shortened(p.Audience(), longestPageName, sending.CodePoints), Reach: string(p.Reach),
		People: max(0, p.People), Albums: p.Albums, Picture: p.Picture}
	if at, err := url.Parse(p.Address); err == nil && (at.Scheme == "https" || at.Scheme == "http") {
		out.Address = at.String() // it is a link here, so nothing else is taken
	}
	if _, err := time.LoadLocation(p.Zone); err == nil && p.Zone != "" && p.Zone != "Local" {
		out.Zone = p.Zone
	}
	out.Limits.Limits, out.Ways.Ways = p.Limits, p.Ways
	return out
}

// poster is the connection to an outlet that posts are sent to.
func (s *Service) poster(o poststore.Outlet) (outlets.Poster, error) {
	to, err := s.Outlets.To(o)
	if err != nil {
		return nil, err
	}
	poster, posts := to.(outlets.Poster)
	if !posts {
		return nil, fault.Invalidf("page", "Nothing can be posted to “%s”.", o.Name)
	}
	return poster, nil
}
