package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/describing"
	"brightsatchel/internal/store/facestore"
)

func faceOf(f facestore.Face) api.Face {
	return api.Face{ID: f.ID, X: f.X, Y: f.Y, Width: f.Width, Height: f.Height, Name: f.Name}
}

// spotOf is a face on an item, or nil for none.
func spotOf(f facestore.OpenFace) *api.FaceSpot {
	if f.ID == 0 {
		return nil
	}
	return &api.FaceSpot{Asset: f.Asset, Face: faceOf(f.Face)}
}

func (h *handler) DrawFace(ctx context.Context, r api.DrawFaceRequestObject) (api.DrawFaceResponseObject, error) {
	at := geometry.Region{X: r.Body.X, Y: r.Body.Y, Width: r.Body.Width, Height: r.Body.Height}
	d, err := h.house.Describing.DrawFace(ctx, viewerOf(ctx), r.ID, at, value(r.Body.Name))
	return api.DrawFace200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) PlaceFace(ctx context.Context, r api.PlaceFaceRequestObject) (api.PlaceFaceResponseObject, error) {
	at := geometry.Region{X: r.Body.X, Y: r.Body.Y, Width: r.Body.Width, Height: r.Body.Height}
	d, err := h.house.Describing.PlaceFace(ctx, viewerOf(ctx), r.ID, r.Face, at)
	return api.PlaceFace200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) NameFace(ctx context.Context, r api.NameFaceRequestObject) (api.NameFaceResponseObject, error) {
	d, err := h.house.Describing.NameFace(ctx, viewerOf(ctx), r.ID, r.Face, r.Body.Name)
	return api.NameFace200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DropFace(ctx context.Context, r api.DropFaceRequestObject) (api.DropFaceResponseObject, error) {
	d, err := h.house.Describing.DropFace(ctx, viewerOf(ctx), r.ID, r.Face)
	return api.DropFace200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) NextFace(ctx context.Context, r api.NextFaceRequestObject) (api.NextFaceResponseObject, error) {
	found, err := h.house.Describing.NextFace(ctx, viewerOf(ctx), value(r.Params.After), value(r.Params.Back))
	return api.NextFace200JSONResponse{Left: found.Left, Next: spotOf(found.Next)}, err
}

func (h *handler) ListPeopleShown(ctx context.Context, _ api.ListPeopleShownRequestObject) (api.ListPeopleShownResponseObject, error) {
	people, err := h.house.Describing.PeopleShown(ctx, viewerOf(ctx))
	return api.ListPeopleShown200JSONResponse(each(people, func(p describing.PersonShown) api.PersonShown {
		return api.PersonShown{ID: p.ID, Name: p.Name, Items: p.Items, Faces: p.Faces, Email: p.Email, Consent: api.Consent(p.Consent),
			ConsentUntil: p.ConsentUntil, Stands: api.Consent(p.Stands), Note: p.Note, Told: p.Told, Portrait: spotOf(p.Portrait)}
	})), err
}

func (h *handler) WriteAboutPerson(ctx context.Context, r api.WriteAboutPersonRequestObject) (api.WriteAboutPersonResponseObject, error) {
	about := describing.AboutPerson{Email: r.Body.Email, ConsentUntil: r.Body.ConsentUntil, Note: r.Body.Note, Told: r.Body.Told}
	if r.Body.Consent != nil {
		said := string(*r.Body.Consent)
		about.Consent = &said
	}
	d, err := h.house.Describing.WriteAbout(ctx, viewerOf(ctx), r.ID, about)
	return api.WriteAboutPerson200JSONResponse{DoneJSONResponse: done(d)}, err
}
