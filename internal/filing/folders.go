package filing

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/tags"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/tagstore"
)

// Folder is a folder with how many items it shows, by itself and with everything below it, how many are in it with what is
// not shown (set aside, or behind the front of a stack), how many were set aside, and what the viewer may do there: nil is what they
// may everywhere.
type Folder struct {
	folderstore.Folder
	Own, Below, All, Aside int
	May                    []access.Action
}

// Folders lists the folders that the viewer may look into. Of those above them nobody learns even the names: a folder whose
// parent may not be seen stands at the top.
func (s *Service) Folders(ctx context.Context, v *access.Viewer) ([]Folder, error) {
	rows, err := folderstore.FoldersNow(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	counts, err := findstore.Find(s.DB).FolderCounts(ctx, v)
	if err != nil {
		return nil, err
	}
	below := make(map[int64]int, len(rows))
	shown := map[int64]bool{}
	reach := v.May(access.Look)
	for _, f := range rows {
		if !reach.Folder(f.ID) {
			continue
		}
		for id, steps := f.ID, 0; reach.Folder(id) && id != 0 && steps <= len(rows); id, steps = v.Tree[id], steps+1 {
			below[id] += counts[f.ID].Shown
			shown[id] = true
		}
	}
	out, rights := []Folder{}, rightsIn(v)
	for _, f := range rows {
		if !shown[f.ID] {
			continue
		}
		if !reach.Folder(f.Parent.Int64) {
			f.Parent = sql.NullInt64{}
		}
		out = append(out, Folder{Folder: f, Own: counts[f.ID].Shown, All: counts[f.ID].All, Aside: counts[f.ID].Aside, Below: below[f.ID],
			May: rights(f.ID)})
	}
	return out, nil
}

// rightsIn tells what a viewer may do in a folder; nil is what they may everywhere.
func rightsIn(v *access.Viewer) func(int64) []access.Action {
	in := v.Rights()
	everywhere := v.Offered()
	return func(folder int64) []access.Action {
		if may := in(folder); !slices.Equal(may, everywhere) {
			return may
		}
		return nil
	}
}

// Most folders that are made at once.
const mostAtOnce = 200

// Create makes folders in parent (0 is the top), one for each line; "a/b" makes the chain. The last name of each line must
// be new. ID is the last one made.
func (s *Service) Create(ctx context.Context, v *access.Viewer, parent int64, lines string) (store.Done, error) {
	if err := mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	var chains [][]string
	for line := range strings.Lines(lines) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		if parts := outputs.CleanPath(line); len(parts) > 0 {
			chains = append(chains, parts)
		}
	}
	if len(chains) == 0 {
		return store.Done{}, fault.Invalidf("name", "A folder needs a name.")
	}
	if len(chains) > mostAtOnce {
		return store.Done{}, fault.Invalidf("name", "That is %d folders; up to %d can be made at once.", len(chains), mostAtOnce)
	}
	return s.DB.Act(ctx, v, "create_folder", func(tx *store.Tx) (store.Done, error) {
		if parent != 0 {
			if _, err := folderstore.FolderByID(ctx, tx, v.Brand, parent); err != nil {
				return store.Done{}, err
			}
		}
		done := store.Done{}
		var names []string
		for _, parts := range chains {
			into := parent
			for _, part := range parts[:len(parts)-1] {
				var made bool
				var err error
				if into, made, err = folderstore.EnsureFolder(ctx, tx, v.Brand, into, part); err != nil {
					return store.Done{}, err
				}
				if made {
					done.Changed++
				}
			}
			last := parts[len(parts)-1]
			var err error
			if done.ID, err = folderstore.AddFolder(ctx, tx, v.Brand, into, last); err != nil {
				return store.Done{}, err
			}
			done.Changed++
			names = append(names, strings.Join(parts, " / "))
		}
		done.Said = fmt.Sprintf("Made the folder %s", wording.Quoted(names))
		if len(names) > 1 {
			done.Said = fmt.Sprintf("Made %s: %s", wording.Count(done.Changed, "folder", "folders"), wording.Quoted(names))
		}
		return done, nil
	})
}

// Change is what can be changed about a folder; nil stays as it is. With Move, Parent (0 is the top) is where it goes.
// Tags are names with commas between them. Date is YYYY-MM-DD, or "" for none.
type Change struct {
	Name, Description, Date, Tags *string
	Parked                        *bool
	Move                          bool
	Parent                        int64
}

// Change renames, describes, dates, tags, parks or moves a folder.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c Change) (store.Done, error) {
	if err := mayFile(v, id); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "change_folder", func(tx *store.Tx) (store.Done, error) {
		f, err := folderstore.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		was := f
		said, err := c.apply(&f)
		if err != nil {
			return store.Done{}, err
		}
		if c.Move {
			if said, err = s.checkFolderMove(ctx, tx, v, f, c.Parent); err != nil {
				return store.Done{}, err
			}
			f.Parent = sql.NullInt64{Int64: c.Parent, Valid: c.Parent != 0}
		}
		done := store.Done{Said: said, ID: id}
		if c.Tags != nil {
			names, err := tags.Split(*c.Tags)
			if err != nil {
				return store.Done{}, err
			}
			ids, err := tagstore.EnsureTags(ctx, tx, v, names)
			if err != nil {
				return store.Done{}, err
			}
			changed, err := folderstore.TagFolder(ctx, tx, v.Brand, id, ids)
			if err != nil {
				return store.Done{}, err
			}
			if changed {
				done.Changed = 1
			}
		}
		if f.Name != was.Name || f.Description != was.Description || f.Date != was.Date || f.Parked != was.Parked ||
			f.Parent != was.Parent {
			done.Changed = 1
			err = folderstore.ChangeFolder(ctx, tx, f)
		}
		if done.Changed == 0 {
			done.Said = "Nothing to change"
		}
		return done, err
	})
}

// apply writes the change into a folder and says it in words.
func (c *Change) apply(f *folderstore.Folder) (string, error) {
	said := fmt.Sprintf("Changed the folder “%s”", f.Name)
	if c.Parked != nil && *c.Parked != f.Parked {
		f.Parked = *c.Parked
		said = fmt.Sprintf("Brought the folder “%s” back", f.Name)
		if f.Parked {
			said = fmt.Sprintf("Parked the folder “%s”", f.Name)
		}
	}
	if c.Name != nil {
		parts := outputs.CleanPath(*c.Name)
		if len(parts) != 1 {
			return "", fault.Invalidf("name", "A folder needs one name, without slashes.")
		}
		said = fmt.Sprintf("Renamed the folder “%s” to “%s”", f.Name, parts[0])
		f.Name = parts[0]
	}
	if c.Description != nil {
		f.Description = *c.Description
	}
	if c.Date != nil {
		day, err := time.Parse(time.DateOnly, *c.Date)
		if err != nil && *c.Date != "" {
			return "", fault.Invalidf("date", "%q is not a day, as in 2026-05-17.", *c.Date)
		}
		if err == nil && (day.Year() < 1800 || day.Year() > 2200) {
			return "", fault.Invalidf("date", "The year %d is hardly meant.", day.Year())
		}
		f.Date = *c.Date
	}
	return said, nil
}

// Order puts folders of one parent (0 is the top) before another one there, or at the end when before is 0; folders from
// elsewhere are moved there first.
func (s *Service) Order(ctx context.Context, v *access.Viewer, parent int64, ids []int64, before int64) (store.Done, error) {
	if err := mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "order_folders", func(tx *store.Tx) (store.Done, error) {
		said := ""
		var names []string
		for _, id := range ids {
			if err := mayFile(v, id); err != nil {
				return store.Done{}, err
			}
			f, err := folderstore.FolderByID(ctx, tx, v.Brand, id)
			if err != nil {
				return store.Done{}, err
			}
			said = fmt.Sprintf("Placed the folder “%s”", f.Name)
			names = append(names, f.Name)
			if f.Parent.Int64 == parent {
				continue
			}
			if said, err = s.checkFolderMove(ctx, tx, v, f, parent); err != nil {
				return store.Done{}, err
			}
			f.Parent = sql.NullInt64{Int64: parent, Valid: parent != 0}
			if err := folderstore.ChangeFolder(ctx, tx, f); err != nil {
				return store.Done{}, err
			}
		}
		if len(ids) > 1 {
			said = fmt.Sprintf("Placed the folders %s", wording.Quoted(names))
		}
		n, err := folderstore.OrderFolders(ctx, tx, v.Brand, parent, ids, before)
		return store.Done{Said: said, Changed: n}, err
	})
}

// OrderByName gives the folders in parent (0 is the top) the natural order of their names again.
func (s *Service) OrderByName(ctx context.Context, v *access.Viewer, parent int64) (store.Done, error) {
	if err := mayFile(v, parent); err != nil {
		return store.Done{}, err
	}
	return s.DB.Act(ctx, v, "order_folders", func(tx *store.Tx) (store.Done, error) {
		where := "at the top level"
		if parent != 0 {
			f, err := folderstore.FolderByID(ctx, tx, v.Brand, parent)
			if err != nil {
				return store.Done{}, err
			}
			where = "in “" + f.Name + "”"
		}
		n, err := folderstore.OrderFoldersByName(ctx, tx, v.Brand, parent)
		return store.Done{Said: "Put the folders " + where + " in the order of their names", Changed: n}, err
	})
}

// Duplicate makes a folder beside another with the same folders below it, and nothing in them.
func (s *Service) Duplicate(ctx context.Context, v *access.Viewer, id int64, name string) (store.Done, error) {
	parts := outputs.CleanPath(name)
	if len(parts) != 1 {
		return store.Done{}, fault.Invalidf("name", "A folder needs one name, without slashes.")
	}
	return s.DB.Act(ctx, v, "duplicate_folder", func(tx *store.Tx) (store.Done, error) {
		f, err := folderstore.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		if err := mayFile(v, f.Parent.Int64); err != nil {
			return store.Done{}, err
		}
		if !v.May(access.Look).Folder(id) {
			return store.Done{}, fault.NotFoundf("That folder is not there any more.")
		}
		top, err := folderstore.AddFolder(ctx, tx, v.Brand, f.Parent.Int64, parts[0])
		if err != nil {
			return store.Done{}, err
		}
		n, err := folderstore.CopyFoldersBelow(ctx, tx, v.Brand, id, top)
		return store.Done{Said: fmt.Sprintf("Made “%s” with %s, all of them empty", parts[0], wording.Count(n, "folder", "folders")+" inside"),
			Changed: n + 1, ID: top}, err
	})
}

func (s *Service) checkFolderMove(ctx context.Context, tx *store.Tx, v *access.Viewer, f folderstore.Folder, parent int64) (string, error) {
	if err := mayFile(v, parent); err != nil {
		return "", err
	}
	// The tree is read again under a lock, since two moves at once could otherwise close a ring.
	tree, err := folderstore.LockFolderTree(ctx, tx, v.Brand)
	if err != nil {
		return "", err
	}
	if tree.Within(parent, f.ID) {
		return "", fault.Invalidf("parent", "“%s” cannot go into itself or into a folder inside it.", f.Name)
	}
	target := "the top level"
	if parent != 0 {
		p, err := folderstore.FolderByID(ctx, tx, v.Brand, parent)
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
		f, err := folderstore.FolderByID(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		// Whoever manages a folder by a grant on it removes what is in it, and not the folder that the grant is for.
		if !v.May(access.Remove).Folder(f.Parent.Int64) {
			return store.Done{}, fault.Forbiddenf("You may remove the folders in “%s”, and not the folder itself.", f.Name)
		}
		items, folders, err := folderstore.RemoveFolder(ctx, tx, id, f.Parent.Int64)
		if err != nil {
			return store.Done{}, err
		}
		itemsTo, foldersTo := "Unfiled", "the top level"
		if f.Parent.Valid {
			p, err := folderstore.FolderByID(ctx, tx, v.Brand, f.Parent.Int64)
			if err != nil {
				return store.Done{}, err
			}
			itemsTo, foldersTo = "“"+p.Name+"”", "“"+p.Name+"”"
		}
		said := fmt.Sprintf("Removed the folder “%s”", f.Name)
		ofFolders := wording.Count(folders, "folder", "folders")
		switch {
		case items > 0 && folders > 0 && itemsTo == foldersTo:
			said += fmt.Sprintf("; %s and %s moved to %s", wording.Items(items), ofFolders, itemsTo)
		case items > 0 && folders > 0:
			said += fmt.Sprintf("; %s moved to %s and %s to %s", wording.Items(items), itemsTo, ofFolders, foldersTo)
		case items > 0:
			said += fmt.Sprintf("; %s moved to %s", wording.Items(items), itemsTo)
		case folders > 0:
			said += fmt.Sprintf("; %s moved to %s", ofFolders, foldersTo)
		}
		return store.Done{Said: said, Changed: 1 + items + folders}, err
	})
}
