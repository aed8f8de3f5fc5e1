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

// Preview is the key of a preview of an original, turned clockwise by so many degrees.
func Preview(sum []byte, size string, turn int) string {
	name := hex.EncodeToString(sum)
	if turn != 0 {
		size = fmt.Sprintf("%s-%d", size, turn)
	}
	return "previews/" + name[:2] + "/" + name + "/" + size + ".webp"
}

// Rendition is the key of what a recipe makes of an original.
func Rendition(sum []byte, recipe, extension string) string {
	name := hex.EncodeToString(sum)
	return "renditions/" + name[:2] + "/" + name + "/" + recipe + "." + extension
}

// Film is the key of the rendition of a clip that browsers play.
func Film(sum []byte) string {
	name := hex.EncodeToString(sum)
	return "previews/" + name[:2] + "/" + name + "/film.mp4"
}

// Source is where the bytes of an original are: in this storage under their sum, or left where they are, at a path below
// a folder on the server.
type Source struct {
	Sum        []byte
	Root, Path string
}

// OpenSource reads an original.
func (s *Store) OpenSource(ctx context.Context, o Source) (Reader, error) {
	if o.Root == "" {
		return s.Open(ctx, Original(o.Sum))
	}
	file, err := OpenBelow(o.Root, o.Path)
	if err != nil {
		return nil, ErrMissing
	}
	info, err := file.Stat()
	if err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return leftFile{file, info}, nil
}

// LocalSource gives the path of an original on this machine for programs that need one. It must not be changed.
func (s *Store) LocalSource(ctx context.Context, o Source) (string, error) {
	if o.Root == "" {
		return s.Local(ctx, Original(o.Sum))
	}
	file, err := OpenBelow(o.Root, o.Path) // proves that no link leads out of the folder
	if err != nil {
		return "", ErrMissing
	}
	return filepath.Join(o.Root, filepath.FromSlash(o.Path)), file.Close()
}

// OpenBelow opens a plain file below a folder. No ".." and no link leads out of the folder.
func OpenBelow(root, path string) (*os.File, error) {
	file, err := os.OpenInRoot(root, filepath.FromSlash(path))
	if err != nil {
		return nil, err
	}
	info, err := file.Stat()
	if err == nil && !info.Mode().IsRegular() {
		err = fmt.Errorf("%s is not a plain file", path)
	}
	if err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return file, nil
}

// leftFile makes a file a Reader.
type leftFile struct {
	*os.File
	info os.FileInfo
}

func (f leftFile) Size() int64        { return f.info.Size() }
func (f leftFile) ModTime() time.Time { return f.info.ModTime() }

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

// RemoveContent removes an original and everything that was made of it.
func (s *Store) RemoveContent(ctx context.Context, sum []byte) error {
	name := hex.EncodeToString(sum)
	keys := []string{Original(sum)}
	for _, made := range []string{"previews/", "renditions/"} {
		list := s.bucket.List(&blob.ListOptions{Prefix: made + name[:2] + "/" + name + "/"})
		for {
			object, err := list.Next(ctx)
			if errors.Is(err, io.EOF) {
				break
			}
			if err != nil {
				return err
			}
			keys = append(keys, object.Key)
		}
	}
	for _, key := range keys {
		if err := s.bucket.Delete(ctx, key); err != nil && gcerrors.Code(err) != gcerrors.NotFound {
			return err
		}
	}
	return nil
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
