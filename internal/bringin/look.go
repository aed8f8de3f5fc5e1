package bringin

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"time"

	"github.com/riverqueue/river"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Looks are what can be found out about items in the background, each of which can be done again for all.
var Looks = []string{"likeness", "sharpness", "tint", "focal", "faces", "film"}

// LookArgs is the job that looks into an item; What is one of Looks, or "" for all.
type LookArgs struct {
	Brand int64  `json:"brand"`
	Asset int64  `json:"asset"`
	What  string `json:"what,omitempty"`
}

// Kind names the job in the queue.
func (LookArgs) Kind() string { return "look_into" }

// InsertOpts keeps it behind what people wait for.
func (LookArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{Queue: queue.Background, Priority: 2}
}

// Looker does the job.
type Looker struct {
	river.WorkerDefaults[LookArgs]
	Service *Service
}

// stepAside is how long looking waits at most for files that people wait for.
const stepAside = 20 * time.Second

// Work looks into one item, once no file waits to be taken.
func (l *Looker) Work(ctx context.Context, job *river.Job[LookArgs]) error {
	for began := time.Now(); time.Since(began) < stepAside; {
		waiting, err := store.FilesWaitToBeTaken(ctx, l.Service.DB)
		if err != nil {
			return err
		}
		if !waiting {
			break
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(250 * time.Millisecond):
		}
	}
	return l.Service.look(ctx, job.Args)
}

// look measures an item by its largest preview, so that everything that can be shown can be looked into, and so that
// what was found lies where people see it. Of clips it also makes what browsers need.
func (s *Service) look(ctx context.Context, args LookArgs) error {
	found, err := store.AssetsIn(ctx, s.DB, args.Brand, []int64{args.Asset})
	if err != nil || len(found) == 0 || found[0].Kind == "file" {
		return err
	}
	a := found[0]
	wants := func(what string) bool { return args.What == "" || args.What == what }
	if a.Kind == "clip" && wants("film") {
		if err := s.filmFor(ctx, a); err != nil {
			return err
		}
	}
	preview, err := s.Blobs.Local(ctx, blob.Preview(a.SHA256, media.PreviewNames[0], a.Turn))
	if err != nil {
		return err
	}
	seen, tint, err := s.Media.Look(ctx, preview)
	if err != nil {
		return err
	}
	hash := likeness.Hash(seen.Likeness)
	looked := store.Looked{FacesLooked: wants("faces") && a.Kind == "picture"}
	if wants("likeness") {
		looked.Likeness = &hash
	}
	if wants("sharpness") {
		looked.Sharpness = &seen.Sharpness
	}
	if wants("tint") {
		looked.Tint = &tint
	}
	if wants("focal") {
		looked.Focal = &[2]float64{seen.Focal.X, seen.Focal.Y}
	}
	for _, f := range seen.Faces {
		looked.Faces = append(looked.Faces, store.Region{X: f.X, Y: f.Y, Width: f.Width, Height: f.Height})
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		current, err := tx.SaveLooked(ctx, args.Brand, a.ID, a.VersionID, looked)
		if err != nil || !current || looked.Likeness == nil || !hash.Tells() || a.Stack.Valid {
			return err
		}
		return findTwins(ctx, tx, args.Brand, a, hash)
	})
}

// findTwins notes the items that look like one.
func findTwins(ctx context.Context, tx *store.Tx, brand int64, a store.Asset, hash likeness.Hash) error {
	alike, err := store.Alike(ctx, tx, brand, a.ID, hash)
	if err != nil {
		return err
	}
	var others []int64
	var distances []int
	for _, l := range alike {
		other := likeness.Picture{Width: l.Width, Height: l.Height}
		if l.Taken.Valid {
			other.Taken = &l.Taken.Time
		}
		if distance := likeness.Distance(hash, likeness.Hash(l.Likeness)); likeness.SavedAgain(compared(a), other, distance) {
			others, distances = append(others, l.Asset), append(distances, distance)
		}
	}
	if len(others) == 0 {
		return nil
	}
	return tx.AddTwins(ctx, brand, a.ID, others, distances)
}

// filmFor makes the scrub strip of a clip and, when browsers cannot play the original, a film that they can.
func (s *Service) filmFor(ctx context.Context, a store.Asset) error {
	original, err := s.Blobs.LocalSource(ctx, blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String})
	if errors.Is(err, blob.ErrMissing) {
		return nil // it was left where it is, and has gone since
	}
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "satchel-film-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	strip := filepath.Join(dir, "strip.webp")
	if err := clips.Strip(ctx, original, strip, a.Seconds.Float64); err != nil {
		return fmt.Errorf("the scrub strip of item %d: %w", a.ID, err)
	}
	if err := s.Blobs.PutFile(ctx, blob.Preview(a.SHA256, "strip", 0), strip); err != nil {
		return err
	}
	if a.Codec == "" || clips.Playable(a.Codec) {
		return nil
	}
	film := filepath.Join(dir, "film.mp4")
	size := geometry.Even(geometry.Fit(geometry.Size{Width: a.Width, Height: a.Height}, geometry.Size{Width: 1280, Height: 1280}))
	if err := clips.Web(ctx, original, film, size, ""); err != nil {
		return fmt.Errorf("a film of item %d that browsers play: %w", a.ID, err)
	}
	return s.Blobs.PutFile(ctx, blob.Film(a.SHA256), film)
}

// TurnArgs is the job that turns a picture: its previews are made first, and then it changes everywhere at once.
type TurnArgs struct {
	Brand int64 `json:"brand"`
	Asset int64 `json:"asset"`
	Turn  int   `json:"turn"`
}

// Kind names the job in the queue.
func (TurnArgs) Kind() string { return "turn" }

// Turner does the job.
type Turner struct {
	river.WorkerDefaults[TurnArgs]
	Service *Service
}

// Work turns one picture.
func (t *Turner) Work(ctx context.Context, job *river.Job[TurnArgs]) error {
	s, args := t.Service, job.Args
	found, err := store.AssetsIn(ctx, s.DB, args.Brand, []int64{args.Asset})
	if err != nil || len(found) == 0 || found[0].Turn == args.Turn {
		return err
	}
	a := found[0]
	got := fileBytes{sum: a.SHA256, left: &store.Left{}} // the original stays as and where it is
	if got.path, err = s.Blobs.LocalSource(ctx, blob.Source{Sum: a.SHA256, Root: a.LeftRoot.String, Path: a.LeftAt.String}); err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "satchel-turn-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	facts, previews, err := s.Media.Read(ctx, got.path, dir, args.Turn)
	if err != nil {
		return err
	}
	if err := s.keepBytes(ctx, got, previews, facts.Turn); err != nil {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := tx.TurnAsset(ctx, a.ID, a.VersionID, facts.Turn, facts.Size.Width, facts.Size.Height); err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, LookArgs{Brand: args.Brand, Asset: a.ID})
	})
}

// AgainArgs is the job that has the next items of a brand, after an id, looked into again.
type AgainArgs struct {
	Brand int64  `json:"brand"`
	After int64  `json:"after"`
	What  string `json:"what,omitempty"`
}

// Kind names the job in the queue.
func (AgainArgs) Kind() string { return "look_again" }

// InsertOpts keeps it behind what people wait for.
func (AgainArgs) InsertOpts() river.InsertOpts {
	return river.InsertOpts{Queue: queue.Background, Priority: 1}
}

// Again does the job.
type Again struct {
	river.WorkerDefaults[AgainArgs]
	Service *Service
}

const againPiece = 2000

// Work enqueues a piece, and itself for the rest.
func (a *Again) Work(ctx context.Context, job *river.Job[AgainArgs]) error {
	s, args := a.Service, job.Args
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		ids, err := tx.LookAgain(ctx, args.Brand, args.After, againPiece)
		if err != nil || len(ids) == 0 {
			return err
		}
		jobs := make([]river.JobArgs, len(ids), len(ids)+1)
		for i, id := range ids {
			jobs[i] = LookArgs{Brand: args.Brand, Asset: id, What: args.What}
		}
		args.After = ids[len(ids)-1]
		return s.Queue.EnqueueAll(ctx, tx, append(jobs, args))
	})
}

// LookAgain has all items of the brand looked into again, for one of Looks or for all of them ("").
func (s *Service) LookAgain(ctx context.Context, v *access.Viewer, what string) (store.Done, error) {
	if what != "" && !slices.Contains(Looks, what) {
		return store.Done{}, fault.Invalidf("what", "%q is nothing that can be looked for.", what)
	}
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		return s.Queue.Enqueue(ctx, tx, AgainArgs{Brand: v.Brand, What: what})
	})
	if err != nil {
		return store.Done{}, err
	}
	progress, err := store.LookProgressOf(ctx, s.DB, v.Brand)
	return store.Done{Said: query.Items(progress.Total) + " are looked into again in the background", Changed: progress.Total}, err
}

// LookProgress counts how many items can be looked into, and how many still wait.
func (s *Service) LookProgress(ctx context.Context, v *access.Viewer) (store.LookProgress, error) {
	return store.LookProgressOf(ctx, s.DB, v.Brand)
}
