package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"fmt"
	"strings"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// mostDrivePasswords is how many passwords a person has for the drive of a brand.
const mostDrivePasswords = 50

// DrivePasswords lists one's passwords for the drive of the brand.
func (s *Service) DrivePasswords(ctx context.Context, v *access.Viewer) ([]store.DrivePassword, error) {
	return store.DrivePasswords(ctx, s.DB, v.Brand, v.Person)
}

// MakeDrivePassword makes a password that opens the drive of the brand for oneself, named after the device that it is for. It is shown this
// once; only its sum is kept.
func (s *Service) MakeDrivePassword(ctx context.Context, v *access.Viewer, name string) (string, error) {
	if name = strings.TrimSpace(name); name == "" {
		return "", fault.Invalidf("name", "Say for which device it is.")
	}
	password := grouped(strings.ToLower(rand.Text()))
	sum := sha256.Sum256([]byte(password))
	return password, s.DB.InTx(ctx, func(tx *store.Tx) error {
		all, err := store.DrivePasswords(ctx, tx, v.Brand, v.Person)
		if err == nil && len(all) >= mostDrivePasswords {
			err = fault.Invalidf("name", "You have %d passwords for the drive. Take one back first.", len(all))
		}
		if err != nil {
			return err
		}
		_, err = tx.AddDrivePassword(ctx, v.Brand, v.Person, name, sum[:])
		return err
	})
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
		name, err = tx.EndDrivePassword(ctx, v.Brand, v.Person, id)
		return err
	})
	return store.Done{Said: fmt.Sprintf("The password for “%s” does not open the drive any more", name), Changed: 1}, err
}
