package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"brightsatchel/internal/core/access"
)

// Person is somebody who can sign in.
type Person struct {
	ID           int64  `db:"id"`
	Email        string `db:"email"`
	Name         string `db:"name"`
	PasswordHash string `db:"password_hash"`
}

// Brand is one brand of the installation.
type Brand struct {
	ID   int64  `db:"id"`
	Code string `db:"code"`
	Name string `db:"name"`
}

// PersonByEmail finds a person by address, ignoring case.
func PersonByEmail(ctx context.Context, r Reader, email string) (Person, error) {
	return get[Person](ctx, r, "Nobody has that address.", `select * from person where lower(email) = lower($1)`, email)
}

// BrandsOf lists the brands that a person belongs to, by name.
func BrandsOf(ctx context.Context, r Reader, person int64) ([]Brand, error) {
	return list[Brand](ctx, r, `select b.id, b.code, b.name from brand b join membership m on m.brand_id = b.id where m.person_id = $1 order by b.name`, person)
}

// LoadViewer reads all that decides what a person may do in a brand. Somebody who does not belong to the brand, and a
// brand that does not exist, give the same NotFound.
func LoadViewer(ctx context.Context, r Reader, person int64, brandCode string) (*access.Viewer, error) {
	row, err := get[struct {
		ID    int64  `db:"id"`
		Code  string `db:"code"`
		Brand string `db:"brand"`
		Name  string `db:"name"`
		Email string `db:"email"`
		Role  string `db:"role"`
	}](ctx, r, "There is no such brand among yours.", `select b.id, b.code, b.name as brand, p.name, p.email, m.role from membership m
		join brand b on b.id = m.brand_id join person p on p.id = m.person_id where m.person_id = $1 and b.code = $2`, person, brandCode)
	if err != nil {
		return nil, err
	}
	grants, err := list[struct {
		Folder sql.NullInt64 `db:"folder_id"`
		Album  sql.NullInt64 `db:"album_id"`
		Level  string        `db:"level"`
	}](ctx, r, `select folder_id, album_id, level from access_grant where brand_id = $1 and (person_id = $2 or role = $3)`, row.ID, person, row.Role)
	if err != nil {
		return nil, err
	}
	v := &access.Viewer{
		Actor:     access.Actor{Person: person, Brand: row.ID, Role: access.Role(row.Role)},
		BrandCode: row.Code, BrandName: row.Brand, Name: row.Name, Email: row.Email,
	}
	for _, g := range grants {
		v.Grants = append(v.Grants, access.Grant{Folder: g.Folder.Int64, Album: g.Album.Int64, Level: access.Level(g.Level)})
	}
	if db, ok := r.(*DB); ok {
		now, err := db.foldersNow(ctx, row.ID)
		v.Tree = now.tree
		return v, err
	}
	v.Tree, err = FolderTree(ctx, r, row.ID)
	return v, err
}

// AddPerson makes a person with a role in a brand and returns the id.
func (tx *Tx) AddPerson(ctx context.Context, brand int64, email, name, passwordHash string, role access.Role) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into person (email, name, password_hash) values ($1, $2, $3) returning id`, email, name, passwordHash)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `insert into membership (brand_id, person_id, role) values ($1, $2, $3)`, brand, id, string(role))
	return id, err
}

// AddGrant gives a person rights in a folder or for an album.
func (tx *Tx) AddGrant(ctx context.Context, brand, person int64, g access.Grant) error {
	_, err := tx.ExecContext(ctx, `insert into access_grant (brand_id, person_id, folder_id, album_id, level)
		values ($1, $2, nullif($3::bigint, 0), nullif($4::bigint, 0), $5)`, brand, person, g.Folder, g.Album, string(g.Level))
	return err
}

// AddBrand makes a brand and returns its id.
func (tx *Tx) AddBrand(ctx context.Context, code, name string) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into brand (code, name) values ($1, $2) returning id`, code, name)
	return id, err
}

// BrandByCode finds a brand, or returns nil.
func BrandByCode(ctx context.Context, r Reader, code string) (*Brand, error) {
	var b Brand
	err := r.GetContext(ctx, &b, `select id, code, name from brand where code = $1`, code)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &b, err
}

// BrandCode is the code of a brand.
func BrandCode(ctx context.Context, r Reader, brand int64) (string, error) {
	return get[string](ctx, r, "There is no such brand.", `select code from brand where id = $1`, brand)
}

// Attempts counts the failed attempts under a key within a time.
func Attempts(ctx context.Context, r Reader, key string, within time.Duration) (int, error) {
	return get[int](ctx, r, "", `select count(*) from attempt where key = $1 and at > now() - make_interval(secs => $2)`, key, within.Seconds())
}

// AddAttempt notes a failed attempt and forgets those of more than a day ago.
func (db *DB) AddAttempt(ctx context.Context, key string) error {
	_, err := db.ExecContext(ctx, `with old as (delete from attempt where at < now() - interval '1 day') insert into attempt (key) values ($1)`, key)
	return err
}
