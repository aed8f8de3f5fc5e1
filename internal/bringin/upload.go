package bringin

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"path/filepath"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/intakestore"
)

// Arrived notes that all bytes of a file are here and enqueues the job, in one transaction. Telling it twice does nothing.
func (s *Service) Arrived(ctx context.Context, code string) error {
	f, err := intakestore.IntakeFileByCode(ctx, s.DB, code)
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		news, err := intakestore.FileArrived(ctx, tx, f.ID)
		if err != nil || !news {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, takeFile{File: f.ID})
	})
}

// Receive writes the bytes of a file where uploads are kept and notes that they arrived: the way in for files that are on the
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

// DropHalfMade removes what is left of an upload whose server was killed while it noted its beginning: no byte of it has
// arrived then, and it is begun anew.
func (s *Service) DropHalfMade(code string) error {
	path := s.uploadPath(code)
	note, err := os.ReadFile(path + ".info")
	if err != nil || json.Valid(note) {
		return nil // it has not begun, or it has begun well
	}
	return s.clean(path)
}

// Recover looks for uploads that were complete when the server was killed before it could note so.
func (s *Service) Recover(ctx context.Context) error {
	codes, err := intakestore.WaitingFiles(ctx, s.DB)
	if err != nil {
		return err
	}
	for _, code := range codes {
		info, err := os.Stat(s.uploadPath(code))
		if err != nil {
			continue
		}
		f, err := intakestore.IntakeFileByCode(ctx, s.DB, code)
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

// clean removes an upload that has its outcome.
func (s *Service) clean(path string) error {
	for _, p := range []string{path, path + ".info"} {
		if err := os.Remove(p); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}
