package people

import (
	"context"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/peoplestore"
)

// Rename changes what a person is called, in all their brands, and returns the name as it is kept.
func (s *Service) Rename(ctx context.Context, person int64, name string) (string, error) {
	name, err := cleanName(name)
	if err != nil {
		return "", err
	}
	return name, s.DB.InTx(ctx, func(tx *store.Tx) error { return peoplestore.SetName(ctx, tx, person, name) })
}

// ChangePassword gives a person another password, who says the present one. Session
// is the one that stays; all others end, and so do the other ways in, but for passwords for the drive where these are kept.
func (s *Service) ChangePassword(ctx context.Context, person int64, session, present, next string, keepDrive bool,
	by passwords.Caller) error {
	if err := s.Confirm(ctx, person, present, by); err != nil {
		return err
	}
	hash, err := s.hash(ctx, next)
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if _, err := peoplestore.EndSessions(ctx, tx, person, session); err != nil {
			return err
		}
		if err := drivestore.EndWaysIn(ctx, tx, person, keepDrive); err != nil {
			return err
		}
		return peoplestore.SetPassword(ctx, tx, person, hash)
	})
}

// Confirm checks that a person who is signed in knows their password, before something is done that would open the door to somebody who
// merely found their browser open.
func (s *Service) Confirm(ctx context.Context, person int64, present string, by passwords.Caller) error {
	p, err := peoplestore.PersonByID(ctx, s.DB, person)
	if err != nil {
		return err
	}
	attempt := passwords.Attempt{What: passwords.Account(p.Email), Caller: by}
	return s.Passwords.Check(ctx, attempt, present, p.PasswordHash, "That is not your present password.")
}

// weakest is how hard a password is to guess at least, on the scale of zxcvbn from 0 to 4: 1 is what millions of guesses find (D. L.
// Wheeler, “zxcvbn: Low-Budget Password Strength Estimation”, USENIX Security 2016).
const weakest = 2

// hash makes the stored form of a password that somebody chooses.
func (s *Service) hash(ctx context.Context, password string) (string, error) {
	if utf8.RuneCountInString(password) < shortestPassword || len(password) > longestPassword {
		return "", fault.Invalidf("password", "A password has at least %d characters.", shortestPassword)
	}
	if zxcvbn.PasswordStrength(password, nil).Score < weakest {
		return "", fault.Invalidf("password", "That password is among those that are tried first. Take several words, or more characters.")
	}
	return s.Passwords.Hash(ctx, password)
}

// Sessions lists where a person is signed in.
func (s *Service) Sessions(ctx context.Context, person int64) ([]peoplestore.Session, error) {
	return peoplestore.SessionsOf(ctx, s.DB, person)
}

// EndSession signs a person out of one browser.
func (s *Service) EndSession(ctx context.Context, person int64, token string) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		n, err := peoplestore.EndSession(ctx, tx, person, token)
		if err == nil && n == 0 {
			err = fault.NotFoundf("That browser is signed out already.")
		}
		return err
	})
}
