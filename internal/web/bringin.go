package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/store/intakestore"
)

func (h *handler) ListIntakes(ctx context.Context, _ api.ListIntakesRequestObject) (api.ListIntakesResponseObject, error) {
	v := viewerOf(ctx)
	batches, err := h.house.BringIn.List(ctx, v)
	return api.ListIntakes200JSONResponse(each(batches, func(b bringin.Batch) api.Intake { return intake(b, v) })), err
}

func (h *handler) GetIntake(ctx context.Context, r api.GetIntakeRequestObject) (api.GetIntakeResponseObject, error) {
	v := viewerOf(ctx)
	batch, err := h.house.BringIn.Load(ctx, v, r.ID)
	return api.GetIntake200JSONResponse(intake(batch, v)), err
}

func target(folder, album *int64, policy *api.Policy) bringin.Target {
	return bringin.Target{Folder: value(folder), Album: value(album), Policy: arrival.Policy(value(policy))}
}

func (h *handler) CreateIntake(ctx context.Context, r api.CreateIntakeRequestObject) (api.CreateIntakeResponseObject, error) {
	files := each(r.Body.Files, func(f api.DroppedFile) bringin.Dropped {
		return bringin.Dropped{Name: f.Name, Path: value(f.Path), Bytes: f.Bytes}
	})
	v := viewerOf(ctx)
	batch, err := h.house.BringIn.Begin(ctx, v, target(r.Body.Folder, r.Body.Album, r.Body.Policy), files, value(r.Body.LeftOut))
	return api.CreateIntake200JSONResponse(intake(batch, v)), err
}

func (h *handler) ChangeIntake(ctx context.Context, r api.ChangeIntakeRequestObject) (api.ChangeIntakeResponseObject, error) {
	v := viewerOf(ctx)
	change := intakestore.IntakeChange{Paused: r.Body.Paused, Ahead: value(r.Body.Ahead), Folder: r.Body.Folder}
	if r.Body.Policy != nil {
		policy := string(*r.Body.Policy)
		change.Policy = &policy
	}
	batch, err := h.house.BringIn.Change(ctx, v, r.ID, change)
	return api.ChangeIntake200JSONResponse(intake(batch, v)), err
}

func (h *handler) CancelIntake(ctx context.Context, r api.CancelIntakeRequestObject) (api.CancelIntakeResponseObject, error) {
	d, err := h.house.BringIn.Cancel(ctx, viewerOf(ctx), r.ID)
	return api.CancelIntake200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) AnnounceFiles(ctx context.Context, r api.AnnounceFilesRequestObject) (api.AnnounceFilesResponseObject, error) {
	v := viewerOf(ctx)
	batch, err := h.house.BringIn.Announce(ctx, v, r.ID, each(r.Body.Files,
		func(f api.AnnouncedFile) bringin.Announced { return bringin.Announced{Code: f.Code, Sum: f.Sum} }))
	return api.AnnounceFiles200JSONResponse(intake(batch, v)), err
}

func (h *handler) DescribeIntake(ctx context.Context, r api.DescribeIntakeRequestObject) (api.DescribeIntakeResponseObject, error) {
	w := r.Body.Words
	words := arrival.Words{Title: w.Title, Description: w.Description, Alt: w.Alt, Credit: w.Credit, Tags: value(w.Tags),
		People: value(w.People), Album: w.Album}
	if w.Turn != nil {
		turn := int(*w.Turn)
		words.Turn = &turn
	}
	d, err := h.house.BringIn.Describe(ctx, viewerOf(ctx), r.ID, value(r.Body.Codes), words)
	return api.DescribeIntake200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) DecideDuplicate(ctx context.Context, r api.DecideDuplicateRequestObject) (api.DecideDuplicateResponseObject, error) {
	d, err := h.house.BringIn.Decide(ctx, viewerOf(ctx), r.ID, r.Body.Code, arrival.Policy(r.Body.Policy))
	return api.DecideDuplicate200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListIntakeTargets(ctx context.Context, _ api.ListIntakeTargetsRequestObject) (api.ListIntakeTargetsResponseObject,
	error) {
	recent, err := h.house.BringIn.RecentTargets(ctx, viewerOf(ctx))
	return api.ListIntakeTargets200JSONResponse(recent), err
}

func (h *handler) ListServerFolders(ctx context.Context, _ api.ListServerFoldersRequestObject) (api.ListServerFoldersResponseObject,
	error) {
	folders, err := h.house.BringIn.ServerFolders(ctx, viewerOf(ctx))
	return api.ListServerFolders200JSONResponse(each(folders, func(f intakestore.ServerFolder) api.ServerFolder {
		return api.ServerFolder{ID: f.ID, Name: f.Name, Path: f.Path, Takes: f.Takes}
	})), err
}

func (h *handler) AllowServerFolder(ctx context.Context, r api.AllowServerFolderRequestObject) (api.AllowServerFolderResponseObject,
	error) {
	d, err := h.house.BringIn.AllowServerFolder(ctx, viewerOf(ctx), value(r.Body.Name), r.Body.Path)
	return api.AllowServerFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ChangeServerFolder(ctx context.Context, r api.ChangeServerFolderRequestObject) (api.ChangeServerFolderResponseObject,
	error) {
	d, err := h.house.BringIn.SetServerFolderTakes(ctx, viewerOf(ctx), r.ID, r.Body.Takes)
	return api.ChangeServerFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) RemoveServerFolder(ctx context.Context, r api.RemoveServerFolderRequestObject) (api.RemoveServerFolderResponseObject,
	error) {
	d, err := h.house.BringIn.RemoveServerFolder(ctx, viewerOf(ctx), r.ID)
	return api.RemoveServerFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) BrowseServerFolder(ctx context.Context, r api.BrowseServerFolderRequestObject) (api.BrowseServerFolderResponseObject,
	error) {
	l, err := h.house.BringIn.Browse(ctx, viewerOf(ctx), r.ID, value(r.Params.Path))
	return api.BrowseServerFolder200JSONResponse{Path: l.Path, Folders: l.Folders, Files: l.Files, Total: l.Total, Bytes: l.Bytes,
		LeftOut: l.LeftOut}, err
}

func (h *handler) BringInFromServer(ctx context.Context, r api.BringInFromServerRequestObject) (api.BringInFromServerResponseObject,
	error) {
	v := viewerOf(ctx)
	batch, err := h.house.BringIn.BeginFromServer(ctx, v, target(r.Body.Folder, r.Body.Album, r.Body.Policy), r.ID, r.Body.Path,
		value(r.Body.Names), r.Body.Leave)
	return api.BringInFromServer200JSONResponse(intake(batch, v)), err
}

func (h *handler) ListWatchedFolders(ctx context.Context, _ api.ListWatchedFoldersRequestObject) (api.ListWatchedFoldersResponseObject,
	error) {
	watched, err := h.house.BringIn.Watched(ctx, viewerOf(ctx))
	return api.ListWatchedFolders200JSONResponse(each(watched, func(w intakestore.WatchedFolder) api.WatchedFolder {
		return api.WatchedFolder{ID: w.ID, ServerFolder: w.ServerFolder, Name: w.RootName, Path: w.Path, Folder: nullInt(w.Folder),
			FolderName: nullString(w.FolderName), By: w.By, Leave: w.Leave}
	})), err
}

func (h *handler) WatchFolder(ctx context.Context, r api.WatchFolderRequestObject) (api.WatchFolderResponseObject, error) {
	d, err := h.house.BringIn.Watch(ctx, viewerOf(ctx), r.Body.ServerFolder, r.Body.Path, value(r.Body.Folder), r.Body.Leave,
		r.Body.Existing)
	return api.WatchFolder200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) StopWatching(ctx context.Context, r api.StopWatchingRequestObject) (api.StopWatchingResponseObject, error) {
	d, err := h.house.BringIn.StopWatching(ctx, viewerOf(ctx), r.ID)
	return api.StopWatching200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) BringInFromOutlet(ctx context.Context, r api.BringInFromOutletRequestObject) (api.BringInFromOutletResponseObject,
	error) {
	v := viewerOf(ctx)
	batch, err := h.house.BringIn.BeginFromOutlet(ctx, v, target(r.Body.Folder, nil, r.Body.Policy), r.ID, r.Body.Album,
		value(r.Body.Media), value(r.Body.Others))
	return api.BringInFromOutlet200JSONResponse(intake(batch, v)), err
}

func (h *handler) ListTwins(ctx context.Context, r api.ListTwinsRequestObject) (api.ListTwinsResponseObject, error) {
	pairs, err := h.house.BringIn.Twins(ctx, viewerOf(ctx), value(r.Params.Intake))
	return api.ListTwins200JSONResponse(each(pairs, func(p bringin.Pair) api.Twins {
		return api.Twins{Later: assetRow(p.Later.AssetRow), Earlier: assetRow(p.Earlier.AssetRow),
			Differences: each(p.Differences, func(s string) string { return s }), LaterState: p.LaterState}
	})), err
}

func (h *handler) DecideTwins(ctx context.Context, r api.DecideTwinsRequestObject) (api.DecideTwinsResponseObject, error) {
	d, err := h.house.BringIn.DecideTwins(ctx, viewerOf(ctx), r.Body.Later, r.Body.Earlier, string(r.Body.Decision))
	return api.DecideTwins200JSONResponse{DoneJSONResponse: done(d)}, err
}

func limits(l arrival.Limits) api.Limits {
	return api.Limits{LargestFile: l.LargestFile, StorageLimit: l.StorageLimit, Used: &l.Used,
		Kinds: each(l.Kinds, func(k string) api.Kind { return api.Kind(k) })}
}

func (h *handler) GetLimits(ctx context.Context, _ api.GetLimitsRequestObject) (api.GetLimitsResponseObject, error) {
	l, err := h.house.BringIn.Limits(ctx, viewerOf(ctx))
	return api.GetLimits200JSONResponse(limits(l)), err
}

func (h *handler) SetLimits(ctx context.Context, r api.SetLimitsRequestObject) (api.SetLimitsResponseObject, error) {
	l, err := h.house.BringIn.SetLimits(ctx, viewerOf(ctx), arrival.Limits{LargestFile: r.Body.LargestFile,
		StorageLimit: r.Body.StorageLimit,
		Kinds:        each(r.Body.Kinds, func(k api.Kind) string { return string(k) })})
	return api.SetLimits200JSONResponse(limits(l)), err
}

func intake(b bringin.Batch, v *access.Viewer) api.Intake {
	out := api.Intake{
		ID: b.ID, Code: b.Code, By: b.By, Mine: b.Person == v.Person, Started: b.Started, Folder: nullInt(b.Folder),
		FolderName: nullString(b.FolderName),
		Album:      nullInt(b.Album), AlbumName: nullString(b.AlbumName), Source: api.Source(b.Source), SourceName: some(b.SourceName),
		Policy: api.Policy(b.Policy),
		Paused: b.Paused, Trail: nullInt(b.Trail), Total: b.Sums.Dropped, Added: b.Sums.Added, Versions: b.Sums.Versions,
		Skipped: b.Sums.Skipped,
		Refused: b.Sums.Refused, Cancelled: b.Sums.Cancelled, Joined: b.Sums.Joined, LeftOut: b.LeftOut,
		Files: each(b.Files, func(f intakestore.IntakeFile) api.IntakeFile { return intakeFile(f, b.Policy) }),
	}
	if b.Finished.Valid {
		out.Finished = &b.Finished.Time
	}
	if b.Ahead.Valid {
		out.Ahead = &b.Ahead.Time
	}
	return out
}

func intakeFile(f intakestore.IntakeFile, policy string) api.IntakeFile {
	out := api.IntakeFile{
		Code: f.Code, Number: f.Number, Name: f.Name, Path: f.Path, Bytes: max(0, f.Bytes), State: api.IntakeFileState(f.State),
		Why: some(f.Why), Policy: api.Policy(policy),
		Asset: nullInt(f.Asset), AssetCode: nullString(f.AssetCode), AssetVersion: nullString(f.AssetVersion),
		AssetTitle: nullString(f.AssetTitle), Twin: nullInt(f.Twin),
	}
	if f.Policy.Valid {
		out.Policy = api.Policy(f.Policy.String)
	}
	if f.SHA256 != nil {
		yes := true
		out.Announced = &yes
	}
	if f.SidecarOf.Valid {
		yes := true
		out.Sidecar = &yes
	}
	if f.AssetKind.Valid {
		kind := api.Kind(f.AssetKind.String)
		out.AssetKind = &kind
	}
	if f.AssetBinned.Valid {
		out.AssetBinned = &f.AssetBinned.Time
	}
	if w, err := f.Words(); err == nil {
		out.Words = api.Words{Title: w.Title, Description: w.Description, Alt: w.Alt, Credit: w.Credit, Album: w.Album}
		if len(w.Tags) > 0 {
			out.Words.Tags = &w.Tags
		}
		if len(w.People) > 0 {
			out.Words.People = &w.People
		}
		if w.Turn != nil {
			turn := api.WordsTurn(*w.Turn)
			out.Words.Turn = &turn
		}
	}
	return out
}
