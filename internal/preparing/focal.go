package preparing

import (
	"context"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/store"
)

// Focal says what every crop of an item is made around, as a place in what is shown; nil lets the machine propose it again.
func (s *Service) Focal(ctx context.Context, v *access.Viewer, asset int64, at *geometry.Point) (store.Done, error) {
	return s.DB.Act(ctx, v, "focal", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Prepare, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		if at == nil {
			n, err := tx.ForgetFocal(ctx, asset)
			if err == nil && n > 0 {
				err = s.Queue.Enqueue(ctx, tx, looking.Look{Brand: v.Brand, Asset: asset, What: "focal"})
			}
			return store.Done{Said: "Let the focal point of 1 item be found again", Changed: n}, err
		}
		n, err := tx.SetFocal(ctx, asset, at.Inside())
		return store.Done{Said: "Set the focal point of 1 item", Changed: n}, err
	})
}
