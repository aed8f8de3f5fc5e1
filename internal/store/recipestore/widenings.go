package recipestore

import (
	"context"

	"brightsatchel/internal/store"
)

// WideningTold says whether a widening of the audience of a folder was told before.
func WideningTold(ctx context.Context, r store.Reader, folder int64, audience string) (bool, error) {
	return store.Get[bool](ctx, r, "", `select exists (select from widening_told where folder_id = $1 and audience = $2)`, folder, audience)
}

// TellWidening notes that a widening was told.
func TellWidening(ctx context.Context, tx *store.Tx, brand, folder int64, audience string) error {
	_, err := tx.ExecContext(ctx, `insert into widening_told (brand_id, folder_id, audience) values ($1, $2, $3)
		on conflict do nothing`, brand, folder, audience)
	return err
}
