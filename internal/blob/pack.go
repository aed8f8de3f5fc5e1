package blob

import (
	"archive/zip"
	"context"
	"io"
)

// Pack puts what is stored under a key into a ZIP, under a name. It is not pressed: pictures and clips are already.
func (s *Store) Pack(ctx context.Context, archive *zip.Writer, name, key string) error {
	r, err := s.Open(ctx, key)
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
