package store

import (
	"context"

	"brightsatchel/internal/core/arrival"
)

// Limits reads what a brand takes. Used counts the bytes of every distinct original in our storage, also of items in the
// bin; files that were left where they are take none. It is kept as a sum (see count_usage in functions.sql).
func Limits(ctx context.Context, r Reader, brand int64) (arrival.Limits, error) {
	row, err := get[struct {
		Largest int64  `db:"largest_file"`
		Kinds   string `db:"kinds"`
		Limit   int64  `db:"storage_limit"`
		Used    int64  `db:"used"`
	}](ctx, r, "There is no such brand.", `select largest_file, array_to_string(kinds, ',') as kinds, coalesce(storage_limit, 0) as
		storage_limit, coalesce((select bytes from brand_usage where brand_id = $1), 0) as used from brand where id = $1`, brand)
	return arrival.Limits{LargestFile: row.Largest, Kinds: split(row.Kinds), StorageLimit: row.Limit, Used: row.Used}, err
}

// SetLimits writes what a brand takes; a storage limit of 0 is none.
func (tx *Tx) SetLimits(ctx context.Context, brand int64, l arrival.Limits) error {
	_, err := tx.ExecContext(ctx, `update brand set largest_file = $2, kinds = $3, storage_limit = nullif($4::bigint, 0) where id = $1`,
		brand, l.LargestFile, l.Kinds, l.StorageLimit)
	return err
}
