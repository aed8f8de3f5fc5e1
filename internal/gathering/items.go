package gathering

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
)

// inAlbums are the albums that items are put into, by their names.
type inAlbums struct {
	Albums []int64  `json:"albums"`
	Names  []string `json:"names"`
}

var addAct = pieces.Act[inAlbums]{
	Name: "add_to_album", Needs: access.Look,
	Doing: func(n int, a inAlbums) string {
		return fmt.Sprintf("Adding %s to %s", wording.Items(n), wording.And(a.Names))
	},
	Done: func(n, of int, a inAlbums) string {
		if len(a.Albums) > 1 {
			return fmt.Sprintf("Added %s to %s", wording.Items(of), wording.And(a.Names))
		}
		said := fmt.Sprintf("Added %s to %s", wording.Items(n), wording.And(a.Names))
		if here := of - n; here > 0 {
			said += "; " + wording.Count(here, "was in it already", "were in it already")
		}
		return said
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a inAlbums) (int, error) {
		most := 0
		for _, album := range a.Albums {
			n, err := addToAlbum(ctx, tx, p, inAlbum{Album: album})
			if err != nil {
				return 0, err
			}
			most = max(most, n)
		}
		return most, nil
	},
	Blocked: albumGone,
}

// mostAlbums is how many albums items are put into at once.
const mostAlbums = 50

// Add puts a selection at the end of albums.
func (s *Service) Add(ctx context.Context, v *access.Viewer, albums []int64, sel query.Selection) (store.Done, error) {
	albums = slices.Compact(slices.Sorted(slices.Values(albums)))
	if len(albums) == 0 || len(albums) > mostAlbums {
		return store.Done{}, fault.Invalidf("albums", "Choose 1 to %d albums.", mostAlbums)
	}
	return s.acts.add.Do(ctx, v, sel, func(tx *store.Tx) (inAlbums, error) {
		into := inAlbums{Albums: albums}
		for _, id := range albums {
			a, err := albumstore.AlbumByID(ctx, tx, v, id)
			if err != nil {
				return into, err
			}
			into.Names = append(into.Names, a.Name)
		}
		return into, nil
	})
}

// album is the argument of what is done to items of an album.
func album(ctx context.Context, v *access.Viewer, id int64) func(*store.Tx) (inAlbum, error) {
	return func(tx *store.Tx) (inAlbum, error) {
		a, err := albumstore.AlbumByID(ctx, tx, v, id)
		return inAlbum{Album: a.ID, Name: a.Name}, err
	}
}

var takeOutAct = pieces.Act[inAlbum]{
	Name: "take_out_of_album", Needs: access.Look,
	Doing: func(n int, a inAlbum) string { return fmt.Sprintf("Taking %s out of %s", wording.Items(n), a.Name) },
	Done:  func(n, _ int, a inAlbum) string { return fmt.Sprintf("Took %s out of %s", wording.Items(n), a.Name) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a inAlbum) (int, error) {
		return albumstore.TakeOutOfAlbum(ctx, tx, a.Album, p.IDs)
	},
}

// TakeOut takes a selection out of an album. The items stay in the library.
func (s *Service) TakeOut(ctx context.Context, v *access.Viewer, id int64, sel query.Selection) (store.Done, error) {
	return s.acts.takeOut.Do(ctx, v, sel, album(ctx, v, id))
}

// between is the albums that items go from one to the other of.
type between struct {
	From inAlbum `json:"from"`
	To   inAlbum `json:"to"`
}

var moveAct = pieces.Act[between]{
	Name: "move_between_albums", Needs: access.Look,
	Doing: func(n int, a between) string {
		return fmt.Sprintf("Moving %s from %s to %s", wording.Items(n), a.From.Name, a.To.Name)
	},
	Done: func(_, of int, a between) string {
		return fmt.Sprintf("Moved %s from %s to %s", wording.Items(of), a.From.Name, a.To.Name)
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, a between) (int, error) {
		if _, err := addToAlbum(ctx, tx, p, a.To); err != nil {
			return 0, err
		}
		return albumstore.TakeOutOfAlbum(ctx, tx, a.From.Album, p.IDs)
	},
	Blocked: albumGone,
}

// Move puts a selection at the end of an album and takes it out of another one.
func (s *Service) Move(ctx context.Context, v *access.Viewer, from, to int64, sel query.Selection) (store.Done, error) {
	if from == to {
		return store.Done{}, fault.Invalidf("to", "These items are in that album already.")
	}
	return s.acts.move.Do(ctx, v, sel, func(tx *store.Tx) (between, error) {
		both := map[int64]inAlbum{}
		for _, id := range []int64{min(from, to), max(from, to)} { // in the order of Add, or two would wait for each other
			one, err := album(ctx, v, id)(tx)
			if err != nil {
				return between{}, err
			}
			both[id] = one
		}
		return between{From: both[from], To: both[to]}, nil
	})
}

// Order moves items of an album before another one, to a place counted from 1 among the others, or to the end when both are 0.
func (s *Service) Order(ctx context.Context, v *access.Viewer, id int64, ids []int64, before int64, place int) (store.Done, error) {
	return s.with(ctx, v, id, "order_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		said := fmt.Sprintf("Moved %s within %s", wording.Items(len(ids)), a.Name)
		if place > 0 {
			var err error
			if before, err = albumstore.AlbumItemAt(ctx, tx, v.Brand, id, ids, place); err != nil {
				return store.Done{}, err
			}
			said = fmt.Sprintf("Moved %s to place %d in %s", wording.Items(len(ids)), place, a.Name)
		}
		n, err := albumstore.OrderAlbum(ctx, tx, id, ids, before)
		return store.Done{Said: said, Changed: n}, err
	})
}

// mostOrdered is how many items of an album are put in order at once.
const mostOrdered = 50_000

// OrderBy makes an order by a sort the hand-made one of an album.
func (s *Service) OrderBy(ctx context.Context, v *access.Viewer, id int64, sort string, descending bool) (store.Done, error) {
	if sort == "hand" || sort == "fit" {
		return store.Done{}, fault.Invalidf("sort", "Choose an order that is not made by hand.")
	}
	q := query.Query{Place: "album", ID: id, Sort: sort, Descending: descending}
	if err := q.Check(); err != nil {
		return store.Done{}, err
	}
	ids, err := findstore.Find(s.DB).IDs(ctx, v, q)
	if err != nil {
		return store.Done{}, err
	}
	if len(ids) > mostOrdered {
		return store.Done{}, fault.Invalidf("id", "At most %d items are put in order at once.", mostOrdered)
	}
	return s.with(ctx, v, id, "order_album", func(tx *store.Tx, a albumstore.Album) (store.Done, error) {
		n, err := albumstore.OrderAlbum(ctx, tx, id, ids, 0)
		return store.Done{Said: fmt.Sprintf("Put %s of %s in order by %s", wording.Items(n), a.Name, sortNames[sort]), Changed: n}, err
	})
}

var sortNames = map[string]string{"taken": "when they were taken", "added": "when they came in", "changed": "when they were changed",
	"name": "name", "size": "file size", "stars": "stars", "kind": "kind"}
