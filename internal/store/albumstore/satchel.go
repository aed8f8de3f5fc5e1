package albumstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/orderstore"
)

var satchel = orderstore.Table{Name: "satchel_item", Owner: "person_id"}

// SatchelIDs lists what a person carries in a brand, in order.
func SatchelIDs(ctx context.Context, r store.Reader, v *access.Viewer) ([]int64, error) {
	return store.List[int64](ctx, r, `select s.asset_id from satchel_item s join asset a on a.id = s.asset_id and a.binned_at is null
		where s.person_id = $1 and s.brand_id = $2 order by s.position, s.asset_id`, v.Person, v.Brand)
}

// AddToSatchel puts items at the end of a person's satchel and returns how many were not in it.
func AddToSatchel(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64) (int, error) {
	return orderstore.Append(ctx, tx, satchel, v.Brand, v.Person, ids)
}

// TakeOutOfSatchel takes items out of a person's satchel and returns how many were in it.
func TakeOutOfSatchel(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64) (int, error) {
	return orderstore.TakeOut(ctx, tx, satchel, v.Person, ids)
}

// OrderSatchel moves items before another one of the satchel, or to its end when before is 0.
func OrderSatchel(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64, before int64) (int, error) {
	return orderstore.Reorder(ctx, tx, satchel, v.Person, ids, before)
}
