package outlets

import (
	"context"
	"errors"
	"net/http"
	"sync"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
)

// Connections are the outlets that brands have connected.
type Connections struct {
	DB *store.DB
	// Allowed are addresses (host:port) of this machine or of private networks that whoever runs the server allows outlets
	// to be at. All others there are refused.
	Allowed []string

	once sync.Once
	http *http.Client
}

func (c *Connections) client() *http.Client {
	c.once.Do(func() { c.http = clientFor(c.Allowed) })
	return c.http
}

// Open gives a connected outlet of a brand. It does not ask the outlet anything yet.
func (c *Connections) Open(ctx context.Context, brand, id int64) (store.Outlet, Outlet, error) {
	o, err := store.OutletByID(ctx, c.DB, brand, id)
	if err != nil {
		return o, nil, err
	}
	to, err := c.Connect(o.Kind, o.Address, o.Token)
	return o, to, err
}

// Fault words what an outlet answered as a fault of what was asked, which names the outlet.
func Fault(name string, err error) error {
	switch {
	case errors.Is(err, ErrRefused):
		return fault.Invalidf("token", "“%s” does not accept the access token. Ask for a new one there.", name)
	case errors.Is(err, ErrGone):
		return fault.NotFoundf("“%s” does not know that any more.", name)
	case errors.Is(err, ErrForbiddenAddress):
		return fault.Invalidf("address", "That address is on this machine or in a private network. Whoever runs the server can allow it "+
			"with SATCHEL_OUTLETS.")
	case errors.Is(err, ErrAway):
		return fault.Invalidf("address", "“%s” does not answer now. Nothing was changed; try again later.", name)
	}
	return err
}
