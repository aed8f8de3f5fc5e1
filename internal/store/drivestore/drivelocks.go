package drivestore

import (
	"context"
	"time"

	"brightsatchel/internal/store"
)

// DriveLock is a lock on something on the drive (RFC 4918), by its path there. Alone says that it does not hold for what is below.
type DriveLock struct {
	Token   string    `db:"token"`
	Brand   int64     `db:"brand_id"`
	Root    string    `db:"root"`
	Alone   bool      `db:"alone"`
	Owner   string    `db:"owner"`
	Expires time.Time `db:"expires_at"`
	Person  int64     `db:"person"`
	Shared  bool      `db:"shared"` // others may have locked it so, too
}

// HoldDriveLocks keeps others from changing the locks of a brand until the end of the transaction, and forgets those that are over.
func HoldDriveLocks(ctx context.Context, tx *store.Tx, brand int64) error {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtextextended('drive locks', $1))`, brand); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `delete from drive_lock where brand_id = $1 and expires_at < now()`, brand)
	return err
}

const driveLockColumns = `select token, brand_id, root, alone, owner, expires_at, shared, coalesce(person_id, 0) as person from drive_lock `

// DriveLocksOver lists the locks that hold for a path: its own, and those of what it is in that hold for all below. With below, those of
// what is in it too.
func DriveLocksOver(ctx context.Context, r store.Reader, brand int64, path string, above []string, below bool) ([]DriveLock, error) {
	return store.List[DriveLock](
		ctx,
		r,
		driveLockColumns+`where brand_id = $1 and expires_at >= now() and (root = $2 or root = any($3) and not alone
		or $4 and starts_with(root, rtrim($2, '/') || '/'))`,
		brand,
		path,
		above,
		below,
	)
}

// DriveLockOf reads a lock by its token.
func DriveLockOf(ctx context.Context, r store.Reader, brand int64, token string) (DriveLock, error) {
	return store.Get[DriveLock](ctx, r, "There is no such lock.",
		driveLockColumns+`where brand_id = $1 and token = $2 and expires_at >= now()`,
		brand,
		token,
	)
}

// CountDriveLocks counts the locks that a person has in a brand.
func CountDriveLocks(ctx context.Context, r store.Reader, brand, person int64) (int, error) {
	return store.Get[int](ctx, r, "", `select count(*)::int from drive_lock where brand_id = $1 and person_id = $2`, brand, person)
}

// AddDriveLock adds a lock.
func AddDriveLock(ctx context.Context, tx *store.Tx, l DriveLock) error {
	_, err := tx.ExecContext(ctx, `insert into drive_lock (token, brand_id, root, alone, owner, expires_at, shared, person_id)
		values ($1, $2, $3, $4, $5, $6, $7, $8)`, l.Token, l.Brand, l.Root, l.Alone, l.Owner, l.Expires, l.Shared, l.Person)
	return err
}

// KeepDriveLock has a lock last until another moment.
func KeepDriveLock(ctx context.Context, tx *store.Tx, token string, until time.Time) error {
	_, err := tx.ExecContext(ctx, `update drive_lock set expires_at = $2 where token = $1`, token, until)
	return err
}

// DropDriveLock ends a lock.
func DropDriveLock(ctx context.Context, tx *store.Tx, token string) error {
	_, err := tx.ExecContext(ctx, `delete from drive_lock where token = $1`, token)
	return err
}

// DropDriveLocksBelow ends the locks of a path and of all below it, which is gone.
func DropDriveLocksBelow(ctx context.Context, tx *store.Tx, brand int64, path string) error {
	_, err := tx.ExecContext(ctx, `delete from drive_lock where brand_id = $1 and (root = $2 or starts_with(root, $2 || '/'))`, brand, path)
	return err
}
