package hosting

import (
	"crypto/rand"
	"crypto/sha256"

	"brightsatchel/internal/store/gallerystore"
)

// guestLink is what the links of guests are sealed for.
const guestLink = "link of a guest"

// LinkSum is by what a guest's link is found.
func LinkSum(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// newLink is a link that nobody had before.
func (s *Service) newLink() gallerystore.Link {
	secret := rand.Text()
	return gallerystore.Link{Sum: LinkSum(secret), Sealed: s.Keys.Seal([]byte(secret), guestLink)}
}

// LinkOf is the secret part of a guest's own link.
func (s *Service) LinkOf(l gallerystore.Link) (string, error) {
	secret, _, err := s.Keys.Open(l.Sealed, guestLink)
	return string(secret), err
}
