package preparing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/recipestore"
)

// FocalFor says what the crop of an item to some proportions is made around, as "1:1", in place of its focal point; nil has it follow that
// again.
func (s *Service) FocalFor(ctx context.Context, v *access.Viewer, asset int64, proportion string, at *geometry.Point) (store.Done, error) {
	var width, height int
	if n, err := fmt.Sscanf(proportion, "%d:%d", &width, &height); err != nil || n != 2 ||
		outputs.Proportion(geometry.Size{Width: width, Height: height}) != proportion {
		return store.Done{}, fault.Invalidf("proportion", "%q is no proportion in the smallest whole numbers, as in 16:9.", proportion)
	}
	return s.DB.Act(ctx, v, "focal", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Prepare, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		said := fmt.Sprintf("Moved the crop to %s of 1 item", proportion)
		if at == nil {
			said = fmt.Sprintf("Let the crop to %s of 1 item follow its focal point", proportion)
		} else {
			at = new(at.Inside())
		}
		n, err := recipestore.SetFocalFor(ctx, tx, asset, proportion, at)
		return store.Done{Said: said, Changed: n}, err
	})
}

// Focal says what every crop of an item is made around, as a place in what is shown; nil lets the machine propose it again.
func (s *Service) Focal(ctx context.Context, v *access.Viewer, asset int64, at *geometry.Point) (store.Done, error) {
	return s.DB.Act(ctx, v, "focal", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Prepare, []int64{asset}); err != nil {
			return store.Done{}, err
		}
		if at == nil {
			n, err := recipestore.ForgetFocal(ctx, tx, asset)
			if err == nil && n > 0 {
				err = s.Queue.Enqueue(ctx, tx, looking.Look{Brand: v.Brand, Asset: asset, What: "focal"})
			}
			return store.Done{Said: "Let the focal point of 1 item be found again", Changed: n}, err
		}
		n, err := recipestore.SetFocal(ctx, tx, asset, at.Inside())
		return store.Done{Said: "Set the focal point of 1 item", Changed: n}, err
	})
}
