package assetstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/store"
)

// Duplicate is an item that has, or had, a version with certain bytes.
type Duplicate struct {
	Asset    int64          `db:"id"`
	Title    string         `db:"title"`
	Folder   sql.NullInt64  `db:"folder_id"`
	Binned   sql.NullTime   `db:"binned_at"`
	LeftRoot sql.NullString `db:"left_root"`
	LeftAt   sql.NullString `db:"left_at"`
}

// DuplicateOf is an item as what a file is a version of.
func DuplicateOf(ctx context.Context, r store.Reader, asset int64) (*Duplicate, error) {
	d, err := store.Get[Duplicate](ctx, r, AssetMissing, `select id, coalesce(nullif(title, ''), file_name) as title, folder_id, binned_at
		from asset where id = $1`, asset)
	return &d, err
}

// SameContent finds the item of a brand, other than except, that has a version with these bytes, those outside of the bin
// first; nil when there is none.
func SameContent(ctx context.Context, r store.Reader, brand int64, sha256 []byte, except int64) (*Duplicate, error) {
	rows, err := store.List[Duplicate](ctx, r, `select a.id, coalesce(nullif(a.title, ''), a.file_name) as title, a.folder_id, a.binned_at,
		sf.path as left_root, v.left_at
		from version v join asset a on a.id = v.asset_id left join server_folder sf on sf.id = v.server_folder_id
		where v.brand_id = $1 and v.sha256 = $2 and a.id <> $3 order by a.binned_at nulls first, v.left_at nulls first, a.id limit 1`,
		brand, sha256, except)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// LockContent makes racing transactions that bring in the same bytes to one brand wait for each other; brand 0 stands for
// the stored bytes themselves, which all brands share.
func LockContent(ctx context.Context, tx *store.Tx, brand int64, sha256 []byte) error {
	_, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock($1::int, ('x' || encode(substr($2::bytea, 1, 4),
		'hex'))::bit(32)::int)`, brand, sha256)
	return err
}
