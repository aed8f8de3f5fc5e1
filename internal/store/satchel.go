package store

import (
	"context"

	"brightsatchel/internal/core/access"
)

var satchel = orderedTable{"satchel_item", "person_id"}

// SatchelIDs lists what a person carries in a brand, in order.
func SatchelIDs(ctx context.Context, r Reader, v *access.Viewer) ([]int64, error) {
	return list[int64](ctx, r, `select s.asset_id from satchel_item s join asset a on a.id = s.asset_id and a.binned_at is null
		where s.person_id = $1 and s.brand_id = $2 order by s.position, s.asset_id`, v.Person, v.Brand)
}

// AddToSatchel puts items at the end of a person's satchel and returns how many were not in it.
func (tx *Tx) AddToSatchel(ctx context.Context, v *access.Viewer, ids []int64) (int, error) {
	return tx.appendOrdered(ctx, satchel, v.Brand, v.Person, ids)
}

// TakeOutOfSatchel takes items out of a person's satchel and returns how many were in it.
func (tx *Tx) TakeOutOfSatchel(ctx context.Context, v *access.Viewer, ids []int64) (int, error) {
	return tx.takeOutOrdered(ctx, satchel, v.Person, ids)
}

// OrderSatchel moves items before another one of the satchel, or to its end when before is 0.
func (tx *Tx) OrderSatchel(ctx context.Context, v *access.Viewer, ids []int64, before int64) (int, error) {
	return tx.reorder(ctx, satchel, v.Person, ids, before)
}
