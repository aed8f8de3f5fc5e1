package index

import "github.com/RoaringBitmap/roaring/v2"

// related are the sets of items by what they are related to, and how many of each are outside of the bin, so that nothing
// is counted when somebody asks.
type related struct {
	*postings[int64]
	live map[int64]int
}

func newRelated() *related {
	return &related{postings: newPostings[int64](), live: map[int64]int{}}
}

// count sets how many of a set are outside of the bin, and forgets it when there are none.
func (r *related) count(of int64, n int) {
	if r.live[of] = n; n == 0 {
		delete(r.live, of)
	}
}

// relate adds an item to a set.
func (r *related) relate(to int64, slot uint32, binned bool) {
	set := r.sets[to]
	if set == nil {
		set = r.start(to)
	}
	if set.CheckedAdd(slot) && !binned {
		r.live[to]++
	}
	r.some.Add(slot)
}

// drop takes items out of all sets, and returns which sets that were.
func (r *related) drop(slots, binned *roaring.Bitmap) []int64 {
	if !r.some.Intersects(slots) {
		return nil
	}
	r.some.AndNot(slots)
	live := roaring.AndNot(slots, binned)
	var from []int64
	for to, set := range r.sets {
		if set.Intersects(slots) {
			from = append(from, to)
			r.count(to, r.live[to]-int(set.AndCardinality(live)))
			set.AndNot(slots)
			r.tidy(to)
		}
	}
	return from
}

// moved counts what went into the bin or came out of it, and returns in which sets that is.
func (r *related) moved(in, out *roaring.Bitmap) []int64 {
	if both := roaring.Or(in, out); !r.some.Intersects(both) {
		return nil
	}
	var of []int64
	for to, set := range r.sets {
		if gone, back := int(set.AndCardinality(in)), int(set.AndCardinality(out)); gone+back > 0 {
			r.count(to, r.live[to]+back-gone)
			of = append(of, to)
		}
	}
	return of
}
