package takealong

import (
	"cmp"
	"context"
	"errors"
	"time"

	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/renditionstore"
	"brightsatchel/internal/store/undostore"
)

// makeFiles is the job that works out and makes the files of a download.
type makeFiles struct {
	Download int64 `json:"download"`
}

// Kind names the job in the queue.
func (makeFiles) Kind() string { return "make_download" }

// AddJobs makes the job known. It makes what is not made yet; after a crash that is what was left.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[makeFiles]{
		Do:     func(ctx context.Context, job makeFiles) error { return s.makeDownload(ctx, job.Download) },
		GaveUp: s.couldNotMake, Tries: queue.Soon, Queue: queue.Waited,
	})
}

// couldNotMake ends a download, so that it says so and can be tried again: what was not made counts as failed.
func (s *Service) couldNotMake(ctx context.Context, job makeFiles, _ error) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return downloadstore.FailDownload(ctx, tx, job.Download, "Something went wrong on the server. Try again.")
	})
}

const (
	lookAgain  = time.Second // how long a download waits until it looks again whether what it waits for is done
	madeInARow = 200         // files, after which is asked whether the download was stopped
)

func (s *Service) makeDownload(ctx context.Context, id int64) error {
	d, err := downloadstore.DownloadByID(ctx, s.DB, id)
	if err != nil {
		return err
	}
	if d.After.Valid && d.State == "making" {
		if goesOn, err := undostore.StepGoesOn(ctx, s.DB, d.After.Int64); err != nil || goesOn {
			return cmp.Or(err, queue.Later(lookAgain))
		}
		if d, err = downloadstore.DownloadByID(ctx, s.DB, id); err != nil { // it may have been stopped while it waited
			return err
		}
	}
	if err := s.workOut(ctx, &d); err != nil {
		return err
	}
	sizes, err := downloadstore.OutputSizesByID(ctx, s.DB, d.Brand)
	if err != nil {
		return err
	}
	for after := 0; d.State == "making"; {
		items, err := downloadstore.FilesInState(ctx, s.DB, id, "waiting", after, madeInARow)
		if err != nil {
			return err
		}
		if len(items) == 0 {
			break
		}
		after = items[len(items)-1].Number
		if err := s.makeSome(ctx, d, sizes, items); err != nil {
			return err
		}
		if d, err = downloadstore.DownloadByID(ctx, s.DB, id); err != nil {
			return err
		}
	}
	state := "ready"
	if d.Made == 0 {
		state = "failed"
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return downloadstore.FinishDownload(ctx, tx, id, state) })
}

// workOut works out which files a download has, unless that is done. Only what the person may still take along is made.
func (s *Service) workOut(ctx context.Context, d *downloadstore.Download) error {
	if len(d.Selected) == 0 || d.State != "making" {
		return nil
	}
	v, err := peoplestore.ViewerIn(ctx, s.DB, d.Person, d.Brand)
	if err != nil {
		return err
	}
	sizes, err := s.chosen(ctx, v, d.Sizes)
	if err != nil {
		return err
	}
	files, err := s.plan(ctx, v, *d, sizes, len(d.Selected))
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return downloadstore.PlanDownload(ctx, tx, *d, files) })
}

// makeSome makes files, as many at a time as pictures are made.
func (s *Service) makeSome(ctx context.Context, d downloadstore.Download, sizes map[int64]outputs.Size,
	items []downloadstore.DownloadItem) error {
	ids := make([]int64, len(items))
	for i, item := range items {
		ids[i] = item.Asset
	}
	assets, err := assetstore.AssetsIn(ctx, s.DB, d.Brand, ids)
	if err != nil {
		return err
	}
	byID := make(map[int64]*assetstore.Asset, len(assets))
	for i := range assets {
		byID[assets[i].ID] = &assets[i]
	}
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(s.Renditions.AtOnce)
	for _, item := range items {
		group.Go(func() error {
			if err := s.makeOne(ctx, d, byID[item.Asset], sizes[item.Size], &item); err != nil {
				return err
			}
			return downloadstore.SetDownloadItem(ctx, s.DB, item)
		})
	}
	return group.Wait()
}

// makeOne makes one file, and puts it where it goes.
func (s *Service) makeOne(ctx context.Context, d downloadstore.Download, a *assetstore.Asset, size outputs.Size,
	item *downloadstore.DownloadItem) error {
	var made renditionstore.Rendition
	var err error
	if a == nil || a.Binned.Valid {
		err = &media.Refused{Why: "It is not in the library any more."}
	} else {
		made, err = s.Renditions.EnsureAtLast(ctx, d.Brand, *a, size)
	}
	if err == nil && d.Place != "" {
		item.Name, err = s.putDown(ctx, d, item.Name, made.Blob)
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
		item.State, item.Blob, item.Width, item.Height, item.Bytes = "made", made.Blob, made.Width, made.Height, made.Bytes
		item.Version, item.Recipe = a.VersionID, a.Recipe.Hash()
	}
	return nil
}
