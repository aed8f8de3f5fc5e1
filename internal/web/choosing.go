package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/assetstore"
)

func (h *handler) RateAssets(ctx context.Context, r api.RateAssetsRequestObject) (api.RateAssetsResponseObject, error) {
	if value(r.Body.Fewer) {
		d, err := h.house.Choosing.Lower(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Stars)
		return api.RateAssets200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	d, err := h.house.Choosing.Rate(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Stars)
	return api.RateAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) KeepAssets(ctx context.Context, r api.KeepAssetsRequestObject) (api.KeepAssetsResponseObject, error) {
	d, err := h.house.Choosing.Keep(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Keep)
	return api.KeepAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListStages(ctx context.Context, _ api.ListStagesRequestObject) (api.ListStagesResponseObject, error) {
	found, err := h.house.Choosing.Stages(ctx, viewerOf(ctx))
	return api.ListStages200JSONResponse(each(found, func(s assetstore.Stage) api.Stage { return api.Stage{ID: s.ID, Name: s.Name} })), err
}

func (h *handler) MakeStage(ctx context.Context, r api.MakeStageRequestObject) (api.MakeStageResponseObject, error) {
	d, err := h.house.Choosing.MakeStage(ctx, viewerOf(ctx), r.Body.Name)
	return api.MakeStage200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) StageAssets(ctx context.Context, r api.StageAssetsRequestObject) (api.StageAssetsResponseObject, error) {
	d, err := h.house.Choosing.Stage(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Stage))
	return api.StageAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) FindPile(ctx context.Context, r api.FindPileRequestObject) (api.FindPileResponseObject, error) {
	find := h.house.Choosing.PileOf
	if value(r.Body.Next) {
		find = h.house.Choosing.NextPile
	}
	p, err := find(ctx, viewerOf(ctx), *queryOf(&r.Body.Sheet), r.Body.Asset)
	out := api.FindPile200JSONResponse{Ids: append([]int64{}, p.IDs...)}
	if p.Best != 0 {
		out.Best, out.Why = &p.Best, &p.Why
	}
	return out, err
}

func (h *handler) ChangeStage(ctx context.Context, r api.ChangeStageRequestObject) (api.ChangeStageResponseObject, error) {
	d, err := h.house.Choosing.ChangeStage(ctx, viewerOf(ctx), r.ID, r.Body.Name, r.Body.Place)
	return api.ChangeStage200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveStage(ctx context.Context, r api.RemoveStageRequestObject) (api.RemoveStageResponseObject, error) {
	d, err := h.house.Choosing.RemoveStage(ctx, viewerOf(ctx), r.ID)
	return api.RemoveStage200JSONResponse{DoneJSONResponse: done(d)}, err
}
