// Package passwords hashes and checks passwords, of people and of galleries, and lets nobody guess for long.
package passwords

import (
	"context"
	"crypto/rand"
	"runtime"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"golang.org/x/sync/semaphore"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/poststore"
)

// So many attempts are free; each one beyond them waits longer than the one before (access.Limit).
const (
	forgotten     = time.Hour // after that nothing is counted any more
	mostHere      = 8         // for one account or gallery from one address
	mostForOne    = 50        // for one account or gallery
	mostFrom      = 60        // from one address
	longestPause  = 15 * time.Minute
	longestForOne = time.Minute // strangers hold up whoever comes from a new device for no longer
	waitingPerCPU = 4           // so many may wait for a hash to be computed, for each processor core
	waitingFrom   = 4           // so many of one address
)

var hashing = &argon2id.Params{Memory: 19 * 1024, Iterations: 2, Parallelism: 1, SaltLength: 16,
	KeyLength: 32} // OWASP's minimum for Argon2id

// Nobody is the stored form of a password that nobody knows: compared with when an address is unknown, so that the answer
// takes as long.
var Nobody = sync.OnceValue(func() string { // not before it is needed: processes that only draw pictures start often
	hash, _ := Hash(rand.Text())
	return hash
})

// Hash makes the stored form of a password (Argon2id, PHC string format). It takes 19 MB for some 20 ms; what strangers can
// cause goes through a Guard.
func Hash(password string) (string, error) { return argon2id.CreateHash(password, hashing) }

// Guard checks passwords. It counts each attempt before it looks, and computes at most as many hashes at a time as there are
// processor cores, so that neither guesses nor their number do harm. A device on which the password was right before has a budget of its
// own for it, and a place of its own among those who wait: no stranger can use these up.
type Guard struct {
	db    *store.DB
	cores *semaphore.Weighted
	most  int

	mu      sync.Mutex
	waiting map[bool]int // by whether the device is known
	from    map[string]int
}

// NewGuard returns a guard; a process has one.
func NewGuard(db *store.DB) *Guard {
	n := runtime.NumCPU()
	return &Guard{db: db, cores: semaphore.NewWeighted(int64(n)), most: n * (1 + waitingPerCPU),
		waiting: map[bool]int{}, from: map[string]int{}}
}

// Caller is where an attempt comes from: which address, and which device, where what is tried was opened on it before.
type Caller struct{ From, Device string }

// Attempt is what is tried to be opened (Account, Gallery), and by whom.
type Attempt struct {
	What string
	Caller
}

// Account is what stands for the account with an e-mail address.
func Account(email string) string { return "sign-in " + strings.ToLower(strings.TrimSpace(email)) }

// Gallery is what stands for a gallery.
func Gallery(code string) string { return "gallery " + code }

// who is who has to wait for others of the same.
func (a Attempt) who() string {
	if a.Device != "" {
		return "device " + a.Device
	}
	return a.From
}

func (a Attempt) limits() []access.Limit {
	if a.Device != "" {
		return []access.Limit{{Key: a.What + " on " + a.Device, Free: mostHere, Within: forgotten, Longest: longestPause}}
	}
	return []access.Limit{{Key: a.What + " from " + a.From, Free: mostHere, Within: forgotten, Longest: longestPause},
		{Key: a.What, Free: mostForOne, Within: forgotten, Longest: longestForOne},
		{Key: "from " + a.From, Free: mostFrom, Within: forgotten, Longest: longestPause}}
}

// Check compares a password with its stored form. Wrong is the text of the fault.Invalid that a wrong password gives. Too
// many attempts, or too many at a time, give fault.TooMany.
func (g *Guard) Check(ctx context.Context, a Attempt, password, hash, wrong string) error {
	limits := a.limits()
	// It counts before it is looked at: of many at the same time only so many are looked at.
	wait, err := poststore.CountAttempt(ctx, g.db, limits...)
	if err != nil {
		return err
	}
	if wait > 0 {
		return &fault.TooMany{Text: "That was tried too often. Wait " + wording.Wait(wait) + ", or ask the person who gave you the password.",
			After: wait}
	}
	right := false
	err = g.compute(ctx, a, func() (err error) {
		right, err = argon2id.ComparePasswordAndHash(password, hash)
		return err
	})
	if err != nil || !right {
		if err == nil {
			err = fault.Invalidf("password", "%s", wrong)
		}
		return err
	}
	return poststore.ForgetAttempt(ctx, g.db, limits...)
}

// Hash is the function Hash, one at a time for each core.
func (g *Guard) Hash(ctx context.Context, password string) (hash string, err error) {
	err = g.compute(ctx, Attempt{}, func() (err error) {
		hash, err = Hash(password)
		return err
	})
	return hash, err
}

// compute computes a hash when a core is free; a few may wait for that.
func (g *Guard) compute(ctx context.Context, a Attempt, f func() error) error {
	if !g.enter(a) {
		return &fault.TooMany{Text: "Very many people sign in at this moment. Try again in a few seconds.", After: 3 * time.Second}
	}
	defer g.leave(a)
	if err := g.cores.Acquire(ctx, 1); err != nil {
		return err
	}
	defer g.cores.Release(1)
	return f()
}

func (g *Guard) enter(a Attempt) bool {
	g.mu.Lock()
	defer g.mu.Unlock()
	if g.waiting[a.Device != ""] >= g.most || a.who() != "" && g.from[a.who()] >= waitingFrom {
		return false
	}
	g.waiting[a.Device != ""]++
	g.from[a.who()]++
	return true
}

func (g *Guard) leave(a Attempt) {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.waiting[a.Device != ""]--
	if g.from[a.who()]--; g.from[a.who()] <= 0 {
		delete(g.from, a.who())
	}
}
