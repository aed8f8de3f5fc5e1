package index

import (
	"context"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
)

// shelf is what the index knows of one brand. An item has a slot, a number that stays its own: what is known of it lies at
// that place in the columns, and sets of items are bitmaps of slots.
type shelf struct {
	db    *store.DB
	brand int64

	reading sync.Mutex // held while the feed is read
	mark    findstore.Mark
	loaded  atomic.Bool
	current atomic.Int64 // when it was last brought up to date, nanoseconds since 1970

	mu       sync.RWMutex // held for writing while what was read is put in
	version  uint64       // counts changes
	world    *query.World
	slots    map[int64]uint32 // of ids
	ids      []int64
	home     []int64  // folder
	piled    []int64  // stack
	at       []string // place
	camera   []string
	texts    map[string]string // of places and cameras
	sharp    []float32         // below 0 where it is not known
	text     texts
	name     []string
	hand     []string
	kind     []string
	stars    []int8
	width    []int32
	height   []int32
	tint     []int32
	likeness []likeness.Hash // 0 where nothing is known
	shades   [][]likeness.Shade
	bytes    []int64
	taken    []int64
	until    []int32 // the end of rights
	added    []int64
	changed  []int64

	used, binned, fronts, behind *roaring.Bitmap
	states                       []*roaring.Bitmap // of query.States
	has                          []*roaring.Bitmap // what items have of describing.Needs; of tags their relation says it

	folder, stage, stack *postings[int64]
	years                *postings[int]
	kinds, cameras, from *postings[string]
	places               *postings[string]
	starred              *postings[int8]
	ownIDs               map[string]*postings[int64]  // of fields with columns of their own
	ownNames             map[string]*postings[string] // likewise
	relations            map[findstore.Relation]*related

	words          vocabulary // once all are read
	terms          terms
	retold         *roaring.Bitmap // items whose texts changed, for the terms
	orders         map[string]*order
	sheets, counts *answers // given lately
	lists          lists
}

func newShelf(db *store.DB, brand int64) *shelf {
	s := &shelf{db: db, brand: brand, slots: map[int64]uint32{}, orders: map[string]*order{}, sheets: &answers{most: 12},
		counts: &answers{most: 60}}
	for _, set := range []**roaring.Bitmap{&s.used, &s.binned, &s.fronts, &s.behind, &s.retold} {
		*set = roaring.New()
	}
	for range query.States {
		s.states = append(s.states, roaring.New())
	}
	for range describing.Needs {
		s.has = append(s.has, roaring.New())
	}
	s.folder, s.stage, s.stack, s.years = newPostings[int64](), newPostings[int64](), newPostings[int64](), newPostings[int]()
	s.kinds, s.cameras, s.from, s.starred = newPostings[string](), newPostings[string](), newPostings[string](), newPostings[int8]()
	s.places, s.texts = newPostings[string](), map[string]string{}
	s.ownIDs, s.ownNames = map[string]*postings[int64]{}, map[string]*postings[string]{}
	for _, f := range columnsOfIDs {
		s.ownIDs[f.Name] = newPostings[int64]()
	}
	for _, f := range columnsOfNames {
		s.ownNames[f.Name] = newPostings[string]()
	}
	s.relations = map[findstore.Relation]*related{}
	for _, r := range findstore.Relations {
		s.relations[r] = newRelated()
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
	snapshot, mark, err := findstore.Freeze(ctx, s.db, s.brand)
	if err != nil {
		return err
	}
	defer snapshot.Close(ctx)
	fresh := newShelf(s.db, s.brand)
	if err := snapshot.Items(ctx, nil, func(i findstore.Indexed) { fresh.put(&i) }); err != nil {
		return err
	}
	for _, relation := range findstore.Relations {
		if err := snapshot.Related(ctx, relation, nil, fresh.relate(relation)); err != nil {
			return err
		}
	}
	snapshot.Close(ctx) // never a second connection while holding one
	// What is read of folders and tags now may be newer than the rest; then the feed brings it once more.
	if fresh.world, err = findstore.World(ctx, s.db, s.brand); err != nil {
		return err
	}
	for _, set := range append([]*roaring.Bitmap{fresh.used, fresh.binned}, fresh.has...) {
		set.RunOptimize()
	}
	fresh.hideBehind(fresh.stack.keys())
	var sorting sync.WaitGroup
	for name := range compare { // so that nobody waits for the first sheet in an order
		sorting.Go(func() { fresh.inOrder(name) })
	}
	sorting.Go(fresh.learn)
	sorting.Wait()
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
	s.used, s.binned, s.has, s.fronts, s.behind, s.states = f.used, f.binned, f.has, f.fronts, f.behind, f.states
	s.until, s.words = f.until, f.words
	s.likeness, s.shades = f.likeness, f.shades
	s.folder, s.stage, s.stack, s.years, s.kinds, s.cameras, s.from, s.starred = f.folder, f.stage, f.stack, f.years, f.kinds,
		f.cameras, f.from, f.starred
	s.places, s.at, s.camera, s.sharp, s.texts = f.places, f.at, f.camera, f.sharp, f.texts
	s.relations, s.orders = f.relations, f.orders
	s.ownIDs, s.ownNames = f.ownIDs, f.ownNames
	s.lists.albums, s.lists.tags = nil, nil
	s.terms.forget()
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
	changes, err := findstore.Changed(ctx, s.db, s.brand, &s.mark)
	if err == nil && !changes.None() {
		err = s.takeIn(ctx, changes)
	}
	if err == nil {
		s.current.Store(time.Now().UnixNano())
	}
	if err != nil {
		s.loaded.Store(false) // the mark has moved on: what was missed would stay missed
	}
	return err
}

// news is what was read of the things that changed.
type news struct {
	items []findstore.Indexed
	pairs map[findstore.Relation][][2]int64
}

func (s *shelf) takeIn(ctx context.Context, changes findstore.Changes) error {
	world := s.world
	if changes.World() {
		var err error
		if world, err = findstore.WorldAfter(ctx, s.db, s.brand, world, &changes); err != nil {
			return err
		}
	}
	now, err := s.read(ctx, changes)
	if err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.world = world
	s.version++
	s.lists.forget(&changes)
	if len(changes.Assets) > 0 {
		s.replace(changes.Assets, now.items)
		s.lists.uncoverBy(changes.Assets)
	}
	for relation, assets := range changes.Related {
		s.relateAnew(relation, assets, now.pairs[relation])
	}
	return nil
}

// relateAnew puts pairs of items and what they are related to in place of all that was known of the items.
func (s *shelf) relateAnew(relation findstore.Relation, assets []int64, pairs [][2]int64) {
	touched := s.relations[relation].drop(s.known(assets), s.binned)
	relate := s.relate(relation)
	for _, pair := range pairs {
		relate(pair[0], pair[1])
		touched = append(touched, pair[1])
	}
	if relation == findstore.InAlbum {
		s.lists.uncover(touched)
	}
}

func (s *shelf) read(ctx context.Context, changes findstore.Changes) (news, error) {
	now := news{pairs: map[findstore.Relation][][2]int64{}}
	if len(changes.Assets)+len(changes.Related) == 0 {
		return now, nil
	}
	snapshot, _, err := findstore.Freeze(ctx, s.db, s.brand)
	if err != nil {
		return now, err
	}
	defer snapshot.Close(ctx)
	if len(changes.Assets) > 0 {
		if err := snapshot.Items(ctx, changes.Assets, func(i findstore.Indexed) { now.items = append(now.items, i) }); err != nil {
			return now, err
		}
	}
	for relation, assets := range changes.Related {
		if err := snapshot.Related(ctx, relation, assets, func(a,
			b int64) {
			now.pairs[relation] = append(now.pairs[relation], [2]int64{a, b})
		}); err != nil {
			return now, err
		}
	}
	return now, nil
}

// known is the slots of those ids that have one.
func (s *shelf) known(ids []int64) *roaring.Bitmap {
	out := roaring.New()
	for _, id := range ids {
		if slot, known := s.slots[id]; known {
			out.Add(slot)
		}
	}
	return out
}

// replace puts items in place of what was known of the ids; those that are not among the items are gone. What an item is
// related to stays, for other entries of the feed tell of that.
func (s *shelf) replace(ids []int64, items []findstore.Indexed) {
	old := s.known(ids)
	stacks := map[int64]bool{}
	s.touchStacks(stacks, old)
	gone, wasBinned := old.Clone(), roaring.And(old, s.binned)
	for _, set := range slices.Concat([]*roaring.Bitmap{s.used, s.binned, s.fronts, s.behind}, s.has, s.states) {
		set.AndNot(old)
	}
	s.folder.dropFrom(old, s.home)
	s.stack.dropFrom(old, s.piled)
	s.places.dropFrom(old, s.at)
	s.stage.drop(old)
	s.years.drop(old)
	s.starred.drop(old)
	for _, p := range []*postings[string]{s.kinds, s.cameras, s.from} {
		p.drop(old)
	}
	for _, p := range s.ownIDs {
		p.drop(old)
	}
	for _, p := range s.ownNames {
		p.drop(old)
	}
	now := roaring.New()
	for i := range items {
		s.put(&items[i])
		now.Add(s.slots[items[i].ID])
	}
	gone.AndNot(now)
	s.retold.Or(gone)
	s.terms.retell(s.retold, func(slot uint32) string {
		if !s.used.Contains(slot) {
			return ""
		}
		return s.text.said[slot]
	})
	s.retold.Clear()
	for _, slot := range gone.ToArray() {
		delete(s.slots, s.ids[slot])
		s.words.note(s.text.said[slot], -1)
		for _, o := range s.orders {
			o.dirty.Add(slot)
		}
	}
	s.moveBinned(wasBinned, roaring.And(now, s.binned))
	if !gone.IsEmpty() {
		for _, r := range s.relations {
			r.drop(gone, s.binned)
		}
	}
	s.touchStacks(stacks, now)
	s.hideBehind(stacks)
}

// moveBinned counts what went into the bin or came out of it in what it is related to.
func (s *shelf) moveBinned(was, is *roaring.Bitmap) {
	in, out := roaring.AndNot(is, was), roaring.AndNot(was, is)
	if in.IsEmpty() && out.IsEmpty() {
		return
	}
	for relation, r := range s.relations {
		of := r.moved(in, out)
		if relation == findstore.InAlbum {
			s.lists.uncover(of)
		}
	}
}

// touchStacks notes the stacks that some items are in.
func (s *shelf) touchStacks(noted map[int64]bool, slots *roaring.Bitmap) {
	for _, slot := range slots.ToArray() {
		if id := s.piled[slot]; id != 0 {
			noted[id] = true
		}
	}
}

// hideBehind finds out anew what is behind the fronts of stacks: what is in the folder of one.
func (s *shelf) hideBehind(stacks map[int64]bool) {
	for id := range stacks {
		if s.stack.sets[id] == nil {
			continue
		}
		members := s.stack.sets[id].ToArray()
		shown := map[int64]bool{}
		for _, slot := range members {
			if s.fronts.Contains(slot) && !s.binned.Contains(slot) {
				shown[s.home[slot]] = true
			}
		}
		for _, slot := range members {
			if shown[s.home[slot]] && !s.fronts.Contains(slot) {
				s.behind.Add(slot)
			} else {
				s.behind.Remove(slot)
			}
		}
	}
}
