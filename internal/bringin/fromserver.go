package bringin

import (
	"context"
	"errors"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
)

// Listing is what a folder on the server holds. Path is below the server folder, "" for itself. Files lists up to 500
// names of the folder itself; Total and Bytes count everything in and below it that would be brought in.
type Listing struct {
	Path    string
	Folders []string
	Files   []string
	Total   int
	Bytes   int64
	LeftOut int
}

const listedFiles = 500

// ServerFolders lists the folders on the server that the viewer may bring in from.
func (s *Service) ServerFolders(ctx context.Context, v *access.Viewer) ([]intakestore.ServerFolder, error) {
	if !v.May(access.BringIn).All {
		return []intakestore.ServerFolder{}, nil
	}
	return intakestore.ServerFolders(ctx, s.DB, v.Brand)
}

// AllowServerFolder lets a brand bring in from a folder on the server, which must lie inside of one that whoever runs the
// server has opened.
func (s *Service) AllowServerFolder(ctx context.Context, v *access.Viewer, name, folder string) (store.Done, error) {
	real, err := filepath.EvalSymlinks(folder)
	if err != nil || !filepath.IsAbs(folder) {
		return store.Done{}, fault.Invalidf("path", "There is no folder %q on the server.", folder)
	}
	inside := false
	for _, root := range s.Allowed {
		if root, err := filepath.EvalSymlinks(root); err == nil {
			below, err := filepath.Rel(root, real)
			inside = inside || err == nil && below != ".." && !strings.HasPrefix(below, "../")
		}
	}
	if !inside {
		return store.Done{}, fault.Invalidf("path", "That folder is not open to the application. Whoever runs the server opens folders "+
			"with SATCHEL_SERVER_FOLDERS; open now: %s.", strings.Join(s.Allowed, ", "))
	}
	if info, err := os.Stat(real); err != nil || !info.IsDir() {
		return store.Done{}, fault.Invalidf("path", "%q is not a folder.", folder)
	}
	if name = strings.TrimSpace(name); name == "" {
		name = filepath.Base(real)
	}
	var id int64
	err = s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		id, err = intakestore.AddServerFolder(ctx, tx, v.Brand, name, real)
		return err
	})
	return store.Done{Said: "“" + name + "” can be brought in from", Changed: 1, ID: id}, err
}

// SetServerFolderTakes allows that files are put into a server folder, or no longer.
func (s *Service) SetServerFolderTakes(ctx context.Context, v *access.Viewer, id int64, takes bool) (store.Done, error) {
	folder, err := intakestore.ServerFolderByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return store.Done{}, err
	}
	if takes {
		if err := writable(folder.Path); err != nil {
			return store.Done{}, fault.Invalidf("takes", "The application may not write to “%s”. Whoever runs the server can allow it.", folder.Name)
		}
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.SetServerFolderTakes(ctx, tx, v.Brand, id, takes) })
	said := "Nothing is put into “" + folder.Name + "” any more"
	if takes {
		said = "Files can be put into “" + folder.Name + "”"
	}
	return store.Done{Said: said, Changed: 1, ID: id}, err
}

// writable tries whether a file can be made in a folder.
func writable(folder string) error {
	f, err := os.CreateTemp(folder, ".satchel-*.part")
	if err != nil {
		return err
	}
	return errors.Join(f.Close(), os.Remove(f.Name()))
}

// Browse lists a folder on the server.
func (s *Service) Browse(ctx context.Context, v *access.Viewer, serverFolder int64, below string) (Listing, error) {
	root, below, err := s.serverFolder(ctx, v, serverFolder, below)
	if err != nil {
		return Listing{}, err
	}
	out := Listing{Path: below, Folders: []string{}, Files: []string{}}
	err = blob.WalkBelow(root.Path, below, func(p string, entry fs.DirEntry) error {
		direct := path.Dir(p) == path.Join(".", below)
		if arrival.Stray(path.Dir(p), entry.Name()) {
			out.LeftOut++
			return skip(entry)
		}
		if entry.IsDir() {
			if direct {
				out.Folders = append(out.Folders, entry.Name())
			}
			return nil
		}
		if direct && len(out.Files) < listedFiles {
			out.Files = append(out.Files, entry.Name())
		}
		info, err := entry.Info()
		if err != nil {
			return nil // it went away meanwhile
		}
		out.Total++
		out.Bytes += info.Size()
		if out.Total > MaxFiles {
			return blob.ErrEnough
		}
		return nil
	})
	return out, err
}

func skip(entry fs.DirEntry) error {
	if entry.IsDir() {
		return fs.SkipDir
	}
	return nil
}

func (s *Service) serverFolder(ctx context.Context, v *access.Viewer, id int64, below string) (intakestore.ServerFolder, string, error) {
	if !v.May(access.BringIn).All {
		return intakestore.ServerFolder{}, "", fault.Forbiddenf("Only coordinators and stewards bring in from the server.")
	}
	root, err := intakestore.ServerFolderByID(ctx, s.DB, v.Brand, id)
	below = strings.Trim(path.Clean("/"+below), "/")
	return root, below, err
}

// BeginFromServer brings in a folder on the server with everything below it, or some files of it. The tree is kept as
// folders. With leave the files stay where they are, and the items refer to them.
func (s *Service) BeginFromServer(ctx context.Context, v *access.Viewer, to Target, serverFolder int64, below string, names []string,
	leave bool) (Batch, error) {
	root, below, err := s.serverFolder(ctx, v, serverFolder, below)
	if err != nil {
		return Batch{}, err
	}
	files, leftOut, err := s.landed(root.Path, below, names)
	if err != nil {
		return Batch{}, err
	}
	name := root.Name
	if below != "" {
		name += " / " + strings.ReplaceAll(below, "/", " / ")
	}
	id, err := s.open(ctx, v, to, from{source: "server", name: name, serverFolder: root.ID, leave: leave}, files, leftOut, takeJob)
	if err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, id)
}

func takeJob(file int64) queue.Args { return takeFile{File: file} }

// landed lists the files in and below a folder, or only the named ones of it.
func (s *Service) landed(root, below string, names []string) (files []Dropped, leftOut int, err error) {
	wanted := map[string]bool{}
	for _, n := range names {
		wanted[path.Join(below, path.Base(n))] = true
	}
	err = blob.WalkBelow(root, below, func(p string, entry fs.DirEntry) error {
		if arrival.Stray(path.Dir(p), entry.Name()) {
			leftOut++
			return skip(entry)
		}
		if entry.IsDir() || len(wanted) > 0 && !wanted[p] {
			return nil
		}
		info, err := entry.Info()
		if err != nil {
			return nil
		}
		folder := strings.TrimPrefix(path.Dir(p), ".")
		if below != "" { // the chosen folder is kept, what lies above it is not
			folder = strings.Trim(path.Join(path.Base(below), strings.TrimPrefix(folder, below)), "/")
		}
		if len(wanted) > 0 {
			folder = ""
		}
		files = append(files, Dropped{Name: entry.Name(), Path: folder, Bytes: info.Size(), Remote: p})
		if len(files) > MaxFiles {
			return blob.ErrEnough
		}
		return nil
	})
	return files, leftOut, err
}

// copyFromServer copies a file on the server to where uploads are kept, whole or not at all, so that it cannot change while
// it is looked at.
func (s *Service) copyFromServer(in intakestore.Intake, f intakestore.IntakeFile) error {
	from, err := blob.OpenBelow(in.ServerPath.String, f.Remote)
	if err != nil {
		return &media.Refused{Why: "It is not in the folder on the server any more."}
	}
	defer func() { _ = from.Close() }()
	part := s.uploadPath(f.Code) + ".part"
	target, err := os.Create(part)
	if err != nil {
		return err
	}
	copied, err := io.Copy(target, from)
	if err = errors.Join(err, target.Close()); err != nil {
		return err
	}
	if now, err := from.Stat(); in.Source == "watched" && (err != nil || copied != f.Bytes || now.Size() != copied) {
		return errors.Join(os.Remove(part), &media.Refused{Why: "It was still being written. It is brought in once it has stopped growing."})
	}
	return os.Rename(part, s.uploadPath(f.Code))
}

// leftFile finds a file that is to be left where it is.
func (s *Service) leftFile(in intakestore.Intake, f intakestore.IntakeFile) (string, *assetstore.Left, error) {
	file, err := blob.OpenBelow(in.ServerPath.String, f.Remote)
	if err != nil {
		return "", nil, &media.Refused{Why: "It is not in the folder on the server any more."}
	}
	info, err := file.Stat()
	if err = errors.Join(err, file.Close()); err != nil {
		return "", nil, err
	}
	left := &assetstore.Left{ServerFolder: in.ServerFolder.Int64, Path: f.Remote, Modified: info.ModTime()}
	return filepath.Join(in.ServerPath.String, filepath.FromSlash(f.Remote)), left, nil
}

// RemoveServerFolder no longer lets a brand bring in from a folder on the server.
func (s *Service) RemoveServerFolder(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.RemoveServerFolder(ctx, tx, v.Brand, id) })
	return store.Done{Said: "That folder is not brought in from any more. What came from it stays.", Changed: 1}, err
}
