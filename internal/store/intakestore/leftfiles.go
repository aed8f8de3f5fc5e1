package intakestore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
)

// LeftFile is a present version whose bytes were left where they are.
type LeftFile struct {
	Version  int64     `db:"id"`
	Root     string    `db:"root"`
	Path     string    `db:"left_at"`
	Bytes    int64     `db:"bytes"`
	Modified time.Time `db:"left_modified"`
	SHA256   []byte    `db:"sha256"`
	State    string    `db:"left_state"`
}

// LeftFiles lists, in pieces of up to 1000 after an id, the present versions that were left where they are.
func LeftFiles(ctx context.Context, r store.Reader, after int64) ([]LeftFile, error) {
	return store.List[LeftFile](ctx, r, `select v.id, s.path as root, v.left_at, v.bytes, v.left_modified, v.sha256, v.left_state from
		version v
		join server_folder s on s.id = v.server_folder_id join asset a on a.version_id = v.id
		where v.left_at is not null and v.id > $1 and a.binned_at is null order by v.id limit 1000`,
		after,
	)
}

// SetLeftState notes that a file which was left where it is has gone (missing), differs (changed), or is as it was ("").
// Screens that show its item are told, as of all that the machine finds out.
func SetLeftState(ctx context.Context, tx *store.Tx, version int64, state string) error {
	// The item before its version: whoever looks into it locks them in that order too.
	if _, err := tx.ExecContext(ctx, `select from asset where id = (select asset_id from version where id = $1) for no key update`,
		version); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `with v as (update version set left_state = $2 where id = $1 and left_state <> $2 returning asset_id)
		update asset set looked_into = looked_into from v where asset.id = v.asset_id`, version, state)
	return err
}

// MoveLeft notes that a file which was left where it is has been found elsewhere.
func MoveLeft(ctx context.Context, tx *store.Tx, version int64, to assetstore.Left) error {
	_, err := tx.ExecContext(ctx, `update version set server_folder_id = $2, left_at = $3, left_modified = $4, left_state = ''
		where id = $1`, version, to.ServerFolder, to.Path, to.Modified)
	return err
}

// LeftFolder is the server folder that the bytes of a version were left in.
func LeftFolder(ctx context.Context, r store.Reader, version int64) (int64, error) {
	return store.Get[int64](ctx, r, serverFolderMissing, `select server_folder_id from version where id = $1 and left_at is not null`, version)
}
