package bringin

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"slices"
	"syscall"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/renditionstore"
)

// takeFile is the job that makes an item of a file that has arrived.
type takeFile struct {
	File int64 `json:"file"`
}

// Kind names the job in the queue.
func (takeFile) Kind() string { return "bring_in_file" }

// AddJobs makes the jobs known. There is room before files for intakes that are moved ahead.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[takeFile]{
		Do:     func(ctx context.Context, job takeFile) error { return s.take(ctx, job.File) },
		GaveUp: func(ctx context.Context, job takeFile, why error) error { return s.couldNotTake(ctx, job.File, why) },
		Tries:  queue.Soon, Queue: queue.Waited, Priority: 2,
	})
	queue.Add(s.Queue, queue.Kind[fetchFile]{Do: s.fetchFile, GaveUp: s.couldNotFetch, Tries: queue.Patient, Queue: queue.Waited,
		Priority: 2})
	queue.Add(s.Queue, queue.Kind[watchFolders]{
		Do:     func(ctx context.Context, _ watchFolders) error { return s.LookAtWatched(ctx, stillFor) },
		GaveUp: queue.Nothing[watchFolders], Tries: queue.Once, Queue: queue.Waited, Alone: true,
	})
	s.Queue.Regularly(watchEvery, false, watchFolders{})
	s.addLeftovers()
}

// couldNotTake refuses a file that failed at every try, so that the numbers add up.
func (s *Service) couldNotTake(ctx context.Context, file int64, why error) error {
	said := "Something went wrong on the server. The file on your computer is untouched; bring it in again."
	if errors.Is(why, syscall.ENOSPC) {
		said = "The disk of the server is full. Nothing of this file was kept; bring it in again when there is room."
	}
	f, err := intakestore.IntakeFileByID(ctx, s.DB, file)
	if err != nil {
		return err
	}
	return s.settle(ctx, f, intakestore.Outcome{State: arrival.Refused, Why: said})
}

// How long a job waits before it looks again whether its intake goes on, or its picture is in.
const (
	pausedFor  = 2 * time.Second
	sidecarFor = time.Second
	slowFor    = time.Second
)

// take reads a file, stores its bytes and previews, and makes the item. Bytes are stored before the row that names them,
// under their own sum, so that doing it again after a crash finds or overwrites the same things.
func (s *Service) take(ctx context.Context, id int64) error {
	f, err := intakestore.IntakeFileByID(ctx, s.DB, id)
	if err != nil {
		return err
	}
	if f.State != string(arrival.Arrived) {
		return s.clean(s.uploadPath(f.Code))
	}
	in, err := intakestore.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	if in.Paused && in.Source != "upload" {
		return queue.Later(pausedFor)
	}
	if v, err := s.viewer(ctx, s.DB, in); err != nil || !v.May(access.BringIn).Folder(in.Folder.Int64) {
		var gone *fault.NotFound
		if err != nil && !errors.As(err, &gone) {
			return err
		}
		return s.settleAndKeep(ctx, f, intakestore.Outcome{State: arrival.Refused, Why: errNoMore.Text})
	}
	work, err := os.MkdirTemp("", "satchel-work-take-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(work) }()
	got, err := s.bytesOf(ctx, f, in)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return s.settle(ctx, f, intakestore.Outcome{State: arrival.Refused, Why: refused.Why})
	}
	if err != nil {
		return err
	}
	if f.SidecarOf.Valid {
		return s.joinSidecar(ctx, f, in, got)
	}
	return s.takeBytes(ctx, f, in, got, work)
}

// fileBytes are the bytes of a file on this machine, with their sum. Left is where they stay, if they were left where they are.
type fileBytes struct {
	path string
	size int64
	sum  []byte
	left *assetstore.Left
}

// bytesOf finds the bytes of a file that has arrived: as an upload, in a folder on the server, or, when they were known
// before they travelled, in our own storage. A file that is not what was announced is refused.
func (s *Service) bytesOf(ctx context.Context, f intakestore.IntakeFile, in intakestore.Intake) (fileBytes, error) {
	got := fileBytes{path: s.uploadPath(f.Code)}
	_, err := os.Stat(got.path)
	switch {
	case in.ServerFolder.Valid && in.Leave:
		if got.path, got.left, err = s.leftFile(in, f); err != nil {
			return got, err
		}
	case errors.Is(err, os.ErrNotExist) && in.ServerFolder.Valid:
		if err := s.copyFromServer(in, f); err != nil {
			return got, err
		}
	case errors.Is(err, os.ErrNotExist) && f.SHA256 != nil:
		same, err := assetstore.SameContent(ctx, s.DB, in.Brand, f.SHA256, 0)
		if err != nil {
			return got, err
		}
		if same == nil {
			return got, &media.Refused{Why: "The file it repeats is not here any more. Bring it in again."}
		}
		got.sum, got.size = f.SHA256, f.Bytes
		got.path, err = s.Blobs.LocalSource(ctx, blob.Source{Sum: f.SHA256, Root: same.LeftRoot.String, Path: same.LeftAt.String})
		return got, err
	case err != nil:
		return got, err
	}
	if got.sum, err = blob.Sum(got.path); err != nil {
		return got, err
	}
	info, err := os.Stat(got.path)
	if err != nil {
		return got, err
	}
	got.size = info.Size()
	if in.Source == "upload" && f.SHA256 != nil && !bytes.Equal(f.SHA256, got.sum) {
		return got, &media.Refused{Why: "What arrived is not what your computer announced: the checksums differ. Was the file changed " +
			"meanwhile? Bring it in again."}
	}
	return got, s.DB.InTx(ctx, func(tx *store.Tx) error {
		// Whoever clears bytes away either sees from now on that they are wanted, or is done before they are put there.
		if err := assetstore.LockContent(ctx, tx, 0, got.sum); err != nil {
			return err
		}
		return intakestore.SetSum(ctx, tx, f.ID, got.sum, got.size)
	})
}

func (s *Service) takeBytes(ctx context.Context, f intakestore.IntakeFile, in intakestore.Intake, got fileBytes, work string) error {
	same, err := assetstore.SameContent(ctx, s.DB, in.Brand, got.sum, 0)
	if err != nil {
		return err
	}
	state, err := becomes(ctx, s.DB, f, in, same, got.sum)
	if err != nil {
		return err
	}
	if state == arrival.Skipped {
		outcome, err := s.skippedFor(ctx, s.DB, in, *same)
		if err != nil {
			return err
		}
		return s.settle(ctx, f, outcome)
	}
	words, err := f.Words()
	if err != nil {
		return err
	}
	limits, err := peoplestore.Limits(ctx, s.DB, in.Brand)
	if err != nil {
		return err
	}
	facts, previews, err := s.Media.Read(ctx, got.path, work, recipe.Recipe{Turn: value(words.Turn)})
	if errors.Is(err, pictures.ErrBusy) { // files that are quicker pass
		return queue.Later(slowFor)
	}
	var refused *media.Refused
	if errors.As(err, &refused) {
		if !refused.Plain || !slices.Contains(limits.Kinds, "file") {
			return s.settle(ctx, f, intakestore.Outcome{State: arrival.Refused, Why: refused.Why})
		}
		facts, err = media.Facts{Type: refused.Type, Raw: []byte("{}")}, nil
	}
	if err != nil {
		return err
	}
	if same != nil || got.left != nil {
		limits.StorageLimit = 0 // takes no room
	}
	if why := limits.Check(facts.Kind, got.size); why != "" {
		return s.settle(ctx, f, intakestore.Outcome{State: arrival.Refused, Why: why})
	}
	// Were the file not taken after all, or the process killed before it is, the clearing knows what to look at.
	if err := s.DB.InTx(ctx, func(tx *store.Tx) error { return renditionstore.NoteContents(ctx, tx, [][]byte{got.sum}) }); err != nil {
		return err
	}
	if err := s.keepBytes(ctx, got, previews, facts.Recipe); err != nil {
		return err
	}
	if err := s.makeItem(ctx, f, in, got, facts); err != nil {
		return err
	}
	return s.clean(s.uploadPath(f.Code))
}

func value[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

func policyOf(f intakestore.IntakeFile, in intakestore.Intake) arrival.Policy {
	if f.Policy.Valid {
		return arrival.Policy(f.Policy.String)
	}
	return arrival.Policy(in.Policy)
}

// outcomeOf is what becomes of a file whose content is here already as another item, or as none: what was chosen for that; or, for one that
// was saved over an item, a version of that unless it is its content already.
func outcomeOf(f intakestore.IntakeFile, in intakestore.Intake, same *assetstore.Duplicate) arrival.State {
	switch {
	case !f.Replaces.Valid:
		return policyOf(f, in).Outcome(same != nil)
	case same != nil && same.Asset == f.Replaces.Int64:
		return arrival.Skipped
	}
	return arrival.Version
}

// skipped is the outcome of a file whose content is here already.
func skipped(same assetstore.Duplicate) intakestore.Outcome {
	why := fmt.Sprintf("It is here already as “%s”.", same.Title)
	if same.Binned.Valid {
		why = fmt.Sprintf("It was put in the bin on %s as “%s”.", same.Binned.Time.Format("2 January"), same.Title)
	}
	return intakestore.Outcome{State: arrival.Skipped, Why: why, Asset: same.Asset}
}

// skippedFor is skipped as the person of an intake may be told it: of an item that they may not look at, nothing but that
// it is here.
func (s *Service) skippedFor(ctx context.Context, r store.Reader, in intakestore.Intake, same assetstore.Duplicate) (intakestore.Outcome,
	error) {
	v, err := s.viewer(ctx, r, in)
	if err != nil {
		return intakestore.Outcome{}, err
	}
	if !v.May(access.Look).Folder(same.Folder.Int64) {
		return intakestore.Outcome{State: arrival.Skipped, Why: "It is here already, where you may not look."}, nil
	}
	return skipped(same), nil
}

func (s *Service) keepBytes(ctx context.Context, got fileBytes, previews []media.Preview, by recipe.Recipe) error {
	if err := s.Renditions.Keep(ctx, got.sum, by, previews); err != nil || got.left != nil {
		return err
	}
	return s.Blobs.PutFile(ctx, blob.Original(got.sum), got.path)
}

func (s *Service) settle(ctx context.Context, f intakestore.IntakeFile, o intakestore.Outcome) error {
	if err := s.settleAndKeep(ctx, f, o); err != nil || f.Remote == intakestore.FromDrive && o.State == arrival.Refused {
		return err // what was refused stays on the drive for a day
	}
	return s.clean(s.uploadPath(f.Code))
}

// settleAndKeep gives a file its outcome and leaves its bytes to the clearing of what is left over, in an hour.
func (s *Service) settleAndKeep(ctx context.Context, f intakestore.IntakeFile, o intakestore.Outcome) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if o.State == arrival.Skipped && o.Asset != 0 && f.Remote == intakestore.FromDrive {
			if err := alsoInAlbum(ctx, tx, f, o.Asset); err != nil {
				return err
			}
		}
		if o.State == arrival.Skipped && o.Asset != 0 {
			in, err := intakestore.IntakeFileIntake(ctx, tx, f)
			if err != nil {
				return err
			}
			if err := s.noteOrigin(ctx, tx, in, f, o.Asset); err != nil { // so that it is not fetched again
				return err
			}
		}
		_, err := intakestore.SettleFile(ctx, tx, f, o)
		return err
	})
}
