package web

import (
	"context"
	"time"

	"brightsatchel/api"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/filing"
)

// The operations of filing: folders and their order, copies, filing by date, stacks, the bin.

func (h *handler) OrderFolders(ctx context.Context, r api.OrderFoldersRequestObject) (api.OrderFoldersResponseObject, error) {
	if value(r.Body.ByName) {
		d, err := h.house.Filing.OrderByName(ctx, viewerOf(ctx), value(r.Body.Parent))
		return api.OrderFolders200JSONResponse{DoneJSONResponse: done(d)}, err
	}
	d, err := h.house.Filing.Order(ctx, viewerOf(ctx), value(r.Body.Parent), value(r.Body.Ids), value(r.Body.Before))
	return api.OrderFolders200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DuplicateFolder(ctx context.Context, r api.DuplicateFolderRequestObject) (api.DuplicateFolderResponseObject, error) {
	d, err := h.house.Filing.Duplicate(ctx, viewerOf(ctx), r.ID, r.Body.Name)
	return api.DuplicateFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderInFolder(ctx context.Context, r api.OrderInFolderRequestObject) (api.OrderInFolderResponseObject, error) {
	d, err := h.house.Filing.OrderItems(ctx, viewerOf(ctx), r.ID, r.Body.Ids, value(r.Body.Before))
	return api.OrderInFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) GetAudience(ctx context.Context, r api.GetAudienceRequestObject) (api.GetAudienceResponseObject, error) {
	a, err := h.house.Filing.Widens(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Folder))
	return api.GetAudience200JSONResponse(audience(a)), err
}

func (h *handler) TellAudience(ctx context.Context, r api.TellAudienceRequestObject) (api.TellAudienceResponseObject, error) {
	v := viewerOf(ctx)
	a, err := h.house.Filing.Widens(ctx, v, selectionOf(r.Body.Selection), value(r.Body.Folder))
	if err != nil || len(a.Gains) == 0 {
		return api.TellAudience200JSONResponse(audience(a)), err
	}
	a.Told = true
	return api.TellAudience200JSONResponse(audience(a)), h.house.Filing.Tell(ctx, v, value(r.Body.Folder), a)
}

func audience(a filing.Audience) api.Audience {
	return api.Audience{Gains: each(a.Gains, func(s string) string { return s }), Items: a.Items, Told: a.Told}
}

func (h *handler) CopyAssets(ctx context.Context, r api.CopyAssetsRequestObject) (api.CopyAssetsResponseObject, error) {
	d, err := h.house.Filing.Copy(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Folder))
	return api.CopyAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

// samples is how many pictures of a shoot are shown with its proposal.
const samples = 6

func (h *handler) ProposeShoots(ctx context.Context, r api.ProposeShootsRequestObject) (api.ProposeShootsResponseObject, error) {
	v := viewerOf(ctx)
	found, err := h.house.Filing.ByDate(ctx, v, selectionOf(r.Body.Selection), minutes(r.Body.GapMinutes))
	if err != nil {
		return nil, err
	}
	out := api.ProposeShoots200JSONResponse{Shoots: []api.Shoot{}, Undated: each(found.Undated, func(id int64) int64 { return id })}
	for _, s := range found.Shoots {
		shown, err := h.house.Finding.Rows(ctx, v, sampleOf(s))
		if err != nil {
			return nil, err
		}
		year, name := s.Folder()
		out.Shoots = append(out.Shoots, api.Shoot{First: s.First.Format(localTime), Last: s.Last.Format(localTime), Items: len(s.IDs),
			Year: year, Name: name, Sample: each(shown, assetRow)})
	}
	return out, nil
}

// sampleOf takes some items evenly from a shoot.
func sampleOf(s calendar.Shoot) []int64 {
	n := min(samples, len(s.IDs))
	out := make([]int64, n)
	for i := range out {
		out[i] = s.IDs[i*len(s.IDs)/n]
	}
	return out
}

func minutes(n int) time.Duration { return time.Duration(n) * time.Minute }

func (h *handler) FileByDate(ctx context.Context, r api.FileByDateRequestObject) (api.FileByDateResponseObject, error) {
	named := make([]filing.NamedShoot, len(r.Body.Shoots))
	for i, s := range r.Body.Shoots {
		first, err := time.Parse(localTime, s.First)
		if err != nil {
			return nil, fault.Invalidf("first", "%q is not a time, as in 2026-05-17T10:21:37.", s.First)
		}
		named[i] = filing.NamedShoot{First: first, Items: s.Items, Name: s.Name}
	}
	d, err := h.house.Filing.FileByDate(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), minutes(r.Body.GapMinutes),
		value(r.Body.Parent), named)
	return api.FileByDate200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) StackAssets(ctx context.Context, r api.StackAssetsRequestObject) (api.StackAssetsResponseObject, error) {
	d, err := h.house.Filing.Stack(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Front))
	return api.StackAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) UnstackAssets(ctx context.Context, r api.UnstackAssetsRequestObject) (api.UnstackAssetsResponseObject, error) {
	d, err := h.house.Filing.Unstack(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.UnstackAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) FrontOfStack(ctx context.Context, r api.FrontOfStackRequestObject) (api.FrontOfStackResponseObject, error) {
	d, err := h.house.Filing.Pick(ctx, viewerOf(ctx), r.ID)
	return api.FrontOfStack200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) EmptyBin(ctx context.Context, _ api.EmptyBinRequestObject) (api.EmptyBinResponseObject, error) {
	d, err := h.house.Filing.Empty(ctx, viewerOf(ctx))
	return api.EmptyBin200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListFolders(ctx context.Context, _ api.ListFoldersRequestObject) (api.ListFoldersResponseObject, error) {
	folders, err := h.house.Filing.Folders(ctx, viewerOf(ctx))
	return api.ListFolders200JSONResponse(each(folders, folder)), err
}

func (h *handler) CreateFolder(ctx context.Context, r api.CreateFolderRequestObject) (api.CreateFolderResponseObject, error) {
	d, err := h.house.Filing.Create(ctx, viewerOf(ctx), value(r.Body.Parent), r.Body.Name)
	return api.CreateFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeFolder(ctx context.Context, r api.ChangeFolderRequestObject) (api.ChangeFolderResponseObject, error) {
	d, err := h.house.Filing.Change(ctx, viewerOf(ctx), r.ID, filing.Change{
		Name: r.Body.Name, Description: r.Body.Description, Date: r.Body.Date, Tags: r.Body.Tags, Parked: r.Body.Parked,
		Move: value(r.Body.Move), Parent: value(r.Body.Parent)})
	return api.ChangeFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveFolder(ctx context.Context, r api.RemoveFolderRequestObject) (api.RemoveFolderResponseObject, error) {
	d, err := h.house.Filing.Remove(ctx, viewerOf(ctx), r.ID)
	return api.RemoveFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) MoveAssets(ctx context.Context, r api.MoveAssetsRequestObject) (api.MoveAssetsResponseObject, error) {
	d, err := h.house.Filing.Move(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Folder))
	return api.MoveAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) BinAssets(ctx context.Context, r api.BinAssetsRequestObject) (api.BinAssetsResponseObject, error) {
	d, err := h.house.Filing.Bin(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.BinAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RestoreAssets(ctx context.Context, r api.RestoreAssetsRequestObject) (api.RestoreAssetsResponseObject, error) {
	d, err := h.house.Filing.Restore(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.RestoreAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func folder(f filing.Folder) api.Folder {
	out := api.Folder{ID: f.ID, Code: f.Code, Parent: nullInt(f.Parent), Name: f.Name, Description: f.Description, Own: f.Own,
		Below: f.Below, All: f.All, Aside: f.Aside, Parked: f.Parked,
		Placed: f.Position.Valid, Date: some(f.Date)}
	if f.May != nil {
		may := actions(f.May)
		out.May = &may
	}
	if len(f.Tags) > 0 {
		ids := []int64(f.Tags)
		out.Tags = &ids
	}
	return out
}
