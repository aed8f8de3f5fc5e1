package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

func (h *handler) ListTrail(ctx context.Context, _ api.ListTrailRequestObject) (api.ListTrailResponseObject, error) {
	v := viewerOf(ctx)
	entries, err := h.house.Upkeep.Trail(ctx, v)
	return api.ListTrail200JSONResponse(each(entries, trailEntry(v))), err
}

func trailEntry(v *access.Viewer) func(store.TrailEntry) api.TrailEntry {
	return func(e store.TrailEntry) api.TrailEntry {
		return api.TrailEntry{ID: e.ID, By: e.By, At: e.At, Said: e.Said, Undone: e.Undone, Undoable: e.Can,
			Mine: e.Person == v.Person && e.Agent == ""}
	}
}

func (h *handler) Undo(ctx context.Context, r api.UndoRequestObject) (api.UndoResponseObject, error) {
	d, err := h.house.Upkeep.Undo(ctx, viewerOf(ctx), r.ID)
	return api.Undo200JSONResponse{DoneJSONResponse: done(d)}, err
}
