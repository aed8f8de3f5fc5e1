package drive

import (
	"encoding/hex"
	"os"
	"path"
	"strings"
	"time"

	"brightsatchel/internal/store/drivestore"
)

// kind is what something on the drive is.
type kind string

const (
	top     kind = "top"
	library kind = "library" // the top of all folders, with what is unfiled
	folder  kind = "folder"
	albums  kind = "albums"
	album   kind = "album"
	outlets kind = "outlets"
	outlet  kind = "outlet"
	page    kind = "page"
	item    kind = "item" // as a file
	arrives kind = "file" // a file that is no item yet
)

// The folders at the top of the drive.
const (
	libraryName = "Library"
	albumsName  = "Albums"
	outletsName = "Outlets"
)

// node is something on the drive. Place is where what is in it belongs, for a folder; where it is itself, for a file.
type node struct {
	kind    kind
	id      int64
	name    string
	place   drivestore.DrivePlace
	bytes   int64
	written time.Time
	item    *drivestore.DriveItem
	file    *drivestore.DriveFile
	byRule  bool // an album that a rule keeps filled
}

func (n *node) isDir() bool { return n.kind != item && n.kind != arrives }

// key is what properties are given to.
func (n *node) key() string { return drivestore.DriveNode(string(n.kind), n.id) }

// tag is the entity tag of a file (RFC 9110): of what was copied onto the drive its code, also once it is an item, and of any other item
// that of its content.
func (n *node) tag() string {
	switch {
	case n.file != nil:
		return `"` + n.file.Code + `"`
	case n.item.Tag != "":
		return `"` + n.item.Tag + `"`
	}
	return `"` + hex.EncodeToString(n.item.Sum[:min(16, len(n.item.Sum))]) + `"`
}

func itemNode(i drivestore.DriveItem, name string, at drivestore.DrivePlace) *node {
	return &node{kind: item, id: i.ID, name: name, place: at, bytes: i.Bytes, written: i.Written, item: &i}
}

func fileNode(f drivestore.DriveFile) *node {
	return &node{kind: arrives, id: f.ID, name: f.Name, place: drivestore.DrivePlace{Folder: f.Folder, Album: f.Album, Page: f.Page},
		bytes: f.Bytes, written: f.Written, file: &f}
}

// nameBeside is the name of an item beside others of the same name: with its code, which never changes.
func nameBeside(i drivestore.DriveItem) string {
	ending := path.Ext(i.Name)
	return strings.TrimSuffix(i.Name, ending) + " (" + i.Code + ")" + ending
}

// without takes the code out of the name of an item beside others: the name that they share, and the code.
func without(name string) (shared, code string, is bool) {
	ending := path.Ext(name)
	stem, found := strings.CutSuffix(strings.TrimSuffix(name, ending), ")")
	at := strings.LastIndex(stem, " (")
	if !found || at < 0 {
		return "", "", false
	}
	return stem[:at] + ending, stem[at+2:], true
}

// itemNodes are items as files, of which no two have the same name.
func itemNodes(items []drivestore.DriveItem, at drivestore.DrivePlace, taken map[string]bool) []*node {
	out := make([]*node, 0, len(items))
	for _, i := range items {
		name := i.Name
		if taken[name] {
			name = nameBeside(i)
		}
		taken[name] = true
		out = append(out, itemNode(i, name, at))
	}
	return out
}

// info is a node as the protocol package asks for it.
type info struct{ *node }

func (i info) Name() string       { return i.name }
func (i info) Size() int64        { return i.bytes }
func (i info) ModTime() time.Time { return i.written }
func (i info) IsDir() bool        { return i.isDir() }
func (i info) Sys() any           { return nil }
func (i info) Mode() os.FileMode {
	if i.isDir() {
		return os.ModeDir | 0o755
	}
	return 0o644
}
