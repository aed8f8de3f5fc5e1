package assetstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
)

// PileShots reads items as piles are made of them, in the order of the ids.
func PileShots(ctx context.Context, r store.Reader, ids []int64) ([]likeness.Shot, error) {
	rows, err := store.List[struct {
		ID        int64           `db:"id"`
		Taken     sql.NullTime    `db:"captured_at"`
		Camera    string          `db:"camera"`
		Likeness  sql.NullInt64   `db:"likeness"`
		Sharpness sql.NullFloat64 `db:"sharpness"`
	}](ctx, r, `select a.id, a.captured_at, a.camera, nullif(a.likeness, 0) as likeness, a.sharpness
		from unnest($1::bigint[]) with ordinality u(id, n) join asset a on a.id = u.id order by u.n`, ids)
	out := make([]likeness.Shot, len(rows))
	for i, row := range rows {
		out[i] = likeness.Shot{ID: row.ID, Camera: row.Camera, Hash: likeness.Hash(row.Likeness.Int64), Looked: row.Likeness.Valid, Sharpness: -1}
		if row.Sharpness.Valid {
			out[i].Sharpness = row.Sharpness.Float64
		}
		out[i].Taken, out[i].Dated = row.Taken.Time.Unix(), row.Taken.Valid
	}
	return out, err
}

// LowerStars gives items so many stars less, at least none, and returns how many changed. What was set aside stays so.
func LowerStars(ctx context.Context, tx *store.Tx, ids []int64, by int) (int, error) {
	return tx.Change(ctx, `update asset set stars = greatest(0, stars - $2) where id = any($1) and stars > 0`, ids, by)
}
