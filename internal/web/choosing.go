package web

import (
	"context"

	"brightsatchel/api"
)

func (h *handler) RateAssets(ctx context.Context, r api.RateAssetsRequestObject) (api.RateAssetsResponseObject, error) {
	d, err := h.house.Choosing.Rate(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Stars)
	return api.RateAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) KeepAssets(ctx context.Context, r api.KeepAssetsRequestObject) (api.KeepAssetsResponseObject, error) {
	d, err := h.house.Choosing.Keep(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Keep)
	return api.KeepAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}
