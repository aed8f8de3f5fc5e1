package filing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/drivestore"
)

// BinFromDrive puts an item in the bin that is removed from its folder on the drive. Where a copy of it was written there just now, it was
// moved: the item takes the place of the copy, and keeps its words, its albums and its address.
func (s *Service) BinFromDrive(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "bin", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Remove, []int64{id}); err != nil {
			return store.Done{}, err
		}
		moved, err := takePlaces(ctx, tx, v, []int64{id})
		if err != nil || len(moved) > 0 {
			return store.Done{Said: "Moved an item on the drive", Changed: len(moved)}, err
		}
		n, err := assetstore.BinAssets(ctx, tx, []int64{id}, true)
		return store.Done{Said: fmt.Sprintf("Put %s in the bin", wording.Items(n)), Changed: n}, err
	})
}

// takePlaces puts those of some items that are removed into the places of the copies of them that were written just now, and the copies
// in the bin. It returns which these were.
func takePlaces(ctx context.Context, tx *store.Tx, v *access.Viewer, ids []int64) (map[int64]bool, error) {
	moved := map[int64]bool{}
	copied, err := drivestore.CopiedJustNow(ctx, tx, v, ids)
	if err != nil {
		return nil, err
	}
	for _, c := range copied {
		if !v.May(access.File).Folder(c.Folder) {
			continue
		}
		if err := assetstore.LockAssets(ctx, tx, []int64{c.Asset, c.Copy}); err != nil {
			return nil, err
		}
		if _, err := assetstore.BinAssets(ctx, tx, []int64{c.Copy}, true); err != nil {
			return nil, err
		}
		if _, err := assetstore.MoveAssets(ctx, tx, []int64{c.Asset}, c.Folder); err != nil {
			return nil, err
		}
		if err := drivestore.RenameFile(ctx, tx, v.Brand, c.Asset, c.Name); err != nil {
			return nil, err
		}
		moved[c.Asset] = true
	}
	return moved, nil
}
