package gathering

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/pieces"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// Satchel lists what the viewer carries, in order.
func (s *Service) Satchel(ctx context.Context, v *access.Viewer) ([]assetstore.AssetRow, error) {
	ids, err := albumstore.SatchelIDs(ctx, s.DB, v)
	if err != nil {
		return nil, err
	}
	return findstore.Rows(ctx, s.DB, v, ids)
}

var carryAct = pieces.Act[struct{}]{
	Name: "carry", Needs: access.Carry,
	Doing: func(n int, _ struct{}) string { return fmt.Sprintf("Putting %s in the satchel", wording.Items(n)) },
	Done: func(n, _ int, _ struct{}) string {
		if n == 0 {
			return "Already in the satchel"
		}
		return fmt.Sprintf("Put %s in the satchel", wording.Items(n))
	},
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ struct{}) (int, error) {
		return albumstore.AddToSatchel(ctx, tx, p.Viewer, p.IDs)
	},
}

// Carry puts a selection at the end of the viewer's satchel.
func (s *Service) Carry(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.acts.carry.Do(ctx, v, sel, pieces.Just(struct{}{}))
}

var putDownAct = pieces.Act[struct{}]{
	Name: "put_down", Needs: access.Carry,
	Doing: func(n int, _ struct{}) string { return fmt.Sprintf("Taking %s out of the satchel", wording.Items(n)) },
	Done:  func(n, _ int, _ struct{}) string { return fmt.Sprintf("Took %s out of the satchel", wording.Items(n)) },
	Apply: func(ctx context.Context, tx *store.Tx, p pieces.Piece, _ struct{}) (int, error) {
		return albumstore.TakeOutOfSatchel(ctx, tx, p.Viewer, p.IDs)
	},
}

// PutDown takes a selection out of the viewer's satchel; what they may not look at any more goes out too.
func (s *Service) PutDown(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	if sel.Everything == nil {
		return s.DB.Act(ctx, v, putDownAct.Name, func(tx *store.Tx) (store.Done, error) {
			n, err := albumstore.TakeOutOfSatchel(ctx, tx, v, sel.IDs)
			return store.Done{Said: putDownAct.Done(n, n, struct{}{}), Changed: n}, err
		})
	}
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, sel)
	if err != nil {
		return store.Done{}, err
	}
	carried, err := albumstore.SatchelIDs(ctx, s.DB, v)
	if err != nil {
		return store.Done{}, err
	}
	meant := make(map[int64]bool, len(ids))
	for _, id := range ids {
		meant[id] = true
	}
	carried = slices.DeleteFunc(carried, func(id int64) bool { return !meant[id] })
	if len(carried) == 0 {
		return store.Done{Said: "None of these items is in the satchel"}, nil
	}
	return s.acts.putDown.Do(ctx, v, query.Selection{IDs: carried}, pieces.Just(struct{}{}))
}

// OrderSatchel moves items of the satchel before another one, or to the end when before is 0.
func (s *Service) OrderSatchel(ctx context.Context, v *access.Viewer, ids []int64, before int64) (store.Done, error) {
	if len(ids) == 0 {
		return store.Done{}, fault.Invalidf("ids", "Nothing to move.")
	}
	return s.DB.Act(ctx, v, "order_satchel", func(tx *store.Tx) (store.Done, error) {
		n, err := albumstore.OrderSatchel(ctx, tx, v, ids, before)
		return store.Done{Said: fmt.Sprintf("Moved %s within the satchel", wording.Items(n)), Changed: n}, err
	})
}
