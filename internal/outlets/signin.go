package outlets

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/oauth2"

	"brightsatchel/internal/store/poststore"
)

// Connectable is a kind of outlet in whose accounts people can let the server.
type Connectable struct{ Kind, Name string }

// Connectable lists the kinds that whoever runs the server has registered.
func (c *Connections) Connectable() []Connectable {
	out := []Connectable{}
	for _, s := range services {
		if slices.ContainsFunc(c.Services, func(r Registered) bool { return r.Kind == s.kind }) {
			out = append(out, Connectable{s.kind, s.name})
		}
	}
	return out
}

// Name is what people call the service of a kind.
func Name(kind string) string {
	s, err := serviceOf(kind)
	if err != nil {
		return kind
	}
	return s.name
}

// BackPath is where a service sends people back to.
const BackPath = "/connected"

func (c *Connections) registered(kind string) (Registered, service, error) {
	of, err := serviceOf(kind)
	if err != nil {
		return Registered{}, of, err
	}
	at := slices.IndexFunc(c.Services, func(r Registered) bool { return r.Kind == kind })
	if at < 0 {
		return Registered{}, of, fmt.Errorf("%s is not registered on this server", of.name)
	}
	return c.Services[at], of, nil
}

// config is how one is let into accounts of a kind.
func (c *Connections) config(kind string) (*oauth2.Config, error) {
	r, of, err := c.registered(kind)
	if err != nil {
		return nil, err
	}
	base := strings.TrimSuffix(r.Address, "/") + "/"
	return &oauth2.Config{ClientID: r.Client, ClientSecret: r.Secret, RedirectURL: c.Origin + BackPath,
		Endpoint: oauth2.Endpoint{AuthURL: base + of.authorize, TokenURL: base + of.token, AuthStyle: oauth2.AuthStyleInParams}}, nil
}

// LetIn is the address at which somebody lets the server into an account of a kind (RFC 6749 section 4.1.1, RFC 7636).
func (c *Connections) LetIn(kind, state, verifier string) (string, error) {
	config, err := c.config(kind)
	if err != nil {
		return "", err
	}
	return config.AuthCodeURL(state, oauth2.S256ChallengeOption(verifier)), nil
}

// Exchange gets the tokens for a code, and says whose account they are for.
func (c *Connections) Exchange(ctx context.Context, kind, code, verifier string) (Registered, Account, Secret, error) {
	config, err := c.config(kind)
	if err != nil {
		return Registered{}, Account{}, Secret{}, err
	}
	r, _, err := c.registered(kind)
	if err != nil {
		return r, Account{}, Secret{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	got, err := config.Exchange(context.WithValue(ctx, oauth2.HTTPClient, c.client()), code, oauth2.VerifierOption(verifier))
	var said *oauth2.RetrieveError
	if errors.As(err, &said) && said.Response != nil && said.Response.StatusCode < 500 {
		return r, Account{}, Secret{}, ErrRefused
	}
	if err != nil {
		return r, Account{}, Secret{}, fmt.Errorf("%w: %w", ErrAway, err)
	}
	to, err := c.Connect(kind, r.Address, got.AccessToken)
	if err != nil {
		return r, Account{}, Secret{}, err
	}
	who, err := to.Who(ctx)
	if err == nil && who.ID == "" {
		err = fmt.Errorf("%w: it does not say whose account it is", ErrAway)
	}
	return r, who, Secret{Access: got.AccessToken, Refresh: got.RefreshToken, Ends: got.Expiry}, err
}

// AskToBeCalled has an outlet call the server when something is ready there, if it does that, and returns the secret with which it signs.
func (c *Connections) AskToBeCalled(ctx context.Context, o poststore.Outlet) (string, error) {
	to, err := c.To(o)
	if err != nil {
		return "", err
	}
	caller, calls := to.(Caller)
	if !calls {
		return "", nil
	}
	return caller.CallAt(ctx, c.Origin+"/heard/"+o.Code)
}
