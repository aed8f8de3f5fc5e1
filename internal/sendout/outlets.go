package sendout

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
)

// ConnectedOutlets lists the outlets of the brand, for those who may bring in everywhere.
func (s *Service) ConnectedOutlets(ctx context.Context, v *access.Viewer) ([]store.Outlet, error) {
	if !v.May(access.BringIn).All {
		return []store.Outlet{}, nil
	}
	return store.Outlets(ctx, s.DB, v.Brand)
}

// ConnectOutlet connects an outlet, once it has answered.
func (s *Service) ConnectOutlet(ctx context.Context, v *access.Viewer, o store.Outlet) (store.Done, error) {
	if !slices.Contains(outlets.Kinds, o.Kind) {
		return store.Done{}, fault.Invalidf("kind", "%q is not a kind of outlet.", o.Kind)
	}
	to, err := s.Outlets.Connect(o.Kind, o.Address, o.Token)
	if err != nil {
		return store.Done{}, fault.Invalidf("address", "%s.", err)
	}
	if _, err := to.Albums(ctx); err != nil {
		return store.Done{}, outlets.Fault(o.Name, err)
	}
	o.Brand = v.Brand
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		o.ID, err = tx.AddOutlet(ctx, o)
		return err
	})
	return store.Done{Said: "“" + o.Name + "” is connected", Changed: 1, ID: o.ID}, err
}

// DisconnectOutlet forgets an outlet. What came from it stays.
func (s *Service) DisconnectOutlet(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return tx.RemoveOutlet(ctx, v.Brand, id) })
	return store.Done{Said: "The outlet is not connected any more. What came from it stays.", Changed: 1}, err
}
