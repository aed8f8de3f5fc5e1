package assetstore

import (
	"context"

	"brightsatchel/internal/store"
)

// StackedWith lists items with all that are in one stack with one of them.
func StackedWith(ctx context.Context, r store.Reader, brand int64, ids []int64) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from asset where brand_id = $1 and (id = any($2) or stack_id in (select stack_id from asset
		where id = any($2) and stack_id is not null))`, brand, ids)
}

// Stack puts items of a brand into one stack, joining a stack that one of them has, and makes front its front.
func Stack(ctx context.Context, tx *store.Tx, brand int64, ids []int64, front int64) error {
	stacks, err := store.List[int64](ctx, tx, `select distinct stack_id from asset where id = any($1) and stack_id is not null order by 1`,
		ids,
	)
	if err != nil {
		return err
	}
	stack := store.First(stacks)
	if stack == 0 {
		if stack, err = store.Get[int64](ctx, tx, "", `insert into stack (brand_id) values ($1) returning id`, brand); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, `update asset set stack_id = $2, stack_front = (id = $3) where brand_id = $4
		and (id = any($1) or stack_id = any($5))`, ids, stack, front, brand, stacks)
	return err
}

// Unstack takes apart the stacks that items are in, and returns how many items that concerned.
func Unstack(ctx context.Context, tx *store.Tx, ids []int64) (int, error) {
	return tx.Change(ctx, `update asset set stack_id = null, stack_front = false
		where stack_id in (select stack_id from asset where id = any($1) and stack_id is not null)`, ids)
}

// FrontOfStack makes an item the front of its stack, and returns how many items changed.
func FrontOfStack(ctx context.Context, tx *store.Tx, id int64) (int, error) {
	return tx.Change(ctx, `update asset a set stack_front = (a.id = $1) from asset one where one.id = $1 and a.stack_id = one.stack_id
		and a.stack_front <> (a.id = $1)`, id)
}
