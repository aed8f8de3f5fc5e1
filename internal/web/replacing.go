package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/replacing"
	"brightsatchel/internal/preparing"
	"brightsatchel/internal/store/assetstore"
)

func replacements(pairs []api.Replacement) []assetstore.Replacement {
	return each(pairs, func(p api.Replacement) assetstore.Replacement { return assetstore.Replacement{Of: p.Of, With: p.With} })
}

func (h *handler) PlanReplacing(ctx context.Context, r api.PlanReplacingRequestObject) (api.PlanReplacingResponseObject, error) {
	var found []preparing.Replacing
	var alone int
	var err error
	if r.Body.Selection != nil {
		found, alone, err = h.house.Preparing.PlanByName(ctx, viewerOf(ctx), selectionOf(*r.Body.Selection))
	} else {
		found, err = h.house.Preparing.PlanReplacing(ctx, viewerOf(ctx), replacements(value(r.Body.Pairs)))
	}
	return api.PlanReplacing200JSONResponse{Alone: alone, Pairs: each(found, func(p preparing.Replacing) api.PlannedReplacement {
		return api.PlannedReplacement{Of: assetRow(p.Of), With: assetRow(p.With), Differs: append([]string{}, p.Differs...), Same: p.Same,
			Prepared: p.Prepared, Mine: p.Mine, Showing: each(p.Showing, func(s assetstore.Showing) api.Showing {
				return api.Showing{What: api.ShowingWhat(s.What), Name: s.Name, Open: s.Open}
			})}
	})}, err
}

func (h *handler) ReplaceAssets(ctx context.Context, r api.ReplaceAssetsRequestObject) (api.ReplaceAssetsResponseObject, error) {
	d, err := h.house.Preparing.Replace(ctx, viewerOf(ctx), replacements(r.Body.Pairs),
		replacing.Stays{Recipe: r.Body.Recipe, Focal: r.Body.Focal}, preparing.Afterwards{Bin: r.Body.Bin, Fresh: value(r.Body.Fresh)})
	return api.ReplaceAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ShowVersion(ctx context.Context, r api.ShowVersionRequestObject) (api.ShowVersionResponseObject, error) {
	d, err := h.house.Preparing.ShowVersion(ctx, viewerOf(ctx), r.ID, r.Version)
	return api.ShowVersion200JSONResponse{DoneJSONResponse: done(d)}, err
}
