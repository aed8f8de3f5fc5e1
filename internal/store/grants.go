package store

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/access"
)

// Member is a person in a brand with everything that decides what they may do.
type Member struct {
	access.Actor
	ID    int64
	Name  string
	Email string
}

// Members lists the people of a brand by name, with the grants that they have, by themselves or by their role.
func Members(ctx context.Context, r Reader, brand int64) ([]Member, error) {
	people, err := list[struct {
		ID    int64  `db:"id"`
		Name  string `db:"name"`
		Email string `db:"email"`
		Role  string `db:"role"`
	}](ctx, r, `select p.id, p.name, p.email, m.role from membership m join person p on p.id = m.person_id where m.brand_id = $1 order by p.name collate natural_name, p.id`, brand)
	if err != nil {
		return nil, err
	}
	grants, err := Grants(ctx, r, brand)
	if err != nil {
		return nil, err
	}
	out := make([]Member, len(people))
	for i, p := range people {
		out[i] = Member{Actor: access.Actor{Person: p.ID, Brand: brand, Role: access.Role(p.Role)}, ID: p.ID, Name: p.Name, Email: p.Email}
		for _, g := range grants {
			if g.Person.Int64 == p.ID || g.Role.String == p.Role {
				out[i].Grants = append(out[i].Grants, access.Grant{Folder: g.Folder.Int64, Album: g.Album.Int64, Level: access.Level(g.Level)})
			}
		}
	}
	return out, nil
}

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
func Grants(ctx context.Context, r Reader, brand int64) ([]Grant, error) {
	return list[Grant](ctx, r, `select id, person_id, role, folder_id, album_id, level from access_grant where brand_id = $1 order by id`, brand)
}

// SetGrant gives a grant, or changes the level of the one that there is for the same and the same. Role is for everybody
// of it when person is 0.
func (tx *Tx) SetGrant(ctx context.Context, brand, person int64, role access.Role, g access.Grant) error {
	res, err := tx.ExecContext(ctx, `update access_grant set level = $6 where brand_id = $1 and coalesce(person_id, 0) = $2 and coalesce(role, '') = $3
		and coalesce(folder_id, 0) = $4 and coalesce(album_id, 0) = $5`, brand, person, string(role), g.Folder, g.Album, string(g.Level))
	if err != nil || affected(res) > 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, `insert into access_grant (brand_id, person_id, role, folder_id, album_id, level)
		values ($1, nullif($2::bigint, 0), nullif($3::text, ''), nullif($4::bigint, 0), nullif($5::bigint, 0), $6)`, brand, person, string(role), g.Folder, g.Album, string(g.Level))
	return err
}

// RemoveGrant takes a grant away and says whether it was there.
func (tx *Tx) RemoveGrant(ctx context.Context, brand, id int64) (bool, error) {
	res, err := tx.ExecContext(ctx, `delete from access_grant where id = $1 and brand_id = $2`, id, brand)
	if err != nil {
		return false, err
	}
	return affected(res) > 0, nil
}

// SetRole makes a person something else in a brand.
func (tx *Tx) SetRole(ctx context.Context, brand, person int64, role access.Role) error {
	_, err := tx.ExecContext(ctx, `update membership set role = $3 where brand_id = $1 and person_id = $2`, brand, person, string(role))
	return err
}

// AddMembership lets a person into a brand.
func (tx *Tx) AddMembership(ctx context.Context, brand, person int64, role access.Role) error {
	_, err := tx.ExecContext(ctx, `insert into membership (brand_id, person_id, role) values ($1, $2, $3)`, brand, person, string(role))
	return err
}

// WideningTold says whether a widening of the audience of a folder was told before.
func WideningTold(ctx context.Context, r Reader, folder int64, audience string) (bool, error) {
	return get[bool](ctx, r, "", `select exists (select from widening_told where folder_id = $1 and audience = $2)`, folder, audience)
}

// TellWidening notes that a widening was told.
func (tx *Tx) TellWidening(ctx context.Context, brand, folder int64, audience string) error {
	_, err := tx.ExecContext(ctx, `insert into widening_told (brand_id, folder_id, audience) values ($1, $2, $3) on conflict do nothing`, brand, folder, audience)
	return err
}

// Preferences is what a person set for themselves in a brand, as JSON.
func Preferences(ctx context.Context, r Reader, brand, person int64) ([]byte, error) {
	rows, err := list[[]byte](ctx, r, `select value from preference where brand_id = $1 and person_id = $2`, brand, person)
	if err != nil || len(rows) == 0 {
		return []byte("{}"), err
	}
	return rows[0], nil
}

// SetPreferences writes some of the values that a person set; null takes one away.
func (tx *Tx) SetPreferences(ctx context.Context, brand, person int64, change []byte) error {
	_, err := tx.ExecContext(ctx, `insert into preference (brand_id, person_id, value) values ($1, $2, jsonb_strip_nulls($3::jsonb))
		on conflict (brand_id, person_id) do update set value = jsonb_strip_nulls(preference.value || $3::jsonb)`, brand, person, string(change))
	return err
}
