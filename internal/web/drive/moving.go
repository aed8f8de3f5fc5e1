package drive

import (
	"context"
	"errors"
	"os"
	"path"
	"time"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/filing"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// RemoveAll implements webdav.FileSystem: items go to the bin, what is in an album is taken out of it. What something is moved over is
// replaced by the move.
func (t *tree) RemoveAll(_ context.Context, name string) error {
	name = path.Clean(name)
	n, err := t.find(name)
	if err != nil {
		return t.failed(err)
	}
	if name == t.movesTo && !n.isDir() {
		return nil
	}
	if err := t.settled(name, n, t.remove); err != nil {
		return t.failed(err)
	}
	t.forget()
	return t.House.DB.InTx(t.ctx, func(tx *store.Tx) error { return drivestore.DropDriveLocksBelow(t.ctx, tx, t.v.Brand, name) })
}

// How long whoever removes or moves a file waits while it is being brought in, and how often is looked.
const (
	longestTaken = 15 * time.Second
	lookTaken    = 50 * time.Millisecond
)

// settled does something with what is at a path, once it is not being brought in any more: a file that was removed or moved meanwhile would
// come back as an item. What has become of nothing, since it was here already, is left.
func (t *tree) settled(at string, n *node, do func(*node) error) error {
	for until := time.Now().Add(longestTaken); ; {
		err := error(bringin.ErrTaken)
		if n.kind != arrives || n.file.State != "taken" {
			err = do(n)
		}
		if !errors.Is(err, bringin.ErrTaken) {
			return err
		}
		if time.Now().After(until) {
			return &said{423, "“" + n.name + "” is being brought in now. Try again in a moment."}
		}
		select {
		case <-t.ctx.Done():
			return t.ctx.Err()
		case <-time.After(lookTaken):
		}
		t.forget()
		if n, err = t.find(at); err != nil {
			if errors.Is(err, os.ErrNotExist) {
				return nil
			}
			return err
		}
	}
}

func (t *tree) remove(n *node) error {
	switch {
	case n.kind == arrives && !t.mayChange(n):
		return fault.Forbiddenf("You may not remove “%s”.", n.name)
	case n.kind == arrives:
		return t.House.BringIn.RemoveOnDrive(t.ctx, *n.file)
	case n.kind == item && n.place.Page != 0:
		return fault.Forbiddenf("Take it back from the page in the browser, under Dispatches: it is not removed from there by mistake.")
	case n.kind == item && n.place.Album != 0:
		if err := t.can(access.Gather, "take anything out of albums"); err != nil {
			return err
		}
		_, err := t.House.Gathering.TakeOut(t.ctx, t.v, n.place.Album, query.Selection{IDs: []int64{n.id}})
		return err
	case n.kind == item:
		if !t.v.May(access.Remove).Folder(n.item.Folder) {
			return fault.Forbiddenf("You may not put “%s” in the bin.", n.name)
		}
		_, err := t.House.Filing.BinFromDrive(t.ctx, t.v, n.id)
		return err
	case n.kind == folder:
		codes, err := t.House.Filing.RemoveWhole(t.ctx, t.v, n.id)
		return errors.Join(err, t.House.BringIn.DropOnDrive(t.ctx, codes))
	case n.kind == album:
		if err := t.can(access.Gather, "remove albums"); err != nil {
			return err
		}
		_, err := t.House.Gathering.Remove(t.ctx, t.v, n.id, true)
		return err
	}
	return fault.Forbiddenf("“%s” is a part of the drive and stays.", n.name)
}

// Rename implements webdav.FileSystem.
func (t *tree) Rename(_ context.Context, oldName, newName string) error {
	oldName, newName = path.Clean(oldName), path.Clean(newName)
	n, err := t.find(oldName)
	if err != nil {
		return t.failed(err)
	}
	parent, err := t.find(path.Dir(newName))
	if errors.Is(err, os.ErrNotExist) {
		return t.failed(&said{409, "The folder that it goes into is not there."})
	}
	if err != nil {
		return t.failed(err)
	}
	if err := goodName(path.Base(newName)); err != nil {
		return t.failed(err)
	}
	err = t.settled(oldName, n, func(n *node) error { return t.move(n, parent, newName) })
	t.forget()
	return t.failed(err)
}

// move puts something elsewhere on the drive, or gives it another name.
func (t *tree) move(n, parent *node, to string) error {
	name := path.Base(to)
	inLibrary := parent.kind == library || parent.kind == folder
	switch {
	case n.kind == arrives:
		return t.moveFile(n, to)
	case n.kind == folder && inLibrary:
		change := filing.Change{Move: t.v.Tree[n.id] != parent.place.Folder, Parent: parent.place.Folder}
		if name != n.name {
			change.Name = &name
		}
		_, err := t.House.Filing.Change(t.ctx, t.v, n.id, change)
		return err
	case n.kind == album && (parent.kind == albums || parent.kind == album):
		if err := t.can(access.Gather, "change albums"); err != nil {
			return err
		}
		change := gathering.Change{Parent: &parent.id}
		if name != n.name {
			change.Name = &name
		}
		_, err := t.House.Gathering.Change(t.ctx, t.v, n.id, change)
		return err
	case n.kind == item && n.place.Album == 0 && n.place.Page == 0 && inLibrary:
		return t.moveItem(n, parent, to)
	case n.kind == item && n.place.Album != 0 && parent.kind == album && !parent.byRule && name == n.name:
		if err := t.can(access.Gather, "change albums"); err != nil {
			return err
		}
		_, err := t.House.Gathering.Move(t.ctx, t.v, n.place.Album, parent.id, query.Selection{IDs: []int64{n.id}})
		return err
	case n.kind == item:
		return fault.Forbiddenf("“%s” is not moved there. Copy it: an album or a page shows an item, which stays in its folder.", n.name)
	}
	return fault.Forbiddenf("“%s” is not moved there.", n.name)
}

// moveItem moves an item to a folder, gives its file another name, or both. An item of that name there goes to the bin.
func (t *tree) moveItem(n, parent *node, to string) error {
	just := query.Selection{IDs: []int64{n.id}}
	over, err := t.find(to)
	if err == nil && over.id != n.id {
		if err := t.remove(over); err != nil {
			return err
		}
	}
	if n.item.Folder != parent.place.Folder {
		if _, err := t.House.Filing.Move(t.ctx, t.v, just, parent.place.Folder); err != nil {
			return err
		}
	}
	if name := path.Base(to); name != n.name {
		if _, err := t.House.Filing.RenameFile(t.ctx, t.v, n.id, name); err != nil {
			return err
		}
	}
	return nil
}

// moveFile moves a file that is no item yet. Moved over an item it becomes a version of that: programs save like this.
func (t *tree) moveFile(n *node, to string) error {
	if !t.mayChange(n) {
		return fault.Forbiddenf("You may not move “%s”.", n.name)
	}
	over, err := t.find(to)
	if err == nil && over.kind == arrives && over.id != n.id {
		if err := t.remove(over); err != nil {
			return err
		}
		delete(t.known, to)
	}
	target, err := t.newFile(to)
	if err != nil {
		return err
	}
	return t.House.BringIn.MoveOnDrive(t.ctx, *n.file, target)
}
