package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store/downloadstore"
)

func wanted(d *api.NewDownload) takealong.Wanted {
	return takealong.Wanted{Selection: selectionOf(d.Selection), OutputSizes: d.OutputSizes, Pattern: value(d.Pattern),
		KeepFolders: value(d.KeepFolders), Numbered: value(d.Numbered), ServerFolder: value(d.ServerFolder), Path: value(d.Path),
		After: value(d.After)}
}

func (h *handler) ListDownloads(ctx context.Context, _ api.ListDownloadsRequestObject) (api.ListDownloadsResponseObject, error) {
	taken, err := h.house.TakeAlong.Downloads(ctx, viewerOf(ctx))
	return api.ListDownloads200JSONResponse(each(taken, download)), err
}

func (h *handler) CreateDownload(ctx context.Context, r api.CreateDownloadRequestObject) (api.CreateDownloadResponseObject, error) {
	t, err := h.house.TakeAlong.Take(ctx, viewerOf(ctx), wanted(r.Body))
	return api.CreateDownload200JSONResponse(download(t)), err
}

func (h *handler) PreviewDownload(ctx context.Context, r api.PreviewDownloadRequestObject) (api.PreviewDownloadResponseObject, error) {
	total, files, err := h.house.TakeAlong.Preview(ctx, viewerOf(ctx), wanted(r.Body))
	return api.PreviewDownload200JSONResponse{Total: total, Files: each(files, downloadFile)}, err
}

func (h *handler) RetryDownload(ctx context.Context, r api.RetryDownloadRequestObject) (api.RetryDownloadResponseObject, error) {
	t, err := h.house.TakeAlong.Retry(ctx, viewerOf(ctx), r.ID)
	return api.RetryDownload200JSONResponse(download(t)), err
}

func (h *handler) StopDownload(ctx context.Context, r api.StopDownloadRequestObject) (api.StopDownloadResponseObject, error) {
	t, err := h.house.TakeAlong.Stop(ctx, viewerOf(ctx), r.ID)
	return api.StopDownload200JSONResponse(download(t)), err
}

func (h *handler) ListTakenAlong(ctx context.Context, r api.ListTakenAlongRequestObject) (api.ListTakenAlongResponseObject, error) {
	taken, err := h.house.TakeAlong.Log(ctx, viewerOf(ctx), value(r.Params.Before))
	return api.ListTakenAlong200JSONResponse(each(taken, func(d downloadstore.Download) api.TakenAlong {
		return api.TakenAlong{ID: d.ID, By: d.By, Name: d.Name, OutputSizes: d.SizeNames, Place: d.Place, Path: d.Path,
			State: api.DownloadState(d.State), Total: d.Total, Made: d.Made, Failed: d.Failed, Bytes: nullInt(d.Bytes), Started: d.Started,
			Finished: moment(d.Finished)}
	})), err
}

func (h *handler) CheckSelection(ctx context.Context, r api.CheckSelectionRequestObject) (api.CheckSelectionResponseObject, error) {
	c, err := h.house.TakeAlong.Check(ctx, viewerOf(ctx), selectionOf(*r.Body))
	return api.CheckSelection200JSONResponse(sendingCheck(c)), err
}

func (h *handler) CheckGallery(ctx context.Context, r api.CheckGalleryRequestObject) (api.CheckGalleryResponseObject, error) {
	c, err := h.house.Hosting.CheckGallery(ctx, viewerOf(ctx), r.ID)
	return api.CheckGallery200JSONResponse(sendingCheck(c)), err
}

// mostAgainst is how many of the items that something is said against are told by their ids.
const mostAgainst = 2000

func sendingCheck(c leaving.Checked) api.SendingCheck {
	return api.SendingCheck{Items: c.Items, Fine: c.Fine, Against: each(c.Against, func(a leaving.Against) api.AgainstSending {
		return api.AgainstSending{Reason: api.SendingReason(a.Reason), Hinders: a.Hinders, Items: len(a.IDs),
			Ids: a.IDs[:min(mostAgainst, len(a.IDs))]}
	})}
}

func downloadFile(i downloadstore.DownloadItem) api.DownloadFile {
	return api.DownloadFile{ID: i.Asset, Item: i.Item, Name: i.Name, Width: i.Width, Height: i.Height,
		State: api.DownloadFileState(i.State), Why: some(i.Why)}
}

func download(t takealong.Taken) api.Download {
	return api.Download{
		ID: t.ID, Code: t.Code, Name: t.Name, OutputSizes: t.SizeNames, Place: t.Place, Path: t.Path, State: api.DownloadState(t.State),
		Total: t.Total, Made: t.Made, Failed: t.Failed, Bytes: nullInt(t.Bytes), Started: t.Started, Failures: each(t.Failures, downloadFile),
	}
}
