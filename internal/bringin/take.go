package bringin

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/riverqueue/river"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/metadata"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// TakeArgs is the job that makes an item of a file that has arrived.
type TakeArgs struct {
	File int64 `json:"file"`
}

// Kind names the job in the queue.
func (TakeArgs) Kind() string { return "bring_in_file" }

// InsertOpts leaves room before it for intakes that are moved ahead.
func (TakeArgs) InsertOpts() river.InsertOpts { return river.InsertOpts{Priority: 2} }

// Taker does the job.
type Taker struct {
	river.WorkerDefaults[TakeArgs]
	Service *Service
}

// Work takes one file. A file that still fails at the last try is refused, so that the numbers add up.
func (t *Taker) Work(ctx context.Context, job *river.Job[TakeArgs]) error {
	err := t.Service.take(ctx, job.Args.File)
	var later *river.JobSnoozeError
	if err == nil || errors.As(err, &later) || ctx.Err() != nil || job.Attempt < queue.Attempts {
		return err
	}
	slog.Error("a file could not be taken", "file", job.Args.File, "error", err)
	why := "Something went wrong on the server. The file on your computer is untouched; bring it in again."
	if errors.Is(err, syscall.ENOSPC) {
		why = "The disk of the server is full. Nothing of this file was kept; bring it in again when there is room."
	}
	f, loadErr := store.IntakeFileByID(ctx, t.Service.DB, job.Args.File)
	if loadErr != nil {
		return loadErr
	}
	return t.Service.settle(ctx, f, store.Outcome{State: arrival.Refused, Why: why})
}

// Arrived notes that all bytes of a file are here and enqueues the job, in one transaction. Telling it twice does nothing.
func (s *Service) Arrived(ctx context.Context, code string) error {
	f, err := store.IntakeFileByCode(ctx, s.DB, code)
	if err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		news, err := tx.FileArrived(ctx, f.ID)
		if err != nil || !news {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, TakeArgs{File: f.ID})
	})
}

// Receive writes the bytes of a file where uploads lie and notes that they arrived: the way in for files that are on the
// server already.
func (s *Service) Receive(ctx context.Context, code string, from io.Reader) error {
	target, err := os.Create(s.uploadPath(code))
	if err != nil {
		return err
	}
	_, err = io.Copy(target, from)
	if err = errors.Join(err, target.Close()); err != nil {
		return err
	}
	return s.Arrived(ctx, code)
}

// DropHalfMade removes what is left of an upload whose server was killed while it noted its beginning: no byte of it has
// arrived then, and it is begun anew.
func (s *Service) DropHalfMade(code string) error {
	path := s.uploadPath(code)
	note, err := os.ReadFile(path + ".info")
	if err != nil || json.Valid(note) {
		return nil // it has not begun, or it has begun well
	}
	return s.clean(path)
}

// Recover looks for uploads that were complete when the server was killed before it could note so.
func (s *Service) Recover(ctx context.Context) error {
	codes, err := store.WaitingFiles(ctx, s.DB)
	if err != nil {
		return err
	}
	for _, code := range codes {
		info, err := os.Stat(s.uploadPath(code))
		if err != nil {
			continue
		}
		f, err := store.IntakeFileByCode(ctx, s.DB, code)
		if err != nil {
			return err
		}
		if info.Size() == f.Bytes {
			if err := s.Arrived(ctx, code); err != nil {
				return err
			}
		}
	}
	return nil
}

func (s *Service) uploadPath(code string) string {
	return filepath.Join(s.Uploads, filepath.Base(code))
}

// How long a job waits before it looks again whether its intake goes on, or its picture is in.
const (
	pausedFor  = 2 * time.Second
	sidecarFor = time.Second
)

// take reads a file, stores its bytes and previews, and makes the item. Bytes are stored before the row that names them,
// under their own sum, so that doing it again after a crash finds or overwrites the same things.
func (s *Service) take(ctx context.Context, id int64) error {
	f, err := store.IntakeFileByID(ctx, s.DB, id)
	if err != nil {
		return err
	}
	if f.State != string(arrival.Arrived) {
		return s.clean(s.uploadPath(f.Code))
	}
	in, err := store.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	if in.Paused && in.Source != "upload" {
		return river.JobSnooze(pausedFor)
	}
	work, err := os.MkdirTemp("", "satchel-take-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(work) }()
	got, err := s.bytesOf(ctx, f, in)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return s.settle(ctx, f, store.Outcome{State: arrival.Refused, Why: refused.Why})
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
	left *store.Left
}

// bytesOf finds the bytes of a file that has arrived: as an upload, in a folder on the server, or, when they were known
// before they travelled, in our own storage. A file that is not what was announced is refused.
func (s *Service) bytesOf(ctx context.Context, f store.IntakeFile, in store.Intake) (fileBytes, error) {
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
		same, err := store.SameContent(ctx, s.DB, in.Brand, f.SHA256, 0)
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
		return got, &media.Refused{Why: "What arrived is not what your computer announced: the checksums differ. Was the file changed meanwhile? Bring it in again."}
	}
	return got, s.DB.InTx(ctx, func(tx *store.Tx) error { return tx.SetSum(ctx, f.ID, got.sum, got.size) })
}

func (s *Service) takeBytes(ctx context.Context, f store.IntakeFile, in store.Intake, got fileBytes, work string) error {
	same, err := store.SameContent(ctx, s.DB, in.Brand, got.sum, 0)
	if err != nil {
		return err
	}
	if policyOf(f, in).Outcome(same != nil) == arrival.Skipped {
		return s.settle(ctx, f, skipped(*same))
	}
	words, err := f.Words()
	if err != nil {
		return err
	}
	limits, err := store.Limits(ctx, s.DB, in.Brand)
	if err != nil {
		return err
	}
	facts, previews, err := s.Media.Read(ctx, got.path, work, value(words.Turn))
	var refused *media.Refused
	if errors.As(err, &refused) {
		if !refused.Plain || !slices.Contains(limits.Kinds, "file") {
			return s.settle(ctx, f, store.Outcome{State: arrival.Refused, Why: refused.Why})
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
		return s.settle(ctx, f, store.Outcome{State: arrival.Refused, Why: why})
	}
	if err := s.keepBytes(ctx, got, previews, facts.Turn); err != nil {
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

func policyOf(f store.IntakeFile, in store.Intake) arrival.Policy {
	if f.Policy.Valid {
		return arrival.Policy(f.Policy.String)
	}
	return arrival.Policy(in.Policy)
}

// skipped is the outcome of a file whose content is here already.
func skipped(same store.Duplicate) store.Outcome {
	why := fmt.Sprintf("It is here already as “%s”.", same.Title)
	if same.Binned.Valid {
		why = fmt.Sprintf("It was put in the bin on %s as “%s”.", same.Binned.Time.Format("2 January"), same.Title)
	}
	return store.Outcome{State: arrival.Skipped, Why: why, Asset: same.Asset}
}

func (s *Service) keepBytes(ctx context.Context, got fileBytes, previews []media.Preview, turn int) error {
	for _, p := range previews {
		if err := s.Blobs.PutFile(ctx, blob.Preview(got.sum, p.Name, turn), p.Path); err != nil {
			return err
		}
	}
	if got.left != nil {
		return nil
	}
	return s.Blobs.PutFile(ctx, blob.Original(got.sum), got.path)
}

// errSettled ends a transaction for a file that got its outcome meanwhile: it was cancelled.
var errSettled = errors.New("the file has its outcome already")

// makeItem adds the item, or the version, and settles the file in one transaction. Of two racing files with the same
// bytes the second waits for the first, and is then a duplicate.
func (s *Service) makeItem(ctx context.Context, f store.IntakeFile, in store.Intake, got fileBytes, facts media.Facts) error {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.ContinueTrail(ctx, in.Trail.Int64); err != nil {
			return err
		}
		// What was chosen and said about the file may have changed while it was looked at.
		var err error
		if f, err = store.LockIntakeFile(ctx, tx, f.Code); err != nil {
			return err
		}
		if f.State != string(arrival.Arrived) {
			return errSettled
		}
		words, err := f.Words()
		if err != nil {
			return err
		}
		if err := tx.LockContent(ctx, in.Brand, got.sum); err != nil {
			return err
		}
		same, err := store.SameContent(ctx, tx, in.Brand, got.sum, 0)
		if err != nil {
			return err
		}
		var outcome store.Outcome
		switch policyOf(f, in).Outcome(same != nil) {
		case arrival.Skipped:
			outcome = skipped(*same)
		case arrival.Version:
			outcome, err = s.addVersion(ctx, tx, f, in, got, facts, *same)
		default:
			outcome, err = s.addAsset(ctx, tx, f, in, got, facts, words)
		}
		if err != nil {
			return err
		}
		news, err := tx.SettleFile(ctx, f, outcome)
		if err == nil && !news {
			err = errSettled
		}
		return err
	})
	if errors.Is(err, errSettled) {
		return nil
	}
	return err
}

// addVersion makes the file the newest version of the item that it repeats, if the person may change that.
func (s *Service) addVersion(ctx context.Context, tx *store.Tx, f store.IntakeFile, in store.Intake, got fileBytes, facts media.Facts, same store.Duplicate) (store.Outcome, error) {
	v, err := s.viewer(ctx, tx, in)
	if err != nil {
		return store.Outcome{}, err
	}
	if !v.May(access.Describe).Folder(same.Folder.Int64) || same.Binned.Valid {
		o := skipped(same)
		o.Why += " It could not become a version of it."
		return o, nil
	}
	version, err := tx.AddVersion(ctx, in.Brand, same.Asset, fileOf(f, got, facts))
	if err != nil {
		return store.Outcome{}, err
	}
	return store.Outcome{State: arrival.Version, Why: fmt.Sprintf("It is the newest version of “%s”.", same.Title), Asset: same.Asset, Version: version},
		s.Queue.Enqueue(ctx, tx, LookArgs{Brand: in.Brand, Asset: same.Asset})
}

// viewer is the person of an intake as they stand now.
func (s *Service) viewer(ctx context.Context, r store.Reader, in store.Intake) (*access.Viewer, error) {
	brand, err := store.BrandCode(ctx, r, in.Brand)
	if err != nil {
		return nil, err
	}
	return store.LoadViewer(ctx, r, in.Person, brand)
}

func (s *Service) addAsset(ctx context.Context, tx *store.Tx, f store.IntakeFile, in store.Intake, got fileBytes, facts media.Facts, words arrival.Words) (store.Outcome, error) {
	// Of a raw picture and its JPEG the second to come finds the first.
	if err := tx.LockStem(ctx, in.ID, f.Path, arrival.Stem(f.Name)); err != nil {
		return store.Outcome{}, err
	}
	folder := in.Folder.Int64
	for part := range strings.SplitSeq(f.Path, "/") {
		if part == "" {
			continue
		}
		var err error
		if folder, _, err = tx.EnsureFolder(ctx, in.Brand, folder, part); err != nil {
			return store.Outcome{}, err
		}
	}
	n := newAsset(f, in, folder, got, facts)
	if err := s.nameByWords(ctx, tx, &n, f, in, words); err != nil {
		return store.Outcome{}, err
	}
	asset, err := tx.AddAsset(ctx, n)
	if err != nil {
		return store.Outcome{}, err
	}
	if err := tagWithKeywords(ctx, tx, in.Brand, asset, facts.Says.Keywords); err != nil {
		return store.Outcome{}, err
	}
	if err := nameFaces(ctx, tx, in.Brand, asset, facts.Says.Faces); err != nil {
		return store.Outcome{}, err
	}
	if err := gatherByWords(ctx, tx, in, asset, words); err != nil {
		return store.Outcome{}, err
	}
	if err := stackWithRaw(ctx, tx, in, f, asset); err != nil {
		return store.Outcome{}, err
	}
	if err := s.noteOrigin(ctx, tx, in, f, asset); err != nil {
		return store.Outcome{}, err
	}
	if words.Turn != nil && *words.Turn != facts.Turn && facts.Kind == "picture" {
		if err := s.Queue.Enqueue(ctx, tx, TurnArgs{Brand: in.Brand, Asset: asset, Turn: *words.Turn}); err != nil {
			return store.Outcome{}, err
		}
	}
	if facts.Kind != "file" {
		err = s.Queue.Enqueue(ctx, tx, LookArgs{Brand: in.Brand, Asset: asset})
	}
	return store.Outcome{State: arrival.Added, Why: plainFile(facts), Asset: asset}, err
}

func plainFile(facts media.Facts) string {
	if facts.Kind == "file" {
		return "It cannot be shown here and is kept as a plain file."
	}
	return ""
}

// stackWithRaw puts a raw picture and a JPEG of the same name, brought in together, into one stack that shows the JPEG.
func stackWithRaw(ctx context.Context, tx *store.Tx, in store.Intake, f store.IntakeFile, asset int64) error {
	mates, err := store.AddedIn(ctx, tx, in.ID, f.Path, arrival.Stem(f.Name))
	if err != nil {
		return err
	}
	raw := arrival.RawName(f.Name)
	for _, mate := range mates {
		if arrival.RawName(mate.Name) == raw {
			continue
		}
		pick := asset
		if raw {
			pick = mate.Asset.Int64
		}
		return tx.Stack(ctx, in.Brand, []int64{asset, mate.Asset.Int64}, pick)
	}
	return nil
}

func fileOf(f store.IntakeFile, got fileBytes, facts media.Facts) store.File {
	return store.File{
		Kind: facts.Kind, FileName: f.Name, MediaType: facts.MediaType, Bytes: got.size, SHA256: got.sum, Width: facts.Size.Width, Height: facts.Size.Height, Turn: facts.Turn,
		Seconds: facts.Seconds, Codec: facts.Codec, Pages: facts.Pages, Tint: facts.Tint, Metadata: facts.Raw, Left: got.left,
	}
}

func newAsset(f store.IntakeFile, in store.Intake, folder int64, got fileBytes, facts media.Facts) store.NewAsset {
	says := facts.Says
	n := store.NewAsset{
		File: fileOf(f, got, facts), Brand: in.Brand, Person: in.Person, Folder: folder, Source: in.Source,
		Title: says.Title, Description: says.Description, Alt: says.Alt, Credit: says.Credit, Copyright: says.Copyright, Stars: says.Rating, Stage: says.Label,
		Camera: says.Camera, Lens: says.Lens, Exposure: says.Exposure, Place: says.Place, Latitude: says.Latitude, Longitude: says.Longitude,
	}
	if says.Taken != nil {
		n.Taken, n.TakenZone = &says.Taken.Local, says.Taken.Zone
	}
	return n
}

// longestKeyword is how long a keyword in a file may be to become a tag, in bytes.
const longestKeyword = 100

func tagWithKeywords(ctx context.Context, tx *store.Tx, brand, asset int64, keywords []string) error {
	var tags []int64
	for _, word := range keywords {
		if len(word) > longestKeyword {
			continue
		}
		tag, err := tx.EnsureTag(ctx, brand, word, "")
		if err != nil {
			return err
		}
		tags = append(tags, tag)
	}
	_, err := tx.AddTagsFrom(ctx, brand, []int64{asset}, tags, "file")
	return err
}

// nameFaces keeps the faces that a file names, and tags the item with the people.
func nameFaces(ctx context.Context, tx *store.Tx, brand, asset int64, faces []metadata.Face) error {
	for _, face := range faces {
		if face.Name == "" || len(face.Name) > longestKeyword {
			continue
		}
		tag, err := tx.EnsureTag(ctx, brand, face.Name, "People")
		if err != nil {
			return err
		}
		if _, err := tx.AddTagsFrom(ctx, brand, []int64{asset}, []int64{tag}, "file"); err != nil {
			return err
		}
		region := store.Region{X: face.X - face.Width/2, Y: face.Y - face.Height/2, Width: face.Width, Height: face.Height}
		if err := tx.NameFace(ctx, brand, asset, tag, region); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) settle(ctx context.Context, f store.IntakeFile, o store.Outcome) error {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		if o.State == arrival.Skipped && o.Asset != 0 {
			in, err := store.IntakeFileIntake(ctx, tx, f)
			if err != nil {
				return err
			}
			if err := s.noteOrigin(ctx, tx, in, f, o.Asset); err != nil { // so that it is not fetched again
				return err
			}
		}
		_, err := tx.SettleFile(ctx, f, o)
		return err
	})
	if err != nil {
		return err
	}
	return s.clean(s.uploadPath(f.Code))
}

// clean removes an upload that has its outcome.
func (s *Service) clean(path string) error {
	for _, p := range []string{path, path + ".info"} {
		if err := os.Remove(p); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}
