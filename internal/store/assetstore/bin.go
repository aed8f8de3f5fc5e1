package assetstore

import (
	"context"
	"errors"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// Elsewhere are items in the bin that cannot go back to the folder that they were in.
type Elsewhere struct {
	Was   string `db:"was"` // the name of the folder that has gone
	Now   string `db:"now"` // where they go instead
	Items int    `db:"items"`
}

// ElsewhereOf lists, for items in the bin, the folders that have gone since, and where the items are instead.
func ElsewhereOf(ctx context.Context, r store.Reader, ids []int64) ([]Elsewhere, error) {
	return store.List[Elsewhere](ctx, r, `select coalesce((select c.before ->> 'name' from trail_change c where c.table_name = 'folder'
		and c.key @> jsonb_build_object('id', a.binned_folder)
			and c.after is null order by c.id desc limit 1), 'a folder') as was, coalesce(f.name, 'Unfiled') as now, count(*) as items
		from asset a left join folder f on f.id = a.folder_id where a.id = any($1) and a.binned_folder is not null
		and a.binned_folder is distinct from a.folder_id
		group by a.binned_folder, f.name order by items desc`, ids)
}

// DueItems lists items that have been in the bin for more than so many days, of all brands, at most so many.
func DueItems(ctx context.Context, r store.Reader, days, most int) ([]int64, error) {
	return store.List[int64](ctx, r, `select id from asset where binned_at < now() - make_interval(days => $1) order by binned_at limit $2`,
		days, most)
}

// BinOf lists all items in the bin that a viewer may see.
func BinOf(ctx context.Context, r store.Reader, v *access.Viewer) ([]int64, error) {
	c := store.Clause{From: "from asset a"}
	c.And("a.brand_id = %s", v.Brand)
	c.Where = append(c.Where, "a.binned_at is not null")
	c.Within(v.May(access.Look))
	return store.List[int64](ctx, r, "select a.id "+c.SQL(), c.Args...)
}

// EraseAssets removes the rows of items that are in the bin, with everything that hangs on them. What the trail says of
// them stays, but cannot be undone any more. It returns how many that were.
func EraseAssets(ctx context.Context, tx *store.Tx, ids []int64) (int, error) {
	return tx.Change(ctx, `delete from asset where id = any($1) and binned_at is not null`, ids)
}

// BinForGood puts items in the bin that were brought in for the step of the transaction alone: undoing it leaves them there, and bringing
// them in counts as undone by it.
func BinForGood(ctx context.Context, tx *store.Tx, ids []int64) error {
	entry, err := tx.TrailEntry(ctx)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `select set_config('satchel.trail', '', true)`); err != nil {
		return err
	}
	if _, err := BinAssets(ctx, tx, ids, true); err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `update trail t set undone_by = $1 from intake i where i.trail_id = t.id and t.undone_by is null
		and exists (select from intake_file where intake_id = i.id and asset_id = any($2))
		and not exists (select from intake_file where intake_id = i.id and state in ('added', 'version') and asset_id <> all($2))`, entry, ids)
	return errors.Join(err, tx.ContinueTrail(ctx, entry))
}
