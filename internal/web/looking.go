package web

import (
	"context"

	"brightsatchel/api"
)

func (h *handler) GetLooking(ctx context.Context, _ api.GetLookingRequestObject) (api.GetLookingResponseObject, error) {
	p, err := h.house.Looking.Progress(ctx, viewerOf(ctx))
	return api.GetLooking200JSONResponse{Total: p.Total, Waiting: p.Waiting}, err
}

func (h *handler) LookAgain(ctx context.Context, r api.LookAgainRequestObject) (api.LookAgainResponseObject, error) {
	d, err := h.house.Looking.Again(ctx, viewerOf(ctx), string(value(r.Body.What)))
	return api.LookAgain200JSONResponse{DoneJSONResponse: done(d)}, err
}
