package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
)

func (h *handler) ListLogos(ctx context.Context, _ api.ListLogosRequestObject) (api.ListLogosResponseObject, error) {
	all, err := h.house.Embedding.Logos(ctx, viewerOf(ctx))
	return api.ListLogos200JSONResponse(each(all, func(c albumstore.Cover) api.Cover { return *cover(c) })), err
}

func (h *handler) SetLogos(ctx context.Context, r api.SetLogosRequestObject) (api.SetLogosResponseObject, error) {
	d, err := h.house.Embedding.SetLogos(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Logo)
	return api.SetLogos200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListWebsites(ctx context.Context, _ api.ListWebsitesRequestObject) (api.ListWebsitesResponseObject, error) {
	all, err := h.house.Embedding.Websites(ctx, viewerOf(ctx))
	return api.ListWebsites200JSONResponse(each(all, func(w assetstore.Website) api.Website {
		return api.Website{Host: w.Host, Pages: w.Pages, First: w.First, Last: w.Last, Embeds: append([]int64{}, w.Embeds...),
			Items: append([]int64{}, w.Items...)}
	})), err
}
