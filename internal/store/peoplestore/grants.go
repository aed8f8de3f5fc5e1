package peoplestore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// Grant is a right in a folder or for an album, of a person or of everybody with a role.
type Grant struct {
	ID     int64          `db:"id"`
	Person sql.NullInt64  `db:"person_id"`
	Role   sql.NullString `db:"role"`
	Folder sql.NullInt64  `db:"folder_id"`
	Album  sql.NullInt64  `db:"album_id"`
	Level  string         `db:"level"`
}

// Grants lists the grants of a brand.
func Grants(ctx context.Context, r store.Reader, brand int64) ([]Grant, error) {
	return store.List[Grant](ctx, r, `select id, person_id, role, folder_id, album_id, level from access_grant where brand_id = $1
		order by id`, brand)
}

// SetGrant gives a grant, or changes the level of the one that there is for the same and the same. Role is for everybody
// of it when person is 0.
func SetGrant(ctx context.Context, tx *store.Tx, brand, person int64, role access.Role, g access.Grant) error {
	n, err := tx.Change(ctx, `update access_grant set level = $6 where brand_id = $1 and coalesce(person_id, 0) = $2 and coalesce(role,
		'') = $3
		and coalesce(folder_id, 0) = $4 and coalesce(album_id, 0) = $5`, brand, person, string(role), g.Folder, g.Album, string(g.Level))
	if err != nil || n > 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, `insert into access_grant (brand_id, person_id, role, folder_id, album_id, level)
		values ($1, nullif($2::bigint, 0), nullif($3::text, ''), nullif($4::bigint, 0), nullif($5::bigint, 0), $6)`, brand, person,
		string(role), g.Folder, g.Album, string(g.Level))
	return err
}

// RemoveGrant takes a grant away and says whether it was there.
func RemoveGrant(ctx context.Context, tx *store.Tx, brand, id int64) (bool, error) {
	n, err := tx.Change(ctx, `delete from access_grant where id = $1 and brand_id = $2`, id, brand)
	return n > 0, err
}

// AddGrant gives a person rights in a folder or for an album.
func AddGrant(ctx context.Context, tx *store.Tx, brand, person int64, g access.Grant) error {
	_, err := tx.ExecContext(ctx, `insert into access_grant (brand_id, person_id, folder_id, album_id, level)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), $5)`, brand, person, g.Folder, g.Album, string(g.Level))
	return err
}
