package index

import (
	"math"
	"runtime"
	"slices"
	"sync"
	"time"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
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
	if r.Field == "words" {
		return s.saying(r.Names, within)
	}
	sets, scan := s.leaf(r, person)
	if scan != nil {
		return s.scan(s.ofYears(r, within), scan)
	}
	if r.Missing && r.Field != "aside" {
		sets = append(sets, s.missing(r, within))
	}
	if len(sets) == 1 {
		return roaring.And(within, sets[0])
	}
	return roaring.And(within, roaring.FastOr(sets...))
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
	switch r.Field {
	case "words":
		return 3
	case "taken", "monthday", "colour", "like", "added", "rights", "bytes", "width", "height", "longer":
		return 2
	case "kind", "source", "camera", "place", "stars", "stage", "lacks", "binned", "behind", "aside", "state":
		return 1
	}
	return most
}

// leaf gives the sets of which a comparison wants any, or what tells whether an item is wanted.
func (s *shelf) leaf(r query.Rule, person int64) ([]*roaring.Bitmap, func(slot uint32) bool) {
	switch r.Field {
	case "folder":
		return s.folder.of(r.IDs...), nil
	case "stage":
		return s.stage.of(r.IDs...), nil
	case "album":
		return s.relations[findstore.InAlbum].of(r.IDs...), nil
	case "tag":
		return s.relations[findstore.HasTag].of(r.IDs...), nil
	case "outlet":
		return s.relations[findstore.FromOutlet].of(r.IDs...), nil
	case "intake":
		return s.relations[findstore.OfIntake].of(r.IDs...), nil
	case "item":
		return []*roaring.Bitmap{s.known(r.IDs)}, nil
	case "keeper":
		return s.relations[findstore.KeptBy].of(person), nil
	case "kind":
		return s.kinds.of(r.Names...), nil
	case "source":
		return s.from.of(r.Names...), nil
	case "camera":
		return s.cameras.of(r.Names...), nil
	case "place":
		return s.places.of(r.Names...), nil
	case "lacks":
		var sets []*roaring.Bitmap
		for _, need := range r.Names {
			sets = append(sets, s.lacking(need))
		}
		return sets, nil
	case "binned":
		return []*roaring.Bitmap{s.binned}, nil
	case "behind":
		return []*roaring.Bitmap{s.behind}, nil
	case "state":
		var sets []*roaring.Bitmap
		for _, state := range r.Names {
			if at := slices.Index(query.States, state); at >= 0 {
				sets = append(sets, s.states[at])
			}
		}
		return sets, nil
	case "aside":
		if r.Missing {
			return []*roaring.Bitmap{s.used}, nil
		}
		return s.starred.of(-1), nil
	case "stars":
		var sets []*roaring.Bitmap
		for value, set := range s.starred.sets {
			if inRange(r, int64(value)) {
				sets = append(sets, set)
			}
		}
		return sets, nil
	}
	return nil, s.scanner(r)
}

// lacking is the items without something of describing.Needs.
func (s *shelf) lacking(need string) *roaring.Bitmap {
	at := slices.Index(describing.Needs, need)
	switch {
	case need == "tags":
		return roaring.AndNot(s.used, s.relations[findstore.HasTag].some)
	case at < 0:
		return roaring.New()
	}
	return roaring.AndNot(s.used, s.has[at])
}

// missing is those of some items that have no value of a field.
func (s *shelf) missing(r query.Rule, within *roaring.Bitmap) *roaring.Bitmap {
	switch r.Field {
	case "folder":
		return roaring.AndNot(within, s.folder.some)
	case "stage":
		return roaring.AndNot(within, s.stage.some)
	case "camera":
		return roaring.AndNot(within, s.cameras.some)
	case "place":
		return roaring.AndNot(within, s.places.some)
	}
	return roaring.AndNot(within, s.relations[findstore.HasTag].some)
}

// scanner tells of one item whether a comparison wants it, for fields of which there are no sets.
func (s *shelf) scanner(r query.Rule) func(slot uint32) bool {
	switch r.Field {
	case "colour":
		by := r.Colours()
		return func(slot uint32) bool { return by.Dominate(s.shades[slot]) }
	case "like":
		m := r.Model()
		return func(slot uint32) bool { return m.Like(s.likeness[slot], s.shades[slot]) }
	case "monthday":
		return s.takenOn(r.Names)
	case "bytes":
		return func(slot uint32) bool { return inRange(r, s.bytes[slot]) }
	case "width":
		return func(slot uint32) bool { return inRange(r, int64(s.width[slot])) }
	case "height":
		return func(slot uint32) bool { return inRange(r, int64(s.height[slot])) }
	case "longer":
		return func(slot uint32) bool { return inRange(r, int64(max(s.width[slot], s.height[slot]))) }
	}
	if r.Field == "rights" {
		return s.rightsEnd(r)
	}
	from, until := int64(-1<<42), int64(1<<42) // far away, also in microseconds
	if day, err := time.Parse(time.DateOnly, r.Since); err == nil {
		from = day.Unix()
	}
	if day, err := time.Parse(time.DateOnly, r.Until); err == nil {
		until = day.AddDate(0, 0, 1).Unix()
	}
	if r.Field == "added" {
		return func(slot uint32) bool { return s.added[slot] >= from*1_000_000 && s.added[slot] < until*1_000_000 }
	}
	bounded := r.Since != "" || r.Until != "" || !r.Missing
	return func(slot uint32) bool {
		if s.taken[slot] == findstore.Undated {
			return r.Missing
		}
		return bounded && s.taken[slot] >= from && s.taken[slot] < until
	}
}

// ofYears leaves of some items those of the years that a rule by when they were taken asks about: few are looked at closely then.
func (s *shelf) ofYears(r query.Rule, within *roaring.Bitmap) *roaring.Bitmap {
	if r.Field != "taken" || r.Missing || r.Since == "" && r.Until == "" {
		return within
	}
	first, last := math.MinInt, math.MaxInt
	if day, err := time.Parse(time.DateOnly, r.Since); err == nil {
		first = day.Year()
	}
	if day, err := time.Parse(time.DateOnly, r.Until); err == nil {
		last = day.Year()
	}
	var sets []*roaring.Bitmap
	for year, set := range s.years.sets {
		if year >= first && year <= last {
			sets = append(sets, set)
		}
	}
	return roaring.And(within, roaring.FastOr(sets...))
}

// takenOn tells of one item whether it was taken on some days of any year, which are written as MM-DD.
func (s *shelf) takenOn(days []string) func(slot uint32) bool {
	var wanted [13][32]bool
	for _, day := range days {
		if t, err := time.Parse("2006-01-02", "2000-"+day); err == nil { // a leap year
			wanted[t.Month()][t.Day()] = true
		}
	}
	return func(slot uint32) bool {
		if s.taken[slot] == findstore.Undated {
			return false
		}
		_, month, day := time.Unix(s.taken[slot], 0).UTC().Date()
		return wanted[month][day]
	}
}

// rightsEnd says of one item whether its rights end on the days of a rule.
func (s *shelf) rightsEnd(r query.Rule) func(slot uint32) bool {
	const day = 24 * 60 * 60
	from, until := int32(math.MinInt32), int32(findstore.Unending-1)
	if since, err := time.Parse(time.DateOnly, r.Since); err == nil {
		from = int32(floor(since.Unix(), day))
	}
	if last, err := time.Parse(time.DateOnly, r.Until); err == nil {
		until = int32(floor(last.Unix(), day))
	}
	bounded := r.Since != "" || r.Until != "" || !r.Missing
	return func(slot uint32) bool {
		if s.until[slot] == findstore.Unending {
			return r.Missing
		}
		return bounded && s.until[slot] >= from && s.until[slot] <= until
	}
}

func inRange(r query.Rule, n int64) bool {
	return (r.From == nil || n >= *r.From) && (r.To == nil || n <= *r.To)
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
