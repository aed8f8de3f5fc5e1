// Package people is who may come in, and to which brands.
package people

import (
	"context"
	"errors"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
)

// Service signs people in.
type Service struct {
	DB        *store.DB
	Passwords *passwords.Guard
	Mail      *mail.Service
	Origin    string // how people reach the server
}

// SignIn checks an address and a password. An unknown address
// and a wrong password give the same answer.
func (s *Service) SignIn(ctx context.Context, email, password string, by passwords.Caller) (peoplestore.Person, error) {
	person, err := peoplestore.PersonByEmail(ctx, s.DB, email)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		person.PasswordHash = passwords.Nobody()
	} else if err != nil {
		return peoplestore.Person{}, err
	} else if person.PasswordHash == "" { // invited, and has chosen none yet
		person.PasswordHash = passwords.Nobody()
	}
	attempt := passwords.Attempt{What: passwords.Account(email), Caller: by}
	return person, s.Passwords.Check(ctx, attempt, password, person.PasswordHash, "That address and password do not go together.")
}

// Viewer reads what a person may do in a brand.
func (s *Service) Viewer(ctx context.Context, person int64, brand string) (*access.Viewer, error) {
	return peoplestore.LoadViewer(ctx, s.DB, person, brand)
}

// Brands lists the brands of a person.
func (s *Service) Brands(ctx context.Context, person int64) ([]peoplestore.Brand, error) {
	return peoplestore.BrandsOf(ctx, s.DB, person)
}
