package filing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// mostInStack is how many items one stack can hold.
const mostInStack = 100

// Stack puts the items of a selection into one stack: a raw and its JPEG, a finished master and its working files. Pick is
// the one that shows it; 0 takes the first of the selection. It changes what was stacked with one of them too.
func (s *Service) Stack(ctx context.Context, v *access.Viewer, sel query.Selection, front int64) (store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.File, sel)
	if err != nil {
		return store.Done{}, err
	}
	switch {
	case len(ids) < 2:
		return store.Done{}, fault.Invalidf("selection", "A stack needs two items or more.")
	case len(ids) > mostInStack:
		return store.Done{}, tooMany(len(ids), mostInStack)
	}
	if front == 0 {
		front = ids[0]
	}
	return s.inStacks(ctx, v, "stack", ids, func(tx *store.Tx) (store.Done, error) {
		err := assetstore.Stack(ctx, tx, v.Brand, ids, front)
		return store.Done{Said: fmt.Sprintf("Stacked %s", wording.Items(len(ids))), Changed: len(ids)}, err
	})
}

// Unstack takes the stacks of a selection apart.
func (s *Service) Unstack(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.File, sel)
	if err != nil {
		return store.Done{}, err
	}
	return s.inStacks(ctx, v, "unstack", ids, func(tx *store.Tx) (store.Done, error) {
		n, err := assetstore.Unstack(ctx, tx, ids)
		return store.Done{Said: fmt.Sprintf("Took a stack of %s apart", wording.Items(n)), Changed: n}, err
	})
}

// Pick makes an item the one that shows its stack.
func (s *Service) Pick(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.inStacks(ctx, v, "choose_front", []int64{id}, func(tx *store.Tx) (store.Done, error) {
		n, err := assetstore.FrontOfStack(ctx, tx, id)
		return store.Done{Said: "Chose another front for the stack", Changed: n}, err
	})
}

// inStacks does something to items and all that is stacked with them, every one of which the viewer may file.
func (s *Service) inStacks(ctx context.Context, v *access.Viewer, action string, ids []int64,
	do func(*store.Tx) (store.Done, error)) (store.Done, error) {
	return s.DB.Act(ctx, v, action, func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.File, ids); err != nil {
			return store.Done{}, err
		}
		all, err := assetstore.StackedWith(ctx, tx, v.Brand, ids)
		if err != nil {
			return store.Done{}, err
		}
		if err := store.StillReachable(ctx, tx, v, access.File, all); err != nil {
			return store.Done{}, fault.Forbiddenf("You can't change all items of that stack. Nothing was changed.")
		}
		return do(tx)
	})
}
