package drive

import (
	"errors"
	"os"
	"path"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/folderstore"
)

// started stands for when folders were changed, of which no account is kept.
var started = time.Now()

// find is what is at a path of the drive, or os.ErrNotExist.
func (t *tree) find(at string) (*node, error) {
	if n, known := t.known[at]; known {
		if n == nil {
			return nil, os.ErrNotExist
		}
		return n, nil
	}
	n, err := t.look(at)
	var missing *fault.NotFound
	if errors.As(err, &missing) || errors.Is(err, os.ErrNotExist) {
		t.known[at] = nil
		return nil, os.ErrNotExist
	}
	if err == nil {
		t.known[at] = n
	}
	return n, err
}

// forget drops what was read, since it was changed.
func (t *tree) forget() {
	t.known, t.listed, t.props, t.folders, t.albums = map[string]*node{}, map[string][]*node{}, nil, nil, nil
}

// put notes a file that was written, so that it is not looked for.
func (t *tree) put(at string, n *node) {
	t.known[at] = n
	delete(t.listed, path.Dir(at))
}

func (t *tree) look(at string) (*node, error) {
	if at == "/" {
		return &node{kind: top, name: "/"}, nil
	}
	parent, err := t.find(path.Dir(at))
	if err != nil {
		return nil, err
	}
	name := path.Base(at)
	if parent.isDir() && parent.kind != folder && parent.kind != library {
		all, err := t.list(path.Dir(at), parent)
		if err != nil {
			return nil, err
		}
		if i := slices.IndexFunc(all, func(n *node) bool { return n.name == name }); i >= 0 {
			return all[i], nil
		}
		return nil, os.ErrNotExist
	}
	if !parent.isDir() {
		return nil, os.ErrNotExist
	}
	return t.inFolder(parent, name)
}

// inFolder finds something in a folder without listing all of it.
func (t *tree) inFolder(parent *node, name string) (*node, error) {
	folders, err := t.foldersIn(parent)
	if err != nil {
		return nil, err
	}
	if i := slices.IndexFunc(folders, func(n *node) bool { return n.name == name }); i >= 0 {
		return folders[i], nil
	}
	if !t.v.May(access.Look).Folder(parent.place.Folder) {
		return nil, os.ErrNotExist
	}
	file, named, err := drivestore.DriveNamed(t.ctx, t.House.DB, t.v.Brand, parent.place, name)
	switch {
	case err != nil:
		return nil, err
	case file != nil:
		return fileNode(*file), nil
	case len(named) > 0:
		return itemNode(named[0], name, parent.place), nil
	}
	shared, code, is := without(name)
	if !is {
		return nil, os.ErrNotExist
	}
	if _, named, err = drivestore.DriveNamed(t.ctx, t.House.DB, t.v.Brand, parent.place, shared); err != nil {
		return nil, err
	}
	for _, i := range named {
		if i.Code == code {
			return itemNode(i, name, parent.place), nil
		}
	}
	return nil, os.ErrNotExist
}

// foldersIn lists the folders in a folder that the viewer may look into, or that lead to one.
func (t *tree) foldersIn(parent *node) ([]*node, error) {
	if t.folders == nil {
		var err error
		if t.folders, err = folderstore.FoldersNow(t.ctx, t.House.DB, t.v.Brand); err != nil {
			return nil, err
		}
	}
	look := t.v.May(access.Look)
	leads := map[int64]bool{}
	for _, id := range look.FolderIDs() {
		for _, above := range t.v.Tree.Path(id) {
			leads[above] = true
		}
	}
	var out []*node
	for _, f := range t.folders {
		if f.Parent.Int64 == parent.place.Folder && (look.All || leads[f.ID]) {
			out = append(out, &node{kind: folder, id: f.ID, name: plain(f.Name), place: drivestore.DrivePlace{Folder: f.ID}, written: started})
		}
	}
	return out, nil
}

// list is what is in a folder of the drive.
func (t *tree) list(at string, n *node) ([]*node, error) {
	if all, known := t.listed[at]; known {
		return all, nil
	}
	all, err := t.inside(n)
	if err != nil {
		return nil, err
	}
	t.listed[at] = all
	for _, one := range all {
		t.known[path.Join(at, one.name)] = one
	}
	return all, nil
}

func (t *tree) inside(n *node) ([]*node, error) {
	switch n.kind {
	case top:
		return t.tops(), nil
	case library, folder:
		out, err := t.foldersIn(n)
		if err != nil || !t.v.May(access.Look).Folder(n.place.Folder) {
			return out, err
		}
		return t.withFiles(out, n.place, func() ([]drivestore.DriveItem, error) {
			return drivestore.DriveItemsIn(t.ctx, t.House.DB, t.v.Brand, n.place.Folder)
		})
	case albums, album:
		return t.inAlbum(n)
	}
	return t.inOutlet(n)
}

// tops are the folders at the top, as far as the viewer has use for them.
func (t *tree) tops() []*node {
	out := []*node{{kind: library, name: libraryName, written: started}}
	if look := t.v.May(access.Look); look.All || len(look.Albums) > 0 {
		out = append(out, &node{kind: albums, name: albumsName, written: started})
	}
	if t.v.Can(access.Galleries) {
		out = append(out, &node{kind: outlets, name: outletsName, written: started})
	}
	return out
}

// withFiles adds files to the folders at a place: those that are no items yet before the items of the same name, which they are saved over.
// They are read before the items, so that none is missed that becomes one meanwhile; what is found as both is the item.
func (t *tree) withFiles(folders []*node, at drivestore.DrivePlace, list func() ([]drivestore.DriveItem, error)) ([]*node, error) {
	files, err := drivestore.DriveFiles(t.ctx, t.House.DB, t.v.Brand, at)
	if err != nil {
		return nil, err
	}
	items, err := list()
	if err != nil {
		return nil, err
	}
	known, there := map[string]bool{}, map[int64]bool{}
	for _, i := range items {
		known[i.Tag], there[i.ID] = true, true
	}
	taken := map[string]bool{}
	for _, n := range folders {
		taken[n.name] = true
	}
	over := map[int64]bool{}
	for _, f := range files {
		if f.State == "taken" && known[f.Code] || f.Asset.Valid && there[f.Asset.Int64] {
			continue
		}
		taken[f.Name] = true
		over[f.Replaces.Int64] = true
		folders = append(folders, fileNode(f))
	}
	items = slices.DeleteFunc(items, func(i drivestore.DriveItem) bool { return over[i.ID] })
	return append(folders, itemNodes(items, at, taken)...), nil
}

func (t *tree) inAlbum(n *node) ([]*node, error) {
	if t.albums == nil {
		var err error
		if t.albums, err = t.House.Gathering.Albums(t.ctx, t.v); err != nil {
			return nil, err
		}
	}
	var out []*node
	taken := map[string]bool{}
	shown := map[int64]bool{}
	for _, a := range t.albums {
		shown[a.ID] = true
	}
	for _, a := range t.albums {
		if parent := a.Parent.Int64; parent != n.id && (n.kind != albums || shown[parent]) {
			continue
		}
		name := plain(a.Name)
		if taken[name] {
			name += " (" + a.Code + ")"
		}
		taken[name] = true
		out = append(
			out,
			&node{kind: album, id: a.ID, name: name, place: drivestore.DrivePlace{Album: a.ID}, written: started, byRule: a.Kept != nil},
		)
	}
	if n.kind == albums {
		return out, nil
	}
	return t.withFiles(out, n.place, func() ([]drivestore.DriveItem, error) {
		ids, err := findstore.Find(t.House.DB).IDs(t.ctx, t.v, query.Query{Place: "album", ID: n.id})
		if err != nil {
			return nil, err
		}
		return drivestore.DriveItemsOf(t.ctx, t.House.DB, t.v.Brand, ids)
	})
}

func (t *tree) inOutlet(n *node) ([]*node, error) {
	if t.pages == nil {
		var err error
		if t.pages, err = t.House.Posting.Pages(t.ctx, t.v); err != nil {
			return nil, err
		}
	}
	var out []*node
	taken := map[string]bool{}
	switch n.kind {
	case outlets:
		for _, p := range t.pages {
			if name := plain(p.OutletName); !taken[name] {
				taken[name] = true
				out = append(out, &node{kind: outlet, id: p.Outlet, name: name, written: started})
			}
		}
		return out, nil
	case outlet:
		for _, p := range t.pages {
			if plain(p.OutletName) != n.name {
				continue
			}
			name := plain(p.Name)
			if taken[name] {
				name += " (" + plain(p.Remote) + ")"
			}
			taken[name] = true
			out = append(out, &node{kind: page, id: p.ID, name: name, place: drivestore.DrivePlace{Page: p.ID}, written: started})
		}
		return out, nil
	}
	return t.withFiles(nil, n.place, func() ([]drivestore.DriveItem, error) {
		ids, err := drivestore.OnPage(t.ctx, t.House.DB, n.id)
		if err != nil {
			return nil, err
		}
		return drivestore.DriveItemsOf(t.ctx, t.House.DB, t.v.Brand, ids)
	})
}

// plain is a name as it can be on every drive.
func plain(name string) string { return strings.TrimSpace(outputs.CleanName(name)) }
