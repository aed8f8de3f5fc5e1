package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/rehearsing"
	"brightsatchel/internal/sendout/rehearsals"
	"brightsatchel/internal/store/rehearsalstore"
)

func (h *handler) ListRehearsals(ctx context.Context, _ api.ListRehearsalsRequestObject) (api.ListRehearsalsResponseObject, error) {
	all, err := h.house.Rehearsals.All(ctx, viewerOf(ctx))
	return api.ListRehearsals200JSONResponse(each(all, func(r rehearsalstore.Rehearsal) api.RehearsalRow {
		return api.RehearsalRow{ID: r.ID, Name: r.Name, By: nullString(r.By), Variants: r.Variants, Remarks: r.Remarks, Sent: r.Sent,
			Changed: r.Changed, Cover: nullInt(r.Cover)}
	})), err
}

func (h *handler) GetRehearsal(ctx context.Context, r api.GetRehearsalRequestObject) (api.GetRehearsalResponseObject, error) {
	v := viewerOf(ctx)
	got, err := h.house.Rehearsals.Read(ctx, v, r.ID)
	if err != nil {
		return nil, err
	}
	out := api.Rehearsal{ID: got.ID, Name: got.Name, By: nullString(got.By), Sent: got.Sent,
		Places: each(got.Places, func(k string) api.PlaceKind { return api.PlaceKind(k) }), Variants: each(got.Variants, variant),
		Kinds: each(rehearsing.Places, func(p rehearsing.Place) api.PlaceShape {
			return api.PlaceShape{Kind: api.PlaceKind(p.Kind), Width: p.Shape.Width, Height: p.Shape.Height, Ad: p.Ad}
		}),
		Remarks: each(got.Remarks, func(m rehearsalstore.RehearsalRemark) api.RehearsalRemark {
			return api.RehearsalRemark{ID: m.ID, Variant: nullInt(m.Variant), By: nullString(m.By), Words: m.Words, Said: m.Said,
				Mine: m.Person.Int64 == v.Person}
		})}
	return api.GetRehearsal200JSONResponse(out), nil
}

func variant(v rehearsals.RehearsedVariant) api.Variant {
	out := api.Variant{ID: v.ID, Name: v.Name, Items: []int64{}, Gone: len(v.Gone), Caption: v.Caption, Headline: v.Headline,
		Button: v.Button, Seen: []api.SeenPart{}}
	gone := map[int64]bool{}
	for _, id := range v.Gone {
		gone[id] = true
	}
	for _, id := range v.Assets {
		if !gone[id] {
			out.Items = append(out.Items, id)
		}
	}
	for _, p := range rehearsing.Places {
		if part, known := v.Seen[p.Kind]; known {
			out.Seen = append(out.Seen, api.SeenPart{Kind: api.PlaceKind(p.Kind), Part: part})
		}
	}
	return out
}

func (h *handler) Rehearse(ctx context.Context, r api.RehearseRequestObject) (api.RehearseResponseObject, error) {
	d, err := h.house.Rehearsals.Make(ctx, viewerOf(ctx), r.Body.Name, selectionOf(r.Body.Selection))
	return api.Rehearse200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeRehearsal(ctx context.Context, r api.ChangeRehearsalRequestObject) (api.ChangeRehearsalResponseObject, error) {
	var places []string
	if r.Body.Places != nil {
		places = each(*r.Body.Places, func(k api.PlaceKind) string { return string(k) })
	}
	d, err := h.house.Rehearsals.Change(ctx, viewerOf(ctx), r.ID, r.Body.Name, places)
	return api.ChangeRehearsal200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveRehearsal(ctx context.Context, r api.RemoveRehearsalRequestObject) (api.RemoveRehearsalResponseObject, error) {
	d, err := h.house.Rehearsals.Remove(ctx, viewerOf(ctx), r.ID)
	return api.RemoveRehearsal200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AddVariant(ctx context.Context, r api.AddVariantRequestObject) (api.AddVariantResponseObject, error) {
	d, err := h.house.Rehearsals.AddVariant(ctx, viewerOf(ctx), r.ID, value(r.Body.Like))
	return api.AddVariant200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeVariant(ctx context.Context, r api.ChangeVariantRequestObject) (api.ChangeVariantResponseObject, error) {
	c := rehearsals.VariantChange{Name: r.Body.Name, Caption: r.Body.Caption, Headline: r.Body.Headline, Button: r.Body.Button,
		Items: maybeSelection(r.Body.Items)}
	d, err := h.house.Rehearsals.ChangeVariant(ctx, viewerOf(ctx), r.ID, r.Variant, c)
	return api.ChangeVariant200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveVariant(ctx context.Context, r api.RemoveVariantRequestObject) (api.RemoveVariantResponseObject, error) {
	d, err := h.house.Rehearsals.RemoveVariant(ctx, viewerOf(ctx), r.ID, r.Variant)
	return api.RemoveVariant200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemarkOnRehearsal(ctx context.Context, r api.RemarkOnRehearsalRequestObject) (api.RemarkOnRehearsalResponseObject,
	error) {
	d, err := h.house.Rehearsals.Remark(ctx, viewerOf(ctx), r.ID, value(r.Body.Variant), r.Body.Words)
	return api.RemarkOnRehearsal200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveRehearsalRemark(ctx context.Context, r api.RemoveRehearsalRemarkRequestObject) (
	api.RemoveRehearsalRemarkResponseObject, error) {
	d, err := h.house.Rehearsals.RemoveRemark(ctx, viewerOf(ctx), r.ID, r.Remark)
	return api.RemoveRehearsalRemark200JSONResponse{DoneJSONResponse: done(d)}, err
}
