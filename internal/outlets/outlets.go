// Package outlets talks to the places outside where media is shown: one interface, one file for each kind of outlet.
package outlets

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/url"
	"time"
)

// Album is a collection of media at an outlet, under the outlet's own id.
type Album struct {
	ID    string
	Title string
	Count int
}

// Media is one picture or clip at an outlet. Own says that the brand posted it there itself; others may post to its pages
// too. Bytes is 0 where the outlet does not say.
type Media struct {
	ID        string
	Album     string // title of the album
	FileName  string
	Caption   string
	MediaType string
	Bytes     int64
	Posted    time.Time
	PostedBy  string
	Own       bool
}

// Outlet is a connection to one account or page of an outlet.
type Outlet interface {
	// Albums lists the albums in the outlet's own order.
	Albums(ctx context.Context) ([]Album, error)
	// Media lists everything in an album.
	Media(ctx context.Context, album string) ([]Media, error)
	// Fetch opens the file of a media; the caller closes it.
	Fetch(ctx context.Context, media string) (io.ReadCloser, error)
}

// ErrRefused is returned when the outlet does not accept our token, ErrGone when it does not know what was asked for, and
// ErrAway when it does not answer in a way that is understood.
var (
	ErrRefused = errors.New("the outlet does not accept the access token")
	ErrGone    = errors.New("it is not at the outlet any more")
	ErrAway    = errors.New("the outlet does not answer")
)

// Kinds are the kinds of outlets that can be connected.
var Kinds = []string{"social"}

// Connect returns the outlet of a kind at an address. It does not ask the outlet anything yet.
func (c *Connections) Connect(kind, address, token string) (Outlet, error) {
	at, err := url.Parse(address)
	if err != nil || at.Host == "" || at.Scheme != "http" && at.Scheme != "https" {
		return nil, fmt.Errorf("%q is not a web address", address)
	}
	switch kind {
	case "social":
		return social{at, token, c.client()}, nil
	}
	return nil, fmt.Errorf("%q is not a kind of outlet", kind)
}
