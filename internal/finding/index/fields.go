package index

import (
	"slices"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// columnsOfIDs and columnsOfNames are the fields that have a column of their own.
var columnsOfIDs, columnsOfNames = query.OwnColumns()

// fields is a shelf as the fields of rules ask it.
type fields struct{ *shelf }

// All implements query.Index.
func (s fields) All() *roaring.Bitmap { return s.used }

// Known implements query.Index.
func (s fields) Known(ids []int64) *roaring.Bitmap { return s.known(ids) }

// relationOf are the relations that fields ask for by their ids.
var relationOf = map[string]findstore.Relation{"album": findstore.InAlbum, "tag": findstore.HasTag, "outlet": findstore.FromOutlet,
	"intake": findstore.OfIntake, "keeper": findstore.KeptBy}

// ByID implements query.Index. An unknown column is a mistake of the program.
func (s fields) ByID(of string) query.Values[int64] {
	switch relation, related := relationOf[of]; {
	case related:
		return s.relations[relation]
	case of == "folder":
		return s.folder
	case of == "stage":
		return s.stage
	case s.ownIDs[of] != nil:
		return s.ownIDs[of]
	}
	panic("the index has no ids of " + of)
}

// ByName implements query.Index.
func (s fields) ByName(of string) query.Values[string] {
	switch of {
	case "kind":
		return s.kinds
	case "source":
		return s.from
	case "camera":
		return s.cameras
	case "place":
		return s.places
	}
	if own := s.ownNames[of]; own != nil {
		return own
	}
	panic("the index has no names of " + of)
}

// Flagged implements query.Index.
func (s fields) Flagged(as string) *roaring.Bitmap {
	switch as {
	case "binned":
		return s.binned
	case "behind":
		return s.behind
	}
	panic("the index has no flag " + as)
}

// Starred implements query.Index.
func (s fields) Starred(wanted func(stars int64) bool) []*roaring.Bitmap {
	sets := []*roaring.Bitmap{}
	for value, set := range s.starred.sets {
		if wanted(int64(value)) {
			sets = append(sets, set)
		}
	}
	return sets
}

// In implements query.Index.
func (s fields) In(state string) *roaring.Bitmap {
	if at := slices.Index(query.States, state); at >= 0 {
		return s.states[at]
	}
	return roaring.New()
}

// Lacking is the items without something of describing.Needs.
func (s *shelf) Lacking(need string) *roaring.Bitmap {
	at := slices.Index(describing.Needs, need)
	switch {
	case need == "tags":
		return roaring.AndNot(s.used, s.relations[findstore.HasTag].some)
	case at < 0:
		return roaring.New()
	}
	return roaring.AndNot(s.used, s.has[at])
}

// Number implements query.Index.
func (s fields) Number(of string) func(slot uint32) int64 {
	switch of {
	case "bytes":
		return func(slot uint32) int64 { return s.bytes[slot] }
	case "width":
		return func(slot uint32) int64 { return int64(s.width[slot]) }
	case "height":
		return func(slot uint32) int64 { return int64(s.height[slot]) }
	case "taken":
		return func(slot uint32) int64 { return orNever(s.taken[slot], findstore.Undated) }
	case "added":
		return func(slot uint32) int64 { return floor(s.added[slot], 1_000_000) }
	case "rights":
		return func(slot uint32) int64 { return orNever(int64(s.until[slot]), findstore.Unending) }
	}
	panic("the index has no number " + of)
}

// orNever is a number, or query.Never in place of the one that stands for it.
func orNever(n, never int64) int64 {
	if n == never {
		return query.Never
	}
	return n
}

// Looks implements query.Index.
func (s fields) Looks() (dominated func(query.Colours) func(uint32) bool, like func(query.Model) func(uint32) bool) {
	dominated = func(c query.Colours) func(uint32) bool {
		return func(slot uint32) bool { return c.Dominate(s.shades[slot]) }
	}
	return dominated, func(m query.Model) func(uint32) bool {
		return func(slot uint32) bool { return m.Like(s.likeness[slot], s.shades[slot]) }
	}
}

// Saying implements query.Index.
func (s fields) Saying(words []string) func(within *roaring.Bitmap) *roaring.Bitmap {
	return func(within *roaring.Bitmap) *roaring.Bitmap { return s.saying(words, within) }
}

// Years implements query.Index.
func (s fields) Years(first, last int) []*roaring.Bitmap {
	sets := []*roaring.Bitmap{}
	for year, set := range s.years.sets {
		if year >= first && year <= last {
			sets = append(sets, set)
		}
	}
	return sets
}
