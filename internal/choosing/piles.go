package choosing

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Pile is items that lie beside each other in a sheet and are frames of one burst, or nearly the same picture, in the order of the
// sheet. Best is the one that is proposed to be kept, with the reason; 0 without one.
type Pile struct {
	IDs  []int64
	Best int64
	Why  string
}

// around is how far from an item its pile is looked for, and ahead how many items are looked at before the next pile is given up.
const (
	around = 100
	ahead  = 20_000
	step   = 1_000 // of ahead, at a time
)

// PileOf finds the pile in which an item of a sheet is: the item alone where nothing beside it is like it.
func (s *Service) PileOf(ctx context.Context, v *access.Viewer, q query.Query, id int64) (Pile, error) {
	ids, at, err := s.place(ctx, v, q, id)
	if err != nil || at < 0 {
		return Pile{}, err
	}
	first := max(0, at-around)
	row, err := store.PileShots(ctx, s.db, ids[first:min(len(ids), at+around)])
	if err != nil {
		return Pile{}, err
	}
	from, to := likeness.Pile(row, at-first)
	return pileOf(row[from:to]), nil
}

// NextPile finds the first pile of at least two that begins after an item of a sheet. Without one the pile is empty.
func (s *Service) NextPile(ctx context.Context, v *access.Viewer, q query.Query, id int64) (Pile, error) {
	ids, at, err := s.place(ctx, v, q, id)
	if err != nil {
		return Pile{}, err
	}
	ids = ids[at+1:]
	for from := 0; from < min(len(ids), ahead); from += step {
		row, err := store.PileShots(ctx, s.db, ids[from:min(len(ids), from+step+around)]) // so that no pile is cut
		if err != nil {
			return Pile{}, err
		}
		for i := range min(step, len(row)) {
			if _, to := likeness.Pile(row, i); to > i+1 {
				return pileOf(row[i:to]), nil
			}
		}
	}
	return Pile{}, nil
}

// place is the items of a sheet in order, and where one is in it, -1 if it is not.
func (s *Service) place(ctx context.Context, v *access.Viewer, q query.Query, id int64) ([]int64, int, error) {
	if err := q.Check(); err != nil {
		return nil, 0, err
	}
	ids, err := s.db.Find().IDs(ctx, v, q)
	return ids, slices.Index(ids, id), err
}

func pileOf(shots []likeness.Shot) Pile {
	p := Pile{IDs: make([]int64, len(shots))}
	for i, shot := range shots {
		p.IDs[i] = shot.ID
	}
	if best, why := likeness.Best(shots); best >= 0 {
		p.Best, p.Why = p.IDs[best], why
	}
	return p
}
