package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/tagstore"
)

func (h *handler) ListColours(ctx context.Context, _ api.ListColoursRequestObject) (api.ListColoursResponseObject, error) {
	found, err := h.house.Finding.Colours(ctx, viewerOf(ctx))
	return api.ListColours200JSONResponse(each(found, func(c tagstore.BrandColour) api.BrandColour {
		return api.BrandColour{ID: c.ID, Name: c.Name, Colour: c.Colour}
	})), err
}

func (h *handler) AddColour(ctx context.Context, r api.AddColourRequestObject) (api.AddColourResponseObject, error) {
	d, err := h.house.Finding.SaveColour(ctx, viewerOf(ctx), tagstore.BrandColour{Name: r.Body.Name, Colour: r.Body.Colour})
	return api.AddColour200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeColour(ctx context.Context, r api.ChangeColourRequestObject) (api.ChangeColourResponseObject, error) {
	d, err := h.house.Finding.SaveColour(ctx, viewerOf(ctx), tagstore.BrandColour{ID: r.ID, Name: r.Body.Name, Colour: r.Body.Colour})
	return api.ChangeColour200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveColour(ctx context.Context, r api.RemoveColourRequestObject) (api.RemoveColourResponseObject, error) {
	d, err := h.house.Finding.RemoveColour(ctx, viewerOf(ctx), r.ID)
	return api.RemoveColour200JSONResponse{DoneJSONResponse: done(d)}, err
}
