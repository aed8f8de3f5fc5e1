package people

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"time"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/store"
)

// ResetLasts is how long a link works that somebody asked for who forgot their password.
const ResetLasts = time.Hour

// How often a link is asked for within the hour: for one address, and from one place.
const (
	mostForgotten = 3
	mostAsking    = 20
)

// Forgot sends somebody who forgot their password a link to choose another one. Whether anybody has the address is not told. From says
// where that is asked from.
func (s *Service) Forgot(ctx context.Context, email, from string) error {
	if err := s.Mail.Ready(); err != nil {
		return fault.Invalidf("email", "Letters cannot be sent from here. Ask a steward of your brand for a link.")
	}
	email = strings.ToLower(strings.TrimSpace(email))
	wait, err := s.DB.CountAttempt(ctx, []store.AttemptLimit{{Key: "forgotten by " + email, Most: mostForgotten},
		{Key: "forgotten from " + from, Most: mostAsking}}, ResetLasts)
	if err != nil {
		return err
	}
	if wait > 0 {
		return &fault.TooMany{Text: "A link was asked for several times. Look into your letters, or wait an hour.", After: wait}
	}
	person, err := store.PersonByEmail(ctx, s.DB, email)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return nil
	}
	if err != nil {
		return err
	}
	brands, err := store.BrandsOf(ctx, s.DB, person.ID)
	if err != nil || len(brands) == 0 {
		return err
	}
	token, ends := rand.Text(), time.Now().Add(ResetLasts)
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.AddInvitation(ctx, brands[0].ID, person.ID, person.ID, sumOf(token), ends); err != nil {
			return err
		}
		return s.write(ctx, tx, brands[0].ID, letters.Password, person.Email, person.Name, letters.Draft{Subject: "Choose another password",
			Greeting: letters.Dear(person.Name), Press: "Choose a password", Link: s.Origin + "/join/" + token, From: brands[0].Name,
			Lines: []string{"Somebody asked for a link to choose another password for you. If it was you, here it is."},
			Small: "The link works once, within an hour. If it was not you, do nothing: your password goes on working."})
	})
}
