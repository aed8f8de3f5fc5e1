// Package outlets talks to the places outside where media is shown: one interface, one file for each service. What a service takes is data
// (limits/), or what it says of itself.
package outlets

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/url"
	"slices"
	"time"
)

// Account is who one is at a service.
type Account struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Album is a collection of media at an outlet, under the outlet's own id. Page is the id of the page that it is on.
type Album struct {
	ID    string
	Page  string
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

// Outlet is a connection to one account at a service.
type Outlet interface {
	// Who says whose account it is.
	Who(ctx context.Context) (Account, error)
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

// service is a kind of outlet: its name as people say it, where it lets an application in and gives tokens (paths under its address), and
// how one is connected to it.
type service struct {
	kind, name       string
	authorize, token string
	connect          func(l link) Outlet
}

// services are the kinds of outlets that can be connected, each from its own file.
var services = []service{windwardService, longtableService, beanpoleService}

func serviceOf(kind string) (service, error) {
	at := slices.IndexFunc(services, func(s service) bool { return s.kind == kind })
	if at < 0 {
		return service{}, fmt.Errorf("%q is not a kind of outlet", kind)
	}
	return services[at], nil
}

// connect is the outlet of a kind at an address, with tokens from a source.
func (c *Connections) connect(kind, address string, tokens tokens) (Outlet, error) {
	at, err := url.Parse(address)
	if err != nil || at.Host == "" || at.Scheme != "http" && at.Scheme != "https" {
		return nil, fmt.Errorf("%q is not a web address", address)
	}
	if at.User != nil {
		return nil, errors.New("an address with a name and a password in it is not kept; leave them out, and connect with the token")
	}
	of, err := serviceOf(kind)
	if err != nil {
		return nil, err
	}
	return of.connect(link{at, tokens, c.client()}), nil
}

// Connect returns the outlet of a kind at an address, with an access token that was given by hand. It does not ask the outlet anything yet.
func (c *Connections) Connect(kind, address, token string) (Outlet, error) {
	return c.connect(kind, address, fixed(token))
}
