package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/store/albumstore"
)

func (h *handler) ListAlbums(ctx context.Context, _ api.ListAlbumsRequestObject) (api.ListAlbumsResponseObject, error) {
	albums, err := h.house.Gathering.Albums(ctx, viewerOf(ctx))
	return api.ListAlbums200JSONResponse(each(albums, album)), err
}

func (h *handler) CreateAlbum(ctx context.Context, r api.CreateAlbumRequestObject) (api.CreateAlbumResponseObject, error) {
	if by := ruleAlbum(r.Body.Rule, r.Body.Pick); by != nil {
		d, err := h.house.Gathering.CreateByRule(ctx, viewerOf(ctx), value(r.Body.Parent), r.Body.Name, *by)
		return api.CreateAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	var by *gathering.Choice
	if c := r.Body.Choice; c != nil {
		by = &gathering.Choice{Query: *queryOf(&c.Query), Whole: c.Whole}
	}
	d, err := h.house.Gathering.Create(ctx, viewerOf(ctx), value(r.Body.Parent), r.Body.Name, maybeSelection(r.Body.Selection), by)
	return api.CreateAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeAlbum(ctx context.Context, r api.ChangeAlbumRequestObject) (api.ChangeAlbumResponseObject, error) {
	d, err := h.house.Gathering.Change(ctx, viewerOf(ctx), r.ID,
		gathering.Change{Name: r.Body.Name, Description: r.Body.Description, Cover: r.Body.Cover,
			Parent: r.Body.Parent, Parked: r.Body.Parked, Rule: ruleAlbum(r.Body.Rule, r.Body.Pick)})
	return api.ChangeAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveAlbum(ctx context.Context, r api.RemoveAlbumRequestObject) (api.RemoveAlbumResponseObject, error) {
	d, err := h.house.Gathering.Remove(ctx, viewerOf(ctx), r.ID, value(r.Params.Below))
	return api.RemoveAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AddToAlbum(ctx context.Context, r api.AddToAlbumRequestObject) (api.AddToAlbumResponseObject, error) {
	d, err := h.house.Gathering.Add(ctx, viewerOf(ctx), []int64{r.ID}, selectionOf(*r.Body))
	return api.AddToAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TakeOutOfAlbum(ctx context.Context, r api.TakeOutOfAlbumRequestObject) (api.TakeOutOfAlbumResponseObject, error) {
	d, err := h.house.Gathering.TakeOut(ctx, viewerOf(ctx), r.ID, selectionOf(*r.Body))
	return api.TakeOutOfAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderAlbum(ctx context.Context, r api.OrderAlbumRequestObject) (api.OrderAlbumResponseObject, error) {
	d, err := h.house.Gathering.Order(ctx, viewerOf(ctx), r.ID, r.Body.Ids, value(r.Body.Before), value(r.Body.Place))
	return api.OrderAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AddToAlbums(ctx context.Context, r api.AddToAlbumsRequestObject) (api.AddToAlbumsResponseObject, error) {
	d, err := h.house.Gathering.Add(ctx, viewerOf(ctx), r.Body.Albums, selectionOf(r.Body.Selection))
	return api.AddToAlbums200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AlbumsFromFolder(ctx context.Context, r api.AlbumsFromFolderRequestObject) (api.AlbumsFromFolderResponseObject, error) {
	d, err := h.house.Gathering.FromFolder(ctx, viewerOf(ctx), r.Body.Folder, r.Body.Below)
	return api.AlbumsFromFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DuplicateAlbum(ctx context.Context, r api.DuplicateAlbumRequestObject) (api.DuplicateAlbumResponseObject, error) {
	d, err := h.house.Gathering.Duplicate(ctx, viewerOf(ctx), r.ID, value(r.Params.Below))
	return api.DuplicateAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MoveBetweenAlbums(ctx context.Context, r api.MoveBetweenAlbumsRequestObject) (api.MoveBetweenAlbumsResponseObject,
	error) {
	d, err := h.house.Gathering.Move(ctx, viewerOf(ctx), r.ID, r.Body.To, selectionOf(r.Body.Selection))
	return api.MoveBetweenAlbums200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderAlbumBy(ctx context.Context, r api.OrderAlbumByRequestObject) (api.OrderAlbumByResponseObject, error) {
	d, err := h.house.Gathering.OrderBy(ctx, viewerOf(ctx), r.ID, string(r.Body.Sort), r.Body.Descending)
	return api.OrderAlbumBy200JSONResponse{DoneJSONResponse: done(d)}, err
}

// mostGone is how many of the items that an album lost its reason for are told by their ids.
const mostGone = 2000

func (h *handler) GetAlbumChoice(ctx context.Context, r api.GetAlbumChoiceRequestObject) (api.GetAlbumChoiceResponseObject, error) {
	now, err := h.house.Gathering.Standing(ctx, viewerOf(ctx), r.ID)
	if err != nil || now == nil {
		return api.GetAlbumChoice200JSONResponse{}, err
	}
	gone := now.Gone[:min(mostGone, len(now.Gone))]
	return api.GetAlbumChoice200JSONResponse{Said: &now.Said, Gone: len(now.Gone), More: len(now.More), GoneIds: &gone}, nil
}

func (h *handler) FollowAlbumChoice(ctx context.Context, r api.FollowAlbumChoiceRequestObject) (api.FollowAlbumChoiceResponseObject,
	error) {
	d, err := h.house.Gathering.Follow(ctx, viewerOf(ctx), r.ID)
	return api.FollowAlbumChoice200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ForgetAlbumChoice(ctx context.Context, r api.ForgetAlbumChoiceRequestObject) (api.ForgetAlbumChoiceResponseObject,
	error) {
	d, err := h.house.Gathering.Forget(ctx, viewerOf(ctx), r.ID)
	return api.ForgetAlbumChoice200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) GetSatchel(ctx context.Context, _ api.GetSatchelRequestObject) (api.GetSatchelResponseObject, error) {
	rows, err := h.house.Gathering.Satchel(ctx, viewerOf(ctx))
	return api.GetSatchel200JSONResponse(each(rows, assetRow)), err
}

func (h *handler) AddToSatchel(ctx context.Context, r api.AddToSatchelRequestObject) (api.AddToSatchelResponseObject, error) {
	d, err := h.house.Gathering.Carry(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.AddToSatchel200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TakeOutOfSatchel(ctx context.Context, r api.TakeOutOfSatchelRequestObject) (api.TakeOutOfSatchelResponseObject, error) {
	d, err := h.house.Gathering.PutDown(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.TakeOutOfSatchel200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderSatchel(ctx context.Context, r api.OrderSatchelRequestObject) (api.OrderSatchelResponseObject, error) {
	d, err := h.house.Gathering.OrderSatchel(ctx, viewerOf(ctx), r.Body.Ids, value(r.Body.Before))
	return api.OrderSatchel200JSONResponse{DoneJSONResponse: done(d)}, err
}

func cover(c albumstore.Cover) *api.Cover {
	if !c.CoverCode.Valid {
		return nil
	}
	return &api.Cover{ID: c.CoverID.Int64, Code: c.CoverCode.String, Version: c.CoverVersion.String, Alt: c.CoverAlt.String}
}

func album(a albumstore.Album) api.Album {
	out := api.Album{ID: a.ID, Code: a.Code, Parent: nullInt(a.Parent), Name: a.Name, Description: a.Description, Items: a.Items,
		Parked: a.Parked, Chosen: a.ChosenBy != nil, Cover: cover(a.Cover)}
	if by, rule := a.RuleOf(); rule {
		told := ruleTold(by.Rule)
		out.Rule = &told
		if by.Pick > 0 {
			out.Pick = &by.Pick
		}
	}
	return out
}

func ruleAlbum(rule *api.Rule, pick *int) *query.RuleAlbum {
	if rule == nil {
		return nil
	}
	return &query.RuleAlbum{Rule: *ruleOf(rule), Pick: value(pick)}
}
