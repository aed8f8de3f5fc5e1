package peoplestore

import (
	"context"

	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/store"
)

// Limits reads what a brand takes. Used counts the bytes of every distinct original in our storage, also of items in the
// bin; files that were left where they are take none. It is kept as a sum (see count_usage in functions.sql).
func Limits(ctx context.Context, r store.Reader, brand int64) (arrival.Limits, error) {
	row, err := store.Get[limitsRow](ctx, r, "There is no such brand.", `select `+limitsColumns+` from brand b where b.id = $1`, brand)
	return row.limits(), err
}

// limitsColumns are of a brand b.
const limitsColumns = `b.largest_file, array_to_string(b.kinds, ',') as kinds, coalesce(b.storage_limit, 0) as storage_limit,
	coalesce((select u.bytes from brand_usage u where u.brand_id = b.id), 0) as used`

type limitsRow struct {
	Largest int64  `db:"largest_file"`
	Kinds   string `db:"kinds"`
	Limit   int64  `db:"storage_limit"`
	Used    int64  `db:"used"`
}

func (r limitsRow) limits() arrival.Limits {
	return arrival.Limits{LargestFile: r.Largest, Kinds: store.Listed(r.Kinds), StorageLimit: r.Limit, Used: r.Used}
}

// SetLimits writes what a brand takes; a storage limit of 0 is none.
func SetLimits(ctx context.Context, tx *store.Tx, brand int64, l arrival.Limits) error {
	_, err := tx.ExecContext(ctx, `update brand set largest_file = $2, kinds = $3, storage_limit = nullif($4::bigint, 0) where id = $1`,
		brand, l.LargestFile, l.Kinds, l.StorageLimit)
	return err
}
