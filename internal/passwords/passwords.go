// Package passwords hashes and checks passwords, of people and of galleries, and lets nobody guess for long.
package passwords

import (
	"context"
	"crypto/rand"
	"time"

	"github.com/alexedwards/argon2id"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// After so many failed attempts within the time, a key must wait.
const (
	attemptLimit  = 8
	attemptWindow = 15 * time.Minute
)

var hashing = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32} // OWASP's minimum for Argon2id

// Nobody is the stored form of a password that nobody knows: compared with when an address is unknown, so that the answer
// takes as long.
var Nobody, _ = Hash(rand.Text())

// Hash makes the stored form of a password (Argon2id, PHC string format).
func Hash(password string) (string, error) { return argon2id.CreateHash(password, hashing) }

// Check compares a password with its stored form. Failures count under the key, which names what is tried and from
// where; wrong is the text of the fault.Invalid that a wrong password gives. Too many give fault.TooMany.
func Check(ctx context.Context, db *store.DB, key, password, hash, wrong string) error {
	n, err := store.Attempts(ctx, db, key, attemptWindow)
	if err != nil {
		return err
	}
	if n >= attemptLimit {
		return &fault.TooMany{Text: "That was tried too often. Wait a quarter of an hour, or ask the person who gave you the password."}
	}
	right, err := argon2id.ComparePasswordAndHash(password, hash)
	if err != nil || right {
		return err
	}
	if err := db.AddAttempt(ctx, key); err != nil {
		return err
	}
	return fault.Invalidf("password", "%s", wrong)
}
