package peoplestore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// Member is a person in a brand with everything that decides what they may do.
type Member struct {
	access.Actor
	ID    int64
	Name  string
	Email string
	// Joined says that they have chosen a password.
	Joined bool
}

// Members lists the people of a brand by name, with the grants that they have, by themselves or by their role.
func Members(ctx context.Context, r store.Reader, brand int64) ([]Member, error) {
	people, err := store.List[struct {
		ID     int64  `db:"id"`
		Name   string `db:"name"`
		Email  string `db:"email"`
		Role   string `db:"role"`
		Joined bool   `db:"joined"`
	}](ctx, r, `select p.id, p.name, p.email, m.role, p.password_hash <> '' as joined
		from membership m join person p on p.id = m.person_id where m.brand_id = $1
		order by p.name collate natural_name, p.id`, brand)
	if err != nil {
		return nil, err
	}
	grants, err := Grants(ctx, r, brand)
	if err != nil {
		return nil, err
	}
	out := make([]Member, len(people))
	for i, p := range people {
		out[i] = Member{Actor: access.Actor{Person: p.ID, Brand: brand, Role: access.Role(p.Role)}, ID: p.ID, Name: p.Name, Email: p.Email,
			Joined: p.Joined}
		for _, g := range grants {
			if g.Person.Int64 == p.ID || g.Role.String == p.Role {
				out[i].Grants = append(out[i].Grants, access.Grant{Folder: g.Folder.Int64, Album: g.Album.Int64,
					Level: access.Level(g.Level)})
			}
		}
	}
	return out, nil
}

// SetRole makes a person something else in a brand.
func SetRole(ctx context.Context, tx *store.Tx, brand, person int64, role access.Role) error {
	_, err := tx.ExecContext(ctx, `update membership set role = $3 where brand_id = $1 and person_id = $2`, brand, person, string(role))
	return err
}

// AddMembership lets a person into a brand.
func AddMembership(ctx context.Context, tx *store.Tx, brand, person int64, role access.Role) error {
	_, err := tx.ExecContext(ctx, `insert into membership (brand_id, person_id, role) values ($1, $2, $3)`, brand, person, string(role))
	return err
}

// EndMembership takes a person out of a brand, with the grants and the satchel that they had in it. What they made stays.
func EndMembership(ctx context.Context, tx *store.Tx, brand, person int64) error {
	for _, statement := range []string{
		`delete from access_grant where brand_id = $1 and person_id = $2`,
		`delete from satchel_item where brand_id = $1 and person_id = $2`,
		`delete from invitation where brand_id = $1 and person_id = $2`,
		`delete from membership where brand_id = $1 and person_id = $2`,
	} {
		if _, err := tx.ExecContext(ctx, statement, brand, person); err != nil {
			return err
		}
	}
	return nil
}
