package people

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

// ResetLasts is how long a link works that somebody asked for who forgot their password.
const ResetLasts = time.Hour

// How often a link is asked for within the hour: for one account from one place, or on a device that has been signed in to it; for any
// accounts from one place; and how long strangers who ask for one account from many places can make its person wait at most, who has the
// links that were sent for them.
const (
	mostForgotten   = 3
	mostAsking      = 20
	mostByAnybody   = 5
	longestByOthers = 10 * time.Minute
)

func forgottenLimits(email string, by passwords.Caller) []access.Limit {
	if by.Device != "" {
		return []access.Limit{{Key: "forgotten by " + email + " on " + by.Device, Free: mostForgotten, Within: ResetLasts}}
	}
	return []access.Limit{{Key: "forgotten by " + email + " from " + by.From, Free: mostForgotten, Within: ResetLasts},
		{Key: "forgotten from " + by.From, Free: mostAsking, Within: ResetLasts},
		{Key: "forgotten by " + email, Free: mostByAnybody, Within: ResetLasts, Longest: longestByOthers}}
}

// Forgot sends somebody who forgot their password a link to choose another one. Whether anybody has the address is not told.
func (s *Service) Forgot(ctx context.Context, email string, by passwords.Caller) error {
	if err := s.Mail.Ready(); err != nil {
		return fault.Invalidf("email", "E-mail cannot be sent from here. Ask a steward of your brand for a link.")
	}
	email = strings.ToLower(strings.TrimSpace(email))
	wait, err := poststore.CountAttempt(ctx, s.DB, forgottenLimits(email, by)...)
	if err != nil {
		return err
	}
	if wait > 0 {
		return &fault.TooMany{Text: "A link was asked for several times. Look in your e-mail for the newest, or wait " +
			wording.Wait(wait) + ".", After: wait}
	}
	person, err := peoplestore.PersonByEmail(ctx, s.DB, email)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return nil
	}
	if err != nil {
		return err
	}
	brands, err := peoplestore.BrandsOf(ctx, s.DB, person.ID)
	if err != nil || len(brands) == 0 {
		return err
	}
	token, ends := rand.Text(), time.Now().Add(ResetLasts)
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := peoplestore.AddInvitation(ctx, tx, brands[0].ID, person.ID, person.ID, sumOf(token), ends); err != nil {
			return err
		}
		return s.write(ctx, tx, brands[0].ID, letters.Password, person.Email, person.Name, letters.Draft{Subject: "Choose another password",
			Greeting: letters.Dear(person.Name), Press: "Choose a password", Link: s.Origin + "/join/" + token, From: brands[0].Name,
			Lines: []string{"Somebody asked for a link to choose another password for you. If it was you, here it is."},
			Small: "The link works once, within an hour. If it was not you, do nothing: your password goes on working."})
	})
}
