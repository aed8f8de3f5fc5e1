// Package gathering collects items without moving them: albums, and the satchel that each person carries.
package gathering

import (
	"context"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
)

// Service gathers items.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	Media *media.Engine
	acts  acts
}

// acts are what is done to selections of items here.
type acts struct {
	fill, takeOut  *pieces.Registered[inAlbum]
	add            *pieces.Registered[inAlbums]
	move           *pieces.Registered[between]
	sort           *pieces.Registered[byFolder]
	carry, putDown *pieces.Registered[struct{}]
}

// New returns the service, with its acts made known.
func New(db *store.DB, blobs *blob.Store, engine *media.Engine, many *pieces.Service) *Service {
	return &Service{DB: db, Blobs: blobs, Media: engine, acts: acts{
		fill: pieces.Register(many, fillAct), add: pieces.Register(many, addAct), takeOut: pieces.Register(many, takeOutAct),
		move: pieces.Register(many, moveAct), sort: pieces.Register(many, byFolderAct),
		carry: pieces.Register(many, carryAct), putDown: pieces.Register(many, putDownAct),
	}}
}

// inAlbum is the album that items are put into or taken out of, by its name.
type inAlbum struct {
	Album int64  `json:"album"`
	Name  string `json:"name"`
}

// Albums lists the albums that the viewer may look at, with how many items of each they see.
func (s *Service) Albums(ctx context.Context, v *access.Viewer) ([]albumstore.Album, error) {
	return findstore.Find(s.DB).Albums(ctx, v)
}

func addToAlbum(ctx context.Context, tx *store.Tx, p pieces.Piece, a inAlbum) (int, error) {
	if !p.Viewer.Can(access.Gather) {
		return 0, fault.Forbiddenf("You may not add to albums.")
	}
	return albumstore.AddToAlbum(ctx, tx, p.Viewer.Brand, a.Album, p.IDs)
}

// albumGone says so when an act cannot go on because the album has been removed.
func albumGone(err error) string {
	if store.ReferenceGone(err) {
		return "The album has been removed."
	}
	return ""
}

func (s *Service) with(ctx context.Context, v *access.Viewer, id int64, action string,
	do func(*store.Tx, albumstore.Album) (store.Done, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, action, func(tx *store.Tx) (store.Done, error) {
		a, err := albumstore.AlbumByID(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		return do(tx, a)
	})
}

// inTree is with for what changes, or takes in, how albums are in each other. The album itself is not kept as it is: nobody else changes
// the tree meanwhile, and within keeps those in it.
func (s *Service) inTree(ctx context.Context, v *access.Viewer, id int64, action string,
	do func(*store.Tx, albumstore.Album) (store.Done, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, action, func(tx *store.Tx) (store.Done, error) {
		if err := albumstore.LockAlbums(ctx, tx, v.Brand); err != nil {
			return store.Done{}, err
		}
		a, err := albumstore.SeenAlbum(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		return do(tx, a)
	})
}
