// Package index answers what is in a sheet, in which order, how many and with which facets, from memory: PostgreSQL holds
// the truth, and the index follows it. Each query first takes in what was committed until then, so that nobody sees less
// than what was done, by whichever process. Until a brand is loaded, SQL answers behind the same interface.
package index

import (
	"cmp"
	"context"
	"log/slog"
	"slices"
	"sync"
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
)

// Index is a findstore.Finder in this process.
type Index struct {
	db  *store.DB
	sql findstore.SQL

	mu      sync.Mutex
	shelves map[int64]*shelf
}

// New returns an index that loads brands when it is told to follow the database.
func New(db *store.DB) *Index {
	return &Index{db: db, sql: findstore.SQL{DB: db}, shelves: map[int64]*shelf{}}
}

// How often the index looks for changes of which it was not told, and tries again what did not load.
const lookEvery = 20 * time.Second

// Follow loads every brand and keeps them current until ctx ends.
func (x *Index) Follow(ctx context.Context) {
	wake := make(chan int64, 256)
	go x.db.Listen(ctx, func(brand int64, _ topics.Topic) {
		select {
		case wake <- brand:
		default: // the next look finds it
		}
	}, func() {})
	x.look(ctx)
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			x.look(ctx)
		case brand := <-wake:
			if s := x.ready(brand); s != nil {
				x.note(ctx, s.catchUp(ctx))
			}
		}
	}
}

// look loads what is not loaded yet, and takes in changes of the rest.
func (x *Index) look(ctx context.Context) {
	brands, err := peoplestore.BrandIDs(ctx, x.db)
	x.note(ctx, err)
	for _, brand := range brands {
		if s := x.ready(brand); s != nil {
			x.note(ctx, s.catchUp(ctx))
			continue
		}
		x.note(ctx, x.Load(ctx, brand))
	}
}

func (x *Index) note(ctx context.Context, err error) {
	if err != nil && ctx.Err() == nil {
		slog.Warn("the index of a brand could not be read; SQL answers meanwhile", "error", err)
	}
}

// Load reads a brand into memory.
func (x *Index) Load(ctx context.Context, brand int64) error {
	x.mu.Lock()
	s := x.shelves[brand]
	if s == nil {
		s = newShelf(x.db, brand)
		x.shelves[brand] = s
	}
	x.mu.Unlock()
	return s.load(ctx)
}

func (x *Index) ready(brand int64) *shelf {
	x.mu.Lock()
	s := x.shelves[brand]
	x.mu.Unlock()
	if s == nil || !s.loaded.Load() {
		return nil
	}
	return s
}

// current is the shelf of a brand with all that is committed, locked for reading, or nil if it is not loaded.
func (x *Index) current(ctx context.Context, brand int64) *shelf {
	s := x.ready(brand)
	if s == nil {
		return nil
	}
	if err := s.catchUp(ctx); err != nil {
		x.note(ctx, err)
		return nil
	}
	s.mu.RLock()
	return s
}

// Sheet implements findstore.Finder.
func (x *Index) Sheet(ctx context.Context, v *access.Viewer, q query.Query, from, most int) (findstore.SheetPage, error) {
	if err := q.Check(); err != nil {
		return findstore.SheetPage{}, err
	}
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Sheet(ctx, v, q, from, most)
	}
	defer s.mu.RUnlock()
	slots, err := s.answer(ctx, v, &q)
	if err != nil {
		return findstore.SheetPage{}, err
	}
	page := findstore.SheetPage{Total: len(slots), Rows: []findstore.SheetRow{}}
	if aside, leavesOut := q.Aside(); leavesOut {
		page.Aside, err = answered(s.counts, s.asked(v, "aside", &aside), s.version, func() (int, error) {
			items, err := s.matching(ctx, v, &aside)
			if err != nil {
				return 0, err
			}
			return int(items.GetCardinality()), nil
		})
		if err != nil {
			return page, err
		}
	}
	page.Items = len(slots)
	if q.Piled {
		laid, err := s.laid(v, &q, slots)
		if err != nil {
			return page, err
		}
		page.Total = len(laid.shown)
		on := laid.shown[min(from, page.Total):min(from+most, page.Total)]
		page.Piles = findstore.PilesOn(on, laid.piles, func(place int) int64 { return s.ids[slots[place]] })
		slots = at(slots, on)
	} else {
		slots = slots[min(from, len(slots)):min(from+most, len(slots))]
	}
	for _, slot := range slots {
		page.Rows = append(page.Rows, findstore.SheetRow{ID: s.ids[slot], Width: int(s.width[slot]), Height: int(s.height[slot]),
			Tint: int(s.tint[slot])})
	}
	return page, nil
}

// IDs implements findstore.Finder.
func (x *Index) IDs(ctx context.Context, v *access.Viewer, q query.Query) ([]int64, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.IDs(ctx, v, q)
	}
	defer s.mu.RUnlock()
	slots, err := s.answer(ctx, v, &q)
	if err != nil {
		return nil, err
	}
	return s.idsOf(slots), nil
}

func (s *shelf) idsOf(slots []uint32) []int64 {
	out := make([]int64, len(slots))
	for i, slot := range slots {
		out[i] = s.ids[slot]
	}
	return out
}

// Count implements findstore.Finder.
func (x *Index) Count(ctx context.Context, v *access.Viewer, q query.Query) (int, error) {
	if err := q.Check(); err != nil {
		return 0, err
	}
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Count(ctx, v, q)
	}
	defer s.mu.RUnlock()
	return answered(s.counts, s.asked(v, "count", &q), s.version, func() (int, error) {
		items, err := s.matching(ctx, v, &q)
		if err != nil {
			return 0, err
		}
		return int(items.GetCardinality()), nil
	})
}

// answer is every item of a sheet in order.
func (s *shelf) answer(ctx context.Context, v *access.Viewer, q *query.Query) ([]uint32, error) {
	if _, by := s.world.Rules[q.ID]; by && q.Place == "album" && q.Sort == "hand" {
		q.Sort, q.Descending = query.SortOfRuleAlbum, true
	}
	return answered(s.sheets, s.asked(v, "sheet", q), s.version, func() ([]uint32, error) {
		items, err := s.matching(ctx, v, q)
		if err != nil {
			return nil, err
		}
		if q.Sort == "hand" && q.Place == "album" {
			return s.albumOrder(ctx, q, items)
		}
		if q.Sort == "fit" {
			by, err := findstore.Fitting(ctx, s.db, v, q)
			return s.fitting(items, &by), err
		}
		return s.sorted(items, q), nil
	})
}

// asked names a question of somebody, with what they may look at. What depends on the day is asked anew on the next.
func (s *shelf) asked(v *access.Viewer, what string, q *query.Query) string {
	reach := v.May(access.Look)
	return keyOf(v.Person, findstore.Today(), reach.All, reach.FolderIDs(), reach.AlbumIDs(), what, q)
}

// matching is every item that a query asks for among those that the viewer may look at.
func (s *shelf) matching(ctx context.Context, v *access.Viewer, q *query.Query) (*roaring.Bitmap, error) {
	pick := func(of query.Rule, n int) []int64 { return s.picked(of, n, v.Person) }
	rule, err := findstore.ResolvedIn(ctx, s.db, v, s.world, q.Rule(), pick)
	if err != nil {
		return nil, err
	}
	return s.evaluate(rule, s.visible(v), v.Person), nil
}

// picked picks so many items of the brand at random, for today.
func (s *shelf) picked(rule query.Rule, n int, person int64) []int64 {
	day := query.DayNumber(findstore.Today())
	type lot struct{ lot, id int64 }
	before := func(a, b lot) int { return cmp.Or(cmp.Compare(a.lot, b.lot), cmp.Compare(a.id, b.id)) }
	var lots []lot
	full := false // lots begin with so many, of which the last is the one to be under
	trim := func() {
		slices.SortFunc(lots, before)
		full, lots = len(lots) >= n, lots[:min(n, len(lots))]
	}
	each(s.evaluate(rule, s.used, person), func(slot uint32) {
		one := lot{query.Lot(s.ids[slot], day), s.ids[slot]}
		if full && before(lots[n-1], one) < 0 {
			return
		}
		if lots = append(lots, one); len(lots) >= 2*n {
			trim()
		}
	})
	trim()
	ids := make([]int64, len(lots))
	for i, one := range lots {
		ids[i] = one.id
	}
	return ids
}

func (s *shelf) visible(v *access.Viewer) *roaring.Bitmap {
	reach := v.May(access.Look)
	if reach.All {
		return s.used
	}
	return s.evaluate(query.Within(query.Rule{Match: query.All}, reach.FolderIDs(), reach.AlbumIDs()), s.used, v.Person)
}

// albumOrder reads the order that was made by hand, which is the album's own.
func (s *shelf) albumOrder(ctx context.Context, q *query.Query, items *roaring.Bitmap) ([]uint32, error) {
	ids, err := albumstore.AlbumOrder(ctx, s.db, s.brand, q.ID)
	out := make([]uint32, 0, len(ids))
	for _, id := range ids {
		if slot, known := s.slots[id]; known && items.Contains(slot) {
			out = append(out, slot)
		}
	}
	return out, err
}
