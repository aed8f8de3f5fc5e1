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
	(select count(*) from asset_origin x join asset a on a.id = x.asset_id where x.outlet_id = o.id and a.binned_at is null)::int as items from outlet o`

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
	return get[int64](ctx, tx, "", `insert into outlet (brand_id, kind, name, address, token) values ($1, $2, $3, $4, $5) returning id`, o.Brand, o.Kind, o.Name, o.Address, o.Token)
}

// RemoveOutlet disconnects an outlet; items that came from it stay, and forget where they came from.
func (tx *Tx) RemoveOutlet(ctx context.Context, brand, id int64) error {
	res, err := tx.ExecContext(ctx, `delete from outlet where brand_id = $1 and id = $2`, brand, id)
	if err == nil && affected(res) == 0 {
		return fault.NotFoundf("That outlet is not connected any more.")
	}
	return err
}

// Origin is where an item was taken over from: a media of an outlet. Own says that the brand posted it there itself.
type Origin struct {
	Outlet     int64  `db:"outlet_id"`
	OutletName string `db:"outlet_name"`
	Remote     string `db:"remote_id"`
	Asset      int64  `db:"asset_id"`
	Album      string `db:"album"`
	PostedBy   string `db:"posted_by"`
	Own        bool   `db:"own"`
}

// AddOrigin notes where an item came from. A media that came before keeps its first item.
func (tx *Tx) AddOrigin(ctx context.Context, brand int64, o Origin) error {
	_, err := tx.ExecContext(ctx, `insert into asset_origin (brand_id, outlet_id, remote_id, asset_id, album, posted_by, own) values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
		brand, o.Outlet, o.Remote, o.Asset, o.Album, o.PostedBy, o.Own)
	return err
}

// OriginsOf lists where an item came from.
func OriginsOf(ctx context.Context, r Reader, asset int64) ([]Origin, error) {
	return list[Origin](ctx, r, `select x.outlet_id, o.name as outlet_name, x.remote_id, x.asset_id, x.album, x.posted_by, x.own
		from asset_origin x join outlet o on o.id = x.outlet_id where x.asset_id = $1 order by o.name`, asset)
}

// TakenOver tells which media of an outlet are here already, as remote id to item; those whose item is in the bin too.
func TakenOver(ctx context.Context, r Reader, outlet int64) (map[string]int64, error) {
	rows, err := list[Origin](ctx, r, `select outlet_id, '' as outlet_name, remote_id, asset_id, album, posted_by, own from asset_origin where outlet_id = $1`, outlet)
	out := make(map[string]int64, len(rows))
	for _, o := range rows {
		out[o.Remote] = o.Asset
	}
	return out, err
}
