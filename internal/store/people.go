package store

import (
	"context"

	"brightsatchel/internal/core/access"
)

// Person is somebody who can sign in.
type Person struct {
	ID           int64  `db:"id"`
	Email        string `db:"email"`
	Name         string `db:"name"`
	PasswordHash string `db:"password_hash"`
}

// PersonByEmail finds a person by address, ignoring case.
func PersonByEmail(ctx context.Context, r Reader, email string) (Person, error) {
	return get[Person](ctx, r, "Nobody has that address.", `select * from person where lower(email) = lower($1)`, email)
}

// AddPerson makes a person with a role in a brand and returns the id.
func (tx *Tx) AddPerson(ctx context.Context, brand int64, email, name, passwordHash string, role access.Role) (int64, error) {
	var id int64
	err := tx.GetContext(ctx, &id, `insert into person (email, name, password_hash) values ($1, $2, $3) returning id`, email, name,
		passwordHash)
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `insert into membership (brand_id, person_id, role) values ($1, $2, $3)`, brand, id, string(role))
	return id, err
}
