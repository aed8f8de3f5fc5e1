package index

import (
	"context"
	"sync"
	"sync/atomic"
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// shelf is what the index knows of one brand. An item has a slot, a number that stays its own: what is known of it lies at
// that place in the columns, and sets of items are bitmaps of slots.
type shelf struct {
	db    *store.DB
	brand int64

	reading sync.Mutex // held while the feed is read
	mark    store.Mark
	loaded  atomic.Bool

	mu      sync.RWMutex // held for writing while what was read is put in
	version uint64       // counts changes
	world   *query.World
	slots   map[int64]uint32 // of ids
	ids     []int64
	home    []int64 // folder
	piled   []int64 // stack
	text    []string
	name    []string
	hand    []string
	kind    []string
	stars   []int8
	width   []int32
	height  []int32
	tint    []int32
	bytes   []int64
	taken   []int64
	added   []int64
	changed []int64

	used, binned, described, picks, behind *roaring.Bitmap

	folder, stage, stack postings[int64]
	years                postings[int]
	kinds, cameras, from postings[string]
	starred              postings[int8]
	relations            map[store.Relation]postings[int64]

	orders map[string]*order
	last   *answers
}

// postings are the sets of items by a value that they have.
type postings[K comparable] map[K]*roaring.Bitmap

func (p postings[K]) add(key K, slot uint32) {
	set := p[key]
	if set == nil {
		set = roaring.New()
		p[key] = set
	}
	set.Add(slot)
}

func (p postings[K]) drop(slots *roaring.Bitmap) {
	for key, set := range p {
		if !set.Intersects(slots) {
			continue
		}
		if set.AndNot(slots); set.IsEmpty() {
			delete(p, key)
		}
	}
}

func newShelf(db *store.DB, brand int64) *shelf {
	s := &shelf{db: db, brand: brand, slots: map[int64]uint32{}, orders: map[string]*order{}, last: &answers{}}
	for _, set := range []**roaring.Bitmap{&s.used, &s.binned, &s.described, &s.picks, &s.behind} {
		*set = roaring.New()
	}
	s.folder, s.stage, s.stack, s.years = postings[int64]{}, postings[int64]{}, postings[int64]{}, postings[int]{}
	s.kinds, s.cameras, s.from, s.starred = postings[string]{}, postings[string]{}, postings[string]{}, postings[int8]{}
	s.relations = map[store.Relation]postings[int64]{}
	for _, r := range store.Relations {
		s.relations[r] = postings[int64]{}
	}
	for name := range compare {
		s.orders[name] = &order{dirty: roaring.New()}
	}
	return s
}

// load reads everything. It changes nothing when it fails.
func (s *shelf) load(ctx context.Context) error {
	s.reading.Lock()
	defer s.reading.Unlock()
	if s.loaded.Load() {
		return nil
	}
	snapshot, mark, err := s.db.Freeze(ctx, s.brand)
	if err != nil {
		return err
	}
	defer snapshot.Close(ctx)
	fresh := newShelf(s.db, s.brand)
	if err := snapshot.Items(ctx, nil, fresh.put); err != nil {
		return err
	}
	for _, relation := range store.Relations {
		if err := snapshot.Related(ctx, relation, nil, fresh.relate(relation)); err != nil {
			return err
		}
	}
	if fresh.world, err = store.World(ctx, s.db, s.brand); err != nil {
		return err
	}
	for _, set := range []*roaring.Bitmap{fresh.used, fresh.described, fresh.binned} {
		set.RunOptimize()
	}
	fresh.hideBehind(fresh.stack)
	for _, name := range []string{"taken", "added"} { // what sheets are shown by at first
		fresh.inOrder(name)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.takeOver(fresh)
	s.mark = mark
	s.loaded.Store(true)
	return nil
}

func (s *shelf) takeOver(f *shelf) {
	s.home, s.piled = f.home, f.piled
	s.world, s.slots, s.ids, s.text, s.name, s.hand, s.kind, s.stars = f.world, f.slots, f.ids, f.text, f.name, f.hand, f.kind, f.stars
	s.width, s.height, s.tint, s.bytes, s.taken, s.added, s.changed = f.width, f.height, f.tint, f.bytes, f.taken, f.added, f.changed
	s.used, s.binned, s.described, s.picks, s.behind = f.used, f.binned, f.described, f.picks, f.behind
	s.folder, s.stage, s.stack, s.years, s.kinds, s.cameras, s.from, s.starred = f.folder, f.stage, f.stack, f.years, f.kinds, f.cameras, f.from, f.starred
	s.relations, s.orders = f.relations, f.orders
	s.version++
}

// patience is how long taking in changes may take.
const patience = time.Minute

// catchUp takes in what was committed until now. It goes on when whoever asked has gone: broken off in the middle, all would
// have to be loaded again.
func (s *shelf) catchUp(ctx context.Context) error {
	s.reading.Lock()
	defer s.reading.Unlock()
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), patience)
	defer cancel()
	changes, err := s.db.Changed(ctx, s.brand, &s.mark)
	if err == nil && (len(changes.Assets) > 0 || changes.World) {
		err = s.takeIn(ctx, changes)
	}
	if err != nil {
		s.loaded.Store(false) // the mark has moved on: what was missed would stay missed
	}
	return err
}

func (s *shelf) takeIn(ctx context.Context, changes store.Changes) error {
	world := s.world
	if changes.World {
		var err error
		if world, err = store.World(ctx, s.db, s.brand); err != nil {
			return err
		}
	}
	var items []store.Indexed
	pairs := map[store.Relation][][2]int64{}
	if len(changes.Assets) > 0 {
		snapshot, _, err := s.db.Freeze(ctx, s.brand)
		if err != nil {
			return err
		}
		defer snapshot.Close(ctx)
		if err := snapshot.Items(ctx, changes.Assets, func(i store.Indexed) { items = append(items, i) }); err != nil {
			return err
		}
		for _, relation := range store.Relations {
			if err := snapshot.Related(ctx, relation, changes.Assets, func(a, b int64) { pairs[relation] = append(pairs[relation], [2]int64{a, b}) }); err != nil {
				return err
			}
		}
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.world = world
	s.version++
	s.replace(changes.Assets, items, pairs)
	return nil
}

// replace puts items in place of what was known of the ids; those that are not among the items are gone.
func (s *shelf) replace(ids []int64, items []store.Indexed, pairs map[store.Relation][][2]int64) {
	old := roaring.New()
	for _, id := range ids {
		if slot, known := s.slots[id]; known {
			old.Add(slot)
		}
	}
	stacks := postings[int64]{}
	s.touchStacks(stacks, old)
	gone := old.Clone()
	for _, set := range []*roaring.Bitmap{s.used, s.binned, s.described, s.picks, s.behind} {
		set.AndNot(old)
	}
	for _, p := range []postings[int64]{s.folder, s.stage, s.stack} {
		p.drop(old)
	}
	s.years.drop(old)
	s.starred.drop(old)
	for _, p := range []postings[string]{s.kinds, s.cameras, s.from} {
		p.drop(old)
	}
	for _, p := range s.relations {
		p.drop(old)
	}
	now := roaring.New()
	for _, i := range items {
		s.put(i)
		now.Add(s.slots[i.ID])
		gone.Remove(s.slots[i.ID])
	}
	for relation, list := range pairs {
		relate := s.relate(relation)
		for _, pair := range list {
			relate(pair[0], pair[1])
		}
	}
	for _, slot := range gone.ToArray() {
		delete(s.slots, s.ids[slot])
		for _, o := range s.orders {
			o.dirty.Add(slot)
		}
	}
	s.touchStacks(stacks, now)
	s.hideBehind(stacks)
}

// touchStacks notes the stacks that some items are in.
func (s *shelf) touchStacks(noted postings[int64], slots *roaring.Bitmap) {
	for _, slot := range slots.ToArray() {
		if id := s.piled[slot]; id != 0 {
			noted[id] = nil
		}
	}
}

// hideBehind finds out anew what is behind the picks of stacks: what lies in the folder of one.
func (s *shelf) hideBehind(stacks postings[int64]) {
	for id := range stacks {
		if s.stack[id] == nil {
			continue
		}
		members := s.stack[id].ToArray()
		shown := map[int64]bool{}
		for _, slot := range members {
			if s.picks.Contains(slot) && !s.binned.Contains(slot) {
				shown[s.home[slot]] = true
			}
		}
		for _, slot := range members {
			if shown[s.home[slot]] && !s.picks.Contains(slot) {
				s.behind.Add(slot)
			} else {
				s.behind.Remove(slot)
			}
		}
	}
}

// put sets the columns of an item and adds it to the sets that it is in.
func (s *shelf) put(i store.Indexed) {
	slot, known := s.slots[i.ID]
	if !known {
		slot = uint32(len(s.ids))
		s.slots[i.ID] = slot
		s.grow()
	}
	for name, o := range s.orders {
		if o.built && (!known || s.moves(name, slot, i)) {
			o.dirty.Add(slot)
		}
	}
	s.home[slot], s.piled[slot] = i.Folder, i.Stack
	s.ids[slot], s.text[slot], s.name[slot], s.hand[slot], s.kind[slot], s.stars[slot] = i.ID, i.Text, i.Name, i.Position, i.Kind, int8(i.Stars)
	s.width[slot], s.height[slot], s.tint[slot], s.bytes[slot] = i.Width, i.Height, i.Tint, i.Bytes
	s.taken[slot], s.added[slot], s.changed[slot] = i.Taken, i.Added, i.Changed
	s.used.Add(slot)
	for set, in := range map[*roaring.Bitmap]bool{s.binned: i.Binned, s.described: i.Described, s.picks: i.Pick} {
		if in {
			set.Add(slot)
		}
	}
	for p, id := range map[*postings[int64]]int64{&s.folder: i.Folder, &s.stage: i.Stage, &s.stack: i.Stack} {
		if id != 0 {
			p.add(id, slot)
		}
	}
	s.kinds.add(i.Kind, slot)
	s.from.add(i.Source, slot)
	s.starred.add(int8(i.Stars), slot)
	if i.Camera != "" {
		s.cameras.add(i.Camera, slot)
	}
	if i.Taken != store.Undated {
		s.years.add(time.Unix(i.Taken, 0).UTC().Year(), slot)
	}
}

func (s *shelf) grow() {
	s.home, s.piled = append(s.home, 0), append(s.piled, 0)
	s.ids, s.text, s.name, s.hand, s.kind = append(s.ids, 0), append(s.text, ""), append(s.name, ""), append(s.hand, ""), append(s.kind, "")
	s.stars, s.width, s.height, s.tint = append(s.stars, 0), append(s.width, 0), append(s.height, 0), append(s.tint, 0)
	s.bytes, s.taken, s.added, s.changed = append(s.bytes, 0), append(s.taken, 0), append(s.added, 0), append(s.changed, 0)
}

// moves says whether an item, as it is now, has another place in an order than as it is known.
func (s *shelf) moves(name string, slot uint32, i store.Indexed) bool {
	switch name {
	case "taken":
		return s.taken[slot] != i.Taken
	case "added":
		return s.added[slot] != i.Added
	case "name":
		return s.name[slot] != i.Name
	case "size":
		return s.bytes[slot] != i.Bytes
	case "stars":
		return s.stars[slot] != int8(i.Stars) || s.taken[slot] != i.Taken
	case "kind":
		return s.kind[slot] != i.Kind || s.taken[slot] != i.Taken
	}
	return true
}

// relate returns what adds a pair of a relation.
func (s *shelf) relate(relation store.Relation) func(asset, other int64) {
	p := s.relations[relation]
	return func(asset, other int64) {
		if slot, known := s.slots[asset]; known {
			p.add(other, slot)
		}
	}
}
