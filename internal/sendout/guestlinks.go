package sendout

import (
	"context"
	"crypto/rand"
	"crypto/sha256"

	"brightsatchel/internal/store"
)

// guestLink is what the links of guests are sealed for.
const guestLink = "link of a guest"

// LinkSum is by what a guest's link is found.
func LinkSum(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// newLink is a link that nobody had before.
func (s *Service) newLink() store.Link { return s.sealLink(rand.Text()) }

func (s *Service) sealLink(secret string) store.Link {
	return store.Link{Sum: LinkSum(secret), Sealed: s.Keys.Seal([]byte(secret), guestLink)}
}

// LinkOf is the secret part of a guest's own link.
func (s *Service) LinkOf(l store.Link) (string, error) {
	secret, _, err := s.Keys.Open(l.Sealed, guestLink)
	return string(secret), err
}

// SealLinks seals the links that were kept as they are by an earlier version.
func (s *Service) SealLinks(ctx context.Context) error {
	for {
		open, err := store.UnsealedLinks(ctx, s.DB)
		if err != nil || len(open) == 0 {
			return err
		}
		err = s.DB.InTx(ctx, func(tx *store.Tx) error {
			for id, secret := range open {
				if err := tx.SealLink(ctx, id, s.sealLink(secret)); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
	}
}
