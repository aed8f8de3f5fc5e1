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
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"gocloud.dev/blob"
	"gocloud.dev/blob/fileblob"
	"gocloud.dev/gcerrors"

	"brightsatchel/internal/core/fault"
)

// Store keeps bytes under keys with slashes.
type Store struct {
	bucket *blob.Bucket
	dir    string
	held   *lru.Cache[string, []byte]
}

// Open opens the folder, making it if need be. Writes go to a temporary file in it and appear whole or not at all.
func Open(dir string) (*Store, error) {
	bucket, err := fileblob.OpenBucket(dir, &fileblob.Options{CreateDir: true, NoTempDir: true, Metadata: fileblob.MetadataDontWrite,
		DirFileMode: 0o700})
	if err != nil {
		return nil, fmt.Errorf("the folder for media: %w", err)
	}
	held, err := lru.New[string, []byte](mostHeld)
	return &Store{bucket: bucket, dir: dir, held: held}, err
}

// Close releases the store.
func (s *Store) Close() error { return s.bucket.Close() }

// Original is the key of an original.
func Original(sum []byte) string {
	name := hex.EncodeToString(sum)
	return "originals/" + name[:2] + "/" + name
}

// Picture is the key of what is shown of an original at a size, made by the recipe of a hash ("" for none).
func Picture(sum []byte, size, recipeHash string) string {
	name := hex.EncodeToString(sum)
	if recipeHash != "" {
		size += "-" + recipeHash
	}
	return "shown/" + name[:2] + "/" + name + "/" + size + ".webp"
}

// OwnCover is the key of what is shown, at a size, of a file that is no original.
func OwnCover(sum []byte, size string) string {
	name := hex.EncodeToString(sum)
	return "covers/" + name[:2] + "/" + name + "/" + size + ".webp"
}

// Rendition is the key of what a recipe makes of an original.
func Rendition(sum []byte, recipe, extension string) string {
	name := hex.EncodeToString(sum)
	return "renditions/" + name[:2] + "/" + name + "/" + recipe + "." + extension
}

// Source is where the bytes of an original are: in this storage under their sum, or left where they are, at a path below
// a folder on the server.
type Source struct {
	Sum        []byte
	Root, Path string
}

// OpenSource reads an original.
func (s *Store) OpenSource(ctx context.Context, o Source) (Reader, error) {
	var file *os.File
	var err error
	if o.Root == "" {
		if file, err = s.OpenFile(Original(o.Sum)); errors.Is(err, ErrMissing) { // it may be stored elsewhere
			return s.Open(ctx, Original(o.Sum))
		}
	} else if file, err = OpenBelow(o.Root, o.Path); err != nil {
		return nil, ErrMissing
	}
	if err != nil {
		return nil, err
	}
	info, err := file.Stat()
	if err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return localFile{file, info}, nil
}

// AsFile is the file of this machine that a reader reads, if it is one: the system can send it by itself.
func AsFile(r io.Reader) (*os.File, bool) {
	switch r := r.(type) {
	case *os.File:
		return r, true
	case localFile:
		return r.File, true
	}
	return nil, false
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
func OpenBelow(root, below string) (*os.File, error) {
	file, err := os.OpenInRoot(root, filepath.FromSlash(below))
	if err != nil {
		return nil, err
	}
	info, err := file.Stat()
	if err == nil && !info.Mode().IsRegular() {
		err = fmt.Errorf("%s is not a plain file", below)
	}
	if err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return file, nil
}

// WalkBelow visits everything below a folder of a root but the folder itself: folders and plain files, no links.
// ErrEnough ends the walk.
func WalkBelow(root, below string, visit func(path string, entry fs.DirEntry) error) error {
	opened, err := os.OpenRoot(root)
	if err != nil {
		return fault.NotFoundf("The folder %s is not there now. Is its disk connected?", filepath.Base(root))
	}
	defer func() { _ = opened.Close() }()
	start := path.Join(".", below)
	err = fs.WalkDir(opened.FS(), start, func(p string, entry fs.DirEntry, err error) error {
		switch {
		case err != nil && p == start:
			return fault.NotFoundf("The folder %s is not there any more.", path.Base(p))
		case err != nil:
			return nil // a folder that cannot be read is passed over
		case p == start || !entry.IsDir() && !entry.Type().IsRegular():
			return nil
		}
		return visit(p, entry)
	})
	if errors.Is(err, ErrEnough) {
		return nil
	}
	return err
}

// ErrEnough ends a walk through a folder.
var ErrEnough = errors.New("blob: enough")

// localFile makes a file of this machine a Reader.
type localFile struct {
	*os.File
	info os.FileInfo
}

func (f localFile) Size() int64        { return f.info.Size() }
func (f localFile) ModTime() time.Time { return f.info.ModTime() }

// PutFile stores a file under a key unless it is there already.
func (s *Store) PutFile(ctx context.Context, key, from string) error {
	there, err := s.bucket.Exists(ctx, key)
	if err != nil || there {
		return err
	}
	file, err := os.Open(from)
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
	defer s.held.Remove(key)
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

// OpenFile opens what is stored under a key as a file of this machine, which the system can send by itself; ErrMissing when
// nothing is, or when it is stored elsewhere.
func (s *Store) OpenFile(key string) (*os.File, error) {
	file, err := os.Open(filepath.Join(s.dir, filepath.FromSlash(key)))
	if errors.Is(err, os.ErrNotExist) {
		return nil, ErrMissing
	}
	return file, err
}

// Local gives the path of a stored file on this machine for programs that need one. It must not be changed.
func (s *Store) Local(ctx context.Context, key string) (string, error) {
	at := filepath.Join(s.dir, filepath.FromSlash(key))
	if _, err := os.Stat(at); err != nil {
		return "", ErrMissing
	}
	return at, ctx.Err()
}

// RemoveContent removes an original and everything that was made of it. What is shown was under previews/ as long as it still carried
// what the file said of its maker and place; that is never read again.
func (s *Store) RemoveContent(ctx context.Context, sum []byte) error {
	name := hex.EncodeToString(sum)
	keys := []string{Original(sum)}
	for _, made := range []string{"previews/", "shown/", "renditions/"} {
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
		if err := s.remove(ctx, key); err != nil {
			return err
		}
	}
	return nil
}

// remove removes what is stored under a key, if anything is.
func (s *Store) remove(ctx context.Context, key string) error {
	defer s.held.Remove(key)
	if err := s.bucket.Delete(ctx, key); err != nil && gcerrors.Code(err) != gcerrors.NotFound {
		return err
	}
	return nil
}

// RemoveMade removes one file that was made of an original, if it is there.
func (s *Store) RemoveMade(ctx context.Context, key string) error {
	if !strings.HasPrefix(key, "renditions/") {
		return fmt.Errorf("%q was not made of anything", key)
	}
	return s.remove(ctx, key)
}

// RemovePictures removes what is shown of an original by recipes of which some are not wanted any more.
func (s *Store) RemovePictures(ctx context.Context, sum []byte, unwanted func(recipeHash string) bool) error {
	prefix := strings.TrimSuffix(Picture(sum, "", ""), ".webp")
	for list := s.bucket.List(&blob.ListOptions{Prefix: prefix}); ; {
		found, err := list.Next(ctx)
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		name := strings.TrimSuffix(path.Base(found.Key), ".webp")
		cut := strings.LastIndex(name, "-")
		if cut < 0 || len(name)-cut-1 != recipeLength || !unwanted(name[cut+1:]) {
			continue
		}
		if err := s.remove(ctx, found.Key); err != nil {
			return err
		}
	}
}

// recipeLength is how long the hash of a recipe is; nothing else at the end of a name is.
const recipeLength = 12

// ClearUnfinished removes files that were being written before a time and never were whole, and returns how many.
func (s *Store) ClearUnfinished(ctx context.Context, before time.Time) (n int, err error) {
	err = filepath.WalkDir(s.dir, func(at string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !strings.HasSuffix(entry.Name(), ".tmp") {
			return ctx.Err()
		}
		info, err := entry.Info()
		if err != nil || info.ModTime().After(before) {
			return nil
		}
		if err := os.Remove(at); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
		n++
		return nil
	})
	return n, err
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
