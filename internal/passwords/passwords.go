// Package passwords hashes and checks passwords, of people and of galleries, and lets nobody guess for long.
package passwords

import (
	"context"
	"crypto/rand"
	"runtime"
	"sync/atomic"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/sync/semaphore"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Window is the time in which attempts are counted together. Within it so many may fail.
const (
	Window        = 15 * time.Minute
	mostHere      = 8    // for one account or gallery from one address
	mostForOne    = 50   // for one account or gallery
	mostFrom      = 60   // from one address
	mostInAll     = 3000 // everywhere together
	waitingPerCPU = 4    // so many may wait for a hash to be computed, for each processor core
)

var hashing = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16,
	KeyLength: 32} // OWASP's minimum for Argon2id

// Nobody is the stored form of a password that nobody knows: compared with when an address is unknown, so that the answer
// takes as long.
var Nobody, _ = Hash(rand.Text())

// Hash makes the stored form of a password (Argon2id, PHC string format). It takes 19 MB for some 20 ms; what strangers can
// cause goes through a Guard.
func Hash(password string) (string, error) { return argon2id.CreateHash(password, hashing) }

// Guard checks passwords. It counts each attempt before it looks, and computes at most as many hashes at a time as there are
// processor cores, so that neither guesses nor their number do harm.
type Guard struct {
	db      *store.DB
	cores   *semaphore.Weighted
	most    int64
	waiting atomic.Int64
}

// NewGuard returns a guard; a process has one.
func NewGuard(db *store.DB) *Guard {
	n := int64(runtime.NumCPU())
	return &Guard{db: db, cores: semaphore.NewWeighted(n), most: n * (1 + waitingPerCPU)}
}

// Attempt is what is tried to be opened (an account, a gallery), and from which address.
type Attempt struct{ What, From string }

// Check compares a password with its stored form. Wrong is the text of the fault.Invalid that a wrong password gives. Too
// many attempts, or too many at a time, give fault.TooMany.
func (g *Guard) Check(ctx context.Context, a Attempt, password, hash, wrong string) error {
	limits := []store.AttemptLimit{
		{Key: a.What + " from " + a.From, Most: mostHere}, {Key: a.What, Most: mostForOne}, {Key: "from " + a.From, Most: mostFrom},
		{Key: "in all", Most: mostInAll},
	}
	// It counts before it is looked at: of many at the same time only so many are looked at.
	wait, err := g.db.CountAttempt(ctx, limits, Window)
	if err != nil {
		return err
	}
	if wait > 0 {
		return &fault.TooMany{Text: "That was tried too often. Wait a quarter of an hour, or ask the person who gave you the password.",
			After: wait}
	}
	right := false
	err = g.compute(ctx, func() (err error) {
		right, err = argon2id.ComparePasswordAndHash(password, hash)
		return err
	})
	if err != nil || !right {
		if err == nil {
			err = fault.Invalidf("password", "%s", wrong)
		}
		return err
	}
	return g.db.ForgetAttempt(ctx, limits)
}

// Hash is the function Hash, one at a time for each core.
func (g *Guard) Hash(ctx context.Context, password string) (hash string, err error) {
	err = g.compute(ctx, func() (err error) {
		hash, err = Hash(password)
		return err
	})
	return hash, err
}

// compute computes a hash when a core is free; a few may wait for that.
func (g *Guard) compute(ctx context.Context, f func() error) error {
	defer g.waiting.Add(-1)
	if g.waiting.Add(1) > g.most {
		return &fault.TooMany{Text: "Very many people sign in at this moment. Try again in a few seconds.", After: 3 * time.Second}
	}
	if err := g.cores.Acquire(ctx, 1); err != nil {
		return err
	}
	defer g.cores.Release(1)
	return f()
}
