// Package peoplestore keeps brands, who belongs to them, what they may, their sessions, invitations and letters.
package peoplestore

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// Person is somebody who can sign in.
type Person struct {
	ID           int64  `db:"id"`
	Email        string `db:"email"`
	Name         string `db:"name"`
	PasswordHash string `db:"password_hash"`
}

// PersonByEmail finds a person by address, ignoring case.
func PersonByEmail(ctx context.Context, r store.Reader, email string) (Person, error) {
	return store.Get[Person](ctx, r, "Nobody has that address.", `select * from person where lower(email) = lower($1)`, email)
}

// AddPerson makes a person with a role in a brand and returns the id.
func AddPerson(ctx context.Context, tx *store.Tx, brand int64, email, name, passwordHash string, role access.Role) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into person (email, name, password_hash) values ($1, $2, $3) returning id`, email, name,
		passwordHash)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `insert into membership (brand_id, person_id, role) values ($1, $2, $3)`, brand, id, string(role))
	return id, err
}

// PersonByID reads a person.
func PersonByID(ctx context.Context, r store.Reader, id int64) (Person, error) {
	return store.Get[Person](ctx, r, "That person is not there.", `select * from person where id = $1`, id)
}

// SetPassword writes the stored form of a person's password.
func SetPassword(ctx context.Context, tx *store.Tx, person int64, hash string) error {
	_, err := tx.ExecContext(ctx, `update person set password_hash = $2 where id = $1`, person, hash)
	return err
}

// SetName writes what a person is called, and tells it in all their brands.
func SetName(ctx context.Context, tx *store.Tx, person int64, name string) error {
	if _, err := tx.ExecContext(ctx, `update person set name = $2 where id = $1`, person, name); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `update membership set role = role where person_id = $1`, person)
	return err
}

// KnownElsewhere lists people of the brands of which somebody is a steward who do not belong to this one.
func KnownElsewhere(ctx context.Context, r store.Reader, brand, steward int64) ([]Person, error) {
	return store.List[Person](ctx, r, `select distinct p.* from person p join membership m on m.person_id = p.id
		join membership mine on mine.brand_id = m.brand_id and mine.person_id = $2 and mine.role = 'steward'
		where not exists (select from membership here where here.brand_id = $1 and here.person_id = p.id) order by p.name`, brand, steward)
}

// OnlyIn says whether all the brands that a person belongs to have somebody as a steward.
func OnlyIn(ctx context.Context, r store.Reader, person, steward int64) (bool, error) {
	return store.Get[bool](ctx, r, "", `select not exists (select from membership m where m.person_id = $1 and not exists (select from
		membership
		mine where mine.brand_id = m.brand_id and mine.person_id = $2 and mine.role = 'steward'))`,
		person,
		steward,
	)
}

// Colleagues reads what the people of a brand are called.
func Colleagues(ctx context.Context, r store.Reader, brand int64) (map[int64]string, error) {
	return store.Names(ctx, r, `select p.id, p.name from membership m join person p on p.id = m.person_id where m.brand_id = $1`, brand)
}
