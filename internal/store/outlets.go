package store

import (
	"context"

	"brightsatchel/internal/core/fault"
)

// Outlet is somewhere outside that media is shown, and can be taken over from.
type Outlet struct {
	ID      int64  `db:"id"`
	Brand   int64  `db:"brand_id"`
	Code    string `db:"code"`
	Kind    string `db:"kind"`
	Name    string `db:"name"`
	Address string `db:"address"`
	Token   string `db:"token"`
	Items   int    `db:"items"` // how many items came from it
}

const outletColumns = `select o.id, o.brand_id, o.code, o.kind, o.name, o.address, o.token,
	(select count(*) from asset_origin x join asset a on a.id = x.asset_id where x.outlet_id = o.id
	and a.binned_at is null)::int as items from outlet o`

// Outlets lists the outlets of a brand by name.
func Outlets(ctx context.Context, r Reader, brand int64) ([]Outlet, error) {
	return list[Outlet](ctx, r, outletColumns+` where o.brand_id = $1 order by o.name collate natural_name, o.id`, brand)
}

// OutletByID reads one outlet of a brand.
func OutletByID(ctx context.Context, r Reader, brand, id int64) (Outlet, error) {
	return get[Outlet](ctx, r, "That outlet is not connected any more.", outletColumns+` where o.brand_id = $1 and o.id = $2`, brand, id)
}

// AddOutlet connects an outlet and returns its id.
func (tx *Tx) AddOutlet(ctx context.Context, o Outlet) (int64, error) {
	return get[int64](ctx, tx, "", `insert into outlet (brand_id, kind, name, address, token) values ($1, $2, $3, $4, $5) returning id`,
		o.Brand, o.Kind, o.Name, o.Address, o.Token)
}

// RemoveOutlet disconnects an outlet; items that came from it stay, and forget where they came from.
func (tx *Tx) RemoveOutlet(ctx context.Context, brand, id int64) error {
	n, err := tx.change(ctx, `delete from outlet where brand_id = $1 and id = $2`, brand, id)
	if err == nil && n == 0 {
		return fault.NotFoundf("That outlet is not connected any more.")
	}
	return err
}
