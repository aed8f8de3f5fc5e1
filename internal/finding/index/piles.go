package index

import (
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// laid is a sheet in which what lies together is one.
type laid struct {
	shown []int32 // places in the sheet
	piles []likeness.Together
}

// laid lays the items of a sheet together. Whenever something changes it is done anew.
func (s *shelf) laid(v *access.Viewer, q *query.Query, slots []uint32) (laid, error) {
	return answered(s.sheets, s.asked(v, "laid", q), s.version, func() (laid, error) {
		shown, piles := likeness.Lay(len(slots), func(at int) likeness.Shot { return s.shot(slots[at]) }, q.IsUnfolded())
		return laid{shown, piles}, nil
	})
}

func (s *shelf) shot(slot uint32) likeness.Shot {
	return likeness.Shot{ID: s.ids[slot], Taken: s.taken[slot], Dated: s.taken[slot] != store.Undated, Camera: s.camera[slot],
		Hash: s.likeness[slot], Looked: s.likeness[slot] != 0, Sharpness: float64(s.sharp[slot])}
}

// at are the slots at some places.
func at(slots []uint32, places []int32) []uint32 {
	out := make([]uint32, len(places))
	for i, p := range places {
		out[i] = slots[p]
	}
	return out
}
