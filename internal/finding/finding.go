// Package finding answers what is in a sheet and in which order. Everything that shows items asks the Finder interface;
// today SQL answers, and an index can stand behind it without anybody else noticing.
package finding

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
)

// Finder answers queries within what a viewer may look at.
type Finder interface {
	// Sheet returns every matching item in order.
	Sheet(ctx context.Context, v *access.Viewer, q query.Query) ([]store.SheetRow, error)
	// Counts returns how many items wait at each step.
	Counts(ctx context.Context, v *access.Viewer) (store.Counts, error)
}

// SQL is the Finder that asks the database each time.
type SQL struct{ DB *store.DB }

// Sheet implements Finder.
func (f SQL) Sheet(ctx context.Context, v *access.Viewer, q query.Query) ([]store.SheetRow, error) {
	return store.Sheet(ctx, f.DB, v, q)
}

// Counts implements Finder.
func (f SQL) Counts(ctx context.Context, v *access.Viewer) (store.Counts, error) {
	return store.CountAll(ctx, f.DB, v)
}

// Service finds items and reads them.
type Service struct {
	Finder
	DB    *store.DB
	Blobs *blob.Store
	Media *media.Engine
}

// Page returns the key of a page of a document, counted from 0, as a WebP; it is made when it is first looked at.
func (s *Service) Page(ctx context.Context, a store.Asset, page int) (string, error) {
	key := blob.Preview(a.SHA256, fmt.Sprintf("page-%d", page+1), 0)
	if _, err := s.Blobs.Local(ctx, key); err == nil {
		return key, nil
	}
	original, err := s.Blobs.LocalSource(ctx, blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String})
	if err != nil {
		return "", err
	}
	dir, err := os.MkdirTemp("", "satchel-page-")
	if err != nil {
		return "", err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	target := filepath.Join(dir, "page.webp")
	if err := s.Media.Page(ctx, original, a.MediaType, geometry.Size{Width: a.Width, Height: a.Height}, page, target); err != nil {
		return "", err
	}
	return key, s.Blobs.PutFile(ctx, key, target)
}

// Rows reads what tiles show.
func (s *Service) Rows(ctx context.Context, v *access.Viewer, ids []int64) ([]store.AssetRow, error) {
	return store.Rows(ctx, s.DB, v, ids)
}

// Card is one item with all that its card shows.
type Card struct {
	store.Asset
	FolderPath string
	Tags       []store.Tag
	Albums     []store.Album
	Galleries  []string
	Faces      []store.Region
	Origins    []store.Origin
	Stack      []store.AssetRow
	May        []access.Action
}

// Card reads one item.
func (s *Service) Card(ctx context.Context, v *access.Viewer, id int64) (Card, error) {
	asset, err := store.AssetByID(ctx, s.DB, v, id)
	if err != nil {
		return Card{}, err
	}
	card := Card{Asset: asset, May: v.In(asset.Folder.Int64)}
	if asset.Folder.Valid {
		if card.FolderPath, err = store.FolderPath(ctx, s.DB, asset.Folder.Int64); err != nil {
			return Card{}, err
		}
	}
	if card.Tags, err = store.TagsOf(ctx, s.DB, []int64{id}); err != nil {
		return Card{}, err
	}
	if card.Albums, err = store.AlbumsOf(ctx, s.DB, v, id); err != nil {
		return Card{}, err
	}
	if card.Galleries, err = store.GalleriesShowing(ctx, s.DB, id); err != nil {
		return Card{}, err
	}
	if card.Faces, err = store.FacesOf(ctx, s.DB, id); err != nil {
		return Card{}, err
	}
	if card.Origins, err = store.OriginsOf(ctx, s.DB, id); err != nil {
		return Card{}, err
	}
	if asset.Stack.Valid {
		card.Stack, err = store.StackRows(ctx, s.DB, v, asset.Stack.Int64)
	}
	return card, err
}

// Metadata is everything that the file of an item says, as JSON by group and name.
func (s *Service) Metadata(ctx context.Context, v *access.Viewer, id int64) (json.RawMessage, error) {
	if _, err := store.AssetByID(ctx, s.DB, v, id); err != nil {
		return nil, err
	}
	return store.MetadataOf(ctx, s.DB, v.Brand, id)
}
