package store

import (
	"context"

	"brightsatchel/internal/core/access"
)

// Elsewhere are items in the bin that cannot go back to the folder that they were in.
type Elsewhere struct {
	Was   string `db:"was"` // the name of the folder that has gone
	Now   string `db:"now"` // where they go instead
	Items int    `db:"items"`
}

// ElsewhereOf lists, for items in the bin, the folders that have gone since, and where the items are instead.
func ElsewhereOf(ctx context.Context, r Reader, ids []int64) ([]Elsewhere, error) {
	return list[Elsewhere](ctx, r, `select coalesce((select c.before ->> 'name' from trail_change c where c.table_name = 'folder' and c.key @> jsonb_build_object('id', a.binned_folder)
			and c.after is null order by c.id desc limit 1), 'a folder') as was, coalesce(f.name, 'Unfiled') as now, count(*) as items
		from asset a left join folder f on f.id = a.folder_id where a.id = any($1) and a.binned_folder is not null and a.binned_folder is distinct from a.folder_id
		group by a.binned_folder, f.name order by items desc`, ids)
}

// DueItems lists items that have been in the bin for more than so many days, of all brands, at most so many.
func DueItems(ctx context.Context, r Reader, days, most int) ([]int64, error) {
	return list[int64](ctx, r, `select id from asset where binned_at < now() - make_interval(days => $1) order by binned_at limit $2`, days, most)
}

// BinOf lists all items in the bin that a viewer may see.
func BinOf(ctx context.Context, r Reader, v *access.Viewer) ([]int64, error) {
	c := clause{from: "from asset a"}
	c.and("a.brand_id = %s", v.Brand)
	c.where = append(c.where, "a.binned_at is not null")
	c.within(v.May(access.Look))
	return list[int64](ctx, r, "select a.id "+c.sql(), c.args...)
}

// EraseAssets removes the rows of items that are in the bin, with everything that hangs on them. What the trail tells of
// them stays, but cannot be undone any more. It returns how many that were.
func (tx *Tx) EraseAssets(ctx context.Context, ids []int64) (int, error) {
	res, err := tx.ExecContext(ctx, `delete from asset where id = any($1) and binned_at is not null`, ids)
	if err != nil {
		return 0, err
	}
	return affected(res), nil
}

// SumsOf lists the contents of all versions of items.
func SumsOf(ctx context.Context, r Reader, ids []int64) ([][]byte, error) {
	return list[[]byte](ctx, r, `select distinct sha256 from version where asset_id = any($1)`, ids)
}

// Unreferenced says whether no version has a content any more, and no file that is being brought in.
func Unreferenced(ctx context.Context, r Reader, sum []byte) (bool, error) {
	return get[bool](ctx, r, "", `select not exists (select from version where sha256 = $1) and not exists (select from intake_file where sha256 = $1 and state in ('waiting', 'arrived'))`, sum)
}

// NoteContents notes contents of which the bytes may have to go, so that this is not forgotten when the server is killed.
func (tx *Tx) NoteContents(ctx context.Context, sums [][]byte) error {
	_, err := tx.ExecContext(ctx, `insert into clearing (sha256) select unnest($1::bytea[]) on conflict do nothing`, sums)
	return err
}

// NotedContents lists the contents that were noted.
func NotedContents(ctx context.Context, r Reader) ([][]byte, error) {
	return list[[]byte](ctx, r, `select sha256 from clearing`)
}

// ForgetContent forgets that a content was noted.
func (tx *Tx) ForgetContent(ctx context.Context, sum []byte) error {
	_, err := tx.ExecContext(ctx, `delete from clearing where sha256 = $1`, sum)
	return err
}

// ClearFeed forgets what the feed told more than a day ago, and the bulk changes that ended then.
func (db *DB) ClearFeed(ctx context.Context) error {
	if _, err := db.ExecContext(ctx, `delete from feed where at < now() - interval '1 day'`); err != nil {
		return err
	}
	_, err := db.ExecContext(ctx, `delete from bulk where finished_at < now() - interval '1 day'`)
	return err
}
