package store

import (
	"context"
	"database/sql"
	"time"
)

// DrivePassword opens the drive of one brand for one person. Only its sum is kept.
type DrivePassword struct {
	ID      int64        `db:"id"`
	Name    string       `db:"name"`
	Created time.Time    `db:"created_at"`
	Used    sql.NullTime `db:"used_at"`
}

// DrivePasswords lists the passwords of a person for the drive of a brand that open it now, the newest first.
func DrivePasswords(ctx context.Context, r Reader, brand, person int64) ([]DrivePassword, error) {
	return list[DrivePassword](ctx, r, `select id, name, created_at, used_at from drive_password
		where brand_id = $1 and person_id = $2 and ended_at is null order by id desc`, brand, person)
}

// AddDrivePassword keeps a new password by its SHA-256 sum.
func (tx *Tx) AddDrivePassword(ctx context.Context, brand, person int64, name string, sum []byte) (int64, error) {
	return get[int64](ctx, tx, "", `insert into drive_password (brand_id, person_id, name, sum) values ($1, $2, $3, $4) returning id`,
		brand, person, name, sum)
}

// EndDrivePassword takes a password of a person back, and returns its name.
func (tx *Tx) EndDrivePassword(ctx context.Context, brand, person, id int64) (string, error) {
	return get[string](ctx, tx, "That password does not open the drive any more.", `update drive_password set ended_at = now()
		where id = $1 and brand_id = $2 and person_id = $3 and ended_at is null returning name`, id, brand, person)
}

// DriveUsed notes that a password was used.
func (tx *Tx) DriveUsed(ctx context.Context, password int64) error {
	_, err := tx.ExecContext(ctx, `update drive_password set used_at = now() where id = $1`, password)
	return err
}
