package store

import (
	"context"
	"slices"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/ordering"
)

// orderedTable is a table of items in a manual order, each row belonging to an owner.
type orderedTable struct{ name, owner string }

// lock makes changes to the order of one owner wait for each other, and returns the last key in it, or "".
func (tx *Tx) lock(ctx context.Context, t orderedTable, owner int64) (string, error) {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext($1), $2::int)`, t.name, owner); err != nil {
		return "", err
	}
	return get[string](ctx, tx, "", `select coalesce(max(position), '') from `+t.name+` where `+t.owner+` = $1`, owner)
}

func (tx *Tx) appendOrdered(ctx context.Context, t orderedTable, brand, owner int64, ids []int64) (int, error) {
	last, err := tx.lock(ctx, t, owner)
	if err != nil {
		return 0, err
	}
	keys, err := ordering.Spread(last, "", len(ids))
	if err != nil {
		return 0, err
	}
	return tx.change(ctx, `insert into `+t.name+` (brand_id, `+t.owner+`, asset_id, position)
		select $1, $2, u.id, u.key from unnest($3::bigint[], $4::text[]) u(id, key) on conflict do nothing`, brand, owner, ids, keys)
}

func (tx *Tx) takeOutOrdered(ctx context.Context, t orderedTable, owner int64, ids []int64) (int, error) {
	return tx.change(ctx, `delete from `+t.name+` where `+t.owner+` = $1 and asset_id = any($2)`, owner, ids)
}

func (tx *Tx) reorder(ctx context.Context, t orderedTable, owner int64, ids []int64, before int64) (int, error) {
	if _, err := tx.lock(ctx, t, owner); err != nil {
		return 0, err
	}
	upper := ""
	if before != 0 {
		var err error
		upper, err = get[string](ctx, tx, "The picture to put them before is not there any more.",
			`select position from `+t.name+` where `+t.owner+` = $1 and asset_id = $2`, owner, before)
		if err != nil {
			return 0, err
		}
	}
	lower, err := get[string](ctx, tx, "", `select coalesce(max(position), '') from `+t.name+`
		where `+t.owner+` = $1 and not asset_id = any($2) and ($3 = '' or position < $3)`, owner, ids, upper)
	if err != nil {
		return 0, err
	}
	keys, err := ordering.Spread(lower, upper, len(ids))
	if err != nil {
		return 0, err
	}
	return tx.change(ctx, `update `+t.name+` x set position = u.key from unnest($2::bigint[], $3::text[]) u(id, key)
		where x.`+t.owner+` = $1 and x.asset_id = u.id`, owner, ids, keys)
}

// placed is a row with its place by hand, or "".
type placed struct {
	ID       int64  `db:"id"`
	Position string `db:"position"`
}

// placeByHand moves rows before another of their siblings, which come in their present order: first those with a place by
// hand. Of the others only those that are to stay before the moved ones get a place too. It returns which rows get which
// places.
func placeByHand(siblings []placed, ids []int64, before int64) (moved []int64, keys []string, err error) {
	rest := slices.DeleteFunc(siblings, func(p placed) bool { return slices.Contains(ids, p.ID) })
	at := len(rest)
	if before != 0 {
		if at = slices.IndexFunc(rest, func(p placed) bool { return p.ID == before }); at < 0 {
			return nil, nil, fault.NotFoundf("What to put it before is not there any more.")
		}
	}
	from, lower, upper := at, "", ""
	for from > 0 && rest[from-1].Position == "" {
		from--
	}
	if from > 0 {
		lower = rest[from-1].Position
	}
	if at < len(rest) {
		upper = rest[at].Position
	}
	moved = make([]int64, 0, at-from+len(ids))
	for _, p := range rest[from:at] {
		moved = append(moved, p.ID)
	}
	moved = append(moved, ids...)
	keys, err = ordering.Spread(lower, upper, len(moved))
	return moved, keys, err
}
