package bringin

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"io"
	"log/slog"
	"os"
	"sync"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
)

// Files that are copied onto the drive lie beside the uploads, under their codes, until nothing was written at their place for some time;
// then they are brought in, all of a person at a place as one intake.
const (
	driveStill  = 3 * time.Second
	driveEvery  = 2 * time.Second
	mostOfDrive = 1000
	driveKept   = 24 * time.Hour // what was refused, stayed empty, or was left behind by a system
)

// takeFromDrive is the job that brings in what was copied onto the drive.
type takeFromDrive struct{}

// Kind names the job in the queue.
func (takeFromDrive) Kind() string { return "take_from_drive" }

func (s *Service) addDrive() {
	queue.Add(s.Queue, queue.Kind[takeFromDrive]{
		Do:     func(ctx context.Context, _ takeFromDrive) error { return s.TakeFromDrive(ctx, driveStill) },
		GaveUp: queue.Nothing[takeFromDrive], Tries: queue.Once, Queue: queue.Waited, Alone: true,
	})
	s.Queue.Regularly(driveEvery, false, takeFromDrive{})
}

// OnDrive is a file that is being copied onto the drive: where, also as a path there, by which it may be locked; under which name; how
// large it says it is (-1 for unknown); what the brand takes; and the item that it is saved over, or 0.
type OnDrive struct {
	drivestore.DrivePlace
	Limits   arrival.Limits
	Path     string
	Name     string
	Bytes    int64
	Replaces int64
	// Still checks, once all of the file is here, that what it takes the place of is still what it was.
	Still func(ctx context.Context) error
}

// errBroken is returned for a file of which not all arrived.
var errBroken = fault.Invalidf("part", "Only a part of the file arrived. Nothing of it was kept; copy it again.")

// PutOnDrive takes the bytes of a file that is copied onto the drive. All of them are here, or nothing is.
func (s *Service) PutOnDrive(ctx context.Context, v *access.Viewer, to OnDrive, from io.Reader) (drivestore.DriveFile, error) {
	f := drivestore.DriveFile{
		Brand:    v.Brand,
		Person:   v.Person,
		Folder:   to.Folder,
		Album:    to.Album,
		Page:     to.Page,
		Name:     to.Name,
		Code:     rand.Text(),
		Stray:    arrival.LeftBySystem(to.Name),
		Replaces: sql.NullInt64{Int64: to.Replaces, Valid: to.Replaces != 0},
	}
	if to.Bytes > 0 {
		if err := fitsOnDrive(to.Limits, to.Bytes); err != nil {
			return f, err
		}
		if err := s.checkRoom([]Dropped{{Bytes: to.Bytes}}, to.Limits); err != nil {
			return f, fault.Invalidf("room", "%s", fault.Words(err))
		}
	}
	path := s.uploadPath(f.Code)
	var err error
	f.Bytes, err = write(path, io.LimitReader(from, to.Limits.LargestFile+1))
	switch {
	case err != nil && errors.Is(err, io.ErrUnexpectedEOF), err == nil && to.Bytes >= 0 && f.Bytes != to.Bytes:
		err = errBroken
	case err == nil && f.Bytes > 0:
		err = fitsOnDrive(to.Limits, f.Bytes)
	}
	if err == nil {
		err = to.Still(ctx)
	}
	if err != nil {
		return f, errors.Join(err, s.clean(path))
	}
	return s.keepOnDrive(ctx, f, to.Path)
}

// fitsOnDrive says what is against a file of so many bytes: its size, or that there is no room.
func fitsOnDrive(limits arrival.Limits, bytes int64) error {
	why := limits.Check("", bytes)
	switch {
	case why == "":
		return nil
	case bytes > limits.LargestFile:
		return fault.Invalidf("size", "%s", why)
	}
	return fault.Invalidf("room", "%s", why)
}

// keepOnDrive writes a file down whose bytes are here, and drops those that it takes the place of. It returns it as it is on the drive.
func (s *Service) keepOnDrive(ctx context.Context, f drivestore.DriveFile, path string) (drivestore.DriveFile, error) {
	f, dropped, err := drivestore.PutDriveFile(ctx, s.DB, f, path)
	if err != nil {
		return f, errors.Join(err, s.clean(s.uploadPath(f.Code)))
	}
	return f, s.dropUnlessTaken(ctx, dropped)
}

// dropUnlessTaken removes the bytes of a file that is not on the drive any more, unless it is being brought in.
func (s *Service) dropUnlessTaken(ctx context.Context, code string) error {
	if code == "" {
		return nil
	}
	_, err := intakestore.IntakeFileByCode(ctx, s.DB, code)
	var gone *fault.NotFound
	if errors.As(err, &gone) {
		return s.clean(s.uploadPath(code))
	}
	return err
}

// write writes bytes to a new file, which is there when it returns, and says how many they were.
func write(path string, from io.Reader) (int64, error) {
	file, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return 0, err
	}
	buffer := buffers.Get().(*[]byte)
	defer buffers.Put(buffer)
	n, err := io.CopyBuffer(struct{ io.Writer }{file}, struct{ io.Reader }{from}, *buffer)
	return n, errors.Join(err, file.Close())
}

// buffers are what bytes are copied through, one for each file that arrives at a time.
var buffers = sync.Pool{New: func() any {
	buffer := make([]byte, 256<<10)
	return &buffer
}}

// CopyOnDrive makes a second file of one that is on the drive and no item yet.
func (s *Service) CopyOnDrive(ctx context.Context, v *access.Viewer, f drivestore.DriveFile, to OnDrive) error {
	from, err := os.Open(s.uploadPath(f.Code))
	if err != nil {
		return fault.NotFoundf("“%s” has just been brought in. Copy it again.", f.Name)
	}
	defer func() { _ = from.Close() }()
	to.Bytes = f.Bytes
	_, err = s.PutOnDrive(ctx, v, to, from)
	return err
}

// OpenOnDrive reads a file that is on the drive and no item yet.
func (s *Service) OpenOnDrive(f drivestore.DriveFile) (*os.File, error) {
	return os.Open(s.uploadPath(f.Code))
}

// ErrTaken is returned for a file that is being brought in just now.
var ErrTaken = errors.New("the file is being brought in")

// MoveOnDrive puts a file elsewhere that is no item yet, or gives it another name, or puts it in the place of an item. It is ErrTaken where
// the file is being brought in.
func (s *Service) MoveOnDrive(ctx context.Context, f drivestore.DriveFile, to OnDrive) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		n, err := drivestore.MoveDriveFile(ctx, tx, f.ID, to.DrivePlace, to.Name, sql.NullInt64{Int64: to.Replaces, Valid: to.Replaces != 0},
			arrival.LeftBySystem(to.Name))
		if err == nil && n == 0 {
			err = ErrTaken
		}
		return err
	})
}

// RemoveOnDrive removes a file that is no item yet. It is ErrTaken where the file is being brought in.
func (s *Service) RemoveOnDrive(ctx context.Context, f drivestore.DriveFile) error {
	code := ""
	err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		code, err = drivestore.RemoveDriveFile(ctx, tx, f.Brand, f.ID)
		return err
	})
	var gone *fault.NotFound
	if errors.As(err, &gone) {
		return ErrTaken
	}
	if err != nil {
		return err
	}
	return s.dropUnlessTaken(ctx, code)
}

// TakeFromDrive brings in what was copied onto the drive, where nothing was written for so long. A place that cannot be brought in now is
// looked at again the next time.
func (s *Service) TakeFromDrive(ctx context.Context, still time.Duration) error {
	groups, err := drivestore.DriveGroupsReady(ctx, s.DB, still)
	if err != nil {
		return err
	}
	for _, g := range groups {
		if err := s.takeGroup(ctx, g, still); err != nil {
			slog.Warn("what was copied onto the drive could not be brought in", "brand", g.Brand, "folder", g.Folder, "error", err)
		}
	}
	return s.clearDrive(ctx, time.Now().Add(-driveKept))
}

func (s *Service) clearDrive(ctx context.Context, before time.Time) error {
	var codes []string
	err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		codes, err = drivestore.OldDriveFiles(ctx, tx, before)
		return err
	})
	for _, code := range codes {
		err = errors.Join(err, s.dropUnlessTaken(ctx, code))
	}
	return err
}

// errSavedAgain ends the taking of files of which one has other bytes by now.
var errSavedAgain = errors.New("a file was saved again while it was to be taken")

// takeGroup makes an intake of the files of a person at a place. What waits to go to a page, and is an item by now, is left to others.
func (s *Service) takeGroup(ctx context.Context, g drivestore.DriveGroup, still time.Duration) error {
	v, err := peoplestore.ViewerIn(ctx, s.DB, g.Person, g.Brand)
	if err != nil {
		return err
	}
	var files []Dropped
	var ids []int64
	var codes []string
	err = s.DB.InTx(ctx, func(tx *store.Tx) error { // the list only; who takes them is decided below
		files, ids, codes = nil, nil, nil // it may be done again
		found, err := drivestore.TakeDriveFiles(ctx, tx, g, still, mostOfDrive)
		for _, f := range found {
			files = append(files, Dropped{Name: f.Name, Bytes: f.Bytes, Remote: intakestore.FromDrive, code: f.Code, replaces: f.Replaces.Int64})
			ids, codes = append(ids, f.ID), append(codes, f.Code)
		}
		return err
	})
	if err != nil || len(files) == 0 {
		return err
	}
	where := from{source: "drive", name: "the drive", also: func(ctx context.Context, tx *store.Tx) error {
		n, err := drivestore.DriveFilesTaken(ctx, tx, codes)
		if err == nil && n != len(codes) {
			err = errSavedAgain
		}
		return err
	}}
	_, err = s.open(ctx, v, Target{Folder: g.Folder, Album: g.Album}, where, files, 0, takeJob)
	if errors.Is(err, errSavedAgain) {
		return nil // somebody saved one meanwhile; nothing is opened, and all of them are looked at again
	}
	var no *fault.Forbidden
	if errors.As(err, &no) {
		return s.DB.InTx(ctx, func(tx *store.Tx) error { return drivestore.DriveFilesRefused(ctx, tx, ids, no.Text) })
	}
	return err
}

// alsoInAlbum puts an item into the album that a file was copied into which turned out to be that item.
func alsoInAlbum(ctx context.Context, tx *store.Tx, f intakestore.IntakeFile, asset int64) error {
	in, err := intakestore.IntakeFileIntake(ctx, tx, f)
	if err != nil || !in.Album.Valid {
		return err
	}
	_, err = albumstore.AddToAlbum(ctx, tx, in.Brand, in.Album.Int64, []int64{asset})
	return err
}

// PlanOnDrive notes that an item was copied to where it is to be sent from. It needs no bytes.
func (s *Service) PlanOnDrive(ctx context.Context, v *access.Viewer, to OnDrive, asset, size int64) error {
	_, err := s.keepOnDrive(ctx, drivestore.DriveFile{Brand: v.Brand, Person: v.Person, Page: to.Page, Name: to.Name, Code: rand.Text(),
		Bytes: size, Asset: sql.NullInt64{Int64: asset, Valid: true}}, to.Path)
	return err
}

// DropOnDrive removes the bytes of files that are not on the drive any more.
func (s *Service) DropOnDrive(ctx context.Context, codes []string) (err error) {
	for _, code := range codes {
		err = errors.Join(err, s.dropUnlessTaken(ctx, code))
	}
	return err
}
