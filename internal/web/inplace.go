package web

import (
	"context"

	"brightsatchel/api"
)

func (h *handler) FindLeftFile(ctx context.Context, r api.FindLeftFileRequestObject) (api.FindLeftFileResponseObject, error) {
	d, err := h.house.InPlace.Find(ctx, viewerOf(ctx), r.ID)
	return api.FindLeftFile200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TakeChangedFile(ctx context.Context, r api.TakeChangedFileRequestObject) (api.TakeChangedFileResponseObject, error) {
	d, err := h.house.InPlace.TakeChanged(ctx, viewerOf(ctx), r.ID)
	return api.TakeChangedFile200JSONResponse{DoneJSONResponse: done(d)}, err
}
