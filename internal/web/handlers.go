package web

import (
	"cmp"
	"context"
	"slices"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
)

// handler answers the operations of the contract: each passes what was asked on to the step that does it.
type handler struct{ *Server }

func (h *handler) WhoAmI(ctx context.Context, r api.WhoAmIRequestObject) (api.WhoAmIResponseObject, error) {
	person := h.sessions.GetInt64(ctx, "person")
	if person == 0 {
		return nil, errSignedOut
	}
	me, err := h.me(ctx, person, value(r.Params.Brand))
	return api.WhoAmI200JSONResponse{MeJSONResponse: api.MeJSONResponse(me)}, err
}

// me is a person in a brand of theirs, or in the first one if they do not belong to that.
func (h *handler) me(ctx context.Context, person int64, brand string) (api.Me, error) {
	brands, err := h.house.People.Brands(ctx, person)
	if err != nil {
		return api.Me{}, err
	}
	if len(brands) == 0 {
		return api.Me{}, errSignedOut
	}
	if !slices.ContainsFunc(brands, func(b store.Brand) bool { return b.Code == brand }) {
		brand = brands[0].Code
	}
	v, err := h.house.People.Viewer(ctx, person, brand)
	if err != nil {
		return api.Me{}, err
	}
	me := api.Me{ID: person, Name: v.Name, Email: v.Email, Brand: v.BrandCode, BrandName: v.BrandName, Role: api.Role(v.Role), Can: actions(v.Offered())}
	for _, b := range brands {
		me.Brands = append(me.Brands, api.BrandName{Code: b.Code, Name: b.Name})
	}
	return me, nil
}

func (h *handler) SignIn(ctx context.Context, r api.SignInRequestObject) (api.SignInResponseObject, error) {
	person, err := h.house.People.SignIn(ctx, r.Body.Email, r.Body.Password, callerOf(ctx.(*gin.Context)))
	if err != nil {
		return nil, err
	}
	if err := h.sessions.RenewToken(ctx); err != nil { // against sessions fixed beforehand
		return nil, err
	}
	h.sessions.Put(ctx, "person", person.ID)
	me, err := h.me(ctx, person.ID, "")
	return api.SignIn200JSONResponse{MeJSONResponse: api.MeJSONResponse(me)}, err
}

func (h *handler) SignOut(ctx context.Context, _ api.SignOutRequestObject) (api.SignOutResponseObject, error) {
	return api.SignOut204Response{}, h.sessions.Destroy(ctx)
}

func (h *handler) GetOverview(ctx context.Context, _ api.GetOverviewRequestObject) (api.GetOverviewResponseObject, error) {
	c, err := h.house.Finding.Counts(ctx, viewerOf(ctx))
	return api.GetOverview200JSONResponse{Everything: c.Everything, Unfiled: c.Unfiled, Undescribed: c.Undescribed, Unchosen: c.Unchosen, Bin: c.Bin}, err
}

// mostOfSheet is how many items of a sheet travel at once.
const mostOfSheet = 20_000

func (h *handler) ListSheet(ctx context.Context, r api.ListSheetRequestObject) (api.ListSheetResponseObject, error) {
	page, err := h.house.Finding.Sheet(ctx, viewerOf(ctx), *queryOf(r.Body), value(r.Params.From), cmp.Or(value(r.Params.Most), mostOfSheet))
	if err != nil {
		return nil, err
	}
	rows := page.Rows
	out := api.ListSheet200JSONResponse{Total: page.Total, Ids: make([]int64, len(rows)), Ratios: make([]int, len(rows)), Tints: make([]int, len(rows))}
	for i, row := range rows {
		out.Ids[i], out.Tints[i] = row.ID, row.Tint
		out.Ratios[i] = max(1, row.Width*1000/max(1, row.Height))
	}
	return out, nil
}

func (h *handler) LoadRows(ctx context.Context, r api.LoadRowsRequestObject) (api.LoadRowsResponseObject, error) {
	rows, err := h.house.Finding.Rows(ctx, viewerOf(ctx), r.Body.Ids)
	return api.LoadRows200JSONResponse(each(rows, assetRow)), err
}

func (h *handler) GetAsset(ctx context.Context, r api.GetAssetRequestObject) (api.GetAssetResponseObject, error) {
	card, err := h.house.Finding.Card(ctx, viewerOf(ctx), r.ID)
	if err != nil {
		return nil, err
	}
	return api.GetAsset200JSONResponse(assetCard(card)), nil
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
		Name: r.Body.Name, Description: r.Body.Description, Date: r.Body.Date, Tags: r.Body.Tags, Parked: r.Body.Parked, Move: value(r.Body.Move), Parent: value(r.Body.Parent)})
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

func (h *handler) DescribeAsset(ctx context.Context, r api.DescribeAssetRequestObject) (api.DescribeAssetResponseObject, error) {
	d, err := h.house.Describing.Describe(ctx, viewerOf(ctx), r.ID, store.Description{Revision: r.Body.Revision,
		Title: r.Body.Title, Description: r.Body.Description, Alt: r.Body.Alt, Credit: r.Body.Credit, Copyright: r.Body.Copyright})
	return api.DescribeAsset200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListTags(ctx context.Context, _ api.ListTagsRequestObject) (api.ListTagsResponseObject, error) {
	tags, err := h.house.Describing.Tags(ctx, viewerOf(ctx))
	return api.ListTags200JSONResponse(each(tags, tag)), err
}

func (h *handler) TagAssets(ctx context.Context, r api.TagAssetsRequestObject) (api.TagAssetsResponseObject, error) {
	d, err := h.house.Describing.Tag(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), value(r.Body.Add), value(r.Body.Remove))
	return api.TagAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TagsOfSelection(ctx context.Context, r api.TagsOfSelectionRequestObject) (api.TagsOfSelectionResponseObject, error) {
	tags, items, err := h.house.Describing.TagsOf(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.TagsOfSelection200JSONResponse{Items: items, Tags: each(tags, tag)}, err
}

func (h *handler) RateAssets(ctx context.Context, r api.RateAssetsRequestObject) (api.RateAssetsResponseObject, error) {
	d, err := h.house.Choosing.Rate(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Stars)
	return api.RateAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) KeepAssets(ctx context.Context, r api.KeepAssetsRequestObject) (api.KeepAssetsResponseObject, error) {
	d, err := h.house.Choosing.Keep(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Keep)
	return api.KeepAssets200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListAlbums(ctx context.Context, _ api.ListAlbumsRequestObject) (api.ListAlbumsResponseObject, error) {
	albums, err := h.house.Gathering.Albums(ctx, viewerOf(ctx))
	return api.ListAlbums200JSONResponse(each(albums, album)), err
}

func (h *handler) CreateAlbum(ctx context.Context, r api.CreateAlbumRequestObject) (api.CreateAlbumResponseObject, error) {
	d, err := h.house.Gathering.Create(ctx, viewerOf(ctx), value(r.Body.Parent), r.Body.Name, maybeSelection(r.Body.Selection))
	return api.CreateAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeAlbum(ctx context.Context, r api.ChangeAlbumRequestObject) (api.ChangeAlbumResponseObject, error) {
	d, err := h.house.Gathering.Change(ctx, viewerOf(ctx), r.ID, gathering.Change{Name: r.Body.Name, Description: r.Body.Description, Cover: r.Body.Cover})
	return api.ChangeAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveAlbum(ctx context.Context, r api.RemoveAlbumRequestObject) (api.RemoveAlbumResponseObject, error) {
	d, err := h.house.Gathering.Remove(ctx, viewerOf(ctx), r.ID)
	return api.RemoveAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AddToAlbum(ctx context.Context, r api.AddToAlbumRequestObject) (api.AddToAlbumResponseObject, error) {
	d, err := h.house.Gathering.Add(ctx, viewerOf(ctx), r.ID, selectionOf(*r.Body))
	return api.AddToAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) TakeOutOfAlbum(ctx context.Context, r api.TakeOutOfAlbumRequestObject) (api.TakeOutOfAlbumResponseObject, error) {
	d, err := h.house.Gathering.TakeOut(ctx, viewerOf(ctx), r.ID, selectionOf(*r.Body))
	return api.TakeOutOfAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) OrderAlbum(ctx context.Context, r api.OrderAlbumRequestObject) (api.OrderAlbumResponseObject, error) {
	d, err := h.house.Gathering.Order(ctx, viewerOf(ctx), r.ID, r.Body.Ids, value(r.Body.Before))
	return api.OrderAlbum200JSONResponse{DoneJSONResponse: done(d)}, err
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

func (h *handler) ListOutputSizes(ctx context.Context, _ api.ListOutputSizesRequestObject) (api.ListOutputSizesResponseObject, error) {
	sizes, err := h.house.SendOut.Sizes(ctx, viewerOf(ctx))
	return api.ListOutputSizes200JSONResponse(each(sizes, outputSize)), err
}

func wanted(d *api.NewDownload) sendout.Wanted {
	return sendout.Wanted{Selection: selectionOf(d.Selection), OutputSize: d.OutputSize, Pattern: value(d.Pattern), KeepFolders: value(d.KeepFolders)}
}

func (h *handler) ListDownloads(ctx context.Context, _ api.ListDownloadsRequestObject) (api.ListDownloadsResponseObject, error) {
	taken, err := h.house.SendOut.Downloads(ctx, viewerOf(ctx))
	return api.ListDownloads200JSONResponse(each(taken, download)), err
}

func (h *handler) CreateDownload(ctx context.Context, r api.CreateDownloadRequestObject) (api.CreateDownloadResponseObject, error) {
	t, err := h.house.SendOut.Take(ctx, viewerOf(ctx), wanted(r.Body))
	return api.CreateDownload200JSONResponse(download(t)), err
}

func (h *handler) PreviewDownload(ctx context.Context, r api.PreviewDownloadRequestObject) (api.PreviewDownloadResponseObject, error) {
	items, err := h.house.SendOut.Preview(ctx, viewerOf(ctx), wanted(r.Body))
	return api.PreviewDownload200JSONResponse(each(items, downloadFile)), err
}

func (h *handler) RetryDownload(ctx context.Context, r api.RetryDownloadRequestObject) (api.RetryDownloadResponseObject, error) {
	t, err := h.house.SendOut.Retry(ctx, viewerOf(ctx), r.ID)
	return api.RetryDownload200JSONResponse(download(t)), err
}

func (h *handler) ListGalleries(ctx context.Context, _ api.ListGalleriesRequestObject) (api.ListGalleriesResponseObject, error) {
	galleries, err := h.house.SendOut.Galleries(ctx, viewerOf(ctx))
	return api.ListGalleries200JSONResponse(each(galleries, gallery)), err
}

func (h *handler) CreateGallery(ctx context.Context, r api.CreateGalleryRequestObject) (api.CreateGalleryResponseObject, error) {
	d, err := h.house.SendOut.CreateGallery(ctx, viewerOf(ctx), r.Body.Album, sendout.GalleryChange{
		Title: &r.Body.Title, Password: r.Body.Password, Cover: r.Body.Cover, OutputSize: r.Body.OutputSize})
	return api.CreateGallery200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeGallery(ctx context.Context, r api.ChangeGalleryRequestObject) (api.ChangeGalleryResponseObject, error) {
	d, err := h.house.SendOut.ChangeGallery(ctx, viewerOf(ctx), r.ID, sendout.GalleryChange{
		Title: r.Body.Title, Message: r.Body.Message, Password: r.Body.Password, Ends: r.Body.Ends,
		Cover: r.Body.Cover, OutputSize: r.Body.OutputSize, Downloads: r.Body.Downloads, Open: r.Body.Open})
	return api.ChangeGallery200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListTrail(ctx context.Context, _ api.ListTrailRequestObject) (api.ListTrailResponseObject, error) {
	v := viewerOf(ctx)
	entries, err := h.house.Upkeep.Trail(ctx, v)
	return api.ListTrail200JSONResponse(each(entries, trailEntry(v))), err
}

func trailEntry(v *access.Viewer) func(store.TrailEntry) api.TrailEntry {
	return func(e store.TrailEntry) api.TrailEntry {
		return api.TrailEntry{ID: e.ID, By: e.By, At: e.At, Said: e.Said, Undone: e.Undone, Undoable: e.Can, Mine: e.Person == v.Person}
	}
}

func (h *handler) Undo(ctx context.Context, r api.UndoRequestObject) (api.UndoResponseObject, error) {
	d, err := h.house.Upkeep.Undo(ctx, viewerOf(ctx), r.ID)
	return api.Undo200JSONResponse{DoneJSONResponse: done(d)}, err
}
