package store

import (
	"context"

	"brightsatchel/internal/core/access"
)

// StackRows reads the items of a stack that the viewer may look at, its front first.
func StackRows(ctx context.Context, db *DB, v *access.Viewer, stack int64) ([]AssetRow, error) {
	ids, err := list[int64](ctx, db, `select id from asset where stack_id = $1 and brand_id = $2 and binned_at is null
		order by stack_front desc, id`, stack, v.Brand)
	if err != nil {
		return nil, err
	}
	return Rows(ctx, db, v, ids)
}

// StackedWith lists items with all that are in one stack with one of them.
func StackedWith(ctx context.Context, r Reader, brand int64, ids []int64) ([]int64, error) {
	return list[int64](ctx, r, `select id from asset where brand_id = $1 and (id = any($2) or stack_id in (select stack_id from asset
		where id = any($2) and stack_id is not null))`, brand, ids)
}

// Stack puts items of a brand into one stack, joining a stack that one of them has, and makes front its front.
func (tx *Tx) Stack(ctx context.Context, brand int64, ids []int64, front int64) error {
	stacks, err := list[int64](ctx, tx, `select distinct stack_id from asset where id = any($1) and stack_id is not null order by 1`, ids)
	if err != nil {
		return err
	}
	stack := first(stacks)
	if stack == 0 {
		if stack, err = get[int64](ctx, tx, "", `insert into stack (brand_id) values ($1) returning id`, brand); err != nil {
			return err
		}
	}
	_, err = tx.ExecContext(ctx, `update asset set stack_id = $2, stack_front = (id = $3) where brand_id = $4
		and (id = any($1) or stack_id = any($5))`, ids, stack, front, brand, stacks)
	return err
}

// Unstack takes apart the stacks that items are in, and returns how many items that concerned.
func (tx *Tx) Unstack(ctx context.Context, ids []int64) (int, error) {
	return tx.change(ctx, `update asset set stack_id = null, stack_front = false
		where stack_id in (select stack_id from asset where id = any($1) and stack_id is not null)`, ids)
}

// FrontOfStack makes an item the front of its stack, and returns how many items changed.
func (tx *Tx) FrontOfStack(ctx context.Context, id int64) (int, error) {
	return tx.change(ctx, `update asset a set stack_front = (a.id = $1) from asset one where one.id = $1 and a.stack_id = one.stack_id
		and a.stack_front <> (a.id = $1)`, id)
}
