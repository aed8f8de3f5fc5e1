package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/parkstore"
)

func (h *handler) ListParking(ctx context.Context, r api.ListParkingRequestObject) (api.ListParkingResponseObject, error) {
	p, err := h.house.Shelving.Read(ctx, viewerOf(ctx), string(r.Kind))
	return api.ListParking200JSONResponse{
		Folders: each(p.Folders, func(f parkstore.ThingFolder) api.ThingFolder {
			return api.ThingFolder{ID: f.ID, Name: f.Name, Parked: f.Parked}
		}),
		Things: each(p.Things, func(t parkstore.ThingPlace) api.ThingPlace {
			return api.ThingPlace{ID: t.Thing, Folder: nullInt(t.Folder), Parked: t.Parked}
		})}, err
}

func (h *handler) PlaceThings(ctx context.Context, r api.PlaceThingsRequestObject) (api.PlaceThingsResponseObject, error) {
	d, err := h.house.Shelving.Place(ctx, viewerOf(ctx), string(r.Kind), r.Body.Ids, r.Body.Folder, r.Body.Parked)
	return api.PlaceThings200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MakeThingFolder(ctx context.Context, r api.MakeThingFolderRequestObject) (api.MakeThingFolderResponseObject, error) {
	d, err := h.house.Shelving.MakeFolder(ctx, viewerOf(ctx), string(r.Kind), r.Body.Name)
	return api.MakeThingFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeThingFolder(ctx context.Context, r api.ChangeThingFolderRequestObject) (api.ChangeThingFolderResponseObject,
	error) {
	d, err := h.house.Shelving.ChangeFolder(ctx, viewerOf(ctx), string(r.Kind), r.ID, r.Body.Name, r.Body.Parked)
	return api.ChangeThingFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveThingFolder(ctx context.Context, r api.RemoveThingFolderRequestObject) (api.RemoveThingFolderResponseObject,
	error) {
	d, err := h.house.Shelving.RemoveFolder(ctx, viewerOf(ctx), string(r.Kind), r.ID)
	return api.RemoveThingFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}
