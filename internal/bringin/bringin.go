// Package bringin is the first step of the work: files arrive, are looked at, and become items. Every file that was
// dropped ends with exactly one outcome, whatever is killed meanwhile.
package bringin

import (
	"context"
	"fmt"
	"path/filepath"
	"syscall"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// MaxFile is the largest file that is taken, in bytes.
const MaxFile = 4 << 30

// Service brings files in. Uploads is the folder in which uploads in progress lie, under the codes of their files.
type Service struct {
	DB      *store.DB
	Blobs   *blob.Store
	Media   *media.Engine
	Queue   *queue.Queue
	Uploads string
}

// Dropped is a file as it was dropped: its name, the folder path it lay in, and its size in bytes.
type Dropped struct {
	Name, Path string
	Bytes      int64
}

// Batch is an intake with its files.
type Batch struct {
	store.Intake
	Files []store.IntakeFile
}

// Begin opens an intake into a folder (0 is Unfiled) and, if album is not 0, into an album. Files that cannot be taken
// are refused at once; the others wait for their bytes.
func (s *Service) Begin(ctx context.Context, v *access.Viewer, folder, album int64, files []Dropped) (Batch, error) {
	if !v.May(access.BringIn).Folder(folder) {
		return Batch{}, fault.Forbiddenf("You may bring in only where you were granted it. Choose another folder.")
	}
	if album != 0 && !v.Can(access.Gather) {
		return Batch{}, fault.Forbiddenf("You may not add to albums.")
	}
	if err := s.checkRoom(files); err != nil {
		return Batch{}, err
	}
	var id int64
	_, err := s.DB.Act(ctx, v, "bring_in", func(tx *store.Tx) (store.Done, error) {
		target := "Unfiled"
		if folder != 0 {
			f, err := store.FolderByID(ctx, tx, v.Brand, folder)
			if err != nil {
				return store.Done{}, err
			}
			target = f.Name
		}
		if album != 0 {
			if _, err := store.AlbumByID(ctx, tx, v, album); err != nil {
				return store.Done{}, err
			}
		}
		entry, err := tx.TrailEntry(ctx)
		if err != nil {
			return store.Done{}, err
		}
		if id, err = tx.AddIntake(ctx, v.Brand, v.Person, folder, album, entry); err != nil {
			return store.Done{}, err
		}
		for _, f := range files {
			name, path := outputs.CleanName(filepath.Base(f.Name)), joinClean(f.Path)
			if err := tx.AddIntakeFile(ctx, v.Brand, id, name, path, f.Bytes); err != nil {
				return store.Done{}, err
			}
		}
		said := fmt.Sprintf("Brought in %s to %s", count(len(files), "file"), target)
		return store.Done{Said: said, Changed: len(files)}, nil
	})
	if err != nil {
		return Batch{}, err
	}
	if err := s.refuseBySize(ctx, id); err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, id)
}

func joinClean(path string) string {
	joined := ""
	for _, part := range outputs.CleanPath(path) {
		if joined != "" {
			joined += "/"
		}
		joined += part
	}
	return joined
}

// refuseBySize gives empty and oversized files their outcome without their bytes having to travel.
func (s *Service) refuseBySize(ctx context.Context, intake int64) error {
	files, err := store.IntakeFiles(ctx, s.DB, intake)
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		for _, f := range files {
			why := ""
			switch {
			case f.Bytes == 0:
				why = "The file is empty."
			case f.Bytes > MaxFile:
				why = fmt.Sprintf("The file has %d MB; up to %d MB are taken.", f.Bytes>>20, int64(MaxFile)>>20)
			default:
				continue
			}
			if _, err := tx.SettleFile(ctx, f, "refused", why, 0); err != nil {
				return err
			}
		}
		return nil
	})
}

// checkRoom refuses a batch that the disk has no room for, leaving a tenth of what it needs for previews.
func (s *Service) checkRoom(files []Dropped) error {
	var disk syscall.Statfs_t
	if err := syscall.Statfs(s.Uploads, &disk); err != nil {
		return err
	}
	var need int64
	for _, f := range files {
		if f.Bytes <= MaxFile {
			need += f.Bytes
		}
	}
	free := int64(disk.Bavail) * disk.Bsize
	if need+need/10 > free {
		return fault.Invalidf("files", "The disk of the server has room for %d MB, and these files need %d MB. Nothing was brought in.", free>>20, need>>20)
	}
	return nil
}

// Load reads one intake of the viewer's brand.
func (s *Service) Load(ctx context.Context, v *access.Viewer, id int64) (Batch, error) {
	in, err := store.IntakeByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return Batch{}, err
	}
	files, err := store.IntakeFiles(ctx, s.DB, id)
	return Batch{Intake: in, Files: files}, err
}

// List returns the last intakes, newest first.
func (s *Service) List(ctx context.Context, v *access.Viewer) ([]Batch, error) {
	intakes, err := store.Intakes(ctx, s.DB, v, 20)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(intakes))
	batches := make([]Batch, len(intakes))
	place := map[int64]int{}
	for i, in := range intakes {
		ids[i], batches[i], place[in.ID] = in.ID, Batch{Intake: in}, i
	}
	files, err := store.IntakeFiles(ctx, s.DB, ids...)
	for _, f := range files {
		b := &batches[place[f.Intake]]
		b.Files = append(b.Files, f)
	}
	return batches, err
}

// Cancel stops what has not arrived yet; what is in stays.
func (s *Service) Cancel(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	in, err := store.IntakeByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return store.Done{}, err
	}
	if in.Person != v.Person && !v.MayUndo(in.Person) {
		return store.Done{}, fault.Forbiddenf("That is %s's intake.", in.By)
	}
	var n int
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		n, err = tx.CancelIntake(ctx, id)
		return err
	})
	return store.Done{Said: fmt.Sprintf("Cancelled %s. What was in stays.", count(n, "file")), Changed: n}, err
}

// Uploadable says whether the viewer may send bytes for a file, which is so while it waits and the intake is theirs.
func (s *Service) Uploadable(ctx context.Context, v *access.Viewer, code string) (store.IntakeFile, error) {
	f, err := store.IntakeFileByCode(ctx, s.DB, code)
	if err != nil {
		return f, err
	}
	in, err := store.IntakeByID(ctx, s.DB, v.Brand, f.Intake)
	if err != nil {
		return f, err
	}
	if in.Person != v.Person {
		return f, fault.NotFoundf("There is no such upload.")
	}
	return f, nil
}

func count(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return fmt.Sprintf("%d %ss", n, noun)
}
