package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"fmt"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/peoplestore"
)

const (
	mostDrivePasswords = 50 // of a person for the drive of a brand
	usedEvery          = time.Minute
)

// DrivePasswords lists one's passwords for the drive of the brand.
func (s *Service) DrivePasswords(ctx context.Context, v *access.Viewer) ([]drivestore.DrivePassword, error) {
	return drivestore.DrivePasswords(ctx, s.DB, v.Brand, v.Person)
}

// MakeDrivePassword makes a password that opens the drive of the brand for oneself, named after the device that it is for; for so many
// days, 0 is for good. It is shown this
// once; only its sum is kept.
func (s *Service) MakeDrivePassword(ctx context.Context, v *access.Viewer, name string, days int) (string, error) {
	if name = strings.TrimSpace(name); name == "" {
		return "", fault.Invalidf("name", "Say for which device it is.")
	}
	password := grouped(strings.ToLower(rand.Text()))
	sum := sha256.Sum256([]byte(password))
	return password, s.DB.InTx(ctx, func(tx *store.Tx) error {
		all, err := drivestore.DrivePasswords(ctx, tx, v.Brand, v.Person)
		if err == nil && len(all) >= mostDrivePasswords {
			err = fault.Invalidf("name", "You have %d passwords for the drive. Take one back first.", len(all))
		}
		if err != nil {
			return err
		}
		_, err = drivestore.AddDrivePassword(ctx, tx, v.Brand, v.Person, name, sum[:], days)
		return err
	})
}

// OnDrive is how whoever has an address and a password for a drive sees the brand that it is of. That the password was used is noted once
// a minute.
func (s *Service) OnDrive(ctx context.Context, email, password string) (peoplestore.DriveViewer, error) {
	sum := sha256.Sum256([]byte(password))
	v, err := peoplestore.DriveViewerOf(ctx, s.DB, email, sum[:])
	if err != nil || v.Used.Valid && time.Since(v.Used.Time) < usedEvery {
		return v, err
	}
	return v, s.DB.InTx(ctx, func(tx *store.Tx) error { return drivestore.DriveUsed(ctx, tx, v.Password) })
}

// grouped is a password as one can copy it by eye: five groups of signs.
func grouped(text string) string {
	var out []string
	for at := 0; at+5 <= len(text) && len(out) < 5; at += 5 {
		out = append(out, text[at:at+5])
	}
	return strings.Join(out, "-")
}

// EndDrivePassword takes one of one's passwords back; what has the drive open by it is asked again with its next request.
func (s *Service) EndDrivePassword(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	name := ""
	err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		name, err = drivestore.EndDrivePassword(ctx, tx, v.Brand, v.Person, id)
		return err
	})
	return store.Done{Said: fmt.Sprintf("The password for “%s” does not open the drive any more", name), Changed: 1}, err
}
