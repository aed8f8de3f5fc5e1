package index

import (
	"maps"
	"runtime"
	"slices"
	"sync"

	"github.com/RoaringBitmap/roaring/v2"
)

// postings are the sets of items by a value that they have, and the set of the items that have any.
type postings[K comparable] struct {
	sets map[K]*roaring.Bitmap
	some *roaring.Bitmap
}

func newPostings[K comparable]() *postings[K] {
	return &postings[K]{sets: map[K]*roaring.Bitmap{}, some: roaring.New()}
}

func (p *postings[K]) add(key K, slot uint32) {
	set := p.sets[key]
	if set == nil {
		set = p.start(key)
	}
	set.Add(slot)
	p.some.Add(slot)
}

func (p *postings[K]) start(key K) *roaring.Bitmap {
	set := roaring.New()
	p.sets[key] = set
	return set
}

// drop takes items out of all sets.
func (p *postings[K]) drop(slots *roaring.Bitmap) {
	if !p.some.Intersects(slots) {
		return
	}
	p.some.AndNot(slots)
	for key, set := range p.sets {
		if set.Intersects(slots) {
			set.AndNot(slots)
			p.tidy(key)
		}
	}
}

// dropFrom is drop for items of which one knows the one value that each has: a column of values by slot.
func (p *postings[K]) dropFrom(slots *roaring.Bitmap, values []K) {
	p.some.AndNot(slots)
	for it := slots.Iterator(); it.HasNext(); {
		slot := it.Next()
		if set := p.sets[values[slot]]; set != nil {
			set.Remove(slot)
			p.tidy(values[slot])
		}
	}
}

func (p *postings[K]) tidy(key K) {
	if p.sets[key].IsEmpty() {
		delete(p.sets, key)
	}
}

// Of are the sets of some values.
func (p *postings[K]) Of(keys ...K) []*roaring.Bitmap {
	out := make([]*roaring.Bitmap, 0, len(keys)+1)
	for _, k := range keys {
		if set := p.sets[k]; set != nil {
			out = append(out, set)
		}
	}
	return out
}

func (p *postings[K]) keys() map[K]bool {
	out := make(map[K]bool, len(p.sets))
	for key := range p.sets {
		out[key] = true
	}
	return out
}

// among says how many of some items have each value. Thousands of values are shared by the processors.
func (p *postings[K]) among(items *roaring.Bitmap) map[K]int {
	out := make(map[K]int, len(p.sets))
	keys := slices.Collect(maps.Keys(p.sets))
	var lock sync.Mutex
	var group sync.WaitGroup
	for part := range slices.Chunk(keys, max(500, len(keys)/runtime.GOMAXPROCS(0)+1)) {
		group.Go(func() {
			counts := make([]int, len(part))
			for i, key := range part {
				counts[i] = int(p.sets[key].AndCardinality(items))
			}
			lock.Lock()
			defer lock.Unlock()
			for i, key := range part {
				if counts[i] > 0 {
					out[key] = counts[i]
				}
			}
		})
	}
	group.Wait()
	return out
}

// Having is the set of the items that have any value.
func (p *postings[K]) Having() *roaring.Bitmap { return p.some }
