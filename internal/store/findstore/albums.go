package findstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/albumstore"
)

// Albums implements Finder.
func (f SQL) Albums(ctx context.Context, v *access.Viewer) ([]albumstore.Album, error) {
	all, err := albumstore.AllAlbums(ctx, f.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	items, err := f.Uses(ctx, v, InAlbum)
	if err != nil {
		return nil, err
	}
	seen := albumstore.SeenAlbums(v, all, items)
	return seen, FillRuleAlbums(ctx, f.DB, seen, func(q query.Query) ([]int64, error) { return f.IDs(ctx, v, q) })
}
