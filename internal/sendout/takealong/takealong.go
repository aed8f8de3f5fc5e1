package takealong

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/undostore"
)

// Wanted is what a person wants to take along: which items, in which output sizes, named by which pattern ("" takes those of the sizes),
// in their folders or not, numbered in their order or not.
type Wanted struct {
	Selection   query.Selection
	OutputSizes []int64
	Pattern     string
	KeepFolders bool
	Numbered    bool
	// ServerFolder is where the files are put, in the folder Path of it ("" makes one by the name of the download); 0 makes a ZIP.
	ServerFolder int64
	Path         string
	// After is a step of the viewer's that must be done before the files are made, or 0.
	After int64
}

// Limits of a download.
const (
	mostSizes = 12
	mostFiles = 100_000
	mostShown = 200 // files of a preview, and failures that are listed
)

// Taken is a download with those of its files that failed, at most mostShown.
type Taken struct {
	downloadstore.Download
	Failures []downloadstore.DownloadItem
}

// Sizes lists the output sizes of the brand.
func (s *Service) Sizes(ctx context.Context, v *access.Viewer) ([]downloadstore.OutputSize, error) {
	return downloadstore.OutputSizes(ctx, s.DB, v.Brand)
}

// order checks what is wanted and returns the download that it asks for, of which nothing is worked out yet.
func (s *Service) order(ctx context.Context, v *access.Viewer, w Wanted) (downloadstore.Download, []downloadstore.OutputSize, error) {
	d := downloadstore.Download{Brand: v.Brand, Person: v.Person, Pattern: strings.TrimSpace(w.Pattern), KeepFolders: w.KeepFolders,
		Numbered: w.Numbered, After: sql.NullInt64{Int64: w.After, Valid: w.After != 0}}
	sizes, err := s.chosen(ctx, v, w.OutputSizes)
	if err != nil {
		return d, nil, err
	}
	if d.Pattern != "" {
		if err := outputs.CheckPattern(d.Pattern); err != nil {
			return d, nil, err
		}
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Download, w.Selection)
	if err != nil {
		return d, nil, err
	}
	if len(ids)*len(sizes) > mostFiles {
		return d, nil, fault.Invalidf("selection", "These would be %d files; at most %d are taken along at once.", len(ids)*len(sizes), mostFiles)
	}
	for _, size := range sizes {
		d.Sizes, d.SizeNames = append(d.Sizes, size.ID), append(d.SizeNames, size.Name)
	}
	d.Selected, d.Total = ids, len(ids)*len(sizes)
	name := outputs.CleanName(fmt.Sprintf("%s %s %s", v.BrandName, strings.Join(d.SizeNames, ", "), time.Now().Format("2006-01-02 1504")))
	if w.ServerFolder == 0 {
		d.Name = name + ".zip"
		return d, sizes, nil
	}
	d.Name = name
	return d, sizes, s.place(ctx, v, w, &d)
}

// chosen reads output sizes in the order in which they were chosen.
func (s *Service) chosen(ctx context.Context, v *access.Viewer, ids []int64) ([]downloadstore.OutputSize, error) {
	if len(ids) == 0 || len(ids) > mostSizes {
		return nil, fault.Invalidf("outputSizes", "Choose 1 to %d output sizes.", mostSizes)
	}
	all, err := downloadstore.OutputSizes(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	var out []downloadstore.OutputSize
	for _, id := range ids {
		at := slices.IndexFunc(all, func(o downloadstore.OutputSize) bool { return o.ID == id })
		if at < 0 {
			return nil, fault.NotFoundf("That output size is not there any more.")
		}
		out = append(out, all[at])
	}
	return out, nil
}

// plan works out the files of the first items of a download, at most so many.
func (s *Service) plan(ctx context.Context, v *access.Viewer, d downloadstore.Download, sizes []downloadstore.OutputSize,
	most int) ([]downloadstore.DownloadItem,
	error) {
	homes, err := s.homes(ctx, v, d, d.Selected[:min(most, len(d.Selected))])
	if err != nil {
		return nil, err
	}
	var items []outputs.Item
	var assets []assetstore.Asset
	for some := range slices.Chunk(d.Selected[:min(most, len(d.Selected))], 500) {
		found, err := assetstore.AssetsIn(ctx, s.DB, d.Brand, some)
		if err != nil {
			return nil, err
		}
		for _, a := range found {
			item := outputs.Item{Source: renditions.Source(a), Title: a.Title, FileName: a.FileName, Folders: homes(a.Folder.Int64)}
			if a.Taken.Valid {
				item.Taken = &a.Taken.Time
			}
			items, assets = append(items, item), append(assets, a)
		}
	}
	recipes := make([]outputs.Size, len(sizes))
	for i, size := range sizes {
		recipes[i] = size.Size
	}
	how := outputs.Arranging{Pattern: d.Pattern, Folders: d.KeepFolders, Numbered: d.Numbered, Total: len(d.Selected)}
	files := outputs.Arrange(items, recipes, how)
	out := make([]downloadstore.DownloadItem, len(files))
	for i, f := range files {
		a := assets[f.Item]
		out[i] = downloadstore.DownloadItem{Download: d.ID, Number: i + 1, Asset: a.ID, Size: sizes[f.Size].ID, Item: title(a), Name: f.Name,
			Width: f.Plan.Size.Width, Height: f.Plan.Size.Height, State: "waiting"}
		if f.Problem != nil {
			out[i].State, out[i].Why = "failed", "It has no width or height to resize by."
		}
	}
	return out, nil
}

// homes gives the folders of some items by the one that each lives in, the outermost first and as far as the viewer may look at them; with
// their places among their neighbours where the files are numbered.
func (s *Service) homes(ctx context.Context, v *access.Viewer, d downloadstore.Download, items []int64) (func(folder int64) []string,
	error) {
	if !d.KeepFolders {
		return func(int64) []string { return nil }, nil
	}
	var folders []folderstore.Folder
	var err error
	if d.Numbered {
		folders, err = folderstore.Folders(ctx, s.DB, d.Brand) // in order, with their neighbours
	} else {
		folders, err = folderstore.FoldersAbove(ctx, s.DB, d.Brand, items)
	}
	if err != nil {
		return nil, err
	}
	byID, among := map[int64]folderstore.Folder{}, map[int64][]int64{}
	for _, f := range folders {
		byID[f.ID] = f
		among[f.Parent.Int64] = append(among[f.Parent.Int64], f.ID)
	}
	reach := v.May(access.Look)
	var home func(id int64) []string
	home = func(id int64) []string {
		f, known := byID[id]
		if !known || !reach.Folder(id) {
			return nil
		}
		name := outputs.CleanName(f.Name)
		if d.Numbered {
			beside := among[f.Parent.Int64]
			name = outputs.NumberedFolder(name, slices.Index(beside, id)+1, len(beside))
		}
		return append(home(f.Parent.Int64), name)
	}
	return home, nil
}

func title(a assetstore.Asset) string {
	if a.Title != "" {
		return a.Title
	}
	return a.FileName
}

// Preview says how many files a download would have and what the first of them are, with their names and dimensions in pixels.
func (s *Service) Preview(ctx context.Context, v *access.Viewer, w Wanted) (total int, files []downloadstore.DownloadItem, err error) {
	d, sizes, err := s.order(ctx, v, w)
	if err != nil {
		return 0, nil, err
	}
	files, err = s.plan(ctx, v, d, sizes, mostShown/len(sizes))
	return d.Total, files, err
}

// Take starts making a download. The files are worked out and made behind it.
func (s *Service) Take(ctx context.Context, v *access.Viewer, w Wanted) (Taken, error) {
	d, _, err := s.order(ctx, v, w)
	if err != nil {
		return Taken{}, err
	}
	if w.After != 0 {
		mine, err := undostore.StepIsOf(ctx, s.DB, v.Brand, v.Person, w.After)
		if err == nil && !mine {
			err = fault.Invalidf("after", "That is no step of yours.")
		}
		if err != nil {
			return Taken{}, err
		}
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if d.ID, err = downloadstore.AddDownload(ctx, tx, d); err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, makeFiles{Download: d.ID})
	})
	if err != nil {
		return Taken{}, err
	}
	return s.load(ctx, d.ID)
}

func (s *Service) load(ctx context.Context, id int64) (Taken, error) {
	d, err := downloadstore.DownloadByID(ctx, s.DB, id)
	if err != nil {
		return Taken{}, err
	}
	taken, err := s.withFailures(ctx, []downloadstore.Download{d})
	if err != nil {
		return Taken{}, err
	}
	return taken[0], nil
}

func (s *Service) withFailures(ctx context.Context, downloads []downloadstore.Download) ([]Taken, error) {
	out := make([]Taken, len(downloads))
	for i, d := range downloads {
		out[i] = Taken{Download: d}
		if d.Failed > 0 {
			var err error
			if out[i].Failures, err = downloadstore.FilesInState(ctx, s.DB, d.ID, "failed", 0, mostShown); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// Downloads lists the viewer's downloads of the last days.
func (s *Service) Downloads(ctx context.Context, v *access.Viewer) ([]Taken, error) {
	rows, err := downloadstore.Downloads(ctx, s.DB, v.Brand, v.Person)
	if err != nil {
		return nil, err
	}
	return s.withFailures(ctx, rows)
}

// Log lists what anybody took along, the newest first, before an id (0 for the newest).
func (s *Service) Log(ctx context.Context, v *access.Viewer, before int64) ([]downloadstore.Download, error) {
	return downloadstore.AllDownloads(ctx, s.DB, v.Brand, before)
}

// Retry makes again what failed.
func (s *Service) Retry(ctx context.Context, v *access.Viewer, id int64) (Taken, error) {
	d, err := downloadstore.DownloadByID(ctx, s.DB, id)
	if err != nil || d.Brand != v.Brand || d.Person != v.Person {
		return Taken{}, fault.NotFoundf("That download is not there any more.")
	}
	if d.State == "making" {
		return Taken{}, fault.Invalidf("id", "It is still being made.")
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := downloadstore.RetryDownload(ctx, tx, id); err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, makeFiles{Download: id})
	})
	if err != nil {
		return Taken{}, err
	}
	return s.load(ctx, id)
}

// Stop ends a download of the viewer's as far as it is; what is made stays.
func (s *Service) Stop(ctx context.Context, v *access.Viewer, id int64) (Taken, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		stopped, err := downloadstore.StopDownload(ctx, tx, v.Brand, v.Person, id)
		if err == nil && !stopped {
			err = fault.NotFoundf("That download is not being made any more.")
		}
		return err
	})
	if err != nil {
		return Taken{}, err
	}
	return s.load(ctx, id)
}
