package bringin

import (
	"context"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
)

// Limits reads what the brand takes, and what of its storage is used.
func (s *Service) Limits(ctx context.Context, v *access.Viewer) (arrival.Limits, error) {
	l, err := peoplestore.Limits(ctx, s.DB, v.Brand)
	if !v.May(access.Look).All {
		l.Used = 0 // how much others have is not theirs to know
	}
	return l, err
}

// SetLimits writes what the brand takes. What is here already stays, whatever the limits say.
func (s *Service) SetLimits(ctx context.Context, v *access.Viewer, l arrival.Limits) (arrival.Limits, error) {
	switch {
	case l.LargestFile < 1 || l.LargestFile > MaxFile:
		return l, fault.Invalidf("largestFile", "The largest file can have between 1 byte and %s.", arrival.Bytes(MaxFile))
	case l.StorageLimit < 0:
		return l, fault.Invalidf("storageLimit", "A storage limit cannot be less than nothing.")
	case len(l.Kinds) == 0:
		return l, fault.Invalidf("kinds", "Leave at least one kind of file.")
	}
	for _, kind := range l.Kinds {
		if !slices.Contains(arrival.KindNames, kind) {
			return l, fault.Invalidf("kinds", "%q is not a kind of file.", kind)
		}
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return peoplestore.SetLimits(ctx, tx, v.Brand, l) }); err != nil {
		return l, err
	}
	return s.Limits(ctx, v)
}
