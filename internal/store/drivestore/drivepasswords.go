package drivestore

import (
	"context"
	"database/sql"
	"time"

	"brightsatchel/internal/store"
)

// DrivePassword opens the drive of one brand for one person. Only its sum is kept.
type DrivePassword struct {
	ID      int64        `db:"id"`
	Name    string       `db:"name"`
	Created time.Time    `db:"created_at"`
	Used    sql.NullTime `db:"used_at"`
	Ends    sql.NullTime `db:"ends_at"` // it opens nothing after that
}

// DrivePasswords lists the passwords of a person for the drive of a brand that open it now, the newest first.
func DrivePasswords(ctx context.Context, r store.Reader, brand, person int64) ([]DrivePassword, error) {
	return store.List[DrivePassword](ctx, r, `select id, name, created_at, used_at, ends_at from drive_password
		where brand_id = $1 and person_id = $2 and ended_at is null and coalesce(ends_at, 'infinity') > now() order by id desc`, brand, person)
}

// AddDrivePassword keeps a new password by its SHA-256 sum, for so many days (0 is for good).
func AddDrivePassword(ctx context.Context, tx *store.Tx, brand, person int64, name string, sum []byte, days int) (int64, error) {
	return store.Get[int64](ctx, tx, "", `insert into drive_password (brand_id, person_id, name, sum, ends_at)
		values ($1, $2, $3, $4, case when $5::int > 0 then now() + make_interval(days => $5::int) end) returning id`, brand, person, name, sum,
		days)
}

// EndWaysIn ends the ways in for a person that are not their password: links that were not used, addresses of their calendar, and, unless
// they are kept, passwords for the drive.
func EndWaysIn(ctx context.Context, tx *store.Tx, person int64, keepDrive bool) error {
	if _, err := tx.ExecContext(ctx, `delete from invitation where person_id = $1 and used_at is null`, person); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `delete from calendar_feed where person_id = $1`, person); err != nil || keepDrive {
		return err
	}
	_, err := tx.ExecContext(ctx, `update drive_password set ended_at = now() where person_id = $1 and ended_at is null`, person)
	return err
}

// EndDrivePassword takes a password of a person back, and returns its name.
func EndDrivePassword(ctx context.Context, tx *store.Tx, brand, person, id int64) (string, error) {
	return store.Get[string](ctx, tx, "That password does not open the drive any more.", `update drive_password set ended_at = now()
		where id = $1 and brand_id = $2 and person_id = $3 and ended_at is null returning name`, id, brand, person)
}

// DriveUsed notes that a password was used.
func DriveUsed(ctx context.Context, tx *store.Tx, password int64) error {
	_, err := tx.ExecContext(ctx, `update drive_password set used_at = now() where id = $1`, password)
	return err
}
