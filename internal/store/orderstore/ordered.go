// Package orderstore keeps what people put in order by hand.
package orderstore

import (
	"context"
	"slices"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/ordering"
	"brightsatchel/internal/store"
)

// Table is a table of items in a manual order, each row belonging to an owner.
type Table struct{ Name, Owner string }

// lock makes changes to the order of one owner wait for each other, and returns the last key in it, or "".
func lock(ctx context.Context, tx *store.Tx, t Table, owner int64) (string, error) {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext($1), $2::int)`, t.Name, owner); err != nil {
		return "", err
	}
	return store.Get[string](ctx, tx, "", `select coalesce(max(position), '') from `+t.Name+` where `+t.Owner+` = $1`, owner)
}

func Append(ctx context.Context, tx *store.Tx, t Table, brand, owner int64, ids []int64) (int, error) {
	last, err := lock(ctx, tx, t, owner)
	if err != nil {
		return 0, err
	}
	keys, err := ordering.Spread(last, "", len(ids))
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `insert into `+t.Name+` (brand_id, `+t.Owner+`, asset_id, position)
		select $1, $2, u.id, u.key from unnest($3::bigint[], $4::text[]) u(id, key) on conflict do nothing`, brand, owner, ids, keys)
}

func TakeOut(ctx context.Context, tx *store.Tx, t Table, owner int64, ids []int64) (int, error) {
	return tx.Change(ctx, `delete from `+t.Name+` where `+t.Owner+` = $1 and asset_id = any($2)`, owner, ids)
}

func Reorder(ctx context.Context, tx *store.Tx, t Table, owner int64, ids []int64, before int64) (int, error) {
	if _, err := lock(ctx, tx, t, owner); err != nil {
		return 0, err
	}
	upper := ""
	if before != 0 {
		var err error
		upper, err = store.Get[string](ctx, tx, "The picture to put them before is not there any more.",
			`select position from `+t.Name+` where `+t.Owner+` = $1 and asset_id = $2`, owner, before)
		if err != nil {
			return 0, err
		}
	}
	lower, err := store.Get[string](ctx, tx, "", `select coalesce(max(position), '') from `+t.Name+`
		where `+t.Owner+` = $1 and not asset_id = any($2) and ($3 = '' or position < $3)`, owner, ids, upper)
	if err != nil {
		return 0, err
	}
	doubled, err := store.List[int64](ctx, tx, `select asset_id from `+t.Name+` where `+t.Owner+` = $1 and position = $2
		and asset_id < $3 and not asset_id = any($4) order by asset_id`, owner, upper, before, ids)
	if err != nil {
		return 0, err
	}
	ids = append(doubled, ids...)
	keys, err := ordering.Spread(lower, upper, len(ids))
	if err != nil {
		return 0, err
	}
	return tx.Change(ctx, `update `+t.Name+` x set position = u.key from unnest($2::bigint[], $3::text[]) u(id, key)
		where x.`+t.Owner+` = $1 and x.asset_id = u.id`, owner, ids, keys)
}

// Placed is a row with its place by hand, or "".
type Placed struct {
	ID       int64  `db:"id"`
	Position string `db:"position"`
}

// PlaceByHand moves rows before another of their siblings, which come in their present order: first those with a place by
// hand. Of the others only those that are to stay before the moved ones get a place too, and those that share the place of
// the one that comes after. It returns which rows get which places.
func PlaceByHand(siblings []Placed, ids []int64, before int64) (moved []int64, keys []string, err error) {
	rest := slices.DeleteFunc(siblings, func(p Placed) bool { return slices.Contains(ids, p.ID) })
	at := len(rest)
	if before != 0 {
		if at = slices.IndexFunc(rest, func(p Placed) bool { return p.ID == before }); at < 0 {
			return nil, nil, fault.NotFoundf("What to put it before is not there any more.")
		}
	}
	from, lower, upper := at, "", ""
	if at < len(rest) {
		upper = rest[at].Position
	}
	for from > 0 && (rest[from-1].Position == "" || rest[from-1].Position == upper) {
		from--
	}
	if from > 0 {
		lower = rest[from-1].Position
	}
	moved = make([]int64, 0, at-from+len(ids))
	for _, p := range rest[from:at] {
		moved = append(moved, p.ID)
	}
	moved = append(moved, ids...)
	keys, err = ordering.Spread(lower, upper, len(moved))
	return moved, keys, err
}

// byHand are the tables with an order made by hand, the column of what is put in order, and whose order it is.
var byHand = []struct{ table, id, owner string }{
	{"album_item", "asset_id", "album_id"},
	{"satchel_item", "asset_id", "person_id"},
	{"asset", "id", "folder_id"},
	{"folder", "id", "coalesce(parent_id, -brand_id)"},
}

// Mend gives what an undone step has put back to a place that something else took meanwhile a place right after that.
func Mend(ctx context.Context, tx *store.Tx, entry int64) error {
	for _, t := range byHand {
		const placed = `trail_id = $1 and table_name = $2 and before ->> 'position' <> ''`
		touched, err := store.Get[bool](ctx, tx, "", `select exists (select from trail_change where `+placed+`)`, entry, t.table)
		if err != nil {
			return err
		}
		if !touched {
			continue
		}
		shared, err := store.List[sharedPlace](ctx, tx, `with t as (select `+t.id+` as id, `+t.owner+` as owner, position from `+t.table+`
			where position is not null),
			doubled as (select owner, position, array_agg(id) as ids from t where id in (select (key ->> '`+t.id+`')::bigint
			from trail_change where `+placed+`) and exists (select from t o where o.owner = t.Owner and o.position = t.position
			and o.id <> t.id) group by owner, position)
			select d.*, coalesce((select min(t.position) from t where t.Owner = d.owner and t.position > d.position), '') as next
			from doubled d`, entry, t.table)
		if err != nil {
			return err
		}
		for _, s := range shared {
			keys, err := ordering.Spread(s.Position, s.Next, len(s.IDs))
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `update `+t.table+` x set position = u.key from unnest($1::bigint[], $2::text[]) u(id, key)
				where x.`+t.id+` = u.id and `+t.owner+` = $3`, s.IDs, keys, s.Owner); err != nil {
				return err
			}
		}
	}
	return nil
}

// sharedPlace is a place in an order that several rows have; IDs are those that came to it last, Next is the place after it.
type sharedPlace struct {
	Owner    int64              `db:"owner"`
	Position string             `db:"position"`
	Next     string             `db:"next"`
	IDs      store.Array[int64] `db:"ids"`
}
