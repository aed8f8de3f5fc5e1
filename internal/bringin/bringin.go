// Package bringin is the first step of the work: files arrive, are looked at, and become items. Every file that was
// dropped ends with exactly one outcome, whatever is killed meanwhile.
package bringin

import (
	"context"
	"fmt"
	"path/filepath"
	"slices"
	"syscall"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/media"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
)

// MaxFile is the largest file that any brand can take, in bytes.
const MaxFile = 4 << 30

// MaxFiles is how many files one intake can have.
const MaxFiles = 10_000

// Service brings files in. Uploads is the folder in which uploads in progress lie, under the codes of their files.
// Allowed are the folders on the server inside of which stewards can allow folders to bring in from.
type Service struct {
	DB      *store.DB
	Blobs   *blob.Store
	Media   *media.Engine
	Queue   *queue.Queue
	Uploads string
	Allowed []string

	Renditions *renditions.Service
	Outlets    *outlets.Connections
}

// Dropped is a file as it was dropped: its name, the folder path it lay in, and its size in bytes. Remote is its path
// below the server folder, or its id at the outlet, when it does not come from a browser.
type Dropped struct {
	Name, Path string
	Bytes      int64
	Remote     string
	number     int
	code       string // of its bytes, which are here already
	replaces   int64  // the item that it becomes a version of
}

// Target is where an intake goes: a folder and an album, each 0 for none, and what is done with duplicates.
type Target struct {
	Folder, Album int64
	Policy        arrival.Policy
}

// Batch is an intake with the sums of its files, and the files themselves where they were asked for.
type Batch struct {
	intakestore.Intake
	Sums  arrival.Sums
	Files []intakestore.IntakeFile
}

// from is where an intake comes from when it does not come from a browser.
type from struct {
	source, name         string
	outlet, serverFolder int64
	leave                bool
	// also is done in the same transaction.
	also func(ctx context.Context, tx *store.Tx) error
}

// Begin opens an intake for files that a browser will send. Files that cannot be taken are refused at once, and those that
// nobody means are left out and counted; the others wait for their bytes. LeftOut is how many the browser left out itself.
func (s *Service) Begin(ctx context.Context, v *access.Viewer, to Target, files []Dropped, leftOut int) (Batch, error) {
	id, err := s.open(ctx, v, to, from{source: "upload"}, files, leftOut, nil)
	if err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, id)
}

// BeginForGuest is Begin for files that a guest of a gallery will send, whose name is given, in the name of the one who allowed that.
func (s *Service) BeginForGuest(ctx context.Context, v *access.Viewer, folder int64, guest string, files []Dropped) (Batch, error) {
	id, err := s.open(ctx, v, Target{Folder: folder}, from{source: "guest", name: guest}, files, 0, nil)
	if err != nil {
		return Batch{}, err
	}
	if _, err := s.Describe(ctx, v, id, nil, arrival.Words{Credit: &guest}); err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, id)
}

// open makes an intake with its files. With fetch, the jobs that get the bytes are enqueued in the same transaction.
func (s *Service) open(ctx context.Context, v *access.Viewer, to Target, where from, files []Dropped, leftOut int,
	fetch func(file int64) queue.Args) (int64, error) {
	if to.Policy == "" {
		to.Policy = arrival.Skip
	}
	if err := s.mayBringIn(v, to); err != nil {
		return 0, err
	}
	meant := files[:0:0]
	for i, f := range files {
		if arrival.Stray(f.Path, filepath.Base(f.Name)) {
			leftOut++
			continue
		}
		f.number = i + 1
		meant = append(meant, f)
	}
	if len(meant) == 0 {
		return 0, fault.Invalidf("files", "There is nothing to bring in: the %s hidden, or left there by the system.",
			wording.Count(leftOut, "file is", "files are"))
	}
	if len(meant) > MaxFiles {
		return 0, fault.Invalidf("files", "These are %d files; up to %d are brought in at once.", len(meant), MaxFiles)
	}
	limits, err := peoplestore.Limits(ctx, s.DB, v.Brand)
	if err != nil {
		return 0, err
	}
	if !where.leave {
		if err := s.checkRoom(meant, limits); err != nil {
			return 0, err
		}
	}
	var id int64
	_, err = s.DB.Act(ctx, v, "bring_in", func(tx *store.Tx) (store.Done, error) {
		target, err := targetName(ctx, tx, v, to)
		if err != nil {
			return store.Done{}, err
		}
		entry, err := tx.TrailEntry(ctx)
		if err != nil {
			return store.Done{}, err
		}
		id, err = intakestore.AddIntake(ctx, tx, intakestore.NewIntake{
			Brand: v.Brand, Person: v.Person, Folder: to.Folder, Album: to.Album, Trail: entry, Policy: string(to.Policy), LeftOut: leftOut,
			Source: where.source, SourceName: where.name, Outlet: where.outlet, ServerFolder: where.serverFolder, Leave: where.leave,
		})
		if err != nil {
			return store.Done{}, err
		}
		if err := tx.NoteFolder(ctx, to.Folder); err != nil {
			return store.Done{}, err
		}
		sidecars, err := s.addFiles(ctx, tx, v.Brand, id, meant, limits, fetch)
		if err != nil {
			return store.Done{}, err
		}
		if where.serverFolder != 0 || where.source == "drive" { // the bytes are at hand
			if _, err := intakestore.FilesArrived(ctx, tx, id); err != nil {
				return store.Done{}, err
			}
		}
		if where.also != nil {
			if err := where.also(ctx, tx); err != nil {
				return store.Done{}, err
			}
		}
		said := "Brought in " + wording.Count(len(meant)-sidecars, "file", "files")
		if sidecars > 0 {
			said += " and " + wording.Count(sidecars, "sidecar", "sidecars")
		}
		return store.Done{Said: said + " to " + target, Changed: len(meant)}, nil
	})
	return id, err
}

func (s *Service) mayBringIn(v *access.Viewer, to Target) error {
	if !v.May(access.BringIn).Folder(to.Folder) {
		return fault.Forbiddenf("You may bring in only where you were granted it. Choose another folder.")
	}
	if to.Album != 0 && !v.Can(access.Gather) {
		return fault.Forbiddenf("You may not add to albums.")
	}
	if !slices.Contains(arrival.Policies, to.Policy) {
		return fault.Invalidf("policy", "%q is not something to do with duplicates.", to.Policy)
	}
	return nil
}

func targetName(ctx context.Context, tx *store.Tx, v *access.Viewer, to Target) (string, error) {
	if to.Album != 0 {
		if _, err := albumstore.AlbumByID(ctx, tx, v, to.Album); err != nil {
			return "", err
		}
	}
	if to.Folder == 0 {
		return "Unfiled", nil
	}
	f, err := folderstore.FolderByID(ctx, tx, v.Brand, to.Folder)
	return f.Name, err
}

// addFiles adds the files of an intake with cleaned names, pairs sidecars with their pictures, and refuses what is empty
// or too large without its bytes having to travel.
// It returns how many are sidecars of others.
func (s *Service) addFiles(ctx context.Context, tx *store.Tx, brand, id int64, files []Dropped, limits arrival.Limits,
	fetch func(int64) queue.Args) (int, error) {
	rows, names := make([]intakestore.NewIntakeFile, len(files)), make([][2]string, len(files))
	for i, f := range files {
		rows[i] = intakestore.NewIntakeFile{Number: f.number, Name: outputs.CleanName(filepath.Base(f.Name)), Path: joinClean(f.Path),
			Remote: f.Remote, Bytes: f.Bytes, Code: f.code, Replaces: f.replaces}
		names[i] = [2]string{rows[i].Path, rows[i].Name}
	}
	pairs := arrival.Sidecars(names)
	for sidecar, picture := range pairs {
		rows[sidecar].SidecarOf = rows[picture].Number
	}
	if err := intakestore.AddIntakeFiles(ctx, tx, brand, id, rows); err != nil {
		return 0, err
	}
	added, err := intakestore.IntakeFiles(ctx, tx, id)
	if err != nil {
		return 0, err
	}
	limits.StorageLimit = 0 // what is here already takes no room, which is not known yet
	var jobs []queue.Args
	for _, f := range added {
		why := limits.Check("", f.Bytes)
		switch {
		case f.Bytes < 0: // the outlet does not say
			why = ""
		case arrival.IsSidecar(f.Name) && !f.SidecarOf.Valid:
			why = "It is a sidecar without its picture. Bring both in together."
		}
		if why != "" {
			if _, err := intakestore.SettleFile(ctx, tx, f, intakestore.Outcome{State: arrival.Refused, Why: why}); err != nil {
				return 0, err
			}
			continue
		}
		if fetch != nil {
			jobs = append(jobs, fetch(f.ID))
		}
	}
	return len(pairs), s.Queue.EnqueueAll(ctx, tx, jobs)
}

func joinClean(path string) string {
	joined := ""
	for _, part := range outputs.CleanPath(path) {
		if joined != "" {
			joined += "/"
		}
		joined += part
	}
	return joined
}

// freeOnDisk is how many bytes there is room for where files arrive.
func (s *Service) freeOnDisk() (int64, error) {
	var disk syscall.Statfs_t
	err := syscall.Statfs(s.Uploads, &disk)
	return int64(disk.Bavail) * disk.Bsize, err
}

// Room is how many bytes there is room for: on the disk, and in what the brand may take.
func (s *Service) Room(limits arrival.Limits) (int64, error) {
	free, err := s.freeOnDisk()
	if limits.StorageLimit > 0 {
		free = min(free, max(0, limits.StorageLimit-limits.Used))
	}
	return free, err
}

// checkRoom refuses a batch that the disk has no room for, leaving a tenth of what it needs for previews.
func (s *Service) checkRoom(files []Dropped, limits arrival.Limits) error {
	free, err := s.freeOnDisk()
	if err != nil {
		return err
	}
	var need int64
	for _, f := range files {
		if f.Bytes <= limits.LargestFile {
			need += max(0, f.Bytes)
		}
	}
	if need+need/10 > free {
		return fault.Invalidf("files", "The disk of the server has room for %s, and these files need %s. Nothing was brought in.",
			arrival.Bytes(free), arrival.Bytes(need))
	}
	return nil
}

// Load reads one intake of the viewer's brand with its files.
func (s *Service) Load(ctx context.Context, v *access.Viewer, id int64) (Batch, error) {
	in, err := intakestore.IntakeByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return Batch{}, err
	}
	if in.Person != v.Person && !v.May(access.Look).All {
		return Batch{}, fault.NotFoundf("That intake is not there.")
	}
	files, err := intakestore.IntakeFiles(ctx, s.DB, id)
	if err != nil {
		return Batch{}, err
	}
	if err := s.hideUnseen(ctx, v, files); err != nil {
		return Batch{}, err
	}
	states := make([]arrival.State, len(files))
	for i, f := range files {
		states[i] = arrival.State(f.State)
	}
	return Batch{Intake: in, Files: files, Sums: arrival.Count(states)}, err
}

// hideUnseen takes out what the viewer may not see of the items that files became, or look like.
func (s *Service) hideUnseen(ctx context.Context, v *access.Viewer, files []intakestore.IntakeFile) error {
	if v.May(access.Look).All {
		return nil
	}
	var ids []int64
	for _, f := range files {
		ids = append(ids, f.Asset.Int64, f.Twin.Int64)
	}
	seen, err := assetstore.Visible(ctx, s.DB, v, ids)
	for i := range files {
		if !seen[files[i].Twin.Int64] {
			files[i].Twin.Valid = false
		}
		if !seen[files[i].Asset.Int64] {
			files[i].HideAsset()
		}
	}
	return err
}

// List returns the last intakes without their files, newest first.
func (s *Service) List(ctx context.Context, v *access.Viewer) ([]Batch, error) {
	intakes, err := intakestore.Intakes(ctx, s.DB, v, 40)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(intakes))
	for i, in := range intakes {
		ids[i] = in.ID
	}
	states, err := intakestore.IntakeStates(ctx, s.DB, ids)
	batches := make([]Batch, len(intakes))
	for i, in := range intakes {
		var all []arrival.State
		for state, n := range states[in.ID] {
			all = append(all, slices.Repeat([]arrival.State{state}, n)...)
		}
		batches[i] = Batch{Intake: in, Sums: arrival.Count(all)}
	}
	return batches, err
}

// RecentTargets lists the folders that the viewer brought into last and still may, the latest first.
func (s *Service) RecentTargets(ctx context.Context, v *access.Viewer) ([]int64, error) {
	recent, err := intakestore.RecentTargets(ctx, s.DB, v.Brand, v.Person)
	may := v.May(access.BringIn)
	return slices.DeleteFunc(recent, func(id int64) bool { return !may.Folder(id) }), err
}

// mine reads an intake that the viewer may steer: one's own, or anybody's for who coordinates.
func (s *Service) mine(ctx context.Context, v *access.Viewer, id int64) (intakestore.Intake, error) {
	in, err := intakestore.IntakeByID(ctx, s.DB, v.Brand, id)
	if err == nil && in.Person != v.Person && !v.MayUndo(in.Person) {
		err = fault.Forbiddenf("That is %s's intake.", in.By)
	}
	return in, err
}

// Change pauses an intake or lets it go on, moves it ahead of all others, or changes what is done with its duplicates or
// where the files go that are not in yet.
func (s *Service) Change(ctx context.Context, v *access.Viewer, id int64, c intakestore.IntakeChange) (Batch, error) {
	in, err := s.mine(ctx, v, id)
	if err != nil {
		return Batch{}, err
	}
	to := Target{Folder: in.Folder.Int64, Policy: arrival.Policy(in.Policy)}
	if c.Folder != nil {
		to.Folder = *c.Folder
		if _, known := v.Tree[to.Folder]; to.Folder != 0 && !known {
			return Batch{}, fault.NotFoundf("That folder is not there any more.")
		}
	}
	if c.Policy != nil {
		to.Policy = arrival.Policy(*c.Policy)
	}
	if err := s.mayBringIn(v, to); err != nil {
		return Batch{}, err
	}
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return intakestore.ChangeIntake(ctx, tx, id, c) }); err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, id)
}

// Cancel stops what has not arrived yet; what is in stays.
func (s *Service) Cancel(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	if _, err := s.mine(ctx, v, id); err != nil {
		return store.Done{}, err
	}
	var n int
	err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		n, err = intakestore.CancelIntake(ctx, tx, id)
		return err
	})
	return store.Done{Said: fmt.Sprintf("Cancelled %s. What was in stays.", wording.Count(n, "file", "files")), Changed: n}, err
}

// Uploadable says whether the viewer may send bytes for a file, which is so while it waits and the intake is theirs.
func (s *Service) Uploadable(ctx context.Context, v *access.Viewer, code string) (intakestore.IntakeFile, error) {
	f, err := intakestore.IntakeFileByCode(ctx, s.DB, code)
	if err != nil {
		return f, err
	}
	in, err := intakestore.IntakeByID(ctx, s.DB, v.Brand, f.Intake)
	if err != nil {
		return f, err
	}
	if in.Person != v.Person {
		return f, fault.NotFoundf("There is no such upload.")
	}
	if !v.May(access.BringIn).Folder(in.Folder.Int64) {
		return f, errNoMore
	}
	return f, nil
}

// errNoMore is said when the right to bring in somewhere was taken away meanwhile.
var errNoMore = &fault.Forbidden{Text: "You may no longer bring in there. What has arrived of the file is kept for an hour; ask a steward."}
