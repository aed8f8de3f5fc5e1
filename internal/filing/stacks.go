package filing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// mostInStack is how many items one stack can hold.
const mostInStack = 100

// Stack puts the items of a selection into one stack: a raw and its JPEG, a finished master and its working files. Pick is
// the one that shows it; 0 takes the first of the selection.
func (s *Service) Stack(ctx context.Context, v *access.Viewer, sel query.Selection, pick int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "stack", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.File, sel)
		if err != nil {
			return store.Done{}, err
		}
		switch {
		case len(ids) < 2:
			return store.Done{}, fault.Invalidf("selection", "A stack needs two items or more.")
		case len(ids) > mostInStack:
			return store.Done{}, tooMany(len(ids), mostInStack)
		}
		if pick == 0 {
			pick = ids[0]
		}
		err = tx.Stack(ctx, v.Brand, ids, pick)
		return store.Done{Said: fmt.Sprintf("Stacked %s", query.Items(len(ids))), Changed: len(ids)}, err
	})
}

// Unstack takes the stacks of a selection apart.
func (s *Service) Unstack(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.DB.Act(ctx, v, "unstack", func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.File, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.Unstack(ctx, ids)
		return store.Done{Said: fmt.Sprintf("Took a stack of %s apart", query.Items(n)), Changed: n}, err
	})
}

// Pick makes an item the one that shows its stack.
func (s *Service) Pick(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "pick", func(tx *store.Tx) (store.Done, error) {
		if _, err := store.Select(ctx, tx, v, access.File, query.Selection{IDs: []int64{id}}); err != nil {
			return store.Done{}, err
		}
		n, err := tx.PickOfStack(ctx, id)
		return store.Done{Said: "Chose another pick for the stack", Changed: n}, err
	})
}
