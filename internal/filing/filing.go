// Package filing is where items live: folders, moving, the bin.
package filing

import (
	"context"
	"fmt"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// Service files items.
type Service struct{ DB *store.DB }

// Folder is a folder with the count of everything in and below it and what the viewer may do there.
type Folder struct {
	store.Folder
	Below int
	May   []access.Action
}

// Folders lists the folders that the viewer may look into, with the way down to them.
func (s *Service) Folders(ctx context.Context, v *access.Viewer) ([]Folder, error) {
	rows, err := store.Folders(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	below := map[int64]int{}
	shown := map[int64]bool{}
	reach := v.May(access.Look)
	for _, f := range rows {
		if !reach.Folder(f.ID) {
			continue
		}
		for id, steps := f.ID, 0; id != 0 && steps <= len(rows); id, steps = v.Tree[id], steps+1 {
			below[id] += f.Own
			shown[id] = true
		}
	}
	out := []Folder{}
	for _, f := range rows {
		if !shown[f.ID] {
			continue
		}
		if !reach.Folder(f.ID) {
			f.Own, f.Description = 0, "" // only on the way to a folder that was granted
		}
		out = append(out, Folder{Folder: f, Below: below[f.ID], May: v.In(f.ID)})
	}
	return out, nil
}

// Create makes a folder in parent (0 is the top); "a/b" makes the chain. The last of the names must be new.
func (s *Service) Create(ctx context.Context, v *access.Viewer, parent int64, name string) (store.Done, error) {
	if err := s.mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	parts := outputs.CleanPath(name)
	if len(parts) == 0 {
		return store.Done{}, fault.Invalidf("name", "A folder needs a name.")
	}
	return s.DB.Act(ctx, v, "create_folder", func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := store.FolderByID(ctx, tx, v.Brand, parent); err != nil {
				return store.Done{}, err
			}
		}
		into := parent
		for _, part := range parts[:len(parts)-1] {
			var err error
			if into, _, err = tx.EnsureFolder(ctx, v.Brand, into, part); err != nil {
				return store.Done{}, err
			}
		}
		last := parts[len(parts)-1]
		id, err := tx.AddFolder(ctx, v.Brand, into, last)
		return store.Done{Said: fmt.Sprintf("Made the folder “%s”", last), Changed: 1, ID: id}, err
	})
}

// Change is what can be changed about a folder; nil stays as it is. With Move, Parent (0 is the top) is where it goes.
type Change struct {
	Name, Description *string
	Move              bool
	Parent            int64
}

// Change renames, describes or moves a folder.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c Change) (store.Done, error) {
	if err := s.mayFile(v, id); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "change_folder", func(tx *store.Tx) (store.Done, error) {
		f, err := store.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		name, description, parent := f.Name, f.Description, f.Parent.Int64
		said := fmt.Sprintf("Changed the folder “%s”", f.Name)
		if c.Name != nil {
			parts := outputs.CleanPath(*c.Name)
			if len(parts) != 1 {
				return store.Done{}, fault.Invalidf("name", "A folder needs one name, without slashes.")
			}
			name = parts[0]
			said = fmt.Sprintf("Renamed the folder “%s” to “%s”", f.Name, name)
		}
		if c.Description != nil {
			description = *c.Description
		}
		if c.Move {
			if said, err = s.checkFolderMove(ctx, tx, v, f, c.Parent); err != nil {
				return store.Done{}, err
			}
			parent = c.Parent
		}
		if name == f.Name && description == f.Description && parent == f.Parent.Int64 {
			return store.Done{Said: "Nothing to change"}, nil
		}
		return store.Done{Said: said, Changed: 1, ID: id}, tx.ChangeFolder(ctx, id, name, description, parent)
	})
}

func (s *Service) checkFolderMove(ctx context.Context, tx *store.Tx, v *access.Viewer, f store.Folder, parent int64) (string, error) {
	if err := s.mayFile(v, parent); err != nil {
		return "", err
	}
	// The tree is read again under a lock, since two moves at once could otherwise close a ring.
	tree, err := tx.LockFolderTree(ctx, v.Brand)
	if err != nil {
		return "", err
	}
	if tree.Within(parent, f.ID) {
		return "", fault.Invalidf("parent", "“%s” cannot go into itself or into a folder inside it.", f.Name)
	}
	target := "the top"
	if parent != 0 {
		p, err := store.FolderByID(ctx, tx, v.Brand, parent)
		if err != nil {
			return "", err
		}
		target = "“" + p.Name + "”"
	}
	return fmt.Sprintf("Moved the folder “%s” to %s", f.Name, target), nil
}

// Remove removes a folder. What is in it moves to its parent, or to Unfiled; nothing is deleted.
func (s *Service) Remove(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	if !v.May(access.Remove).Folder(id) {
		return store.Done{}, fault.Forbiddenf("You may not remove this folder.")
	}
	return s.DB.Act(ctx, v, "remove_folder", func(tx *store.Tx) (store.Done, error) {
		f, err := store.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		target := "Unfiled"
		if f.Parent.Valid {
			p, err := store.FolderByID(ctx, tx, v.Brand, f.Parent.Int64)
			if err != nil {
				return store.Done{}, err
			}
			target = p.Name
		}
		items, folders, err := tx.RemoveFolder(ctx, id, f.Parent.Int64)
		said := fmt.Sprintf("Removed the folder “%s”", f.Name)
		if items > 0 {
			said += fmt.Sprintf("; %s moved to %s", query.Items(items), target)
		}
		return store.Done{Said: said, Changed: 1 + items + folders}, err
	})
}

// Move puts a selection into a folder; 0 is Unfiled.
func (s *Service) Move(ctx context.Context, v *access.Viewer, sel query.Selection, folder int64) (store.Done, error) {
	if err := s.mayFile(v, folder); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "move", func(tx *store.Tx) (store.Done, error) {
		target := "Unfiled"
		if folder != 0 {
			f, err := store.FolderByID(ctx, tx, v.Brand, folder)
			if err != nil {
				return store.Done{}, err
			}
			target = f.Name
		}
		ids, err := store.Select(ctx, tx, v, access.File, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.MoveAssets(ctx, ids, folder)
		if n == 0 {
			return store.Done{Said: "They are in " + target + " already"}, err
		}
		return store.Done{Said: fmt.Sprintf("Moved %s to %s", query.Items(n), target), Changed: n}, err
	})
}

// Bin puts a selection in the bin, from where it can be put back for 60 days.
func (s *Service) Bin(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.bin(ctx, v, sel, true, "bin", "Put %s in the bin")
}

// Restore puts a selection from the bin back to where it was.
func (s *Service) Restore(ctx context.Context, v *access.Viewer, sel query.Selection) (store.Done, error) {
	return s.bin(ctx, v, sel, false, "restore", "Put %s back from the bin")
}

func (s *Service) bin(ctx context.Context, v *access.Viewer, sel query.Selection, binned bool, action, said string) (store.Done, error) {
	return s.DB.Act(ctx, v, action, func(tx *store.Tx) (store.Done, error) {
		ids, err := store.Select(ctx, tx, v, access.Remove, sel)
		if err != nil {
			return store.Done{}, err
		}
		n, err := tx.BinAssets(ctx, ids, binned)
		return store.Done{Said: fmt.Sprintf(said, query.Items(n)), Changed: n}, err
	})
}

// mayFile checks that the viewer may file in a folder; the top and Unfiled (0) are for those who may file everywhere.
func (s *Service) mayFile(v *access.Viewer, folder int64) error {
	if v.May(access.File).Folder(folder) {
		return nil
	}
	return fault.Forbiddenf("You may not file there. Ask a steward for a grant on that folder.")
}
