package sendout

import (
	"archive/zip"
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// Wanted is what a person wants to take along: which items, in which output size, named by which pattern ("" takes the
// size's own), in their folders or not.
type Wanted struct {
	Selection   query.Selection
	OutputSize  int64
	Pattern     string
	KeepFolders bool
	// After is a step of the viewer's that must be done before the files are made, or 0.
	After int64
}

// Taken is a download with its files.
type Taken struct {
	store.Download
	Items []store.DownloadItem
}

// Sizes lists the output sizes of the brand.
func (s *Service) Sizes(ctx context.Context, v *access.Viewer) ([]store.OutputSize, error) {
	return store.OutputSizes(ctx, s.DB, v.Brand)
}

// plan works out every file of a download, before any is made.
func (s *Service) plan(ctx context.Context, v *access.Viewer, w Wanted) (store.OutputSize, []store.DownloadItem, error) {
	size, err := store.OutputSizeByID(ctx, s.DB, v.Brand, w.OutputSize)
	if err != nil {
		return size, nil, err
	}
	if w.Pattern != "" {
		size.Pattern = w.Pattern
	}
	if err := outputs.CheckPattern(size.Pattern); err != nil {
		return size, nil, err
	}
	ids, err := store.Select(ctx, s.DB, v, access.Download, w.Selection)
	if err != nil {
		return size, nil, err
	}
	assets, err := store.AssetsIn(ctx, s.DB, v.Brand, ids)
	if err != nil {
		return size, nil, err
	}
	folders := map[int64]string{}
	plans := make([]outputs.Plan, len(assets))
	items := make([]store.DownloadItem, len(assets))
	for i, a := range assets {
		items[i] = store.DownloadItem{Number: i + 1, Asset: a.ID, Item: title(a), State: "waiting"}
		if plans[i], err = outputs.Make(renditions.Source(a), size.Size); err != nil {
			items[i].State, items[i].Why = "failed", "It has no width or height to resize by."
		}
		items[i].Width, items[i].Height = plans[i].Size.Width, plans[i].Size.Height
		if w.KeepFolders && a.Folder.Valid && folders[a.Folder.Int64] == "" {
			path, err := store.FolderPath(ctx, s.DB, v, a.Folder.Int64)
			if err != nil {
				return size, nil, err
			}
			folders[a.Folder.Int64] = strings.Join(outputs.CleanPath(strings.ReplaceAll(path, " / ", "/")), "/")
		}
	}
	for i, name := range names(assets, size.Size, plans, folders) {
		items[i].Name = name
	}
	return size, items, nil
}

func title(a store.Asset) string {
	if a.Title != "" {
		return a.Title
	}
	return a.FileName
}

// Preview says which files a download would have, with their names and dimensions.
func (s *Service) Preview(ctx context.Context, v *access.Viewer, w Wanted) ([]store.DownloadItem, error) {
	_, items, err := s.plan(ctx, v, w)
	return items, err
}

// Take starts making a download.
func (s *Service) Take(ctx context.Context, v *access.Viewer, w Wanted) (Taken, error) {
	size, items, err := s.plan(ctx, v, w)
	if err != nil {
		return Taken{}, err
	}
	if w.After != 0 {
		mine, err := store.StepIsOf(ctx, s.DB, v.Brand, v.Person, w.After)
		if err == nil && !mine {
			err = fault.Invalidf("after", "That is no step of yours.")
		}
		if err != nil {
			return Taken{}, err
		}
	}
	var id int64
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		name := fmt.Sprintf("%s %s %s", v.BrandName, size.Name, time.Now().Format("2006-01-02 1504"))
		id, err = tx.AddDownload(ctx, store.Download{
			Brand: v.Brand, Person: v.Person, SizeID: size.ID, Name: outputs.CleanName(name) + ".zip", Pattern: size.Pattern,
			KeepFolders: w.KeepFolders, After: sql.NullInt64{Int64: w.After, Valid: w.After != 0},
		}, items)
		if err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, makeZIP{Download: id})
	})
	if err != nil {
		return Taken{}, err
	}
	return s.load(ctx, id)
}

func (s *Service) load(ctx context.Context, id int64) (Taken, error) {
	d, err := store.DownloadByID(ctx, s.DB, id)
	if err != nil {
		return Taken{}, err
	}
	items, err := store.DownloadItems(ctx, s.DB, id)
	return Taken{d, items}, err
}

// Downloads lists the viewer's downloads of the last days.
func (s *Service) Downloads(ctx context.Context, v *access.Viewer) ([]Taken, error) {
	rows, err := store.Downloads(ctx, s.DB, v.Brand, v.Person)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(rows))
	out := make([]Taken, len(rows))
	place := map[int64]int{}
	for i, d := range rows {
		ids[i], out[i], place[d.ID] = d.ID, Taken{Download: d}, i
	}
	items, err := store.DownloadItems(ctx, s.DB, ids...)
	for _, item := range items {
		d := &out[place[item.Download]]
		d.Items = append(d.Items, item)
	}
	return out, err
}

// Retry makes again what failed.
func (s *Service) Retry(ctx context.Context, v *access.Viewer, id int64) (Taken, error) {
	d, err := store.DownloadByID(ctx, s.DB, id)
	if err != nil || d.Brand != v.Brand || d.Person != v.Person {
		return Taken{}, fault.NotFoundf("That download is not there any more.")
	}
	if d.State == "making" {
		return Taken{}, fault.Invalidf("id", "It is still being made.")
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.RetryDownload(ctx, id); err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, makeZIP{Download: id})
	})
	if err != nil {
		return Taken{}, err
	}
	return s.load(ctx, id)
}

// Archive opens the ZIP of a download that is ready.
func (s *Service) Archive(ctx context.Context, v *access.Viewer, code string) (store.Download, blob.Reader, error) {
	d, err := store.DownloadByCode(ctx, s.DB, v.Brand, code)
	if err != nil {
		return d, nil, err
	}
	if d.Person != v.Person || d.State != "ready" {
		return d, nil, fault.NotFoundf("That download is not ready, or not yours.")
	}
	r, err := s.Blobs.Open(ctx, archiveKey(d))
	return d, r, err
}

func archiveKey(d store.Download) string { return "downloads/" + d.Code + ".zip" }

// makeZIP is the job that makes the files of a download and packs them.
type makeZIP struct {
	Download int64 `json:"download"`
}

// Kind names the job in the queue.
func (makeZIP) Kind() string { return "make_download" }

// AddJobs makes the job known. It makes what is not made yet; after a crash that is what was left.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[makeZIP]{
		Do:     func(ctx context.Context, job makeZIP) error { return s.makeDownload(ctx, job.Download) },
		GaveUp: s.couldNotMake, Tries: queue.Soon, Queue: queue.Waited,
	})
}

// couldNotMake ends a download, so that it says so and can be tried again: what was not made counts as failed.
func (s *Service) couldNotMake(ctx context.Context, job makeZIP, _ error) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return tx.FailDownload(ctx, job.Download, "Something went wrong on the server. Try again.")
	})
}

func (s *Service) makeDownload(ctx context.Context, id int64) error {
	d, err := store.DownloadByID(ctx, s.DB, id)
	if err != nil || d.State != "making" {
		return err
	}
	if d.After.Valid {
		if goesOn, err := store.StepGoesOn(ctx, s.DB, d.After.Int64); err != nil || goesOn {
			return cmp.Or(err, queue.Later(lookAgain))
		}
	}
	size, err := store.OutputSizeByID(ctx, s.DB, d.Brand, d.SizeID)
	if err != nil {
		return err
	}
	items, err := store.DownloadItems(ctx, s.DB, id)
	if err != nil {
		return err
	}
	if err := s.makeDownloadItems(ctx, d, size.Size, items); err != nil {
		return err
	}
	if !slices.ContainsFunc(items, func(i store.DownloadItem) bool { return i.State == "made" }) {
		return s.DB.FinishDownload(ctx, id, "failed", 0)
	}
	bytes, err := s.pack(ctx, d, items)
	if err != nil {
		return err
	}
	return s.DB.FinishDownload(ctx, id, "ready", bytes)
}

// lookAgain is how long a download waits until it looks again whether what it waits for is done.
const lookAgain = time.Second

// makeDownloadItems makes what is not made yet, as many at a time as pictures are made.
func (s *Service) makeDownloadItems(ctx context.Context, d store.Download, size outputs.Size, items []store.DownloadItem) error {
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(s.Renditions.AtOnce)
	for i := range items {
		if items[i].State == "waiting" {
			group.Go(func() error { return s.makeDownloadItem(ctx, d, size, &items[i]) })
		}
	}
	return group.Wait()
}

func (s *Service) makeDownloadItem(ctx context.Context, d store.Download, size outputs.Size, item *store.DownloadItem) error {
	assets, err := store.AssetsIn(ctx, s.DB, d.Brand, []int64{item.Asset})
	if err != nil {
		return err
	}
	var made store.Rendition
	if len(assets) == 0 {
		err = &media.Refused{Why: "It is not in the library any more."}
	} else {
		made, err = s.ensureAtLast(ctx, d.Brand, assets[0], size)
	}
	var refused *media.Refused
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.As(err, &refused):
		item.State, item.Why = "failed", refused.Why
	case err != nil:
		return err // our own fault, which is tried again
	default:
		item.State, item.Blob, item.Width, item.Height = "made", made.Blob, made.Width, made.Height
	}
	return s.DB.SetDownloadItem(ctx, *item)
}

// ensureAtLast makes a rendition however long that takes, as it may for a film.
func (s *Service) ensureAtLast(ctx context.Context, brand int64, a store.Asset, size outputs.Size) (store.Rendition, error) {
	for {
		made, err := s.Renditions.Ensure(ctx, brand, a, size)
		if !errors.Is(err, renditions.ErrMaking) || ctx.Err() != nil {
			return made, err
		}
	}
}

// pack writes the ZIP. Pictures are packed already, so they are stored and not compressed once more.
func (s *Service) pack(ctx context.Context, d store.Download, items []store.DownloadItem) (int64, error) {
	var counted counter
	err := s.Blobs.Put(ctx, archiveKey(d), func(w io.Writer) error {
		archive := zip.NewWriter(io.MultiWriter(w, &counted))
		for _, item := range items {
			if item.State != "made" {
				continue
			}
			if err := s.packOne(ctx, archive, item.Name, item.Blob); err != nil {
				return err
			}
		}
		return archive.Close()
	})
	return int64(counted), err
}

func (s *Service) packOne(ctx context.Context, archive *zip.Writer, name, key string) error {
	r, err := s.Blobs.Open(ctx, key)
	if err != nil {
		return err
	}
	defer func() { _ = r.Close() }()
	w, err := archive.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: r.ModTime()})
	if err != nil {
		return err
	}
	_, err = io.Copy(w, r)
	return err
}

type counter int64

func (c *counter) Write(p []byte) (int, error) {
	*c += counter(len(p))
	return len(p), nil
}
