package drive

import (
	"encoding/xml"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"os"
	"strconv"
	"strings"
	"time"

	"golang.org/x/net/webdav"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/drivestore"
)

// writing is a file that is being made. All of it comes by ReadFrom, so that it is here whole or not at all.
type writing struct {
	*tree
	to   bringin.OnDrive
	at   string
	made bool
}

var (
	_ webdav.File            = (*writing)(nil)
	_ webdav.DeadPropsHolder = (*writing)(nil)
	_ io.ReaderFrom          = (*writing)(nil)
)

// ReadFrom implements io.ReaderFrom: of another file of the drive, rows are copied and no bytes.
func (w *writing) ReadFrom(from io.Reader) (int64, error) {
	w.made = true
	if f, is := from.(*file); is {
		defer w.forget()
		return f.node.bytes, w.failed(w.copyOf(f.node))
	}
	w.to.Bytes = w.expected
	made, err := w.House.BringIn.PutOnDrive(w.ctx, w.v, w.to, from)
	if err == nil {
		w.put(w.at, fileNode(made))
	}
	return made.Bytes, w.failed(err)
}

// Close implements io.Closer. What nothing was written to becomes an empty file: a lock on a new name makes one.
func (w *writing) Close() error {
	if w.made || w.err != nil {
		return nil
	}
	w.expected = 0
	_, err := w.ReadFrom(strings.NewReader(""))
	return err
}

// Stat implements fs.File.
func (w *writing) Stat() (os.FileInfo, error) { return w.tree.Stat(w.ctx, w.at) }

// Write implements io.Writer; nothing comes this way.
func (w *writing) Write([]byte) (int, error) { return 0, fs.ErrPermission }

// Read implements io.Reader; what is being written is not read.
func (w *writing) Read([]byte) (int, error) { return 0, fs.ErrPermission }

// Seek implements io.Seeker; what is being written is not read.
func (w *writing) Seek(int64, int) (int64, error) { return 0, fs.ErrPermission }

// Readdir implements http.File; it is no folder.
func (w *writing) Readdir(int) ([]os.FileInfo, error) { return nil, fs.ErrInvalid }

// DeadProps implements webdav.DeadPropsHolder.
func (w *writing) DeadProps() (map[xml.Name]webdav.Property, error) { return nil, nil }

// Patch implements webdav.DeadPropsHolder: a copy gets the properties of what it is one of.
func (w *writing) Patch(patches []webdav.Proppatch) ([]webdav.Propstat, error) {
	n, err := w.find(w.at)
	if err != nil {
		return nil, err
	}
	return (&file{tree: w.tree, node: n, at: w.at}).Patch(patches)
}

// copyOf makes a copy of a file of the drive: a second item on the same bytes, one more item of an album, or something that is to go to a
// page.
func (w *writing) copyOf(n *node) error {
	if n.kind == arrives {
		if err := w.mayRead(n); err != nil {
			return err
		}
		return w.House.BringIn.CopyOnDrive(w.ctx, w.v, *n.file, w.to)
	}
	just := query.Selection{IDs: []int64{n.id}}
	switch {
	case w.to.Album != 0:
		_, err := w.House.Gathering.Add(w.ctx, w.v, []int64{w.to.Album}, just)
		return err
	case w.to.Page != 0:
		return w.House.BringIn.PlanOnDrive(w.ctx, w.v, w.to, n.id, n.bytes)
	case w.to.Replaces != 0:
		return fault.Forbiddenf("“%s” is there already.", w.to.Name)
	}
	done, err := w.House.Filing.Copy(w.ctx, w.v, just, w.to.Folder)
	if err != nil {
		return err
	}
	if n.item.Name == w.to.Name {
		return nil
	}
	copied, err := drivestore.NewestItemOf(w.ctx, w.House.DB, w.v.Brand, w.v.Person, w.to.Folder, n.item.Name)
	if err != nil || done.Changed == 0 {
		return err
	}
	_, err = w.House.Filing.RenameFile(w.ctx, w.v, copied, w.to.Name)
	return err
}

// expected is how many bytes a request says that it sends: some send pieces of unknown length, and say elsewhere how long they are in all.
func expected(r *http.Request) int64 {
	if r.ContentLength >= 0 {
		return r.ContentLength
	}
	n, err := strconv.ParseInt(r.Header.Get("X-Expected-Entity-Length"), 10, 64)
	if err != nil || n < 0 {
		return -1
	}
	return n
}

// preconditions checks what a request asks to be so before (RFC 9110, section 13.1).
func preconditions(t *tree, r *http.Request, at string) error {
	match, none := r.Header.Get("If-Match"), r.Header.Get("If-None-Match")
	if match == "" && (none == "" || r.Method == "GET" || r.Method == "HEAD") {
		return nil
	}
	tag := ""
	if n, err := t.find(at); err == nil && !n.isDir() {
		tag = n.tag()
	}
	if match != "" && !names(match, tag) {
		return &said{http.StatusPreconditionFailed, "Somebody has saved it since you opened it. Yours was not saved: save it under another name."}
	}
	if none != "" && names(none, tag) {
		return &said{http.StatusPreconditionFailed, fmt.Sprintf("There is a file “%s” already.", at[strings.LastIndex(at, "/")+1:])}
	}
	return nil
}

// names says whether a list of entity tags has one, or is for any.
func names(list, tag string) bool {
	if strings.TrimSpace(list) == "*" {
		return tag != ""
	}
	for one := range strings.SplitSeq(list, ",") {
		if tag != "" && strings.TrimPrefix(strings.TrimSpace(one), "W/") == tag {
			return true
		}
	}
	return false
}

// hold keeps a file from being taken for as long as somebody has locked it.
func (t *tree) hold(at string, until *time.Time) error {
	n, err := t.find(at)
	if err != nil || n.kind != arrives {
		return nil //nolint:nilerr // what is not there, or is an item, need not be held
	}
	return t.House.DB.InTx(t.ctx, func(tx *store.Tx) error { return drivestore.HoldDriveFile(t.ctx, tx, n.id, until) })
}
