package posting

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"

	"golang.org/x/oauth2"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/poststore"
)

// ConnectedOutlets lists the outlets of the brand, for those who may bring in everywhere.
func (s *Service) ConnectedOutlets(ctx context.Context, v *access.Viewer) ([]poststore.Outlet, error) {
	if !v.May(access.BringIn).All {
		return []poststore.Outlet{}, nil
	}
	return poststore.Outlets(ctx, s.DB, v.Brand)
}

// ConnectOutlet connects an outlet by a token that was given by hand, once it has answered.
func (s *Service) ConnectOutlet(ctx context.Context, v *access.Viewer, o poststore.Outlet, token string) (store.Done, error) {
	to, err := s.Outlets.Connect(o.Kind, o.Address, token)
	if err != nil {
		return store.Done{}, fault.Invalidf("address", "%s.", err)
	}
	who, err := to.Who(ctx)
	if err != nil {
		return store.Done{}, outlets.Fault(o.Name, err)
	}
	o.Brand, o.Account = v.Brand, who.ID
	return s.connected(ctx, o, outlets.Secret{Access: token})
}

// connected writes down an account that was connected, and asks it for its pages.
func (s *Service) connected(ctx context.Context, o poststore.Outlet, secret outlets.Secret) (store.Done, error) {
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		id, err := poststore.AddOutlet(ctx, tx, o)
		if err != nil {
			return err
		}
		sealed, err := s.Outlets.Seal(id, secret)
		if err != nil {
			return err
		}
		o.ID = id
		return poststore.SaveSecret(ctx, tx, id, sealed)
	}); err != nil {
		return store.Done{}, err
	}
	o, err := poststore.OutletByID(ctx, s.DB, o.Brand, o.ID)
	if err != nil {
		return store.Done{}, err
	}
	s.listenTo(ctx, o)
	return store.Done{Said: "“" + o.Name + "” is connected", Changed: 1, ID: o.ID}, s.learnPages(ctx, o)
}

// listenTo has an outlet call us when something is ready there. One that does not is asked from time to time instead.
func (s *Service) listenTo(ctx context.Context, o poststore.Outlet) {
	hook, err := s.Outlets.AskToBeCalled(ctx, o)
	if err == nil && hook != "" {
		err = s.DB.InTx(ctx, func(tx *store.Tx) error {
			sealed, err := poststore.KeepSecret(ctx, tx, o.ID)
			if err != nil {
				return err
			}
			secret, _, err := s.Outlets.Unseal(o.ID, sealed)
			if err != nil {
				return err
			}
			secret.Hook = hook
			if sealed, err = s.Outlets.Seal(o.ID, secret); err != nil {
				return err
			}
			return poststore.SaveSecret(ctx, tx, o.ID, sealed)
		})
	}
	if err != nil {
		slog.Warn("an outlet does not call", "outlet", o.ID, "error", err)
	}
}

func stateSum(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}

// BeginConnecting is the address at which somebody lets the server into an account of a kind. They come back with a state that is theirs
// alone, for ten minutes and for once.
func (s *Service) BeginConnecting(ctx context.Context, v *access.Viewer, kind string) (string, error) {
	state, verifier := rand.Text(), oauth2.GenerateVerifier()
	address, err := s.Outlets.LetIn(kind, state, verifier)
	if err != nil {
		return "", fault.Invalidf("kind", "%s.", err)
	}
	return address, s.DB.InTx(ctx, func(tx *store.Tx) error {
		return poststore.AddConnecting(ctx, tx, stateSum(state), poststore.Connecting{Brand: v.Brand, Person: v.Person, Kind: kind,
			Verifier: verifier})
	})
}

// Back is how somebody comes back from a service: with a code, or with a refusal.
type Back struct{ State, Code, Refusal string }

// FinishConnecting connects the account that a person came back from. It returns the brand as soon as that is known, also with an error.
func (s *Service) FinishConnecting(ctx context.Context, person int64, b Back, may func(brand int64) error) (brand int64, done store.Done,
	err error) {
	var from poststore.Connecting
	if err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		from, err = poststore.TakeConnecting(ctx, tx, stateSum(b.State), person)
		return err
	}); err != nil {
		return 0, done, err
	}
	if err := may(from.Brand); err != nil {
		return 0, done, err
	}
	name := outlets.Name(from.Kind)
	if b.Refusal != "" || b.Code == "" {
		return from.Brand, done, fault.Invalidf("code", "%s did not let Bright Satchel in. Nothing was connected.", name)
	}
	at, who, secret, err := s.Outlets.Exchange(ctx, from.Kind, b.Code, from.Verifier)
	if err != nil {
		return from.Brand, done, outlets.Fault(name, err)
	}
	done, err = s.connected(ctx, poststore.Outlet{Brand: from.Brand, Kind: from.Kind, Name: fmt.Sprintf("%s on %s", who.Name, name),
		Address: at.Address, Account: who.ID}, secret)
	return from.Brand, done, err
}

// DisconnectOutlet forgets an outlet. What came from it stays.
func (s *Service) DisconnectOutlet(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.RemoveOutlet(ctx, tx, v.Brand, id) })
	return store.Done{Said: "The outlet is not connected any more. What came from it stays.", Changed: 1}, err
}

// mostHeard is how many bytes a call of an outlet has at most.
const mostHeard = 64 << 10

// Heard takes a call of an outlet that something is ready there: the posts that wait for it are looked at now. A call says nothing else, so
// one that comes twice, or late, changes nothing; one that is not signed is not believed.
func (s *Service) Heard(ctx context.Context, code string, h http.Header, body io.Reader) error {
	o, err := poststore.OutletByCode(ctx, s.DB, code)
	if err != nil {
		return err
	}
	to, err := s.Outlets.To(o)
	if err != nil {
		return err
	}
	caller, calls := to.(outlets.Caller)
	text, err := io.ReadAll(io.LimitReader(body, mostHeard+1))
	if err != nil || len(text) > mostHeard || !calls {
		return fault.Invalidf("body", "That is not understood.")
	}
	sealed, err := poststore.OutletSecret(ctx, s.DB, o.ID)
	if err != nil {
		return err
	}
	secret, _, err := s.Outlets.Unseal(o.ID, sealed)
	if err != nil {
		return errors.Join(err, fault.Forbiddenf("It is not signed."))
	}
	container, well := caller.Heard(secret.Hook, h, text)
	if !well {
		return fault.Forbiddenf("It is not signed.")
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		posts, err := poststore.WakeContainer(ctx, tx, o.ID, container)
		if err != nil {
			return err
		}
		return s.wake(ctx, tx, posts)
	})
}
