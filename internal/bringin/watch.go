package bringin

import (
	"context"
	"database/sql"
	"fmt"
	"io/fs"
	"log/slog"
	"path"
	"strings"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
)

// watchEvery is how often watched folders are looked at, stillFor how long a file there must not have changed, since whoever writes it may
// pause, and stillEmpty how long one may be empty before it is told.
const (
	watchEvery = 3 * time.Second
	stillFor   = 15 * time.Second
	stillEmpty = 2 * time.Minute
)

// watchFolders is the job that looks at the watched folders of all brands.
type watchFolders struct{}

// Kind names the job in the queue.
func (watchFolders) Kind() string { return "watch_folders" }

// Watch begins to bring in what lands in a folder on the server, for the person who asked for it; with existing also what is
// there already.
func (s *Service) Watch(ctx context.Context, v *access.Viewer, serverFolder int64, below string, folder int64, leave,
	existing bool) (store.Done, error) {
	root, below, err := s.serverFolder(ctx, v, serverFolder, below)
	if err != nil {
		return store.Done{}, err
	}
	if _, known := v.Tree[folder]; folder != 0 && !known {
		return store.Done{}, fault.NotFoundf("That folder is not there any more.")
	}
	there, err := landed(root.Path, below)
	if err != nil {
		return store.Done{}, err
	}
	name := watchedName(root.Name, below)
	said := fmt.Sprintf("What lands in “%s” is brought in from now on, with the %s there now", name,
		wording.Count(len(there), "file that is", "files that are"))
	if !existing || len(there) == 0 {
		said = fmt.Sprintf("What lands in “%s” is brought in from now on", name)
	}
	var id int64
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		id, err = intakestore.AddWatchedFolder(ctx, tx, intakestore.WatchedFolder{Brand: v.Brand, ServerFolder: root.ID, Path: below,
			Person: v.Person, Leave: leave, Folder: sql.NullInt64{Int64: folder, Valid: folder != 0}})
		if err != nil || existing {
			return err
		}
		if _, err := intakestore.NoteLanded(ctx, tx, id, there, 0, 0); err != nil {
			return err
		}
		paths := make([]string, len(there))
		for i, f := range there {
			paths[i] = f.Path
		}
		return intakestore.LandedTaken(ctx, tx, id, paths)
	})
	return store.Done{Said: said, Changed: 1, ID: id}, err
}

// landed lists the files in a folder on the server and below it, without hidden ones and those of systems.
func landed(root, below string) ([]intakestore.LandedFile, error) {
	var seen []intakestore.LandedFile
	err := blob.WalkBelow(root, below, func(p string, entry fs.DirEntry) error {
		if arrival.Stray(path.Dir(p), entry.Name()) {
			return skip(entry)
		}
		if entry.IsDir() {
			return nil
		}
		if info, err := entry.Info(); err == nil {
			seen = append(seen, intakestore.LandedFile{Path: p, Bytes: info.Size(), Modified: info.ModTime()})
		}
		return nil
	})
	return seen, err
}

func watchedName(root, below string) string {
	return strings.ReplaceAll(path.Join(root, below), "/", " / ")
}

// LookAtWatched brings in what has landed in watched folders and has not changed for some time. A folder that cannot be
// read now is looked at again the next time.
func (s *Service) LookAtWatched(ctx context.Context, still time.Duration) error {
	watched, err := intakestore.WatchedFolders(ctx, s.DB, 0)
	if err != nil {
		return err
	}
	for _, w := range watched {
		if err := s.lookAt(ctx, w, still); err != nil {
			slog.Warn("a watched folder could not be brought in", "folder", w.Root, "path", w.Path, "error", err)
		}
	}
	return nil
}

func (s *Service) lookAt(ctx context.Context, w intakestore.WatchedFolder, still time.Duration) error {
	seen, err := landed(w.Root, w.Path)
	if err != nil {
		return err
	}
	var ready []string
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		ready, err = intakestore.NoteLanded(ctx, tx, w.ID, seen, still, stillEmpty)
		return err
	})
	if err != nil || len(ready) == 0 {
		return err
	}
	ready = ready[:min(len(ready), MaxFiles)]
	sizes := map[string]int64{}
	for _, f := range seen {
		sizes[f.Path] = f.Bytes
	}
	files := make([]Dropped, len(ready))
	for i, p := range ready {
		folder := strings.Trim(strings.TrimPrefix(strings.TrimPrefix(path.Dir(p), "."), w.Path), "/")
		files[i] = Dropped{Name: path.Base(p), Path: folder, Bytes: sizes[p], Remote: p}
	}
	v, err := peoplestore.LoadViewer(ctx, s.DB, w.Person, w.BrandCode)
	if err != nil {
		return err
	}
	where := from{source: "watched", name: watchedName(w.RootName, w.Path), serverFolder: w.ServerFolder, leave: w.Leave}
	watching := store.ByAgent(ctx, "The watched folder “"+where.name+"”")
	if _, err = s.open(watching, v, Target{Folder: w.Folder.Int64}, where, files, 0, takeJob); err != nil {
		return err
	}
	// Were the process killed before this, the files would be brought in again, and skipped as duplicates.
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.LandedTaken(ctx, tx, w.ID, ready) })
}

// Watched lists the folders that are watched for the brand.
func (s *Service) Watched(ctx context.Context, v *access.Viewer) ([]intakestore.WatchedFolder, error) {
	if !v.May(access.BringIn).All {
		return []intakestore.WatchedFolder{}, nil
	}
	return intakestore.WatchedFolders(ctx, s.DB, v.Brand)
}

// StopWatching no longer brings in what lands in a folder.
func (s *Service) StopWatching(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	if !v.May(access.BringIn).All {
		return store.Done{}, fault.Forbiddenf("Only coordinators and stewards stop watching a folder.")
	}
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.RemoveWatchedFolder(ctx, tx, v.Brand, id) })
	return store.Done{Said: "The folder is not watched any more", Changed: 1}, err
}
