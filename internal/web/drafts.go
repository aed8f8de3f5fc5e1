package web

import (
	"cmp"
	"context"
	"slices"

	"brightsatchel/api"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/posting"
)

func (h *handler) ListDrafts(ctx context.Context, _ api.ListDraftsRequestObject) (api.ListDraftsResponseObject, error) {
	all, err := h.house.Posting.Drafts(ctx, viewerOf(ctx))
	return api.ListDrafts200JSONResponse(each(all, func(d posting.Drafted) api.Draft {
		return api.Draft{ID: d.ID, Name: d.Name, By: nullString(d.By), Items: len(d.Assets), Changed: d.Changed, Why: d.Why,
			Dispatch: newDispatch(d.Dispatching)}
	})), err
}

// newDispatch is a dispatch as somebody wants it: what dispatching makes of it.
func newDispatch(w posting.Dispatching) api.NewDispatch {
	out := api.NewDispatch{Selection: api.Selection{Ids: &w.Selection.IDs}, Caption: w.Caption, At: some(w.At), Slot: some(w.Slot),
		Moves: some(w.Moves), Rehearsal: some(w.Rehearsal)}
	out.Pages = each(w.Pages, func(p posting.WantedPost) api.NewDispatchPost {
		mends := []api.Mend{}
		for item, m := range p.Mends {
			mends = append(mends, mendOf(item, m))
		}
		slices.SortFunc(mends, func(a, b api.Mend) int { return cmp.Compare(a.Item, b.Item) })
		if p.Shorten {
			mends = append(mends, api.Mend{Mend: api.MendMendShorten})
		}
		if p.Split {
			mends = append(mends, api.Mend{Mend: api.MendMendSplit})
		}
		return api.NewDispatchPost{Page: p.Page, Caption: some(p.Caption), Album: some(p.Album), Mends: &mends}
	})
	return out
}

func mendOf(item int64, m sending.Mend) api.Mend {
	out := api.Mend{Item: item, Mend: api.MendMend(m.Way)}
	if m.At != nil {
		x, y := float32(m.At.X), float32(m.At.Y)
		out.X, out.Y = &x, &y
	}
	return out
}

func (h *handler) KeepDraft(ctx context.Context, r api.KeepDraftRequestObject) (api.KeepDraftResponseObject, error) {
	d, err := h.house.Posting.KeepDraft(ctx, viewerOf(ctx), 0, r.Body.Name, dispatching(&r.Body.Dispatch))
	return api.KeepDraft200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeDraft(ctx context.Context, r api.ChangeDraftRequestObject) (api.ChangeDraftResponseObject, error) {
	d, err := h.house.Posting.KeepDraft(ctx, viewerOf(ctx), r.ID, r.Body.Name, dispatching(&r.Body.Dispatch))
	return api.ChangeDraft200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveDraft(ctx context.Context, r api.RemoveDraftRequestObject) (api.RemoveDraftResponseObject, error) {
	d, err := h.house.Posting.RemoveDraft(ctx, viewerOf(ctx), r.ID)
	return api.RemoveDraft200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) SetDriveSends(ctx context.Context, r api.SetDriveSendsRequestObject) (api.SetDriveSendsResponseObject, error) {
	d, err := h.house.Posting.SetDriveSends(ctx, viewerOf(ctx), r.ID, r.Body.Sends)
	return api.SetDriveSends200JSONResponse{DoneJSONResponse: done(d)}, err
}
