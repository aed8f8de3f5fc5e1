package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/poststore"
)

func (h *handler) ListPages(ctx context.Context, _ api.ListPagesRequestObject) (api.ListPagesResponseObject, error) {
	all, err := h.house.Posting.Pages(ctx, viewerOf(ctx))
	return api.ListPages200JSONResponse(each(all, page)), err
}

func (h *handler) RefreshPages(ctx context.Context, _ api.RefreshPagesRequestObject) (api.RefreshPagesResponseObject, error) {
	all, err := h.house.Posting.RefreshPages(ctx, viewerOf(ctx))
	return api.RefreshPages200JSONResponse(each(all, page)), err
}

func page(p poststore.Page) api.Page {
	l := p.Limits.Limits
	return api.Page{ID: p.ID, Outlet: p.OutletName, OutletID: p.Outlet, Remote: p.Remote, Name: p.Name, Picture: p.Picture,
		Address: p.Address, Zone: p.Zone,
		Reach: api.PageReach(p.Reach), People: p.People, Albums: p.Albums, Audience: p.Audience, Limits: l.Said(), Caption: l.Caption,
		CaptionIn: api.PageCaptionIn(l.CaptionIn), MostPictures: l.MostPictures, Rhythm: each(p.Rhythm.Rhythm, beat),
		DriveSends: p.DriveSends}
}

func dispatching(b *api.NewDispatch) posting.Dispatching {
	out := posting.Dispatching{Selection: selectionOf(b.Selection), Caption: b.Caption, At: value(b.At), Slot: value(b.Slot),
		Moves: value(b.Moves), Rehearsal: value(b.Rehearsal)}
	for _, p := range b.Pages {
		one := posting.WantedPost{Page: p.Page, Caption: value(p.Caption), Album: value(p.Album), Mends: map[int64]sending.Mend{}}
		for _, m := range value(p.Mends) {
			switch {
			case m.Mend == api.MendMendShorten:
				one.Shorten = true
			case m.Mend == api.MendMendSplit:
				one.Split = true
			case m.X != nil && m.Y != nil:
				one.Mends[m.Item] = sending.Mend{Way: string(m.Mend), At: &geometry.Point{X: float64(*m.X), Y: float64(*m.Y)}}
			default:
				one.Mends[m.Item] = sending.Mend{Way: string(m.Mend)}
			}
		}
		out.Pages = append(out.Pages, one)
	}
	return out
}

func (h *handler) CheckDispatch(ctx context.Context, r api.CheckDispatchRequestObject) (api.CheckDispatchResponseObject, error) {
	checks, against, items, err := h.house.Posting.CheckDispatch(ctx, viewerOf(ctx), dispatching(r.Body))
	if err != nil {
		return nil, err
	}
	order := each(items, func(a assetstore.Asset) int64 { return a.ID })
	return api.CheckDispatch200JSONResponse{Order: order, Against: sendingCheck(against), Pages: each(checks,
		func(c posting.PageCheck) api.PageCheck {
			return pageCheck(c, items)
		})}, nil
}

func pageCheck(c posting.PageCheck, items []assetstore.Asset) api.PageCheck {
	out := api.PageCheck{Page: c.Page.ID, Count: c.Page.Limits.CaptionIn.Of(c.Caption), Caption: c.Caption, Due: c.Due, Wall: c.Wall,
		Zone: c.Page.Zone, Posts: len(c.Posts), Cuts: []api.Cut{},
		Findings: each(c.Findings, func(f sending.Finding) api.DispatchFinding { return dispatchFinding(f, items) })}
	for _, cut := range c.Cuts() {
		out.Cuts = append(out.Cuts, api.Cut{Item: items[cut.Piece].ID, X: float32(cut.X), Y: float32(cut.Y), Width: float32(cut.Width),
			Height: float32(cut.Height)})
	}
	return out
}

func dispatchFinding(f sending.Finding, items []assetstore.Asset) api.DispatchFinding {
	out := api.DispatchFinding{What: f.What, Said: f.Said, Hinders: f.Hinders,
		Mends: each(f.Mends, func(m string) api.DispatchFindingMends { return api.DispatchFindingMends(m) })}
	if f.Piece >= 0 {
		out.Item = items[f.Piece].ID
	}
	return out
}

func (h *handler) SendDispatch(ctx context.Context, r api.SendDispatchRequestObject) (api.SendDispatchResponseObject, error) {
	v, w := viewerOf(ctx), dispatching(r.Body)
	if draft := value(r.Body.Draft); draft != 0 {
		d, err := h.house.Posting.GoDraft(ctx, v, draft, w)
		return api.SendDispatch200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	d, err := h.house.Posting.Go(ctx, v, w)
	return api.SendDispatch200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListDispatches(ctx context.Context, r api.ListDispatchesRequestObject) (api.ListDispatchesResponseObject, error) {
	v := viewerOf(ctx)
	all, err := h.house.Posting.Dispatches(ctx, v, value(r.Params.Before))
	return api.ListDispatches200JSONResponse(each(all, func(d poststore.Dispatch) api.Dispatch {
		return api.Dispatch{ID: d.ID, By: nullString(d.By), Items: d.Items, Due: d.Due, Created: d.Created, Posts: each(d.Posts, dispatchPost),
			Waits: d.Waits, Mine: d.Person.Int64 == v.Person, GoBy: nullString(d.GoBy), Held: d.Held, Origin: d.Origin}
	})), err
}

func dispatchPost(p poststore.DispatchPost) api.DispatchPost {
	out := api.DispatchPost{ID: p.ID, Page: p.PageName, Caption: p.Caption, Phase: api.DispatchPostPhase(p.Post.Phase), Why: p.Post.Why,
		Address: p.Address, Items: []int64{}, Withdrawn: p.Withdrawn.Valid, Due: p.Due, Wall: p.Wall, Zone: p.Zone, Album: p.Album,
		TakesBack: p.TakesBack && p.Post.Remote != ""}
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
	if p.Seen != nil {
		out.Seen = &api.SeenPost{At: p.Seen.At, Said: append([]string{}, p.Seen.Said...), Media: append([]string{}, p.Seen.Media...),
			Trouble: p.Seen.Trouble, Outlet: p.Outlet.Int64}
		if !p.Seen.Gone.IsZero() {
			out.Seen.Gone = &p.Seen.Gone
		}
	}
	return out
}

func (h *handler) ChangeDispatch(ctx context.Context, r api.ChangeDispatchRequestObject) (api.ChangeDispatchResponseObject, error) {
	d, err := h.house.Posting.ChangeDispatch(ctx, viewerOf(ctx), r.ID, string(r.Body.What))
	return api.ChangeDispatch200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeDispatchPost(ctx context.Context, r api.ChangeDispatchPostRequestObject) (
	api.ChangeDispatchPostResponseObject, error) {
	if r.Body.What == api.ChangeDispatchPostJSONBodyWhatLook {
		err := h.house.Posting.LookNow(ctx, viewerOf(ctx), r.ID)
		return api.ChangeDispatchPost200JSONResponse{DoneJSONResponse: done(store.Done{Said: "Looked at it there"})}, err
	}
	d, err := h.house.Posting.ChangePost(ctx, viewerOf(ctx), r.ID, string(r.Body.What))
	return api.ChangeDispatchPost200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MoveDispatchPost(ctx context.Context, r api.MoveDispatchPostRequestObject) (api.MoveDispatchPostResponseObject, error) {
	d, err := h.house.Posting.MovePost(ctx, viewerOf(ctx), r.ID, r.Body.Wall)
	return api.MoveDispatchPost200JSONResponse{DoneJSONResponse: done(d)}, err
}

func placedOn(p assetstore.PlacedOn) api.PlacedOn {
	ids := append([]int64{}, p.IDs...)
	return api.PlacedOn{Page: p.Page, Name: p.Name, Items: p.Items, Ids: &ids}
}

func (h *handler) ListPlaced(ctx context.Context, _ api.ListPlacedRequestObject) (api.ListPlacedResponseObject, error) {
	pages, origins, err := h.house.Posting.Placed(ctx, viewerOf(ctx))
	return api.ListPlaced200JSONResponse{Pages: each(pages, placedOn), Origins: each(origins, func(o assetstore.CameFrom) api.CameFrom {
		return api.CameFrom{Outlet: o.Outlet, Name: o.Name, Album: o.Album, Items: o.Items, Ids: append([]int64{}, o.IDs...)}
	})}, err
}

func (h *handler) CountPlaced(ctx context.Context, r api.CountPlacedRequestObject) (api.CountPlacedResponseObject, error) {
	p, err := h.house.Posting.CountPlaced(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.CountPlaced200JSONResponse{Pages: each(p.Pages, placedOn), Addresses: p.Addresses, Posts: p.Beside.Posts, Stay: p.Beside.Stay,
		Others: p.Beside.Others}, err
}

func (h *handler) TakeBackEverywhere(ctx context.Context, r api.TakeBackEverywhereRequestObject) (api.TakeBackEverywhereResponseObject,
	error) {
	d, err := h.house.Posting.TakeBackEverywhere(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.TakeBackEverywhere200JSONResponse{DoneJSONResponse: done(d)}, err
}
