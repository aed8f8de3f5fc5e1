// Package blob is where bytes live: originals under their SHA-256, so that the same bytes are stored once, and what was
// made from them. By default that is a folder on disk.
package blob

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"gocloud.dev/blob"
	"gocloud.dev/blob/fileblob"
	"gocloud.dev/gcerrors"
)

// Store keeps bytes under keys with slashes.
type Store struct {
	bucket *blob.Bucket
	dir    string
}

// Open opens the folder, making it if need be. Writes go to a temporary file in it and appear whole or not at all.
func Open(dir string) (*Store, error) {
	bucket, err := fileblob.OpenBucket(dir, &fileblob.Options{CreateDir: true, NoTempDir: true, Metadata: fileblob.MetadataDontWrite, DirFileMode: 0o700})
	if err != nil {
		return nil, fmt.Errorf("the folder for media: %w", err)
	}
	return &Store{bucket: bucket, dir: dir}, nil
}

// Close releases the store.
func (s *Store) Close() error { return s.bucket.Close() }

// Original is the key of an original.
func Original(sum []byte) string {
	name := hex.EncodeToString(sum)
	return "originals/" + name[:2] + "/" + name
}

// Preview is the key of a preview of an original.
func Preview(sum []byte, size string) string {
	name := hex.EncodeToString(sum)
	return "previews/" + name[:2] + "/" + name + "/" + size + ".webp"
}

// Rendition is the key of what a recipe makes of an original.
func Rendition(sum []byte, recipe, extension string) string {
	name := hex.EncodeToString(sum)
	return "renditions/" + name[:2] + "/" + name + "/" + recipe + "." + extension
}

// PutFile stores a file under a key unless it is there already.
func (s *Store) PutFile(ctx context.Context, key, path string) error {
	there, err := s.bucket.Exists(ctx, key)
	if err != nil || there {
		return err
	}
	file, err := os.Open(path)
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	return s.Put(ctx, key, func(w io.Writer) error {
		_, err := io.Copy(w, file)
		return err
	})
}

// Put stores what write writes. When write fails, nothing is stored.
func (s *Store) Put(ctx context.Context, key string, write func(io.Writer) error) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	w, err := s.bucket.NewWriter(ctx, key, &blob.WriterOptions{ContentType: "application/octet-stream"})
	if err != nil {
		return err
	}
	if err := write(w); err != nil {
		cancel() // closing after this drops what was written
		return errors.Join(err, ignoreCancelled(w.Close()))
	}
	return w.Close()
}

func ignoreCancelled(err error) error {
	if errors.Is(err, context.Canceled) || gcerrors.Code(err) == gcerrors.Canceled {
		return nil
	}
	return err
}

// Reader is stored bytes that can be jumped in.
type Reader interface {
	io.ReadSeekCloser
	Size() int64
	ModTime() time.Time
}

// Open reads what is stored under a key; ErrMissing when nothing is.
func (s *Store) Open(ctx context.Context, key string) (Reader, error) {
	r, err := s.bucket.NewReader(ctx, key, nil)
	if gcerrors.Code(err) == gcerrors.NotFound {
		return nil, ErrMissing
	}
	if err != nil {
		return nil, err
	}
	return r, nil
}

// ErrMissing is returned for a key under which nothing is stored.
var ErrMissing = errors.New("blob: nothing is stored there")

// Local gives the path of a stored file on this machine for programs that need one. It must not be changed.
func (s *Store) Local(ctx context.Context, key string) (string, error) {
	path := filepath.Join(s.dir, filepath.FromSlash(key))
	if _, err := os.Stat(path); err != nil {
		return "", ErrMissing
	}
	return path, ctx.Err()
}

// Sum computes the SHA-256 of a file.
func Sum(path string) ([]byte, error) {
	file, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer func() { _ = file.Close() }()
	hash := sha256.New()
	if _, err := io.Copy(hash, file); err != nil {
		return nil, err
	}
	return hash.Sum(nil), nil
}
