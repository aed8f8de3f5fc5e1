// Package inplace looks after files that were left where they are, in folders on the server: whether they are still there
// and as they were, where they went, and what stands in their place now.
package inplace

import (
	"bytes"
	"context"
	"errors"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
)

// Service looks after files that were left where they are.
type Service struct {
	DB         *store.DB
	Blobs      *blob.Store
	Media      *media.Engine
	Queue      *queue.Queue
	Renditions *renditions.Service
}

// checkEvery is how often the files are looked at.
const checkEvery = time.Minute

// check is the job that looks whether the files are still there and as they were.
type check struct{}

// Kind names the job in the queue.
func (check) Kind() string { return "check_left_files" }

// AddJobs makes the job known.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[check]{
		Do:     func(ctx context.Context, _ check) error { return s.Check(ctx) },
		GaveUp: queue.Nothing[check], Tries: queue.Once, Queue: queue.Waited, Priority: 4, Alone: true,
	})
	s.Queue.Regularly(checkEvery, true, check{})
}

// Check notes which files that were left where they are have gone or changed since, and which are back.
func (s *Service) Check(ctx context.Context) error {
	for after := int64(0); ; {
		files, err := intakestore.LeftFiles(ctx, s.DB, after)
		if err != nil || len(files) == 0 {
			return err
		}
		for _, f := range files {
			after = f.Version
			if state := leftState(f); state != f.State {
				if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.SetLeftState(ctx, tx, f.Version, state) }); err != nil {
					return err
				}
			}
		}
	}
}

// leftState compares a file with what it was; its bytes are only read when its size is the same and its time is not.
func leftState(f intakestore.LeftFile) string {
	file, err := blob.OpenBelow(f.Root, f.Path)
	if err != nil {
		return "missing"
	}
	defer func() { _ = file.Close() }()
	info, err := file.Stat()
	switch {
	case err != nil:
		return "missing"
	case info.Size() != f.Bytes:
		return "changed"
	case info.ModTime().Sub(f.Modified).Abs() < time.Millisecond: // the database keeps microseconds
		return ""
	}
	sum, err := blob.Sum(filepath.Join(f.Root, filepath.FromSlash(f.Path)))
	if err != nil || !bytes.Equal(sum, f.SHA256) {
		return "changed"
	}
	return ""
}

// Find looks for the file of an item, by its content, in all folders on the server that the brand may bring in from.
func (s *Service) Find(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	asset, err := s.leftAsset(ctx, v, id)
	if err != nil {
		return store.Done{}, err
	}
	roots, err := intakestore.ServerFolders(ctx, s.DB, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	for _, root := range roots {
		found, info, err := findBySum(root.Path, asset.Bytes, asset.SHA256)
		if err != nil || found == "" {
			continue // a folder that is away now may not keep us from looking in the others
		}
		return s.DB.Act(ctx, v, "find_left", func(tx *store.Tx) (store.Done, error) {
			to := assetstore.Left{ServerFolder: root.ID, Path: found, Modified: info.ModTime()}
			return store.Done{Said: "Found “" + asset.FileName + "” in “" +
					strings.ReplaceAll(path.Join(root.Name, path.Dir(found)), "/", " / ") + "”", Changed: 1},
				intakestore.MoveLeft(ctx, tx, asset.VersionID, to)
		})
	}
	return store.Done{}, fault.NotFoundf("A file with the content of “%s” is in none of the folders on the server. Its previews are "+
		"still here.", asset.FileName)
}

func (s *Service) leftAsset(ctx context.Context, v *access.Viewer, id int64) (assetstore.Asset, error) {
	asset, err := assetstore.AssetByID(ctx, s.DB, v, id)
	switch {
	case err != nil:
		return asset, err
	case !v.May(access.Describe).Folder(asset.Folder.Int64):
		return asset, fault.Forbiddenf("You may look at this item, and not change it.")
	case !asset.LeftAt.Valid:
		return asset, fault.Invalidf("id", "The file of this item is in the library's own storage.")
	}
	return asset, nil
}

func findBySum(root string, size int64, sum []byte) (found string, info fs.FileInfo, err error) {
	err = blob.WalkBelow(root, "", func(p string, entry fs.DirEntry) error {
		if entry.IsDir() {
			return nil
		}
		i, err := entry.Info()
		if err != nil || i.Size() != size {
			return nil
		}
		got, err := blob.Sum(filepath.Join(root, filepath.FromSlash(p)))
		if err != nil || !bytes.Equal(got, sum) {
			return nil
		}
		found, info = p, i
		return blob.ErrEnough
	})
	return found, info, err
}

// TakeChanged makes what now stands in the place of a file that was left there the newest version of its item.
func (s *Service) TakeChanged(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	asset, err := s.leftAsset(ctx, v, id)
	if err != nil {
		return store.Done{}, err
	}
	source, err := s.Blobs.LocalSource(ctx, blob.Source{Sum: asset.SHA256, Root: asset.LeftRoot.String, Path: asset.LeftAt.String})
	if err != nil {
		return store.Done{}, fault.NotFoundf("“%s” is not where it was left. Look for it first.", asset.FileName)
	}
	work, err := os.MkdirTemp("", "satchel-work-changed-")
	if err != nil {
		return store.Done{}, err
	}
	defer func() { _ = os.RemoveAll(work) }()
	info, err := os.Stat(source)
	if err != nil {
		return store.Done{}, err
	}
	sum, err := blob.Sum(source)
	if err != nil {
		return store.Done{}, err
	}
	facts, previews, err := s.Media.Read(ctx, source, work, asset.Recipe.Recipe)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return store.Done{}, fault.Invalidf("file", "“%s” cannot be taken. %s The version that is here stays.", asset.FileName, refused.Why)
	}
	if err != nil {
		return store.Done{}, err
	}
	if err := s.Renditions.Keep(ctx, sum, facts.Recipe, previews); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "take_changed", func(tx *store.Tx) (store.Done, error) {
		folder, err := intakestore.LeftFolder(ctx, tx, asset.VersionID)
		if err != nil {
			return store.Done{}, err
		}
		file := renditions.File(asset.FileName, info.Size(), sum, facts,
			&assetstore.Left{ServerFolder: folder, Path: asset.LeftAt.String, Modified: info.ModTime()})
		if _, err := assetstore.AddVersion(ctx, tx, v.Brand, id, file); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: "The changed file is the newest version of “" + asset.FileName + "”", Changed: 1},
			s.Queue.Enqueue(ctx, tx, looking.Look{Brand: v.Brand, Asset: id})
	})
}
