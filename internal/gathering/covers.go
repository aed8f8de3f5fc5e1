package gathering

import (
	"context"
	"errors"
	"fmt"
	"os"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
)

// OwnCover gives an album the picture in a file as its cover, without making it an item. Name is what the file is called.
func (s *Service) OwnCover(ctx context.Context, v *access.Viewer, album int64, name, path string) (store.Done, error) {
	if _, err := albumstore.SeenAlbum(ctx, s.DB, v, album); err != nil { // before anything is worked out for it
		return store.Done{}, err
	}
	dir, err := os.MkdirTemp("", "satchel-work-")
	if err != nil {
		return store.Done{}, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	facts, previews, err := s.Media.Read(ctx, path, dir, recipe.Recipe{})
	var refused *media.Refused
	switch {
	case errors.As(err, &refused):
		return store.Done{}, fault.Invalidf("file", "“%s”: %s", name, refused.Why)
	case err != nil:
		return store.Done{}, err
	case len(previews) == 0 || facts.Kind == "clip" || facts.Kind == "file":
		return store.Done{}, fault.Invalidf("file", "“%s” is no picture, so it cannot be a cover.", name)
	}
	sum, err := blob.Sum(path)
	if err != nil {
		return store.Done{}, err
	}
	for _, p := range previews {
		if err := s.Blobs.PutFile(ctx, blob.OwnCover(sum, p.Name), p.Path); err != nil {
			return store.Done{}, err
		}
	}
	return s.with(ctx, v, album, "change_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		own, err := albumstore.AddOwnCover(ctx, tx, v.Brand, v.Person, sum)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Gave the album “%s” a cover of its own", a.Name), Changed: 1},
			albumstore.SetAlbumCover(ctx, tx, album, 0, own)
	})
}
