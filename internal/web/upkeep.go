package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/acts"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/undostore"
	"brightsatchel/internal/upkeep"
)

func (h *handler) ListTrail(ctx context.Context, r api.ListTrailRequestObject) (api.ListTrailResponseObject, error) {
	v, p := viewerOf(ctx), r.Params
	entries, more, err := h.house.Upkeep.Trail(ctx, v, upkeep.Wanted{
		Before: value(p.Before), Person: value(p.Person), Item: value(p.Item), Folder: value(p.Folder), Step: acts.Step(value(p.Step)),
		Undoable: value(p.Undoable), Limit: value(p.Limit),
	})
	if err != nil {
		return nil, err
	}
	people, err := h.house.Upkeep.People(ctx, v)
	return api.ListTrail200JSONResponse{Entries: each(entries, trailEntry(v)), More: more,
		People: each(people, func(m peoplestore.Member) api.PersonName { return api.PersonName{ID: m.ID, Name: m.Name} })}, err
}

func (h *handler) GetExtent(ctx context.Context, r api.GetExtentRequestObject) (api.GetExtentResponseObject, error) {
	e, err := h.house.Upkeep.Extent(ctx, viewerOf(ctx), r.ID, r.Params.Item)
	return api.GetExtent200JSONResponse{Items: e.Items, Alone: e.Alone}, err
}

func trailEntry(v *access.Viewer) func(store.TrailEntry) api.TrailEntry {
	return func(e store.TrailEntry) api.TrailEntry {
		return api.TrailEntry{ID: e.ID, By: e.By, At: e.At, Said: e.Said, Undone: e.Undone,
			Undoable: e.Can && (!e.Own || e.Person == v.Person),
			Mine:     e.Person == v.Person && e.Agent == "", Turn: turnOf(e.Action), Asks: e.Asks}
	}
}

func turnOf(action string) api.TrailEntryTurn {
	switch action {
	case "undo":
		return api.TrailEntryTurnTakenBack
	case "redo":
		return api.TrailEntryTurnAgain
	}
	return api.TrailEntryTurnDone
}

func (h *handler) Undo(ctx context.Context, r api.UndoRequestObject) (api.UndoResponseObject, error) {
	if r.Params.Item != nil {
		d, err := undostore.UndoOf(ctx, h.house.DB, viewerOf(ctx), r.ID, *r.Params.Item)
		return api.Undo200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	d, err := h.house.Upkeep.Undo(ctx, viewerOf(ctx), r.ID)
	return api.Undo200JSONResponse{DoneJSONResponse: done(d)}, err
}
