package renditionstore

import (
	"context"

	"brightsatchel/internal/store"
)

// SumsOf lists the contents of all versions of items.
func SumsOf(ctx context.Context, r store.Reader, ids []int64) ([][]byte, error) {
	return store.List[[]byte](ctx, r, `select distinct sha256 from version where asset_id = any($1)`, ids)
}

// Unreferenced says whether no version has a content any more, and no file that is being brought in.
func Unreferenced(ctx context.Context, r store.Reader, sum []byte) (bool, error) {
	return store.Get[bool](ctx, r, "", `select not exists (select from version where sha256 = $1) and not exists (select from intake_file
		where sha256 = $1 and state in ('waiting', 'arrived'))`, sum)
}

// NoteContents notes contents of which the bytes may have to go, so that this is not forgotten when the server is killed.
func NoteContents(ctx context.Context, tx *store.Tx, sums [][]byte) error {
	_, err := tx.ExecContext(ctx, `insert into clearing (sha256) select unnest($1::bytea[]) on conflict do nothing`, sums)
	return err
}

// NotedContents lists the contents that were noted.
func NotedContents(ctx context.Context, r store.Reader) ([][]byte, error) {
	return store.List[[]byte](ctx, r, `select sha256 from clearing`)
}

// ForgetContent forgets that a content was noted.
func ForgetContent(ctx context.Context, tx *store.Tx, sum []byte) error {
	_, err := tx.ExecContext(ctx, `delete from clearing where sha256 = $1`, sum)
	return err
}

// ClearFeed forgets what the feed told more than a day ago, and the bulk changes that ended and the tables that came back then.
func ClearFeed(ctx context.Context, db *store.DB) error {
	if _, err := db.ExecContext(ctx, `delete from feed where at < now() - interval '1 day'`); err != nil {
		return err
	}
	if _, err := db.ExecContext(ctx, `delete from words_table t where made_at < now() - interval '1 day'
		and not exists (select from bulk where finished_at is null and action = 'table')`); err != nil {
		return err
	}
	_, err := db.ExecContext(ctx, `delete from bulk where finished_at < now() - interval '1 day'`)
	return err
}
