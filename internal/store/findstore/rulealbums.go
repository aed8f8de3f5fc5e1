package findstore

import (
	"context"
	"maps"
	"slices"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
)

// FillRuleAlbums counts what the rule albums among some show, and finds their covers: the first of it, unless one was chosen.
func FillRuleAlbums(ctx context.Context, r store.Reader, albums []albumstore.Album, ids func(query.Query) ([]int64, error)) error {
	first := map[int]int64{} // items that stand for albums, by their places
	for i := range albums {
		a := &albums[i]
		if a.Kept == nil {
			continue
		}
		found, err := ids(query.Query{Place: "album", ID: a.ID, Sort: "taken", Descending: true})
		if err != nil {
			return err
		}
		if a.Items = len(found); len(found) > 0 && !a.CoverID.Valid {
			first[i] = found[0]
		}
	}
	if len(first) == 0 {
		return nil
	}
	covers, err := store.List[albumstore.Cover](ctx, r,
		`select `+albumstore.CoverColumns+` from asset ca left join version cv on cv.id = ca.version_id
		where ca.id = any($1)`,
		slices.Collect(maps.Values(first)),
	)
	for i, item := range first {
		for _, c := range covers {
			if c.CoverID.Int64 == item {
				albums[i].Cover = c
			}
		}
	}
	return err
}
