// Package drive shows the library as a drive on one's own computer (WebDAV class 1 and 2, RFC 4918): folders, albums and the pages of
// outlets are folders there, items are files. What is done there are the acts of the application, with the same rights, the same trail and
// the same bin; a file that is copied onto it is an intake.
package drive

import (
	"context"
	"crypto/sha256"
	"errors"
	"io"
	"net/http"
	"net/url"
	"path"
	"strings"
	"time"

	"golang.org/x/net/webdav"

	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"

	unicode "golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/house"
)

// Prefix is the path under which the drive is.
const Prefix = "/dav"

// Handler answers what drives ask. Remember gives what was loaded for a key within the last second, or loads it, and may be nil: who it
// is that only reads is not asked for each of many small files.
type Handler struct {
	House    *house.House
	Remember func(key string, load func() (peoplestore.DriveViewer, error)) (peoplestore.DriveViewer, error)
}

type callerKey struct{}

// From is a request with the address that it comes from, by which wrong passwords are counted.
func From(r *http.Request, address string) *http.Request {
	return r.WithContext(context.WithValue(r.Context(), callerKey{}, address))
}

// Methods are the methods of a drive.
var Methods = []string{"OPTIONS", "GET", "HEAD", "PUT", "DELETE", "MKCOL", "COPY", "MOVE", "LOCK", "UNLOCK", "PROPFIND", "PROPPATCH"}

// Bounds of requests that hold no file.
const (
	longestXML = 256 << 10 // bytes
	stalls     = 60 * time.Second
	wrongOften = 20 // passwords from one address within a quarter of an hour
)

// ServeHTTP answers one request of a drive. A browser shows nothing of it: what is on it may be a page that means harm.
func (h *Handler) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Security-Policy", "sandbox; default-src 'none'")
	w.Header().Set("Content-Disposition", "attachment")
	w.Header().Set("Cache-Control", "private, no-cache")
	v, err := h.viewer(r)
	if err != nil {
		answer(w, err)
		return
	}
	if err := h.serve(w, r, v); err != nil {
		answer(w, err)
	}
}

func (h *Handler) serve(w http.ResponseWriter, r *http.Request, v peoplestore.DriveViewer) error {
	at, err := clean(r.URL.Path)
	if err != nil {
		return err
	}
	if asked := strings.TrimRight(r.URL.Path, "/"); strings.HasSuffix(asked, " ") || strings.Contains(asked, " /") {
		w.Header().Set("Content-Location", (&url.URL{Path: Prefix + at}).String())
	}
	r.URL.Path, r.URL.RawPath = Prefix+at, ""
	t := &tree{Handler: h, v: v.Viewer, ctx: r.Context(), known: map[string]*node{}, listed: map[string][]*node{}, folders: v.Folders,
		limits: v.Limits}
	locks := &locks{db: h.House.DB, ctx: r.Context(), brand: v.Brand, tree: t, any: v.Locked, submitted: tokens(r),
		lasting: r.Method == "LOCK"}
	if err := preconditions(t, r, at); err != nil {
		return err
	}
	switch r.Method {
	case "GET", "HEAD":
		if n, err := t.find(at); err == nil { // what is not there the protocol package says
			if err := t.mayRead(n); err != nil {
				return err
			}
		}
	case "PUT":
		r.Body = struct{ io.ReadCloser }{r.Body} // which is read, and does not write itself: also where there is nothing in it
		t.expected = expected(r)
	case "COPY", "MOVE":
		if err := t.toward(r); err != nil {
			return err
		}
	case "PROPFIND":
		if depth := r.Header.Get("Depth"); depth != "0" && depth != "1" {
			return &said{http.StatusForbidden, "One folder is listed at a time, and not all that is below it (Depth: 1)."}
		}
	case "POST":
		return &said{http.StatusMethodNotAllowed, "Nothing is posted to a drive."}
	}
	if r.Method != "PUT" {
		if err := readXML(w, r); err != nil {
			return err
		}
	}
	locks.shared = sharesLock(r)
	t.control = http.NewResponseController(w)
	defer func() { _ = t.control.SetWriteDeadline(time.Time{}) }()
	dav := webdav.Handler{Prefix: Prefix, FileSystem: t, LockSystem: locks}
	dav.ServeHTTP(&worded{ResponseWriter: w, tree: t, locks: locks}, r)
	return nil
}

// toward takes the host out of where a request copies or moves to, since proxies change that, and says what was meant where nothing is said
// of overwriting (RFC 4918, section 10.6).
func (t *tree) toward(r *http.Request) error {
	to, err := destination(r)
	if err != nil {
		return err
	}
	r.Header.Set("Destination", (&url.URL{Path: Prefix + to}).String())
	if r.Header.Get("Overwrite") == "" {
		r.Header.Set("Overwrite", "T")
	}
	if r.Method == "MOVE" {
		t.movesTo = to
	}
	return nil
}

// clean is the path of something on the drive: composed Unicode (NFC), since some systems send it taken apart, and without spaces at
// the end of a name, which some systems cannot open. Where it is not what was asked for, the answer says so (RFC 9110, section 8.7).
func clean(p string) (string, error) {
	under, is := strings.CutPrefix(p, Prefix)
	if !is || under != "" && under[0] != '/' {
		return "", fault.NotFoundf("There is no drive there.")
	}
	if strings.ContainsRune(under, 0) || len(under) > 4000 {
		return "", fault.Invalidf("path", "That is no path on the drive.")
	}
	parts := strings.Split(unicode.NFC.String(under), "/")
	for i, part := range parts {
		parts[i] = strings.TrimRight(part, " ")
	}
	return path.Clean("/" + strings.Join(parts, "/")), nil
}

// destination is where a request copies or moves to. Which host it names does not matter: proxies change that.
func destination(r *http.Request) (string, error) {
	u, err := url.Parse(r.Header.Get("Destination"))
	if err != nil || u.Path == "" {
		return "", &said{http.StatusBadRequest, "It is not said where to."}
	}
	at, err := clean(u.Path)
	if err != nil {
		return "", &said{http.StatusBadGateway, "That is not on this drive."}
	}
	return at, nil
}

// errWho asks for a password.
var errWho = &said{http.StatusUnauthorized,
	"The drive is opened with your e-mail address and a password for it, which you make in your account."}

// viewer is whose password a request has. Wrong ones are counted for each address they come from.
func (h *Handler) viewer(r *http.Request) (peoplestore.DriveViewer, error) {
	email, password, given := r.BasicAuth()
	if !given || password == "" || len(password) > 100 {
		return peoplestore.DriveViewer{}, errWho
	}
	ask := func() (peoplestore.DriveViewer, error) { return h.House.People.OnDrive(r.Context(), email, password) }
	var v peoplestore.DriveViewer
	var err error
	if h.Remember != nil && (r.Method == http.MethodGet || r.Method == http.MethodHead) {
		sum := sha256.Sum256([]byte(email + "\x00" + password))
		v, err = h.Remember(string(sum[:]), ask)
	} else {
		v, err = ask()
	}
	var missing *fault.NotFound
	if errors.As(err, &missing) {
		wrong := access.Limit{Key: "drive from " + caller(r), Free: wrongOften, Within: 15 * time.Minute}
		if wait, err := poststore.CountAttempt(r.Context(), h.House.DB, wrong); err != nil || wait > 0 {
			return v, errors.Join(err, &said{http.StatusTooManyRequests, "Too many wrong passwords. Wait a quarter of an hour."})
		}
		return v, errWho
	}
	return v, err
}

func caller(r *http.Request) string {
	address, _ := r.Context().Value(callerKey{}).(string)
	return address
}

// tree is the drive as one request sees it. What was read once is not read again.
type tree struct {
	*Handler
	v       *access.Viewer
	ctx     context.Context
	known   map[string]*node   // by path; nil is known not to be there
	listed  map[string][]*node // what is in a folder, by its path
	props   map[string][]drivestore.DriveProperty
	folders []folderstore.Folder // of the brand; nil is not read
	albums  []albumstore.Album
	pages   []poststore.Page
	limits  arrival.Limits
	err     error // of what the protocol has no words for
	// expected is how many bytes are being sent, -1 for unknown; over says that they take the place of others.
	expected int64
	over     bool
	control  *http.ResponseController
	reads    time.Time // until when whoever reads a file has time for what was given last
	movesTo  string    // where something is moved to: what is there is replaced by the move itself
}
