// Package finding answers what is in a sheet and in which order. Everything that shows items asks the Finder interface;
// today SQL answers, and an index can stand behind it without anybody else noticing.
package finding

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
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
	DB *store.DB
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
	card.Galleries, err = store.GalleriesShowing(ctx, s.DB, id)
	return card, err
}
