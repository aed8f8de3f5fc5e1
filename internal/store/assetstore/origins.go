package assetstore

import (
	"context"

	"brightsatchel/internal/store"
)

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
func AddOrigin(ctx context.Context, tx *store.Tx, brand int64, o Origin) error {
	_, err := tx.ExecContext(ctx, `insert into asset_origin (brand_id, outlet_id, remote_id, asset_id, album, posted_by, own)
		values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
		brand, o.Outlet, o.Remote, o.Asset, o.Album, o.PostedBy, o.Own)
	return err
}

// OriginsOf lists where an item came from.
func OriginsOf(ctx context.Context, r store.Reader, asset int64) ([]Origin, error) {
	return store.List[Origin](ctx, r, `select x.outlet_id, o.name as outlet_name, x.remote_id, x.asset_id, x.album, x.posted_by, x.own
		from asset_origin x join outlet o on o.id = x.outlet_id where x.asset_id = $1 order by o.name`, asset)
}

// TakenOver tells which media of an outlet are here already, as remote id to item; those whose item is in the bin too.
func TakenOver(ctx context.Context, r store.Reader, outlet int64) (map[string]int64, error) {
	rows, err := store.List[Origin](ctx, r, `select outlet_id, '' as outlet_name, remote_id, asset_id, album, posted_by, own from asset_origin
		where outlet_id = $1`, outlet)
	out := make(map[string]int64, len(rows))
	for _, o := range rows {
		out[o.Remote] = o.Asset
	}
	if err != nil {
		return out, err
	}
	sent, err := store.List[Origin](ctx, r, `select 0::bigint as outlet_id, '' as outlet_name, m.id as remote_id, i.asset_id, '' as album,
		'' as posted_by, true as own from dispatch_post p join page g on g.id = p.page_id
		cross join lateral jsonb_array_elements_text(p.post->'Media') with ordinality m (id, place)
		join dispatch_item i on i.post_id = p.id and i.position = m.place - 1
		where g.outlet_id = $1 and p.phase = 'out' and m.id <> '' and i.asset_id is not null`, outlet)
	for _, o := range sent { // what was sent from here is here already
		out[o.Remote] = o.Asset
	}
	return out, err
}
