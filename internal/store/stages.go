package store

import "context"

// AddStage adds a stage after the others.
func (tx *Tx) AddStage(ctx context.Context, brand int64, name string) error {
	_, err := tx.ExecContext(ctx, `insert into stage (brand_id, name, number) values ($1, $2, (select count(*) from stage
		where brand_id = $1)) on conflict do nothing`, brand, name)
	return err
}

// StageNames reads what the stages of a brand are called, by id.
func StageNames(ctx context.Context, r Reader, brand int64) (map[int64]string, error) {
	return names(ctx, r, `select id, name from stage where brand_id = $1`, brand)
}
