package index

import (
	"cmp"
	"runtime"
	"slices"
	"strings"
	"sync"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// order is all items in the rising order of one sort. It is made when it is first asked for; what changed since is folded
// in when it is asked for again.
type order struct {
	mu    sync.Mutex
	built bool
	list  []uint32 // never changed in place
	dirty *roaring.Bitmap
}

// compare has the rising orders; the store has the same ones. What is undated comes first.
var compare = map[string]func(s *shelf, a, b uint32) int{
	"taken":   func(s *shelf, a, b uint32) int { return cmp.Compare(s.taken[a], s.taken[b]) },
	"added":   func(s *shelf, a, b uint32) int { return cmp.Compare(s.added[a], s.added[b]) },
	"changed": func(s *shelf, a, b uint32) int { return cmp.Compare(s.changed[a], s.changed[b]) },
	"name":    func(s *shelf, a, b uint32) int { return strings.Compare(s.name[a], s.name[b]) },
	"size":    func(s *shelf, a, b uint32) int { return cmp.Compare(s.bytes[a], s.bytes[b]) },
	"stars": func(s *shelf, a, b uint32) int {
		return cmp.Or(cmp.Compare(s.stars[a], s.stars[b]), cmp.Compare(s.taken[a], s.taken[b]))
	},
	"kind": func(s *shelf, a, b uint32) int {
		return cmp.Or(strings.Compare(s.kind[a], s.kind[b]), cmp.Compare(s.taken[a], s.taken[b]))
	},
}

func (s *shelf) by(name string) func(a, b uint32) int {
	less := compare[name]
	return func(a, b uint32) int { return cmp.Or(less(s, a, b), cmp.Compare(s.ids[a], s.ids[b])) }
}

// inOrder is every item in a rising order.
func (s *shelf) inOrder(name string) []uint32 {
	o := s.orders[name]
	o.mu.Lock()
	defer o.mu.Unlock()
	by := s.by(name)
	switch {
	case !o.built:
		o.list = s.used.ToArray()
		slices.SortFunc(o.list, by)
		o.built = true
		o.dirty.Clear()
	case !o.dirty.IsEmpty():
		moved := roaring.And(o.dirty, s.used).ToArray()
		slices.SortFunc(moved, by)
		o.list = fold(o.list, o.dirty, moved, by)
		o.dirty = roaring.New()
	}
	return o.list
}

// fold merges what moved into a list from which it is taken out. Few moved among many in most cases: their places are searched for.
func fold(list []uint32, dirty *roaring.Bitmap, moved []uint32, by func(a, b uint32) int) []uint32 {
	gone := dirty.ToDense()
	out := make([]uint32, 0, len(list)+len(moved))
	for _, slot := range list {
		if !dense(gone, slot) {
			out = append(out, slot)
		}
	}
	stay := out
	out = make([]uint32, 0, len(stay)+len(moved))
	for _, slot := range moved {
		at, _ := slices.BinarySearchFunc(stay, slot, by)
		out = append(append(out, stay[:at]...), slot)
		stay = stay[at:]
	}
	return append(out, stay...)
}

func dense(set []uint64, slot uint32) bool {
	word := int(slot >> 6)
	return word < len(set) && set[word]&(1<<(slot&63)) != 0
}

// Below this share of all, items are sorted by themselves instead of picked from all in order.
const few = 24

// sorted puts items in the order of a query.
func (s *shelf) sorted(items *roaring.Bitmap, q *query.Query) []uint32 {
	if q.Sort == "hand" { // of a folder
		out := items.ToArray()
		slices.SortFunc(out, func(a, b uint32) int {
			return cmp.Or(cmp.Compare(last(s.hand[a]), last(s.hand[b])), strings.Compare(s.hand[a], s.hand[b]),
				strings.Compare(s.name[a], s.name[b]), cmp.Compare(s.ids[a], s.ids[b]))
		})
		return out
	}
	var out []uint32
	if n := items.GetCardinality(); n*few < s.used.GetCardinality() {
		out = items.ToArray()
		slices.SortFunc(out, s.by(q.Sort))
	} else {
		in := items.ToDense()
		out = make([]uint32, 0, n)
		for _, slot := range s.inOrder(q.Sort) {
			if dense(in, slot) {
				out = append(out, slot)
			}
		}
	}
	if q.Descending {
		slices.Reverse(out)
	} else if q.Sort == "taken" { // undated comes last both ways
		dated := slices.IndexFunc(out, func(slot uint32) bool { return s.taken[slot] != findstore.Undated })
		if dated > 0 {
			out = slices.Concat(out[dated:], out[:dated])
		}
	}
	return out
}

// fitting puts items in the order of how well they fit a condition, of equals the one that was taken last first. How well they fit is
// asked in the order of the slots, in which names and colours lie beside each other in the memory. The processors share the work.
func (s *shelf) fitting(items *roaring.Bitmap, by *query.Rule) []uint32 {
	misfits := make([]uint8, len(s.ids)) // from 1; 0 is none of the items
	misfit := by.Misfits()
	inParts(items.ToArray(), func(_ int, part []uint32) {
		for _, slot := range part {
			misfits[slot] = uint8(1 + misfit(s.name[slot], s.likeness[slot], s.shades[slot]))
		}
	})
	found := make([][query.MostMisfit + 2][]uint32, runtime.GOMAXPROCS(0))
	inParts(s.inOrder("taken"), func(i int, part []uint32) {
		for _, slot := range slices.Backward(part) {
			if n := misfits[slot]; n > 0 {
				found[i][n] = append(found[i][n], slot)
			}
		}
	})
	out := make([]uint32, 0, items.GetCardinality())
	for n := range query.MostMisfit + 2 {
		for i := range slices.Backward(found) { // the last taken first
			out = append(out, found[i][n]...)
		}
	}
	return out
}

// inParts shares slots out to the processors, each its part in order.
func inParts(slots []uint32, work func(i int, part []uint32)) {
	parts := runtime.GOMAXPROCS(0)
	var group sync.WaitGroup
	for i := range parts {
		part := slots[len(slots)*i/parts : len(slots)*(i+1)/parts]
		group.Go(func() { work(i, part) })
	}
	group.Wait()
}

func last(position string) int {
	if position == "" {
		return 1
	}
	return 0
}
