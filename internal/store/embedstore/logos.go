package embedstore

import (
	"context"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
)

// Logos lists the logos of a brand that are not in the bin, the newest first.
func Logos(ctx context.Context, r store.Reader, brand int64) ([]albumstore.Cover, error) {
	return store.List[albumstore.Cover](ctx, r,
		`select a.id as cover_id, a.code as cover_code, picture_version(v.code, a.recipe_hash) as cover_version,
		coalesce(nullif(a.alt, ''), a.title) as cover_alt from logo l join asset a on a.id = l.asset_id join version v on v.id = a.version_id
		where l.brand_id = $1 and a.binned_at is null order by l.since desc, a.id desc`,
		brand,
	)
}

// SetLogos makes items logos of the brand, or ends that, and returns how many changed.
func SetLogos(ctx context.Context, tx *store.Tx, brand int64, ids []int64, on bool) (int, error) {
	if !on {
		return tx.Change(ctx, `delete from logo where brand_id = $1 and asset_id = any($2)`, brand, ids)
	}
	return tx.Change(ctx, `insert into logo (brand_id, asset_id) select $1, id from asset where brand_id = $1 and id = any($2)
		on conflict do nothing`, brand, ids)
}
