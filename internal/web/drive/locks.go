package drive

import (
	"bytes"
	"context"
	"errors"
	"io"
	"net/http"
	"os"
	"path"
	"regexp"
	"slices"
	"time"

	"github.com/google/uuid"
	"golang.org/x/net/webdav"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// Bounds of locks.
const (
	longestLock  = 10 * time.Minute
	mostLocks    = 1000 // of a person in a brand
	longestOwner = 2000 // bytes
)

// locks are the locks on the drive of a brand, in the database: all servers see the same.
type locks struct {
	db    *store.DB
	ctx   context.Context
	brand int64
	tree  *tree
	// any says whether anything on the drive was locked when the request came.
	any bool
	// submitted are the tokens that the request names; lasting says that it asks for a lock, and not only whether there is one.
	submitted []string
	lasting   bool
	// shared says that the lock that is asked for, or that was found, leaves room for others of its kind.
	shared bool
}

var _ webdav.LockSystem = (*locks)(nil)

// forNow is the token of a lock for the time of a request, which is only asked for, and not kept: the acts themselves see to it that none
// comes between.
const forNow = "for now"

// above lists the folders that something is in.
func above(at string) (out []string) {
	for at != "/" {
		at = path.Dir(at)
		out = append(out, at)
	}
	return out
}

// Create implements webdav.LockSystem.
func (l *locks) Create(now time.Time, d webdav.LockDetails) (string, error) {
	root := path.Clean(d.Root)
	if !l.lasting {
		return forNow, l.free(root)
	}
	if n, err := l.tree.find(root); err == nil && !l.tree.mayChange(n) {
		return "", l.tree.failed(fault.Forbiddenf("You may only look at “%s”.", n.name))
	}
	token := "urn:uuid:" + uuid.NewString()
	until := now.Add(lasts(d.Duration))
	err := l.db.InTx(l.ctx, func(tx *store.Tx) error {
		if err := drivestore.HoldDriveLocks(l.ctx, tx, l.brand); err != nil {
			return err
		}
		others, err := drivestore.DriveLocksOver(l.ctx, tx, l.brand, root, above(root), !d.ZeroDepth)
		if err == nil && slices.ContainsFunc(others, func(o drivestore.DriveLock) bool { return !l.shared || !o.Shared }) {
			err = webdav.ErrLocked
		}
		if err != nil {
			return err
		}
		if n, err := drivestore.CountDriveLocks(l.ctx, tx, l.brand, l.tree.v.Person); err != nil || n >= mostLocks ||
			len(d.OwnerXML) > longestOwner {
			return errors.Join(err, webdav.ErrLocked)
		}
		return drivestore.AddDriveLock(
			l.ctx,
			tx,
			drivestore.DriveLock{Token: token, Brand: l.brand, Root: root, Alone: d.ZeroDepth, Owner: d.OwnerXML,
				Expires: until, Shared: l.shared,
				Person: l.tree.v.Person},
		)
	})
	if err != nil {
		return "", err
	}
	return token, l.tree.hold(root, &until)
}

func lasts(d time.Duration) time.Duration {
	if d < 0 || d > longestLock {
		return longestLock
	}
	return d
}

// Refresh implements webdav.LockSystem.
func (l *locks) Refresh(now time.Time, token string, d time.Duration) (webdav.LockDetails, error) {
	found, err := drivestore.DriveLockOf(l.ctx, l.db, l.brand, token)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return webdav.LockDetails{}, webdav.ErrNoSuchLock
	}
	if err != nil {
		return webdav.LockDetails{}, err
	}
	l.shared = found.Shared
	until := now.Add(lasts(d))
	if err := l.db.InTx(l.ctx, func(tx *store.Tx) error { return drivestore.KeepDriveLock(l.ctx, tx, token, until) }); err != nil {
		return webdav.LockDetails{}, err
	}
	return webdav.LockDetails{Root: found.Root, Duration: lasts(d), OwnerXML: found.Owner, ZeroDepth: found.Alone},
		l.tree.hold(found.Root, &until)
}

// Unlock implements webdav.LockSystem.
func (l *locks) Unlock(_ time.Time, token string) error {
	if token == forNow {
		return nil
	}
	found, err := drivestore.DriveLockOf(l.ctx, l.db, l.brand, token)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return webdav.ErrNoSuchLock
	}
	if err != nil {
		return err
	}
	if err := l.db.InTx(l.ctx, func(tx *store.Tx) error { return drivestore.DropDriveLock(l.ctx, tx, token) }); err != nil {
		return err
	}
	return l.tree.hold(found.Root, nil)
}

// Confirm implements webdav.LockSystem: the conditions of one list of an If header hold for the first path, and whatever is locked there or
// at the second path was named in the header. What nobody locked needs no token.
func (l *locks) Confirm(_ time.Time, name0, name1 string, conditions ...webdav.Condition) (func(), error) {
	for _, c := range conditions {
		holds, err := l.holds(path.Clean(name0), c)
		if err != nil {
			return nil, err
		}
		if holds == c.Not {
			return nil, webdav.ErrConfirmationFailed
		}
	}
	for _, p := range []string{name0, name1} {
		if p == "" {
			continue
		}
		if err := l.free(path.Clean(p)); err != nil {
			return nil, webdav.ErrConfirmationFailed
		}
	}
	return func() {}, nil
}

// holds says whether a condition is true of a path: that a lock of a token is on it, or that it has a content.
func (l *locks) holds(at string, c webdav.Condition) (bool, error) {
	if c.ETag != "" {
		n, err := l.tree.find(at)
		if errors.Is(err, os.ErrNotExist) {
			return false, nil
		}
		return err == nil && !n.isDir() && n.tag() == c.ETag, err
	}
	found, err := drivestore.DriveLockOf(l.ctx, l.db, l.brand, c.Token)
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		return false, nil
	}
	return err == nil && (found.Root == at || !found.Alone && slices.Contains(above(at), found.Root)), err
}

// free says whether what is at a path is locked by nobody but whoever asks.
func (l *locks) free(at string) error {
	if !l.any {
		return nil
	}
	over, err := drivestore.DriveLocksOver(l.ctx, l.db, l.brand, at, above(at), true)
	if err != nil {
		return err
	}
	named := func(lock drivestore.DriveLock) bool { return slices.Contains(l.submitted, lock.Token) }
	among := slices.ContainsFunc(over, func(lock drivestore.DriveLock) bool { return lock.Shared && named(lock) })
	for _, lock := range over {
		if !named(lock) && !(lock.Shared && among) { // one of several who share it names their own
			return webdav.ErrLocked
		}
	}
	return nil
}

// sharing is the scope of a shared lock in the XML that asks for one, exclusive that in the answer.
var (
	sharing   = regexp.MustCompile(`<(/?(?:[\w.-]+:)?)shared(\s*/?>)`)
	exclusive = []byte("<D:exclusive/>")
)

// sharesLock makes the request for a shared lock one for a lock of the kind that the protocol package knows, and says whether it was one:
// what is shared about it is between the locks.
func sharesLock(r *http.Request) bool {
	if r.Method != "LOCK" {
		return false
	}
	asked, err := io.ReadAll(r.Body)
	if err != nil {
		return false
	}
	shares := sharing.Match(asked) && !bytes.Contains(asked, []byte("exclusive"))
	if shares {
		asked = sharing.ReplaceAll(asked, []byte("<${1}exclusive${2}"))
	}
	r.Body, r.ContentLength = io.NopCloser(bytes.NewReader(asked)), int64(len(asked))
	return shares
}

var coded = regexp.MustCompile(`<(urn:uuid:[0-9a-f-]{36})>`)

// tokens are the lock tokens that a request names in its If header.
func tokens(r *http.Request) (out []string) {
	for _, found := range coded.FindAllStringSubmatch(r.Header.Get("If"), 100) {
		out = append(out, found[1])
	}
	return out
}
