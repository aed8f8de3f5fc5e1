package index

import (
	"context"
	"slices"
	"sort"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// laid is a sheet in which what lies together is one.
type laid struct {
	shown []int32 // places in the sheet
	piles []likeness.Together
}

// laid lays the items of a sheet together. Whenever something changes it is done anew.
func (s *shelf) laid(v *access.Viewer, q *query.Query, slots []uint32) (laid, error) {
	return answered(s.sheets, s.asked(v, "laid", q), s.version, func() (laid, error) {
		same := func(a, b int) bool { return s.samePile(slots[a], slots[b]) }
		shown, piles := likeness.Lay(len(slots), same, func(at int) likeness.Shot { return s.shot(slots[at]) }, q.IsUnfolded())
		return laid{shown, piles}, nil
	})
}

// Together implements findstore.Finder.
func (x *Index) Together(ctx context.Context, v *access.Viewer, q query.Query, id int64, next bool) (findstore.SheetPile, error) {
	if err := q.Check(); err != nil {
		return findstore.SheetPile{}, err
	}
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Together(ctx, v, q, id, next)
	}
	defer s.mu.RUnlock()
	q.Piled, q.Unfolded = false, nil
	slots, err := s.answer(ctx, v, &q)
	if err != nil {
		return findstore.SheetPile{}, err
	}
	place := -1
	if slot, known := s.slots[id]; known {
		place = slices.Index(slots, slot)
	}
	laid, err := s.laid(v, &q, slots)
	if err != nil {
		return findstore.SheetPile{}, err
	}
	first := sort.Search(len(laid.piles), func(i int) bool {
		if next {
			return laid.piles[i].From > place
		}
		return laid.piles[i].To > place
	})
	if first == len(laid.piles) || !next && (place < 0 || laid.piles[first].From > place) {
		return findstore.SheetPile{}, nil
	}
	return findstore.PileOf(laid.piles[first], func(at int) int64 { return s.ids[slots[at]] }), nil
}

// samePile asks first what tells most pictures apart: each column that is read costs a look into another part of the memory.
func (s *shelf) samePile(a, b uint32) bool {
	if s.taken[a] != findstore.Undated && s.taken[b] != findstore.Undated && likeness.FarApart(s.taken[a], s.taken[b]) ||
		s.likeness[a] == 0 || s.likeness[b] == 0 {
		return false
	}
	return likeness.SamePile(s.shot(a), s.shot(b))
}

func (s *shelf) shot(slot uint32) likeness.Shot {
	return likeness.Shot{ID: s.ids[slot], Taken: s.taken[slot], Dated: s.taken[slot] != findstore.Undated, Camera: s.camera[slot],
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
