package filing

import (
	"context"
	"fmt"
	"slices"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/folderstore"
)

// RenameFile gives the file of an item another name. Those of its versions stay as they came.
func (s *Service) RenameFile(ctx context.Context, v *access.Viewer, id int64, name string) (store.Done, error) {
	if name = outputs.CleanName(name); name == "untitled" {
		return store.Done{}, fault.Invalidf("name", "A file needs a name.")
	}
	return s.DB.Act(ctx, v, "rename_file", func(tx *store.Tx) (store.Done, error) {
		if err := store.Reachable(ctx, tx, v, access.Describe, []int64{id}); err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("The file is called “%s” now", name),
			Changed: 1,
			ID:      id,
		}, drivestore.RenameFile(ctx, tx, v.Brand, id, name)
	})
}

// mostRemoved is how many items are put in the bin together with their folder.
const mostRemoved = 5000

// RemoveWhole removes a folder with everything in it: the items go to the bin. It is what removing a folder means on a drive. It returns
// the codes of the bytes of files there that were no items yet.
func (s *Service) RemoveWhole(ctx context.Context, v *access.Viewer, id int64) ([]string, error) {
	var codes []string
	_, err := s.DB.Act(ctx, v, "remove_folder", func(tx *store.Tx) (store.Done, error) {
		tree, err := folderstore.LockFolderTree(ctx, tx, v.Brand)
		if err != nil {
			return store.Done{}, err
		}
		f, err := folderstore.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		below := tree.Below(id)
		may := v.Reach(access.Remove, tree)
		if !may.Folder(tree[id]) {
			return store.Done{}, fault.Forbiddenf("You may not remove the folder “%s”.", f.Name)
		}
		items, err := drivestore.ItemsInFolders(ctx, tx, v.Brand, below, mostRemoved+1)
		if err != nil {
			return store.Done{}, err
		}
		if len(items) > mostRemoved {
			return store.Done{}, fault.Forbiddenf("More than %d items are in “%s”. Put them in the bin in the browser, where they can be seen.",
				mostRemoved, f.Name)
		}
		moved, err := takePlaces(ctx, tx, v, items)
		if err != nil {
			return store.Done{}, err
		}
		items = slices.DeleteFunc(items, func(id int64) bool { return moved[id] })
		if _, err := assetstore.BinAssets(ctx, tx, items, true); err != nil {
			return store.Done{}, err
		}
		if codes, err = drivestore.RemoveDriveFilesIn(ctx, tx, v.Brand, below); err != nil {
			return store.Done{}, err
		}
		for _, one := range deepestFirst(tree, below) {
			if _, _, err := folderstore.RemoveFolder(ctx, tx, one, tree[id]); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: fmt.Sprintf("Removed the folder “%s” and put %s in the bin", f.Name, wording.Items(len(items))),
			Changed: len(items) + len(below)}, nil
	})
	return codes, err
}

// deepestFirst is folders in an order in which each comes before the one that it is in.
func deepestFirst(tree access.Tree, folders []int64) []int64 {
	out := make([]int64, 0, len(folders))
	depth := map[int64]int{}
	deepest := 0
	for _, id := range folders {
		depth[id] = len(tree.Path(id))
		deepest = max(deepest, depth[id])
	}
	for d := deepest; d > 0; d-- {
		for _, id := range folders {
			if depth[id] == d {
				out = append(out, id)
			}
		}
	}
	return out
}
