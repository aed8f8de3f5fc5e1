package outlets

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"sync"
	"time"

	"golang.org/x/oauth2"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/sealing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/poststore"
)

// Registered is a service at which whoever runs the server has registered it, so that people can let it into their accounts.
type Registered struct {
	Kind    string `json:"kind"`
	Address string `json:"address"`
	Client  string `json:"client"`
	Secret  string `json:"secret"` // where the service gave one
}

// Connections are the outlets that brands have connected.
type Connections struct {
	DB *store.DB
	// Allowed are addresses (host:port) of this machine or of private networks that whoever runs the server allows outlets
	// to be at. All others there are refused.
	Allowed []string
	// Services are those at which the server is registered.
	Services []Registered
	// Keys seal the tokens in the database.
	Keys sealing.Keys
	// Origin is how people and services reach the server.
	Origin string

	once sync.Once
	http *http.Client
}

func (c *Connections) client() *http.Client {
	c.once.Do(func() { c.http = clientFor(c.Allowed) })
	return c.http
}

// Open gives a connected outlet of a brand. It does not ask the outlet anything yet.
func (c *Connections) Open(ctx context.Context, brand, id int64) (poststore.Outlet, Outlet, error) {
	o, err := poststore.OutletByID(ctx, c.DB, brand, id)
	if err != nil {
		return o, nil, err
	}
	to, err := c.To(o)
	return o, to, err
}

// To is the connection to an outlet. It does not ask the outlet anything yet.
func (c *Connections) To(o poststore.Outlet) (Outlet, error) {
	return c.connect(o.Kind, o.Address, &renewing{c, o})
}

// Secret is what is kept sealed of an outlet: its tokens, and what it signs its calls with.
type Secret struct {
	Access  string    `json:"access"`
	Refresh string    `json:"refresh,omitempty"`
	Ends    time.Time `json:"ends,omitzero"` // the access token
	Hook    string    `json:"hook,omitempty"`
}

func sealedFor(outlet int64) string { return fmt.Sprint("outlet ", outlet) }

// Seal seals the secret of an outlet.
func (c *Connections) Seal(outlet int64, s Secret) ([]byte, error) {
	text, err := json.Marshal(s)
	return c.Keys.Seal(text, sealedFor(outlet)), err
}

// Unseal opens the secret of an outlet. Current says that it was sealed by the key that seals now.
func (c *Connections) Unseal(outlet int64, sealed []byte) (s Secret, current bool, err error) {
	text, current, err := c.Keys.Open(sealed, sealedFor(outlet))
	if err == nil {
		err = json.Unmarshal(text, &s)
	}
	return s, current, err
}

// SealAnew seals with the first key what another one sealed, and what was not sealed yet.
func (c *Connections) SealAnew(ctx context.Context) error {
	return c.DB.InTx(ctx, func(tx *store.Tx) error {
		all, err := poststore.OutletSecrets(ctx, tx)
		if err != nil {
			return err
		}
		for _, o := range all {
			secret := Secret{Access: o.Token}
			if o.Token == "" {
				if len(o.Secret) == 0 {
					continue
				}
				opened, current, err := c.Unseal(o.ID, o.Secret)
				if err != nil || current { // of a key that is lost nothing can be saved: it has to be connected again
					continue
				}
				secret = opened
			}
			sealed, err := c.Seal(o.ID, secret)
			if err != nil {
				return err
			}
			if err := poststore.SaveSecret(ctx, tx, o.ID, sealed); err != nil {
				return err
			}
		}
		return nil
	})
}

// renewing is the token of an account that was connected, got anew before it ends.
type renewing struct {
	c *Connections
	o poststore.Outlet
}

// early is how long before its end a token is renewed.
const early = 30 * time.Second

func (r *renewing) token(ctx context.Context, stale string) (string, error) {
	sealed, err := poststore.OutletSecret(ctx, r.c.DB, r.o.ID)
	if err != nil {
		return "", err
	}
	if secret, good := r.good(sealed, stale); good {
		return secret.Access, nil
	}
	return r.renew(ctx, stale)
}

// good says whether the access token that is kept can be used.
func (r *renewing) good(sealed []byte, stale string) (Secret, bool) {
	secret, _, err := r.c.Unseal(r.o.ID, sealed)
	return secret, err == nil && secret.Access != "" && secret.Access != stale && (secret.Ends.IsZero() || time.Until(secret.Ends) > early)
}

// renew gets another access token. It keeps the row meanwhile: a refresh token that is used twice ends the connection.
func (r *renewing) renew(ctx context.Context, stale string) (access string, err error) {
	var refused error
	err = r.c.DB.InTx(ctx, func(tx *store.Tx) error {
		sealed, err := poststore.KeepSecret(ctx, tx, r.o.ID)
		if err != nil {
			return err
		}
		secret, good := r.good(sealed, stale)
		if good { // somebody else was quicker
			access = secret.Access
			return nil
		}
		if secret.Refresh == "" {
			refused = ErrRefused
			return poststore.SetOutletStanding(ctx, tx, r.o.ID, poststore.ConnectAgain)
		}
		config, err := r.c.config(r.o.Kind)
		if err != nil {
			return err
		}
		asking := context.WithValue(ctx, oauth2.HTTPClient, r.c.client())
		got, err := config.TokenSource(asking, &oauth2.Token{RefreshToken: secret.Refresh}).Token()
		var said *oauth2.RetrieveError
		if errors.As(err, &said) && said.Response != nil && said.Response.StatusCode >= 400 && said.Response.StatusCode < 500 {
			refused = ErrRefused
			return poststore.SetOutletStanding(ctx, tx, r.o.ID, poststore.ConnectAgain)
		}
		if err != nil {
			return fmt.Errorf("%w: %w", ErrAway, err)
		}
		secret.Access, secret.Ends = got.AccessToken, got.Expiry
		if got.RefreshToken != "" {
			secret.Refresh = got.RefreshToken
		}
		access = secret.Access
		if sealed, err = r.c.Seal(r.o.ID, secret); err != nil {
			return err
		}
		return poststore.SaveSecret(ctx, tx, r.o.ID, sealed)
	})
	if err == nil {
		err = refused
	}
	return access, err
}

// Fault words what an outlet answered as a fault of what was asked, which names the outlet.
func Fault(name string, err error) error {
	switch {
	case errors.Is(err, ErrRefused):
		return fault.Invalidf("token", "“%s” does not accept our access any more. Connect it again.", name)
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
