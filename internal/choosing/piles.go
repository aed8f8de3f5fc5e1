package choosing

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// Pile is items that lie beside each other in a sheet and are frames of one burst, or nearly the same picture, in the order of the
// sheet. Best is the one that is proposed to be kept, with the reason; 0 without one.
type Pile struct {
	IDs  []int64
	Best int64
	Why  string
}

// PileOf finds the pile in which an item of a sheet is: the item alone where nothing beside it is like it, nothing where it is not in
// the sheet.
func (s *Service) PileOf(ctx context.Context, v *access.Viewer, q query.Query, id int64) (Pile, error) {
	p, err := s.together(ctx, v, q, id, false)
	if err != nil || len(p.IDs) > 0 {
		return p, err
	}
	one := query.Both(query.Rule{Field: "item", IDs: []int64{id}})
	if q.Filter != nil {
		one.Rules = append(one.Rules, *q.Filter)
	}
	q.Filter = one
	if n, err := findstore.Find(s.db).Count(ctx, v, q); err != nil || n == 0 {
		return p, err
	}
	return Pile{IDs: []int64{id}}, nil
}

// NextPile finds the first pile of at least two that begins after an item of a sheet. Without one the pile is empty.
func (s *Service) NextPile(ctx context.Context, v *access.Viewer, q query.Query, id int64) (Pile, error) {
	return s.together(ctx, v, q, id, true)
}

func (s *Service) together(ctx context.Context, v *access.Viewer, q query.Query, id int64, next bool) (Pile, error) {
	if err := q.Check(); err != nil {
		return Pile{}, err
	}
	found, err := findstore.Find(s.db).Together(ctx, v, q, id, next)
	p := Pile{IDs: found.IDs, Why: found.Why}
	if found.Why != "" {
		p.Best = found.Front
	}
	return p, err
}
