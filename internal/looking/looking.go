// Package looking finds out about items in the background what nobody waits for: likeness, sharpness, colours, focal
// points, faces. Each can be found out again for all.
package looking

import (
	"context"
	"errors"
	"slices"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/media"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
)

// Looks are what can be found out about items, each of which can be found out again for all.
var Looks = []string{"likeness", "sharpness", "tint", "colours", "focal", "faces", "film"}

// Service looks into items.
type Service struct {
	DB    *store.DB
	Blobs *blob.Store
	Media *media.Engine
	Queue *queue.Queue
	// Clips makes what clips are shown with.
	Clips func(ctx context.Context, brand int64, clip assetstore.Asset) error
	// Previews makes the previews of an item, where they are not there yet, and lets go of those of earlier recipes.
	Previews func(ctx context.Context, item assetstore.Asset) error
	// Arrived has made what is wanted of an item that was looked into for the first time.
	Arrived func(ctx context.Context, brand, asset int64) error
	// Patience is how long looking waits at most for what people wait for.
	Patience time.Duration
}

// Look is the job that looks into an item; What is one of Looks, or "" for all. Prepared is when an item was prepared that had been looked
// into before, which can wait longer than one that is new.
type Look struct {
	Brand    int64     `json:"brand"`
	Asset    int64     `json:"asset"`
	What     string    `json:"what,omitempty"`
	Prepared time.Time `json:"prepared,omitzero"`
}

// Kind names the job in the queue.
func (Look) Kind() string { return "look_into" }

// again is the job that has the next items of a brand, after an id, looked into again.
type again struct {
	Brand int64  `json:"brand"`
	After int64  `json:"after"`
	What  string `json:"what,omitempty"`
}

// Kind names the job in the queue.
func (again) Kind() string { return "look_again" }

// AddJobs makes the jobs known.
func (s *Service) AddJobs() {
	queue.Add(s.Queue, queue.Kind[Look]{Do: s.stepAside, GaveUp: s.gaveUp, Tries: queue.Soon, Queue: queue.Background, Priority: 2})
	// What was not marked yet keeps what was found before; asking again goes on.
	queue.Add(s.Queue, queue.Kind[again]{Do: s.again, GaveUp: queue.Nothing[again], Tries: queue.Soon, Queue: queue.Background})
}

// gaveUp marks an item as looked into, with nothing found, so that it does not count as waiting for ever.
func (s *Service) gaveUp(ctx context.Context, job Look, _ error) error {
	found, err := assetstore.AssetsIn(ctx, s.DB, job.Brand, []int64{job.Asset})
	if err != nil || len(found) == 0 {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		_, err := assetstore.SaveLooked(ctx, tx, job.Brand, job.Asset, found[0].VersionID, assetstore.Looked{})
		return err
	})
}

// putOff is how long looking into what was prepared is put off at most, after all patience, for what people wait for: its previews are made
// as soon as somebody sees it, and while hundreds of pictures are made into files they would be drawn a second time beside.
const putOff = 10 * time.Minute

// stepAside looks into one item, once no file waits to be taken and no download is made.
func (s *Service) stepAside(ctx context.Context, job Look) error {
	for began := time.Now(); ; {
		waiting, err := store.SomebodyWaits(ctx, s.DB)
		if err != nil {
			return err
		}
		if !waiting {
			break
		}
		if time.Since(began) >= s.Patience {
			if time.Since(job.Prepared) < putOff {
				return queue.Later(time.Minute)
			}
			break
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(250 * time.Millisecond):
		}
	}
	return s.look(ctx, job)
}

// look measures an item by its largest preview, so that everything that can be shown can be looked into, and so that
// what was found lies where people see it. Of clips it also makes what browsers need.
func (s *Service) look(ctx context.Context, args Look) error {
	found, err := assetstore.AssetsIn(ctx, s.DB, args.Brand, []int64{args.Asset})
	if err != nil || len(found) == 0 || found[0].Kind == "file" {
		return err
	}
	a := found[0]
	if a.Looked && args.What == "" && a.Kind != "clip" {
		return nil // another job did that since the last change
	}
	wants := func(what string) bool { return args.What == "" || args.What == what }
	if a.Kind == "clip" && wants("film") {
		if err := s.Clips(ctx, args.Brand, a); err != nil {
			return err
		}
	}
	if !a.Recipe.Neutral() { // those of the file as it is were made when it was taken
		var refused *media.Refused
		if err := s.Previews(ctx, a); err != nil && !errors.As(err, &refused) {
			return err
		}
	}
	preview, err := s.Blobs.Local(ctx, blob.Picture(a.SHA256, media.PreviewNames[0], a.Recipe.Hash()))
	if errors.Is(err, blob.ErrMissing) {
		return s.gaveUp(ctx, args, err) // there is nothing to look at
	}
	if err != nil {
		return err
	}
	seen, tint, err := s.Media.Look(ctx, preview)
	if err != nil {
		return err
	}
	hash := likeness.Hash(seen.Likeness)
	recipe := a.Recipe.Hash()
	looked := assetstore.Looked{Recipe: &recipe, FacesLooked: wants("faces") && a.Kind == "picture"}
	if wants("likeness") {
		looked.Likeness = &hash
	}
	if wants("sharpness") {
		looked.Sharpness = &seen.Sharpness
	}
	if wants("tint") {
		looked.Tint = &tint
	}
	if wants("colours") {
		looked.Shades = seen.Shades
	}
	if wants("focal") {
		looked.Focal = &[2]float64{seen.Focal.X, seen.Focal.Y}
	}
	frame := a.Frame()
	for _, f := range seen.Faces {
		shown := geometry.Region{X: f.X, Y: f.Y, Width: f.Width, Height: f.Height}
		looked.Faces = append(looked.Faces, frame.FileRegion(shown))
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		current, err := assetstore.SaveLooked(ctx, tx, args.Brand, a.ID, a.VersionID, looked)
		if err != nil || !current || looked.Likeness == nil || a.Stack.Valid {
			return err
		}
		if err := findOriginal(ctx, tx, args.Brand, a); err != nil || !hash.Tells() {
			return err
		}
		return findTwins(ctx, tx, args.Brand, a, hash)
	})
	if err == nil && args.What == "" && s.Arrived != nil {
		err = s.Arrived(ctx, args.Brand, a.ID)
	}
	return err
}

// findOriginal notes what an item is a later state of, so that joining it can be proposed.
func findOriginal(ctx context.Context, tx *store.Tx, brand int64, a assetstore.Asset) error {
	original, err := assetstore.OriginalOf(ctx, tx, brand, a.ID, arrival.Origin(a.FileName))
	if err != nil || original == 0 {
		return err
	}
	return assetstore.AddLaterState(ctx, tx, brand, a.ID, original)
}

// findTwins notes the items that look like one.
func findTwins(ctx context.Context, tx *store.Tx, brand int64, a assetstore.Asset, hash likeness.Hash) error {
	alike, err := assetstore.Alike(ctx, tx, brand, a.ID, hash)
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
		if distance := likeness.Distance(hash, likeness.Hash(l.Likeness)); likeness.SavedAgain(assetstore.Compared(a), other, distance) {
			others, distances = append(others, l.Asset), append(distances, distance)
		}
	}
	if len(others) == 0 {
		return nil
	}
	return assetstore.AddTwins(ctx, tx, brand, a.ID, others, distances)
}

const againPiece = 2000

// again enqueues a piece, and itself for the rest.
func (s *Service) again(ctx context.Context, args again) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		ids, err := assetstore.LookAgain(ctx, tx, args.Brand, args.After, againPiece)
		if err != nil || len(ids) == 0 {
			return err
		}
		jobs := make([]queue.Args, len(ids), len(ids)+1)
		for i, id := range ids {
			jobs[i] = Look{Brand: args.Brand, Asset: id, What: args.What}
		}
		args.After = ids[len(ids)-1]
		return s.Queue.EnqueueAll(ctx, tx, append(jobs, args))
	})
}

// Again has all items of the brand looked into again, for one of Looks or for all of them ("").
func (s *Service) Again(ctx context.Context, v *access.Viewer, what string) (store.Done, error) {
	if what != "" && !slices.Contains(Looks, what) {
		return store.Done{}, fault.Invalidf("what", "%q is nothing that can be looked for.", what)
	}
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		return s.Queue.Enqueue(ctx, tx, again{Brand: v.Brand, What: what})
	})
	if err != nil {
		return store.Done{}, err
	}
	counts, err := findstore.Find(s.DB).Counts(ctx, v)
	return store.Done{Said: wording.Items(counts.Lookable) + " are looked into again in the background", Changed: counts.Lookable}, err
}

// Progress says how many items can be looked into, and how many of them still wait.
type Progress struct{ Total, Waiting int }

// Progress counts.
func (s *Service) Progress(ctx context.Context, v *access.Viewer) (p Progress, err error) {
	if !v.May(access.Look).All {
		return p, nil // how much others have is not theirs to know
	}
	if p.Waiting, err = assetstore.LookWaiting(ctx, s.DB, v.Brand); err != nil {
		return p, err
	}
	counts, err := findstore.Find(s.DB).Counts(ctx, v)
	p.Total = max(counts.Lookable, p.Waiting) // the index may be a moment behind
	return p, err
}
