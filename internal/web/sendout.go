package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
)

func (h *handler) ListOutputSizes(ctx context.Context, _ api.ListOutputSizesRequestObject) (api.ListOutputSizesResponseObject, error) {
	sizes, err := h.house.SendOut.Sizes(ctx, viewerOf(ctx))
	return api.ListOutputSizes200JSONResponse(each(sizes, outputSize)), err
}

func wanted(d *api.NewDownload) sendout.Wanted {
	return sendout.Wanted{Selection: selectionOf(d.Selection), OutputSize: d.OutputSize, Pattern: value(d.Pattern),
		KeepFolders: value(d.KeepFolders), After: value(d.After)}
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

func outputSize(s store.OutputSize) api.OutputSize {
	return api.OutputSize{
		ID: s.ID, Name: s.Name, Width: s.Width, Height: s.Height, Fit: api.OutputSizeFit(s.Fit), Format: api.OutputSizeFormat(s.Format),
		Quality: s.Quality, Metadata: api.OutputSizeMetadata(s.Metadata), Pattern: s.Pattern,
	}
}

func downloadFile(i store.DownloadItem) api.DownloadFile {
	return api.DownloadFile{ID: i.Asset, Item: i.Item, Name: i.Name, Width: i.Width, Height: i.Height,
		State: api.DownloadFileState(i.State), Why: some(i.Why)}
}

func download(t sendout.Taken) api.Download {
	out := api.Download{
		ID: t.ID, Code: t.Code, Name: t.Name, OutputSize: t.SizeName, State: api.DownloadState(t.State), Total: len(t.Items),
		Bytes: nullInt(t.Bytes), Started: t.Started, Files: each(t.Items, downloadFile),
	}
	for _, i := range t.Items {
		switch i.State {
		case "made":
			out.Made++
		case "failed":
			out.Failed++
		}
	}
	return out
}

func gallery(g store.Gallery) api.Gallery {
	return api.Gallery{
		ID: g.ID, Code: g.Code, Title: g.Title, Message: g.Message, Open: g.Open && !g.Ended, HasPassword: g.PasswordHash != "",
		Downloads:  g.Downloads,
		OutputSize: &g.SizeID, Ends: nullString(g.Ends), Album: g.Album, AlbumName: g.AlbumName, Items: g.Items, Cover: cover(g.Cover),
	}
}
