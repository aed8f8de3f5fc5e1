package drive

import (
	"context"
	"encoding/xml"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"os"
	"slices"
	"strconv"
	"time"

	"golang.org/x/net/webdav"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// file is something on the drive that is open. Its bytes are opened when somebody reads them.
type file struct {
	*tree
	node  *node
	at    string
	bytes io.ReadSeekCloser
	next  int // of what is in a folder
}

var (
	_ webdav.File            = (*file)(nil)
	_ webdav.DeadPropsHolder = (*file)(nil)
)

func (f *file) reader() (io.ReadSeekCloser, error) {
	if f.bytes != nil {
		return f.bytes, nil
	}
	bytes, err := f.open(f.node)
	if errors.Is(err, fs.ErrNotExist) && f.node.kind == arrives { // it has become an item since it was found
		f.forget()
		n, missing := f.find(f.at)
		if missing != nil || n.isDir() {
			return nil, fs.ErrNotExist
		}
		bytes, err = f.open(n)
	}
	if err != nil {
		return nil, err
	}
	f.bytes = bytes
	return bytes, nil
}

// Read implements io.Reader.
func (f *file) Read(b []byte) (int, error) {
	r, err := f.reader()
	if err != nil {
		return 0, err
	}
	f.waits()
	return r.Read(b)
}

// waits gives whoever reads a file another minute for what is given to them next; then they are let go. Each deadline costs a call of the
// system.
func (t *tree) waits() {
	if now := time.Now(); now.After(t.reads) {
		_ = t.control.SetWriteDeadline(now.Add(stalls + stalls/4))
		t.reads = now.Add(stalls / 4)
	}
}

// Seek implements io.Seeker.
func (f *file) Seek(offset int64, whence int) (int64, error) {
	r, err := f.reader()
	if err != nil {
		return 0, err
	}
	return r.Seek(offset, whence)
}

// Write implements io.Writer: what is written comes another way.
func (f *file) Write([]byte) (int, error) { return 0, fs.ErrPermission }

// Close implements io.Closer.
func (f *file) Close() error {
	if f.bytes == nil {
		return nil
	}
	return f.bytes.Close()
}

// Stat implements fs.File.
func (f *file) Stat() (os.FileInfo, error) { return davInfo{info{f.node}, f.tree}, nil }

// Readdir implements http.File.
func (f *file) Readdir(count int) ([]os.FileInfo, error) {
	all, err := f.list(f.at, f.node)
	if err == nil {
		err = f.readProps(all) // at once, for each of them is asked for its own
	}
	if err != nil {
		return nil, f.failed(err)
	}
	rest := all[min(f.next, len(all)):]
	if count > 0 {
		if len(rest) == 0 {
			return nil, io.EOF
		}
		rest = rest[:min(count, len(rest))]
	}
	f.next += len(rest)
	out := make([]os.FileInfo, len(rest))
	for i, n := range rest {
		out[i] = davInfo{info{n}, f.tree}
	}
	return out, nil
}

// davInfo says of a node what the protocol asks for besides.
type davInfo struct {
	info
	tree *tree
}

// ModTime implements fs.FileInfo: the top changes with anything.
func (i davInfo) ModTime() time.Time {
	if i.kind == top {
		if at, err := store.LastStep(i.tree.ctx, i.tree.House.DB, i.tree.v.Brand); err == nil {
			return at
		}
	}
	return i.info.ModTime()
}

// ETag implements webdav.ETager.
func (i davInfo) ETag(context.Context) (string, error) {
	if i.isDir() {
		return "", webdav.ErrNotImplemented
	}
	return i.tag(), nil
}

// ContentType implements webdav.ContentTyper: what is no item yet is looked into later.
func (i davInfo) ContentType(context.Context) (string, error) {
	switch {
	case i.isDir():
		return "", webdav.ErrNotImplemented
	case i.item != nil && i.item.Type != "":
		return i.item.Type, nil
	}
	return "application/octet-stream", nil
}

// Bounds of the properties that programs give to something.
const (
	mostProperties  = 60
	longestProperty = 16 << 10 // bytes
)

func (t *tree) readProps(nodes []*node) error {
	if t.props == nil {
		t.props = map[string][]drivestore.DriveProperty{}
	}
	var keys []string
	for _, n := range nodes {
		if _, known := t.props[n.key()]; !known {
			keys = append(keys, n.key())
			t.props[n.key()] = nil
		}
	}
	if len(keys) == 0 {
		return nil
	}
	found, err := drivestore.DriveProperties(t.ctx, t.House.DB, t.v.Brand, keys)
	for _, p := range found {
		t.props[p.Node] = append(t.props[p.Node], p)
	}
	return err
}

// DeadProps implements webdav.DeadPropsHolder.
func (f *file) DeadProps() (map[xml.Name]webdav.Property, error) {
	if err := f.readProps([]*node{f.node}); err != nil {
		return nil, err
	}
	out := map[xml.Name]webdav.Property{}
	if f.node.kind == top || f.node.kind == library {
		free, err := f.House.BringIn.Room(f.limits)
		if err != nil {
			return nil, err
		}
		for name, bytes := range map[string]int64{"quota-available-bytes": free, "quota-used-bytes": f.limits.Used} { // RFC 4331
			named := xml.Name{Space: "DAV:", Local: name}
			out[named] = webdav.Property{XMLName: named, InnerXML: strconv.AppendInt(nil, bytes, 10)}
		}
	}
	for _, p := range f.props[f.node.key()] {
		name := xml.Name{Space: p.Space, Local: p.Name}
		out[name] = webdav.Property{XMLName: name, Lang: p.Lang, InnerXML: p.Value}
	}
	return out, nil
}

// Patch implements webdav.DeadPropsHolder: all of it is done, or nothing.
func (f *file) Patch(patches []webdav.Proppatch) ([]webdav.Propstat, error) {
	ok := webdav.Propstat{Status: http.StatusOK}
	for _, p := range patches {
		for _, prop := range p.Props {
			ok.Props = append(ok.Props, webdav.Property{XMLName: prop.XMLName})
		}
	}
	if !f.mayChange(f.node) {
		ok.Status = http.StatusForbidden
		return []webdav.Propstat{ok}, nil
	}
	err := f.House.DB.InTx(f.ctx, func(tx *store.Tx) error {
		for _, p := range patches {
			for _, prop := range p.Props {
				if err := f.patchOne(tx, prop, p.Remove); err != nil {
					return err
				}
			}
		}
		left, err := drivestore.DriveProperties(f.ctx, tx, f.v.Brand, []string{f.node.key()})
		if err == nil && len(left) > mostProperties {
			err = fault.Invalidf("property", "At most %d properties.", mostProperties)
		}
		return err
	})
	f.forget()
	return []webdav.Propstat{ok}, f.failed(err)
}

func (f *file) patchOne(tx *store.Tx, prop webdav.Property, remove bool) error {
	if remove {
		return drivestore.DropDriveProperty(f.ctx, tx, f.v.Brand, f.node.key(), prop.XMLName.Space, prop.XMLName.Local)
	}
	if len(prop.InnerXML)+len(prop.XMLName.Space)+len(prop.XMLName.Local) > longestProperty {
		return fault.Invalidf("property", "That property is too long.")
	}
	return drivestore.SetDriveProperty(
		f.ctx,
		tx,
		f.v.Brand,
		drivestore.DriveProperty{Node: f.node.key(), Space: prop.XMLName.Space, Name: prop.XMLName.Local,
			Lang: prop.Lang, Value: slices.Clone(prop.InnerXML)},
	)
}

// mayChange says whether the viewer may change something on the drive itself, or keep others from it.
func (t *tree) mayChange(n *node) bool {
	switch n.kind {
	case library, folder:
		return t.v.May(access.BringIn).Folder(n.place.Folder)
	case album:
		return t.v.Can(access.Gather)
	case item:
		return t.v.May(access.Describe).Folder(n.item.Folder)
	case arrives:
		return n.file.Person == t.v.Person || t.v.May(access.BringIn).Folder(n.place.Folder)
	}
	return false
}
