package drive

import (
	"context"
	"errors"
	"io"
	"os"
	"path"

	"golang.org/x/net/webdav"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/store/drivestore"
)

var _ webdav.FileSystem = (*tree)(nil)

// failed keeps what was wrong, for its words.
func (t *tree) failed(err error) error {
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		t.err = err
	}
	return err
}

// Stat implements webdav.FileSystem.
func (t *tree) Stat(_ context.Context, name string) (os.FileInfo, error) {
	n, err := t.find(path.Clean(name))
	if err != nil {
		return nil, t.failed(err)
	}
	return davInfo{info{n}, t}, nil
}

// OpenFile implements webdav.FileSystem.
func (t *tree) OpenFile(_ context.Context, name string, flag int, _ os.FileMode) (webdav.File, error) {
	name = path.Clean(name)
	n, err := t.find(name)
	switch {
	case flag&os.O_CREATE != 0 && (err == nil || errors.Is(err, os.ErrNotExist)):
		t.over = err == nil
		to, err := t.newFile(name)
		if err != nil {
			return nil, t.failed(err)
		}
		return &writing{tree: t, to: to, at: name}, nil
	case err != nil:
		return nil, t.failed(err)
	}
	return &file{tree: t, node: n, at: name}, nil
}

// Mkdir implements webdav.FileSystem.
func (t *tree) Mkdir(_ context.Context, name string, _ os.FileMode) error {
	name = path.Clean(name)
	if _, err := t.find(name); err == nil {
		return &said{405, "There is something of that name already."}
	}
	parent, err := t.find(path.Dir(name))
	if err != nil {
		return err // 409 by the protocol
	}
	if err := goodName(path.Base(name)); err != nil {
		return t.failed(err)
	}
	switch parent.kind {
	case library, folder:
		_, err = t.House.Filing.Create(t.ctx, t.v, parent.place.Folder, path.Base(name))
	case albums, album:
		if err = t.can(access.Gather, "make albums"); err == nil {
			_, err = t.House.Gathering.Create(t.ctx, t.v, parent.id, path.Base(name), nil, nil)
		}
	default:
		err = fault.Forbiddenf("There are no folders of one's own here.")
	}
	t.forget()
	return t.failed(err)
}

// can says no in words to whoever may not do something anywhere.
func (t *tree) can(action access.Action, what string) error {
	if t.v.Can(action) {
		return nil
	}
	return fault.Forbiddenf("You may not %s.", what)
}

// goodName refuses names that not every system takes, and says which one would be taken.
func goodName(name string) error {
	if cleaned := outputs.CleanName(name); cleaned != name && !arrival.LeftBySystem(name) {
		return fault.Invalidf("name", "“%s” is no name that every system takes. “%s” is one.", name, cleaned)
	}
	if len(name) > 255 {
		return fault.Invalidf("name", "That name is too long.")
	}
	return nil
}

// newFile is where a file goes that is copied to a path, if it may.
func (t *tree) newFile(at string) (bringin.OnDrive, error) {
	to := bringin.OnDrive{Limits: t.limits, Path: at, Name: path.Base(at), Bytes: -1, Still: func(context.Context) error { return nil }}
	parent, err := t.find(path.Dir(at))
	if errors.Is(err, os.ErrNotExist) || err == nil && !parent.isDir() {
		return to, &said{409, "The folder that it goes into is not there."}
	}
	if err != nil {
		return to, err
	}
	if err := goodName(to.Name); err != nil {
		return to, err
	}
	to.DrivePlace = parent.place
	switch parent.kind {
	case library, folder:
		if !t.v.May(access.BringIn).Folder(parent.place.Folder) {
			return to, fault.Forbiddenf("You may not bring anything into “%s”.", parent.name)
		}
	case album:
		if parent.byRule {
			return to, fault.Forbiddenf("“%s” is kept filled by a rule, so nothing is copied into it.", parent.name)
		}
		if !t.v.Can(access.Gather) || !t.v.May(access.BringIn).Folder(0) {
			return to, fault.Forbiddenf("You may not add to albums.")
		}
	case page:
		if !t.v.Can(access.Galleries) || !t.v.May(access.BringIn).Folder(0) {
			return to, fault.Forbiddenf("You may not send anything to pages.")
		}
	default:
		return to, fault.Forbiddenf("Files go into a folder, an album or a page.")
	}
	n, err := t.find(at)
	switch {
	case errors.Is(err, os.ErrNotExist):
		return to, nil
	case err != nil:
		return to, err
	case n.isDir():
		return to, &said{405, "There is a folder of that name."}
	case n.kind == arrives:
		to.Replaces = n.file.Replaces.Int64
	case parent.kind == page:
		return to, fault.Forbiddenf("“%s” is on the page already, or waits to go there.", n.name)
	case !t.v.May(access.Describe).Folder(n.item.Folder):
		return to, fault.Forbiddenf("You may not change “%s”.", n.name)
	case parent.kind == album:
		return to, fault.Forbiddenf("“%s” is in the album already. Save over it in its folder.", n.name)
	default:
		to.Replaces = n.id
	}
	return to, nil
}

// mayRead says no to whoever may look at an item and not have its file.
func (t *tree) mayRead(n *node) error {
	home := n.place.Folder
	switch {
	case n.isDir():
		return nil
	case n.item != nil:
		home = n.item.Folder
	case n.file.Person == t.v.Person: // it is what they have just copied
		return nil
	}
	if !t.v.Allowance(home).Original {
		return fault.Forbiddenf("You may look at “%s” in the browser, and not have its file.", n.name)
	}
	return nil
}

// open reads the bytes of a file.
func (t *tree) open(n *node) (io.ReadSeekCloser, error) {
	if n.kind == arrives {
		if n.file.Asset.Valid {
			items, err := drivestore.DriveItemsOf(t.ctx, t.House.DB, t.v.Brand, []int64{n.file.Asset.Int64})
			if err != nil || len(items) == 0 {
				return nil, errors.Join(err, os.ErrNotExist)
			}
			return t.openItem(items[0])
		}
		return t.House.BringIn.OpenOnDrive(*n.file)
	}
	return t.openItem(*n.item)
}

func (t *tree) openItem(i drivestore.DriveItem) (io.ReadSeekCloser, error) {
	return t.House.Blobs.OpenSource(t.ctx, blob.Source{Sum: i.Sum, Root: i.LeftRoot.String, Path: i.LeftAt.String})
}
