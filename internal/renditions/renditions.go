// Package renditions leads from an item, its recipe and an output size to an address and to bytes. Thumbnails, covers,
// downloads, guests and films all ask here. Whatever is asked for is made once, however many wait for it, and found again
// under a key that names everything which makes it what it is.
package renditions

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"golang.org/x/sync/semaphore"
	"golang.org/x/sync/singleflight"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/facestore"
	"brightsatchel/internal/store/renditionstore"
)

// Service makes and finds what is made of items.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	Media *media.Engine
	Queue *queue.Queue
	// AtOnce is how many pictures are being made at a time: one more than are drawn, which goes on while another is stored.
	AtOnce int

	making singleflight.Group
	gate   *semaphore.Weighted // each holds a connection to the database while it makes something
}

// New returns the service, with its jobs made known. So many pictures are drawn at a time.
func New(db *store.DB, blobs *blob.Store, engine *media.Engine, jobs *queue.Queue, atOnce int) *Service {
	s := &Service{DB: db, Blobs: blobs, Media: engine, Queue: jobs, AtOnce: max(1, atOnce) + 1}
	s.gate = semaphore.NewWeighted(int64(s.AtOnce))
	s.addFilms()
	s.addTurning()
	s.addOnArrival()
	return s
}

// Source is what is known of an item that a rendition is made from, as it is shown: after its recipe.
func Source(a assetstore.Asset) outputs.Source {
	return outputs.Source{Kind: a.Kind, Size: geometry.Size{Width: a.Width, Height: a.Height},
		Focal: geometry.Point{X: a.FocalX, Y: a.FocalY}, Focals: a.Focals}
}

// Original is where the bytes of the present version of an item are.
func Original(a assetstore.Asset) blob.Source {
	return blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String}
}

// File is what becomes a version: bytes of a size and sum, with what was found out about them.
func File(name string, bytes int64, sum []byte, facts media.Facts, left *assetstore.Left) assetstore.File {
	return assetstore.File{
		Kind: facts.Kind, FileName: name, MediaType: facts.MediaType, Bytes: bytes, SHA256: sum, Width: facts.Size.Width,
		Height:  facts.Size.Height,
		Seconds: facts.Seconds, Codec: facts.Codec, Pages: facts.Pages, Tint: facts.Tint, Metadata: facts.Raw, Left: left,
	}
}

// key names everything that goes into a rendition besides the original's bytes: whenever one of it changes, another file is
// made. What a file is called does not change what is in it.
func key(plan outputs.Plan, size outputs.Size, says outputs.Says, by recipe.Recipe, moving bool) (string, error) {
	size.ID, size.Name, size.Pattern = 0, "", ""
	if moving {
		size.Mark = outputs.Mark{}
	} else {
		size.ClipSide, size.ClipRate, size.ClipSeconds, size.Quiet, size.ClipFormat = 0, 0, 0, false, ""
	}
	text, err := json.Marshal(struct {
		Plan   outputs.Plan
		Size   outputs.Size
		Says   outputs.Says
		Recipe string `json:",omitempty"`
	}{plan, size, says.Under(size.Metadata), by.Hash()})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:12]), err
}

// wanted is a rendition by its plan and key.
type wanted struct {
	asset assetstore.Asset
	plan  outputs.Plan
	size  outputs.Size
	says  outputs.Says
	by    recipe.Recipe
	key   string
	told  func(part float64) // of a film, how much is made
}

// moving says whether it is a film or an animation, which are made in the queue.
func (w *wanted) moving() bool { return w.asset.Kind == "clip" }

// want works out what an output size makes of an item. It reads more of the database only where more goes into the file than the item
// itself says.
func (s *Service) want(ctx context.Context, a assetstore.Asset, size outputs.Size) (w wanted, err error) {
	w = wanted{asset: a, size: size.For("")}
	if w.plan, err = outputs.Make(Source(a), size); err != nil {
		return w, &media.Refused{Why: "It has no width or height to resize by."}
	}
	if size.Metadata == outputs.Keep {
		w.says, err = facestore.Says(ctx, s.DB, a)
	} else {
		w.says = outputs.Says{Credit: a.Credit, Copyright: a.Copyright, UsageTerms: a.UsageTerms}
	}
	if err != nil {
		return w, err
	}
	if w.by = a.Recipe.Recipe; w.moving() {
		w.by = w.by.Moving().Beginning(a.FileSeconds.Float64, size.ClipSeconds)
		if long := w.by.Long(a.FileSeconds.Float64); size.Animated() && long > outputs.MostAnimated {
			return w, &media.Refused{Why: fmt.Sprintf("It is %.0f seconds long, and an animation has at most %d. Trim it first.", long,
				outputs.MostAnimated)}
		}
	}
	w.key, err = key(w.plan, w.size, w.says, w.by, w.moving())
	return w, err
}

// Ensure returns what an output size makes of an item, making it if it was not made before. A film is made in the queue;
// see Film for how long it is waited for.
func (s *Service) Ensure(ctx context.Context, brand int64, a assetstore.Asset, size outputs.Size) (renditionstore.Rendition, error) {
	w, err := s.want(ctx, a, size)
	if err != nil {
		return renditionstore.Rendition{}, err
	}
	if made, err := renditionstore.RenditionOf(ctx, s.DB, a.VersionID, w.key); err != nil || made != nil {
		if err != nil {
			return renditionstore.Rendition{}, err
		}
		return *made, nil
	}
	if w.moving() {
		return s.waitForFilm(ctx, brand, w)
	}
	return once(ctx, s, a.SHA256, w.key, func(ctx context.Context) (renditionstore.Rendition, error) { return s.ensurePicture(ctx, brand, w) })
}

// once has something made by one of all who ask for it at a time in this process. Whoever leaves does not end it for the
// others.
func once[T any](ctx context.Context, s *Service, sum []byte, name string, make func(context.Context) (T, error)) (T, error) {
	result := s.making.DoChan(hex.EncodeToString(sum)+" "+name, func() (any, error) { return make(context.WithoutCancel(ctx)) })
	select {
	case <-ctx.Done():
		var none T
		return none, ctx.Err()
	case r := <-result:
		made, _ := r.Val.(T)
		return made, r.Err
	}
}

// ensurePicture makes a rendition under a lock that other processes see, unless one of them has made it meanwhile.
func (s *Service) ensurePicture(ctx context.Context, brand int64, w wanted) (renditionstore.Rendition, error) {
	if err := s.gate.Acquire(ctx, 1); err != nil {
		return renditionstore.Rendition{}, err
	}
	defer s.gate.Release(1)
	var made renditionstore.Rendition
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := renditionstore.LockRendition(ctx, tx, w.asset.VersionID, w.key); err != nil {
			return err
		}
		there, err := renditionstore.RenditionOf(ctx, tx, w.asset.VersionID, w.key)
		if err != nil {
			return err
		}
		if there != nil {
			made = *there
			return nil
		}
		if made, err = s.make(ctx, w); err != nil {
			return err
		}
		return renditionstore.AddRendition(ctx, tx, brand, w.asset.VersionID, w.key, made)
	})
	return made, err
}

// make makes the file and stores it.
func (s *Service) make(ctx context.Context, w wanted) (renditionstore.Rendition, error) {
	a, extension := w.asset, outputs.Extension(w.plan.Format)
	made := renditionstore.Rendition{Blob: blob.Rendition(a.SHA256, w.key, extension), Width: w.plan.Size.Width, Height: w.plan.Size.Height}
	mark, err := s.markFile(ctx, w.size.Mark)
	if err != nil {
		return made, err
	}
	err = s.beside(ctx, a, func(original media.Original, dir string) error {
		target := filepath.Join(dir, "rendition."+extension)
		began := time.Now()
		written, err := s.Media.Render(ctx, media.Rendering{Original: original, By: w.by, Source: Source(a), Plan: w.plan, Size: w.size,
			Says: w.says, Told: w.told, MarkFile: mark}, target)
		if err != nil {
			return err
		}
		made.Size, made.Seconds, made.Quality = w.size.ID, time.Since(began).Seconds(), written.Quality
		info, err := os.Stat(target)
		if err != nil {
			return err
		}
		made.Bytes = info.Size()
		return s.Blobs.PutFile(ctx, made.Blob, target)
	})
	return made, err
}

// beside works at the original file of an item in a folder of its own, which is gone afterwards.
func (s *Service) beside(ctx context.Context, a assetstore.Asset, work func(original media.Original, dir string) error) error {
	path, err := s.original(ctx, a)
	if err != nil {
		return err
	}
	original := media.Original{Path: path, MediaType: a.MediaType, Size: a.FileSize(), Seconds: a.FileSeconds.Float64}
	return inFolder(func(dir string) error { return work(original, dir) })
}

// inFolder works in a folder that is gone afterwards. Those that a kill leaves are cleared by their name.
func inFolder(work func(dir string) error) error {
	dir, err := os.MkdirTemp("", "satchel-work-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	return work(dir)
}

func (s *Service) original(ctx context.Context, a assetstore.Asset) (string, error) {
	path, err := s.Blobs.LocalSource(ctx, Original(a))
	if errors.Is(err, blob.ErrMissing) {
		return "", &media.Refused{Why: "Its original file is missing from the storage."}
	}
	return path, err
}
