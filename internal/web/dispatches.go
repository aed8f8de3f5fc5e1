package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
)

func (h *handler) ListPages(ctx context.Context, _ api.ListPagesRequestObject) (api.ListPagesResponseObject, error) {
	all, err := h.house.SendOut.Pages(ctx, viewerOf(ctx))
	return api.ListPages200JSONResponse(each(all, page)), err
}

func (h *handler) RefreshPages(ctx context.Context, _ api.RefreshPagesRequestObject) (api.RefreshPagesResponseObject, error) {
	all, err := h.house.SendOut.RefreshPages(ctx, viewerOf(ctx))
	return api.RefreshPages200JSONResponse(each(all, page)), err
}

func page(p store.Page) api.Page {
	l := p.Limits.Limits
	return api.Page{ID: p.ID, Outlet: p.OutletName, OutletID: p.Outlet, Remote: p.Remote, Name: p.Name, Address: p.Address, Zone: p.Zone,
		Reach: api.PageReach(p.Reach), People: p.People, Albums: p.Albums, Audience: p.Audience, Limits: l.Said(), Caption: l.Caption,
		CaptionIn: api.PageCaptionIn(l.CaptionIn), MostPictures: l.MostPictures}
}

func dispatching(b *api.NewDispatch) sendout.Dispatching {
	out := sendout.Dispatching{Selection: selectionOf(b.Selection), Caption: b.Caption, Zone: value(b.Zone), Due: value(b.Due)}
	for _, p := range b.Pages {
		one := sendout.WantedPost{Page: p.Page, Caption: value(p.Caption), Mends: map[int64]string{}}
		for _, m := range value(p.Mends) {
			one.Mends[m.Item] = string(m.Mend)
		}
		out.Pages = append(out.Pages, one)
	}
	return out
}

func (h *handler) CheckDispatch(ctx context.Context, r api.CheckDispatchRequestObject) (api.CheckDispatchResponseObject, error) {
	checks, against, items, err := h.house.SendOut.CheckDispatch(ctx, viewerOf(ctx), dispatching(r.Body))
	if err != nil {
		return nil, err
	}
	return api.CheckDispatch200JSONResponse{Against: sendingCheck(against), Pages: each(checks, func(c sendout.PageCheck) api.PageCheck {
		return api.PageCheck{Page: c.Page.ID, Count: c.Page.Limits.CaptionIn.Of(c.Caption), Findings: each(c.Findings,
			func(f sending.Finding) api.DispatchFinding { return dispatchFinding(f, items) })}
	})}, nil
}

func dispatchFinding(f sending.Finding, items []store.Asset) api.DispatchFinding {
	out := api.DispatchFinding{What: f.What, Said: f.Said, Hinders: f.Hinders,
		Mends: each(f.Mends, func(m string) api.DispatchFindingMends { return api.DispatchFindingMends(m) })}
	if f.Piece >= 0 {
		out.Item = items[f.Piece].ID
	}
	return out
}

func (h *handler) SendDispatch(ctx context.Context, r api.SendDispatchRequestObject) (api.SendDispatchResponseObject, error) {
	d, err := h.house.SendOut.Go(ctx, viewerOf(ctx), dispatching(r.Body))
	return api.SendDispatch200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListDispatches(ctx context.Context, r api.ListDispatchesRequestObject) (api.ListDispatchesResponseObject, error) {
	all, err := h.house.SendOut.Dispatches(ctx, viewerOf(ctx), value(r.Params.Before))
	return api.ListDispatches200JSONResponse(each(all, func(d store.Dispatch) api.Dispatch {
		return api.Dispatch{ID: d.ID, By: nullString(d.By), Items: d.Items, Due: d.Due, Created: d.Created, Posts: each(d.Posts, dispatchPost)}
	})), err
}

func dispatchPost(p store.DispatchPost) api.DispatchPost {
	out := api.DispatchPost{ID: p.ID, Page: p.PageName, Caption: p.Caption, Phase: api.DispatchPostPhase(p.Post.Phase), Why: p.Post.Why,
		Address: p.Address, Items: []int64{}, Withdrawn: p.Withdrawn.Valid}
	for _, item := range p.Items {
		if item.Asset.Valid {
			out.Items = append(out.Items, item.Asset.Int64)
		}
	}
	for _, id := range p.Post.Media {
		if id != "" {
			out.Brought++
		}
	}
	return out
}

func (h *handler) ChangeDispatchPost(ctx context.Context, r api.ChangeDispatchPostRequestObject) (
	api.ChangeDispatchPostResponseObject, error) {
	d, err := h.house.SendOut.ChangePost(ctx, viewerOf(ctx), r.ID, string(r.Body.What))
	return api.ChangeDispatchPost200JSONResponse{DoneJSONResponse: done(d)}, err
}
