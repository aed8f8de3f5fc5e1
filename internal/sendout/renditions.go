// Package sendout hands items out: as a ZIP of renditions, and in client galleries.
package sendout

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Service sends items out.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	Media *media.Engine
	Queue *queue.Queue
}

func source(a store.Asset) outputs.Source {
	return outputs.Source{Kind: a.Kind, Size: geometry.Size{Width: a.Width, Height: a.Height}, Focal: geometry.Point{X: a.FocalX, Y: a.FocalY}}
}

// recipe names everything that goes into a rendition besides the original's bytes: whenever one of it changes, another
// file is made.
func recipe(plan outputs.Plan, size outputs.Size, notices media.Notices, turn int) (string, error) {
	size.Name, size.Pattern = "", "" // what a file is called does not change what is in it
	text, err := json.Marshal(struct {
		Plan    outputs.Plan
		Size    outputs.Size
		Notices media.Notices
		Turn    int `json:",omitempty"`
	}{plan, size, notices, turn})
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:12]), err
}

// ensure returns what an output size makes of an item, making it if it was not made before.
func (s *Service) ensure(ctx context.Context, brand int64, a store.Asset, size outputs.Size) (store.Rendition, error) {
	plan, err := outputs.Make(source(a), size)
	if err != nil {
		return store.Rendition{}, err
	}
	notices := media.Notices{Copyright: a.Copyright, Credit: a.Credit}
	key, err := recipe(plan, size, notices, a.Turn)
	if err != nil {
		return store.Rendition{}, err
	}
	if made, err := store.RenditionOf(ctx, s.DB, a.VersionID, key); err != nil || made != nil {
		if err != nil {
			return store.Rendition{}, err
		}
		return *made, nil
	}
	original, err := s.Blobs.LocalSource(ctx, blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String})
	if errors.Is(err, blob.ErrMissing) {
		return store.Rendition{}, &media.Refused{Why: "Its original file is missing from the storage."}
	}
	if err != nil {
		return store.Rendition{}, err
	}
	dir, err := os.MkdirTemp("", "satchel-render-")
	if err != nil {
		return store.Rendition{}, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	extension := outputs.Extension(plan.Format)
	target := filepath.Join(dir, "rendition."+extension)
	if err := s.Media.Render(ctx, original, a.MediaType, a.Turn, target, source(a), plan, size, notices); err != nil {
		return store.Rendition{}, err
	}
	info, err := os.Stat(target)
	if err != nil {
		return store.Rendition{}, err
	}
	made := store.Rendition{Blob: blob.Rendition(a.SHA256, key, extension), Width: plan.Size.Width, Height: plan.Size.Height, Bytes: info.Size()}
	if err := s.Blobs.PutFile(ctx, made.Blob, target); err != nil {
		return store.Rendition{}, err
	}
	return made, s.DB.AddRendition(ctx, brand, a.VersionID, key, made)
}

// names gives the files of items their names by a pattern, all different; with folders, inside of those.
func names(assets []store.Asset, size outputs.Size, plans []outputs.Plan, folders map[int64]string) []string {
	out := make([]string, len(assets))
	for i, a := range assets {
		v := outputs.Values{
			Title: a.Title, FileName: a.FileName, Number: i + 1, Total: len(assets),
			Size: size.Name, Width: plans[i].Size.Width, Height: plans[i].Size.Height,
		}
		if a.Taken.Valid {
			v.Taken = &a.Taken.Time
		}
		format := plans[i].Format
		if format == "" {
			format = size.Format
		}
		out[i] = outputs.Name(size.Pattern, v, format)
		if folder := folders[a.Folder.Int64]; folder != "" {
			out[i] = folder + "/" + out[i]
		}
	}
	return outputs.Unique(out)
}
