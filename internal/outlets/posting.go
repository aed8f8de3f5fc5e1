package outlets

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"time"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/core/wording"
)

// Reach is how far a page goes.
type Reach string

// A page is for everyone, for members, or for nobody but those who work with it.
const (
	ForEveryone Reach = "everyone"
	ForMembers  Reach = "members"
	ForNobody   Reach = "nobody"
)

// Page is where posts go at an outlet, with who sees them and what it takes.
type Page struct {
	ID      string
	Name    string
	Address string // for a visitor
	Zone    string // of those who see it (IANA)
	Reach   Reach
	People  int    // who follow it, or are its members
	Albums  bool   // posts go into albums there
	Picture string // the id of a media that shows it, or ""
	Limits  sending.Limits
	Ways    once.Ways
}

// Audience says who sees a page, in words.
func (p Page) Audience() string {
	switch p.Reach {
	case ForEveryone:
		return "everyone; " + wording.Count(p.People, "person follows it", "people follow it")
	case ForMembers:
		return wording.Count(p.People, "member", "members")
	}
	return "nobody but those who work with it"
}

// File is a picture or clip on its way to an outlet.
type File struct {
	Name      string
	Body      io.ReadCloser
	Bytes     int64
	MediaType string
}

// Content is what a post shows.
type Content struct {
	Page    string // its id there
	Album   string // its id there, or ""
	Caption string
	Alts    []string // of each picture
	// Open opens the file of a picture, by its number.
	Open func(ctx context.Context, picture int) (File, error)
}

// Seen is a post as it is out there. Its pictures are fetched by their ids.
type Seen struct {
	Caption  string
	Pictures []string
}

// Poster is an outlet that posts are sent to.
type Poster interface {
	Outlet
	// Pages lists where posts can go.
	Pages(ctx context.Context) ([]Page, error)
	// Do carries out a step of a post that was begun, and says what came of it. The key is that of once.Key.
	Do(ctx context.Context, s once.Step, p once.Post, key string, c Content) once.Outcome
	// Address is where a visitor sees a post, on a page that is seen at an address.
	Address(page, remote string) string
	// See reads a post as it is out there. It says ErrGone of one that is not there any more.
	See(ctx context.Context, page, remote string) (Seen, error)
	// Withdraw takes a post back. It says ErrGone of one that is not there any more.
	Withdraw(ctx context.Context, remote string) error
}

// Shelver is an outlet on which albums can be made. One with the same title there is the same one.
type Shelver interface {
	MakeAlbum(ctx context.Context, page, title string) (id string, err error)
}

// Caller is an outlet that calls us when something is ready.
type Caller interface {
	// CallAt has the outlet call an address, and returns the secret with which it signs its calls.
	CallAt(ctx context.Context, address string) (secret string, err error)
	// Heard reads a call: which container it is about. It is not well signed where ok is false.
	Heard(secret string, h http.Header, body []byte) (container string, ok bool)
}

// known are the limits and ways of services that do not say themselves what they are.
//
//go:embed limits
var known embed.FS

type terms struct {
	Limits sending.Limits `json:"limits"`
	// Seconds: how long a key lives, how late lists are, how long an answer may take, and how long after that a call may take effect.
	Keys, Lag, Timeout, Late int
	Containers, LooksUp      bool
}

func (t terms) ways() once.Ways {
	seconds := func(n int) time.Duration { return time.Duration(n) * time.Second }
	return once.Ways{Keys: seconds(t.Keys), Lag: seconds(t.Lag), Timeout: seconds(t.Timeout), Late: seconds(t.Late), Containers: t.Containers,
		LooksUp: t.LooksUp}
}

// termsOf reads the terms of a service from its file.
func termsOf(kind string) (t terms) {
	text, err := known.ReadFile("limits/" + kind + ".json")
	if err == nil {
		err = json.Unmarshal(text, &t)
	}
	if err != nil {
		panic(fmt.Sprintf("the limits of %s: %v", kind, err)) // they are built in
	}
	return t
}

func shortened(text string) string { return sending.Shortened(text, 300, sending.Signs) }

// retryAfter reads how long a service asks one to wait (RFC 9110 section 10.2.3), within a day.
func retryAfter(h http.Header) time.Duration {
	text := h.Get("Retry-After")
	after := 30 * time.Second
	if seconds, err := strconv.Atoi(text); err == nil {
		after = time.Duration(seconds) * time.Second
	} else if at, err := http.ParseTime(text); err == nil {
		after = time.Until(at)
	}
	return min(24*time.Hour, max(time.Second, after))
}

// withdrawn is what came of taking something back.
func withdrawn(o once.Outcome) error {
	switch o.Kind {
	case once.Done:
		return nil
	case once.Unknown:
		return ErrGone
	case once.No:
		return fmt.Errorf("%w: %s", ErrRefused, o.Why)
	}
	return fmt.Errorf("%w: %w", ErrAway, errors.New(o.Why))
}
