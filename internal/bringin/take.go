package bringin

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"syscall"

	"github.com/riverqueue/river"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// TakeArgs is the job that makes an item of a file that has arrived.
type TakeArgs struct {
	File int64 `json:"file"`
}

// Kind names the job in the queue.
func (TakeArgs) Kind() string { return "bring_in_file" }

// Taker does the job.
type Taker struct {
	river.WorkerDefaults[TakeArgs]
	Service *Service
}

// Work takes one file. A file that still fails at the last try is refused, so that the numbers add up.
func (t *Taker) Work(ctx context.Context, job *river.Job[TakeArgs]) error {
	err := t.Service.take(ctx, job.Args.File)
	if err == nil || ctx.Err() != nil || job.Attempt < queue.Attempts {
		return err
	}
	slog.Error("a file could not be taken", "file", job.Args.File, "error", err)
	why := "Something went wrong on the server. The file on your computer is untouched; bring it in again."
	if errors.Is(err, syscall.ENOSPC) {
		why = "The disk of the server is full. Nothing of this file was kept; bring it in again when there is room."
	}
	f, loadErr := store.IntakeFileByID(ctx, t.Service.DB, job.Args.File)
	if loadErr != nil {
		return loadErr
	}
	return t.Service.settle(ctx, f, "refused", why, 0)
}

// Arrived notes that all bytes of a file are here and enqueues the job, in one transaction. Telling it twice does nothing.
func (s *Service) Arrived(ctx context.Context, code string) error {
	f, err := store.IntakeFileByCode(ctx, s.DB, code)
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		news, err := tx.FileArrived(ctx, f.ID)
		if err != nil || !news {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, TakeArgs{File: f.ID})
	})
}

// Receive writes the bytes of a file where uploads lie and notes that they arrived: the way in for files that are on the
// server already.
func (s *Service) Receive(ctx context.Context, code string, from io.Reader) error {
	target, err := os.Create(s.uploadPath(code))
	if err != nil {
		return err
	}
	_, err = io.Copy(target, from)
	if err = errors.Join(err, target.Close()); err != nil {
		return err
	}
	return s.Arrived(ctx, code)
}

// Recover looks for uploads that were complete when the server was killed before it could note so.
func (s *Service) Recover(ctx context.Context) error {
	codes, err := store.WaitingFiles(ctx, s.DB)
	if err != nil {
		return err
	}
	for _, code := range codes {
		info, err := os.Stat(s.uploadPath(code))
		if err != nil {
			continue
		}
		f, err := store.IntakeFileByCode(ctx, s.DB, code)
		if err != nil {
			return err
		}
		if info.Size() == f.Bytes {
			if err := s.Arrived(ctx, code); err != nil {
				return err
			}
		}
	}
	return nil
}

func (s *Service) uploadPath(code string) string {
	return filepath.Join(s.Uploads, filepath.Base(code))
}

// take reads a file, stores its bytes and previews, and makes the item. Bytes are stored before the row that names them,
// under their own sum, so that doing it again after a crash finds or overwrites the same things.
func (s *Service) take(ctx context.Context, id int64) error {
	f, err := store.IntakeFileByID(ctx, s.DB, id)
	if err != nil {
		return err
	}
	path := s.uploadPath(f.Code)
	if f.State != "arrived" {
		return s.clean(path)
	}
	in, err := store.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	sum, err := blob.Sum(path)
	if err != nil {
		return err
	}
	if existing, title, binned, err := store.SameContent(ctx, s.DB, in.Brand, sum); err != nil {
		return err
	} else if existing != 0 {
		return s.settle(ctx, f, "skipped", duplicateOf(title, binned), existing)
	}
	work, err := os.MkdirTemp("", "satchel-take-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(work) }()
	facts, previews, err := s.Media.Read(ctx, path, work)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return s.settle(ctx, f, "refused", refused.Why, 0)
	}
	if err != nil {
		return err
	}
	if err := s.keepBytes(ctx, sum, path, previews); err != nil {
		return err
	}
	if err := s.makeItem(ctx, f, in, sum, facts); err != nil {
		return err
	}
	return s.clean(path)
}

func duplicateOf(title string, binned bool) string {
	if binned {
		return fmt.Sprintf("The same picture is in the bin as “%s”. It can be put back from there.", title)
	}
	return fmt.Sprintf("It is here already as “%s”.", title)
}

func (s *Service) keepBytes(ctx context.Context, sum []byte, path string, previews []media.Preview) error {
	for _, p := range previews {
		if err := s.Blobs.PutFile(ctx, blob.Preview(sum, p.Name), p.Path); err != nil {
			return err
		}
	}
	return s.Blobs.PutFile(ctx, blob.Original(sum), path)
}

// makeItem adds the item and settles the file in one transaction. Of two racing files with the same bytes the second
// waits for the first, and is then a duplicate.
func (s *Service) makeItem(ctx context.Context, f store.IntakeFile, in store.Intake, sum []byte, facts media.Facts) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.ContinueTrail(ctx, in.Trail.Int64); err != nil {
			return err
		}
		if err := tx.LockContent(ctx, in.Brand, sum); err != nil {
			return err
		}
		if existing, title, binned, err := store.SameContent(ctx, tx, in.Brand, sum); err != nil || existing != 0 {
			if err == nil {
				_, err = tx.SettleFile(ctx, f, "skipped", duplicateOf(title, binned), existing)
			}
			return err
		}
		folder := in.Folder.Int64
		for part := range strings.SplitSeq(f.Path, "/") {
			if part == "" {
				continue
			}
			var err error
			if folder, _, err = tx.EnsureFolder(ctx, in.Brand, folder, part); err != nil {
				return err
			}
		}
		asset, err := tx.AddAsset(ctx, newAsset(f, in, folder, sum, facts))
		if err != nil {
			return err
		}
		if err := tagWithKeywords(ctx, tx, in.Brand, asset, facts.Says.Keywords); err != nil {
			return err
		}
		if in.Album.Valid {
			if _, err := tx.AddToAlbum(ctx, in.Brand, in.Album.Int64, []int64{asset}); err != nil {
				return err
			}
		}
		_, err = tx.SettleFile(ctx, f, "added", "", asset)
		return err
	})
}

func newAsset(f store.IntakeFile, in store.Intake, folder int64, sum []byte, facts media.Facts) store.NewAsset {
	n := store.NewAsset{
		Brand: in.Brand, Person: in.Person, Folder: folder, Kind: facts.Kind,
		Title: facts.Says.Title, Description: facts.Says.Description, Alt: facts.Says.Alt,
		Credit: facts.Says.Credit, Copyright: facts.Says.Copyright, Stars: facts.Says.Rating,
		Camera: facts.Says.Camera, Lens: facts.Says.Lens, Place: facts.Says.Place,
		FileName: f.Name, MediaType: facts.MediaType, Bytes: f.Bytes, SHA256: sum,
		Width: facts.Size.Width, Height: facts.Size.Height, Seconds: facts.Seconds, Pages: facts.Pages,
		Tint: facts.Tint, Metadata: facts.Raw,
	}
	if facts.Says.Taken != nil {
		n.Taken, n.TakenZone = &facts.Says.Taken.Local, facts.Says.Taken.Zone
	}
	return n
}

// longestKeyword is how long a keyword in a file may be to become a tag, in bytes.
const longestKeyword = 100

func tagWithKeywords(ctx context.Context, tx *store.Tx, brand, asset int64, keywords []string) error {
	var tags []int64
	for _, word := range keywords {
		if len(word) > longestKeyword {
			continue
		}
		tag, err := tx.EnsureTag(ctx, brand, word, "")
		if err != nil {
			return err
		}
		tags = append(tags, tag)
	}
	_, err := tx.AddTags(ctx, brand, []int64{asset}, tags)
	return err
}

func (s *Service) settle(ctx context.Context, f store.IntakeFile, state, why string, asset int64) error {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		_, err := tx.SettleFile(ctx, f, state, why, asset)
		return err
	})
	if err != nil {
		return err
	}
	return s.clean(s.uploadPath(f.Code))
}

// clean removes an upload that has its outcome.
func (s *Service) clean(path string) error {
	for _, p := range []string{path, path + ".info"} {
		if err := os.Remove(p); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}
