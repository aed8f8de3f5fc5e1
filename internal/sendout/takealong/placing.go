package takealong

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/intakestore"
)

// place checks the folder on the server that a download goes into, and notes it.
func (s *Service) place(ctx context.Context, v *access.Viewer, w Wanted, d *downloadstore.Download) error {
	if !v.May(access.Download).All || !v.May(access.BringIn).All {
		return fault.Forbiddenf("Only coordinators and stewards put files into folders on the server.")
	}
	folder, err := intakestore.ServerFolderByID(ctx, s.DB, v.Brand, w.ServerFolder)
	if err != nil {
		return err
	}
	if !folder.Takes {
		return fault.Invalidf("serverFolder", "Nothing may be put into “%s”. A steward can allow it.", folder.Name)
	}
	d.ServerFolder = sql.NullInt64{Int64: folder.ID, Valid: true}
	d.Place, d.Path = folder.Name, strings.Join(outputs.CleanPath(w.Path), "/")
	if d.Path == "" {
		d.Path = d.Name
	}
	return nil
}

// mostSameNames is how many other files of one name a file gets a number after.
const mostSameNames = 1000

// putDown puts a made file into the folder of a download on the server and returns the name that it has there. Nothing that is there is
// written over: a file of the same name with the same content counts as put down, beside another one it gets a number. What is seen
// there under its name is always whole.
func (s *Service) putDown(ctx context.Context, d downloadstore.Download, name, key string) (string, error) {
	folder, err := intakestore.ServerFolderByID(ctx, s.DB, d.Brand, d.ServerFolder.Int64)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && !folder.Takes {
		return name, &media.Refused{Why: fmt.Sprintf("Nothing may be put into “%s” any more.", d.Place)}
	}
	if err != nil {
		return name, err
	}
	root, err := os.OpenRoot(folder.Path)
	if err != nil {
		return name, cannotPut(d, err)
	}
	defer func() { _ = root.Close() }()
	at := path.Join(d.Path, name)
	if err := root.MkdirAll(path.Dir(at), 0o755); err != nil {
		return name, cannotPut(d, err)
	}
	part := path.Join(path.Dir(at), fmt.Sprintf(".%s-%.12x.part", d.Code, sha256.Sum256([]byte(name))))
	sum, err := s.copyTo(ctx, root, part, key)
	if err != nil {
		return name, cannotPut(d, err)
	}
	defer func() { _ = root.Remove(part) }()
	ending := path.Ext(name)
	for n := 1; n <= mostSameNames; n++ {
		as := name
		if n > 1 {
			as = fmt.Sprintf("%s %d%s", strings.TrimSuffix(name, ending), n, ending)
		}
		target := path.Join(d.Path, as)
		err := linkOrCopy(root, part, target)
		if err == nil {
			return as, nil
		}
		if !errors.Is(err, fs.ErrExist) {
			return name, cannotPut(d, err)
		}
		if there, err := sumOf(root, target); err == nil && bytes.Equal(there, sum) {
			return as, nil
		}
	}
	return name, &media.Refused{Why: "There are too many other files of that name already."}
}

// cannotPut is what is told when the system does not let a file be put down: it is about the folder, and a retry would say the same.
func cannotPut(d downloadstore.Download, err error) error {
	why := "it could not be written to"
	switch {
	case errors.Is(err, fs.ErrPermission):
		why = "the application may not write to it"
	case errors.Is(err, fs.ErrNotExist):
		why = "it is not there any more"
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		return err
	}
	return &media.Refused{Why: fmt.Sprintf("The folder “%s” on the server: %s.", d.Place, why)}
}

// copyTo writes what is stored under a key into a file and returns its SHA-256.
func (s *Service) copyTo(ctx context.Context, root *os.Root, name, key string) (sum []byte, err error) {
	r, err := s.Blobs.Open(ctx, key)
	if err != nil {
		return nil, err
	}
	defer func() { _ = r.Close() }()
	f, err := root.OpenFile(name, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o644)
	if err != nil {
		return nil, err
	}
	h := sha256.New()
	_, err = io.Copy(io.MultiWriter(f, h), r)
	return h.Sum(nil), errors.Join(err, f.Sync(), f.Close())
}

// linkOrCopy gives a file another name that no file has. Where the file system knows no links, it is written under that name.
func linkOrCopy(root *os.Root, from, to string) error {
	err := root.Link(from, to)
	if err == nil || errors.Is(err, fs.ErrExist) {
		return err
	}
	in, err := root.Open(from)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	out, err := root.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o644)
	if err != nil {
		return err
	}
	if _, err = io.Copy(out, in); err != nil {
		_ = out.Close()
		_ = root.Remove(to)
		return err
	}
	return out.Close()
}

func sumOf(root *os.Root, name string) ([]byte, error) {
	f, err := root.Open(name)
	if err != nil {
		return nil, err
	}
	defer func() { _ = f.Close() }()
	h := sha256.New()
	_, err = io.Copy(h, f)
	return h.Sum(nil), err
}
