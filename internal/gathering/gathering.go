// Package gathering collects items without moving them: albums, and the satchel that each person carries.
package gathering

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Service gathers items.
type Service struct{ DB *store.DB }

// Albums lists the albums that the viewer may look at.
func (s *Service) Albums(ctx context.Context, v *access.Viewer) ([]store.Album, error) {
	return store.Albums(ctx, s.DB, v)
}

// Create makes an album, with a selection in it unless sel is nil.
func (s *Service) Create(ctx context.Context, v *access.Viewer, parent int64, name string, sel *query.Selection) (store.Done, error) {
	name = outputs.CleanName(name)
	return s.DB.Act(ctx, v, "create_album", func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := store.AlbumByID(ctx, tx, v, parent); err != nil {
				return store.Done{}, err
			}
		}
		id, err := tx.AddAlbum(ctx, v.Brand, parent, name)
		if err != nil {
			return store.Done{}, err
		}
		done := store.Done{Said: fmt.Sprintf("Made the album “%s”", name), Changed: 1, ID: id}
		if sel == nil {
			return done, nil
		}
		ids, err := store.Select(ctx, tx, v, access.Look, *sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.AddToAlbum(ctx, v.Brand, id, ids)
		done.Said += " with " + query.Items(n)
		return done, err
	})
}

// Change is what can be changed about an album; nil stays as it is. Cover 0 takes the chosen cover away.
type Change struct {
	Name, Description *string
	Cover             *int64
}

// Change renames, describes or covers an album.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c Change) (store.Done, error) {
	return s.inAlbum(ctx, v, id, "change_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		name, description, cover := a.Name, a.Description, a.Chosen.Int64
		if c.Name != nil {
			name = outputs.CleanName(*c.Name)
		}
		if c.Description != nil {
			description = *c.Description
		}
		if c.Cover != nil {
			cover = *c.Cover
		}
		if cover != 0 {
			if _, err := store.Select(ctx, tx, v, access.Look, query.Selection{IDs: []int64{cover}}); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: fmt.Sprintf("Changed the album “%s”", name), Changed: 1}, tx.ChangeAlbum(ctx, id, name, description, cover)
	})
}

// Remove removes an album; its items stay.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.inAlbum(ctx, v, id, "remove_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		said := fmt.Sprintf("Removed the album “%s”; its items stay in the library", a.Name)
		return store.Done{Said: said, Changed: 1}, tx.RemoveAlbum(ctx, id)
	})
}

// Add puts a selection at the end of an album.
func (s *Service) Add(ctx context.Context, v *access.Viewer, id int64, sel query.Selection) (store.Done, error) {
	return s.inAlbum(ctx, v, id, "add_to_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Look, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.AddToAlbum(ctx, v.Brand, id, ids)
		said := fmt.Sprintf("Added %s to %s", query.Items(n), a.Name)
		if here := len(ids) - n; here > 0 {
			said += fmt.Sprintf("; %d were in it already", here)
		}
		return store.Done{Said: said, Changed: n}, err
	})
}

// TakeOut takes a selection out of an album. The items stay in the library.
func (s *Service) TakeOut(ctx context.Context, v *access.Viewer, id int64, sel query.Selection) (store.Done, error) {
	return s.inAlbum(ctx, v, id, "take_out_of_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Look, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.TakeOutOfAlbum(ctx, id, ids)
		return store.Done{Said: fmt.Sprintf("Took %s out of %s", query.Items(n), a.Name), Changed: n}, err
	})
}

// Order moves items of an album before another one, or to the end when before is 0.
func (s *Service) Order(ctx context.Context, v *access.Viewer, id int64, ids []int64, before int64) (store.Done, error) {
	return s.inAlbum(ctx, v, id, "order_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		n, err := tx.OrderAlbum(ctx, id, ids, before)
		return store.Done{Said: fmt.Sprintf("Moved %s within %s", query.Items(n), a.Name), Changed: n}, err
	})
}

func (s *Service) inAlbum(ctx context.Context, v *access.Viewer, id int64, action string, do func(*store.Tx, store.Album) (store.Done, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, action, func(tx *store.Tx) (store.Done, error) {
		a, err := store.AlbumByID(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		return do(tx, a)
	})
}

// Satchel lists what the viewer carries, in order.
func (s *Service) Satchel(ctx context.Context, v *access.Viewer) ([]store.AssetRow, error) {
	ids, err := store.SatchelIDs(ctx, s.DB, v)
	if err != nil {
		return nil, err
	}
	return store.Rows(ctx, s.DB, v, ids)
}

// Carry puts a selection at the end of the viewer's satchel.
func (s *Service) Carry(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.DB.Act(ctx, v, "carry", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Carry, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.AddToSatchel(ctx, v, ids)
		if n == 0 {
			return store.Done{Said: "They are in the satchel already"}, err
		}
		return store.Done{Said: fmt.Sprintf("Put %s in the satchel", query.Items(n)), Changed: n}, err
	})
}

// PutDown takes a selection out of the viewer's satchel.
func (s *Service) PutDown(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.DB.Act(ctx, v, "put_down", func(tx *store.Tx) (store.Done, error) {
		n, err := tx.TakeOutOfSatchel(ctx, v, sel.IDs)
		return store.Done{Said: fmt.Sprintf("Took %s out of the satchel", query.Items(n)), Changed: n}, err
	})
}

// OrderSatchel moves items of the satchel before another one, or to the end when before is 0.
func (s *Service) OrderSatchel(ctx context.Context, v *access.Viewer, ids []int64, before int64) (store.Done, error) {
	if len(ids) == 0 {
		return store.Done{}, fault.Invalidf("ids", "Nothing to move.")
	}
	return s.DB.Act(ctx, v, "order_satchel", func(tx *store.Tx) (store.Done, error) {
		n, err := tx.OrderSatchel(ctx, v, ids, before)
		return store.Done{Said: fmt.Sprintf("Moved %s within the satchel", query.Items(n)), Changed: n}, err
	})
}
