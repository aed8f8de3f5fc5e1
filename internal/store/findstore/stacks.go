package findstore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// StackRows reads the items of a stack that the viewer may look at, its front first.
func StackRows(ctx context.Context, db *store.DB, v *access.Viewer, stack int64) ([]assetstore.AssetRow, error) {
	ids, err := store.List[int64](ctx, db, `select id from asset where stack_id = $1 and brand_id = $2 and binned_at is null
		order by stack_front desc, id`, stack, v.Brand)
	if err != nil {
		return nil, err
	}
	return Rows(ctx, db, v, ids)
}
