// Package gathering collects items without moving them: albums, and the satchel that each person carries.
package gathering

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
)

// Service gathers items.
type Service struct {
	DB   *store.DB
	acts acts
}

// acts are what is done to selections of items here.
type acts struct {
	fill, add, takeOut *pieces.Registered[inAlbum]
	carry, putDown     *pieces.Registered[struct{}]
}

// New returns the service, with its acts made known.
func New(db *store.DB, many *pieces.Service) *Service {
	return &Service{DB: db, acts: acts{
		fill: pieces.Register(many, fillAct), add: pieces.Register(many, addAct), takeOut: pieces.Register(many, takeOutAct),
		carry: pieces.Register(many, carryAct), putDown: pieces.Register(many, putDownAct),
	}}
}

// inAlbum is the album that items are put into or taken out of, by its name.
type inAlbum struct {
	Album int64  `json:"album"`
	Name  string `json:"name"`
}

// Albums lists the albums that the viewer may look at, with how many items of each they see.
func (s *Service) Albums(ctx context.Context, v *access.Viewer) ([]store.Album, error) {
	return s.DB.Find().Albums(ctx, v)
}

var fillAct = pieces.Act[inAlbum]{
	Name: "create_album", Needs: access.Look,
	Doing: func(n int, a inAlbum) string {
		return fmt.Sprintf("Making the album “%s” with %s", a.Name, wording.Items(n))
	},
	Done: func(n, _ int, a inAlbum) string {
		return fmt.Sprintf("Made the album “%s” with %s", a.Name, wording.Items(n))
	},
	Apply:   addToAlbum,
	Blocked: albumGone,
}

func addToAlbum(ctx context.Context, tx *store.Tx, p pieces.Piece, a inAlbum) (int, error) {
	if !p.Viewer.Can(access.Gather) {
		return 0, fault.Forbiddenf("You may not add to albums.")
	}
	return tx.AddToAlbum(ctx, p.Viewer.Brand, a.Album, p.IDs)
}

// albumGone says so when an act cannot go on because the album has been removed.
func albumGone(err error) string {
	if store.ReferenceGone(err) {
		return "The album has been removed."
	}
	return ""
}

// CreateByRule makes an album that a rule keeps filled.
func (s *Service) CreateByRule(ctx context.Context, v *access.Viewer, parent int64, name string, by query.RuleAlbum) (store.Done, error) {
	name = outputs.CleanName(name)
	return s.DB.Act(ctx, v, fillAct.Name, func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := store.AlbumByID(ctx, tx, v, parent); err != nil {
				return store.Done{}, err
			}
		}
		id, err := tx.AddAlbum(ctx, v.Brand, parent, name)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Made the rule album “%s”", name), Changed: 1, ID: id}, tx.SetAlbumRule(ctx, v.Brand, id, by)
	})
}

// Create makes an album, with a selection in it unless sel is nil.
func (s *Service) Create(ctx context.Context, v *access.Viewer, parent int64, name string, sel *query.Selection) (store.Done, error) {
	name = outputs.CleanName(name)
	var ids []int64
	if sel != nil {
		var err error
		if ids, err = store.Select(ctx, s.DB, v, access.Look, *sel); err != nil {
			return store.Done{}, err
		}
	}
	return s.DB.Act(ctx, v, fillAct.Name, func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := store.AlbumByID(ctx, tx, v, parent); err != nil {
				return store.Done{}, err
			}
		}
		id, err := tx.AddAlbum(ctx, v.Brand, parent, name)
		if err != nil || sel == nil {
			return store.Done{Said: fmt.Sprintf("Made the album “%s”", name), Changed: 1, ID: id}, err
		}
		done, err := s.acts.fill.Within(ctx, tx, v, ids, inAlbum{Album: id, Name: name})
		done.ID = id
		done.Changed = max(1, done.Changed)
		return done, err
	})
}

// Change is what can be changed about an album; nil stays as it is. Cover 0 takes the chosen cover away.
type Change struct {
	Name, Description *string
	Cover             *int64
	Rule              *query.RuleAlbum // only of a rule album
}

// Change renames, describes or covers an album.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c Change) (store.Done, error) {
	return s.with(ctx, v, id, "change_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
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
			if err := store.Reachable(ctx, tx, v, access.Look, []int64{cover}); err != nil {
				return store.Done{}, err
			}
		}
		if c.Rule != nil {
			if a.Kept == nil {
				return store.Done{}, fault.Invalidf("rule", "“%s” is filled by hand. Make another album for the rule.", a.Name)
			}
			if err := tx.SetAlbumRule(ctx, v.Brand, id, *c.Rule); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: fmt.Sprintf("Changed the album “%s”", name), Changed: 1}, tx.ChangeAlbum(ctx, id, name, description, cover)
	})
}

// Remove removes an album; its items stay.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.with(ctx, v, id, "remove_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		said := fmt.Sprintf("Removed the album “%s”; its items stay in the library", a.Name)
		return store.Done{Said: said, Changed: 1}, tx.RemoveAlbum(ctx, id)
	})
}

var addAct = pieces.Act[inAlbum]{
	Name: "add_to_album", Needs: access.Look,
	Doing: func(n int, a inAlbum) string { return fmt.Sprintf("Adding %s to %s", wording.Items(n), a.Name) },
	Done: func(n, of int, a inAlbum) string {
		said := fmt.Sprintf("Added %s to %s", wording.Items(n), a.Name)
		if here := of - n; here > 0 {
			said += fmt.Sprintf("; %d were in it already", here)
		}
		return said
	},
	Apply:   addToAlbum,
	Blocked: albumGone,
}

// Add puts a selection at the end of an album.
func (s *Service) Add(ctx context.Context, v *access.Viewer, id int64, sel query.Selection) (store.Done, error) {
	return s.acts.add.Do(ctx, v, sel, album(ctx, v, id))
}

// album is the argument of what is done to items of an album.
func album(ctx context.Context, v *access.Viewer, id int64) func(*store.Tx) (inAlbum, error) {
	return func(tx *store.Tx) (inAlbum, error) {
		a, err := store.AlbumByID(ctx, tx, v, id)
		return inAlbum{Album: a.ID, Name: a.Name}, err
	}
}

var takeOutAct = pieces.Act[inAlbum]{
	Name: "take_out_of_album", Needs: access.Look,
	Doing: func(n int, a inAlbum) string { return fmt.Sprintf("Taking %s out of %s", wording.Items(n), a.Name) },
	Done:  func(n, _ int, a inAlbum) string { return fmt.Sprintf("Took %s out of %s", wording.Items(n), a.Name) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a inAlbum) (int, error) {
		return tx.TakeOutOfAlbum(ctx, a.Album, p.IDs)
	},
}

// TakeOut takes a selection out of an album. The items stay in the library.
func (s *Service) TakeOut(ctx context.Context, v *access.Viewer, id int64, sel query.Selection) (store.Done, error) {
	return s.acts.takeOut.Do(ctx, v, sel, album(ctx, v, id))
}

// Order moves items of an album before another one, or to the end when before is 0.
func (s *Service) Order(ctx context.Context, v *access.Viewer, id int64, ids []int64, before int64) (store.Done, error) {
	return s.with(ctx, v, id, "order_album", func(tx *store.Tx, a store.Album) (store.Done, error) {
		n, err := tx.OrderAlbum(ctx, id, ids, before)
		return store.Done{Said: fmt.Sprintf("Moved %s within %s", wording.Items(n), a.Name), Changed: n}, err
	})
}

func (s *Service) with(ctx context.Context, v *access.Viewer, id int64, action string,
	do func(*store.Tx, store.Album) (store.Done, error)) (store.Done, error) {
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

var carryAct = pieces.Act[struct{}]{
	Name: "carry", Needs: access.Carry,
	Doing: func(n int, _ struct{}) string { return fmt.Sprintf("Putting %s in the satchel", wording.Items(n)) },
	Done: func(n, _ int, _ struct{}) string {
		if n == 0 {
			return "Already in the satchel"
		}
		return fmt.Sprintf("Put %s in the satchel", wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ struct{}) (int, error) {
		return tx.AddToSatchel(ctx, p.Viewer, p.IDs)
	},
}

// Carry puts a selection at the end of the viewer's satchel.
func (s *Service) Carry(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.acts.carry.Do(ctx, v, sel, pieces.Just(struct{}{}))
}

var putDownAct = pieces.Act[struct{}]{
	Name: "put_down", Needs: access.Carry,
	Doing: func(n int, _ struct{}) string { return fmt.Sprintf("Taking %s out of the satchel", wording.Items(n)) },
	Done:  func(n, _ int, _ struct{}) string { return fmt.Sprintf("Took %s out of the satchel", wording.Items(n)) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ struct{}) (int, error) {
		return tx.TakeOutOfSatchel(ctx, p.Viewer, p.IDs)
	},
}

// PutDown takes a selection out of the viewer's satchel; what they may not look at any more goes out too.
func (s *Service) PutDown(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	if sel.Everything == nil {
		return s.DB.Act(ctx, v, putDownAct.Name, func(tx *store.Tx) (store.Done, error) {
			n, err := tx.TakeOutOfSatchel(ctx, v, sel.IDs)
			return store.Done{Said: putDownAct.Done(n, n, struct{}{}), Changed: n}, err
		})
	}
	ids, err := store.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return store.Done{}, err
	}
	carried, err := store.SatchelIDs(ctx, s.DB, v)
	if err != nil {
		return store.Done{}, err
	}
	meant := make(map[int64]bool, len(ids))
	for _, id := range ids {
		meant[id] = true
	}
	carried = slices.DeleteFunc(carried, func(id int64) bool { return !meant[id] })
	if len(carried) == 0 {
		return store.Done{Said: "None of these items is in the satchel"}, nil
	}
	return s.acts.putDown.Do(ctx, v, query.Selection{IDs: carried}, pieces.Just(struct{}{}))
}

// OrderSatchel moves items of the satchel before another one, or to the end when before is 0.
func (s *Service) OrderSatchel(ctx context.Context, v *access.Viewer, ids []int64, before int64) (store.Done, error) {
	if len(ids) == 0 {
		return store.Done{}, fault.Invalidf("ids", "Nothing to move.")
	}
	return s.DB.Act(ctx, v, "order_satchel", func(tx *store.Tx) (store.Done, error) {
		n, err := tx.OrderSatchel(ctx, v, ids, before)
		return store.Done{Said: fmt.Sprintf("Moved %s within the satchel", wording.Items(n)), Changed: n}, err
	})
}
