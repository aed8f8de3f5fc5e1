package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store/downloadstore"
)

func (h *handler) ListOutputSizes(ctx context.Context, _ api.ListOutputSizesRequestObject) (api.ListOutputSizesResponseObject, error) {
	sizes, err := h.house.TakeAlong.Sizes(ctx, viewerOf(ctx))
	return api.ListOutputSizes200JSONResponse(each(sizes, outputSize)), err
}

func (h *handler) AddOutputSize(ctx context.Context, r api.AddOutputSizeRequestObject) (api.AddOutputSizeResponseObject, error) {
	d, err := h.house.TakeAlong.AddSize(ctx, viewerOf(ctx), sizeOf(*r.Body).Size)
	return api.AddOutputSize200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeOutputSize(ctx context.Context, r api.ChangeOutputSizeRequestObject) (api.ChangeOutputSizeResponseObject, error) {
	size := sizeOf(*r.Body)
	size.ID = r.ID
	d, err := h.house.TakeAlong.ChangeSize(ctx, viewerOf(ctx), size)
	return api.ChangeOutputSize200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RetireOutputSize(ctx context.Context, r api.RetireOutputSizeRequestObject) (api.RetireOutputSizeResponseObject, error) {
	d, err := h.house.TakeAlong.RetireSize(ctx, viewerOf(ctx), r.ID, value(r.Params.Clear))
	return api.RetireOutputSize200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DuplicateOutputSize(ctx context.Context, r api.DuplicateOutputSizeRequestObject) (
	api.DuplicateOutputSizeResponseObject, error) {
	d, err := h.house.TakeAlong.DuplicateSize(ctx, viewerOf(ctx), r.ID)
	return api.DuplicateOutputSize200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderOutputSizes(ctx context.Context, r api.OrderOutputSizesRequestObject) (api.OrderOutputSizesResponseObject, error) {
	d, err := h.house.TakeAlong.OrderSizes(ctx, viewerOf(ctx), r.Body.Ids)
	return api.OrderOutputSizes200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DefaultOutputSizes(ctx context.Context, _ api.DefaultOutputSizesRequestObject) (api.DefaultOutputSizesResponseObject,
	error) {
	d, err := h.house.TakeAlong.DefaultSizes(ctx, viewerOf(ctx))
	return api.DefaultOutputSizes200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ClearMade(ctx context.Context, r api.ClearMadeRequestObject) (api.ClearMadeResponseObject, error) {
	d, err := h.house.TakeAlong.ClearMade(ctx, viewerOf(ctx), r.Body.ID)
	return api.ClearMade200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListSizeCosts(ctx context.Context, _ api.ListSizeCostsRequestObject) (api.ListSizeCostsResponseObject, error) {
	costs, err := h.house.TakeAlong.Costs(ctx, viewerOf(ctx))
	return api.ListSizeCosts200JSONResponse(each(costs, func(c downloadstore.SizeCost) api.SizeCost {
		return api.SizeCost{ID: c.ID, Files: c.Files, Bytes: c.Bytes, Seconds: c.Seconds}
	})), err
}

func (h *handler) TryOutputSize(ctx context.Context, r api.TryOutputSizeRequestObject) (api.TryOutputSizeResponseObject, error) {
	e, err := h.house.TakeAlong.TryOut(ctx, viewerOf(ctx), r.Body.Asset, sizeOf(r.Body.Size).Size)
	if err != nil {
		return nil, err
	}
	out := api.SizeExample{Width: e.Plan.Size.Width, Height: e.Plan.Size.Height, Bytes: e.Bytes, Seconds: e.Seconds, Quality: e.Quality,
		Says: e.Says, Why: some(e.Why)}
	if out.Says == nil {
		out.Says = map[string]string{}
	}
	if e.Likeness != 0 {
		out.Likeness = &e.Likeness
	}
	return api.TryOutputSize200JSONResponse(out), nil
}

func outputSize(s downloadstore.OutputSize) api.OutputSize {
	return api.OutputSize{
		ID: s.ID, Name: s.Name, Width: s.Width, Height: s.Height, Fit: api.OutputSizeFit(s.Fit), Colour: some(s.Colour), Enlarge: &s.Enlarge,
		Format: api.OutputSizeFormat(s.Format), Quality: s.Quality, Budget: &s.Budget, Sharpen: &s.Sharpen,
		Metadata: api.OutputSizeMetadata(s.Metadata), Pattern: s.Pattern, ClipSide: &s.ClipSide, ClipRate: &s.ClipRate, Quiet: &s.Quiet,
		OnArrival: &s.OnArrival, ClipFormat: new(api.OutputSizeClipFormat(s.ClipFormat)), Public: &s.Public, Address: s.Address,
	}
}

func sizeOf(s api.OutputSizeValues) downloadstore.OutputSize {
	return downloadstore.OutputSize{OnArrival: value(s.OnArrival), Public: value(s.Public), Size: outputs.Size{
		Name: s.Name, Width: s.Width, Height: s.Height, Fit: outputs.Fit(s.Fit), Colour: value(s.Colour), Enlarge: value(s.Enlarge),
		Format: string(s.Format), Quality: s.Quality, Budget: value(s.Budget), Sharpen: value(s.Sharpen),
		Metadata: outputs.Metadata(s.Metadata), Pattern: s.Pattern, ClipSide: value(s.ClipSide), ClipRate: value(s.ClipRate),
		Quiet: value(s.Quiet), ClipFormat: string(value(s.ClipFormat)),
	}}
}
