package index

import (
	"runtime"
	"slices"
	"sync"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/query"
)

// evaluate returns those of some items that match an expanded rule. What comes back may be somebody else's: it is not
// changed in place.
func (s *shelf) evaluate(r query.Rule, within *roaring.Bitmap, person int64) *roaring.Bitmap {
	switch r.Match {
	case query.All:
		rules := slices.Clone(r.Rules)
		slices.SortStableFunc(rules, func(a, b query.Rule) int { return cost(a) - cost(b) })
		for _, x := range rules {
			within = s.evaluate(x, within, person)
		}
		return within
	case query.Any:
		return s.any(r.Rules, within, person)
	case query.None:
		return roaring.AndNot(within, s.any(r.Rules, within, person))
	}
	sought := r.Sought(fields{s}, person)
	if sought.Within != nil {
		within = sought.Within(within)
	}
	switch {
	case sought.Each != nil:
		return s.scan(within, sought.Each)
	case sought.Any == nil && sought.Within != nil:
		return within
	case len(sought.Any) == 1:
		return roaring.And(within, sought.Any[0])
	}
	return roaring.And(within, roaring.FastOr(sought.Any...))
}

func (s *shelf) any(rules []query.Rule, within *roaring.Bitmap, person int64) *roaring.Bitmap {
	out := roaring.New()
	for _, x := range rules {
		out.Or(s.evaluate(x, within, person))
	}
	return out
}

// cost says which rules to leave to the last, when few items are left: first what few items match, then what many do, then
// what must be asked of each.
func cost(r query.Rule) int {
	most := 0
	for _, x := range r.Rules {
		most = max(most, cost(x))
	}
	if f := query.Fields[r.Field]; f != nil {
		return f.Dear
	}
	return most
}

// A scan of more items than this is shared by the processors.
var share uint64 = 20_000

func (s *shelf) scan(within *roaring.Bitmap, wanted func(slot uint32) bool) *roaring.Bitmap {
	items := within.ToArray()
	parts := 1
	if uint64(len(items)) > share {
		parts = runtime.GOMAXPROCS(0)
	}
	found := make([]*roaring.Bitmap, parts)
	var group sync.WaitGroup
	for i := range parts {
		part := items[len(items)*i/parts : len(items)*(i+1)/parts]
		group.Go(func() {
			kept := make([]uint32, 0, len(part)/8)
			for _, slot := range part {
				if wanted(slot) {
					kept = append(kept, slot)
				}
			}
			found[i] = roaring.BitmapOf(kept...)
		})
	}
	group.Wait()
	return roaring.FastOr(found...)
}
