package bringin

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"github.com/riverqueue/river"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
)

// OutletMedia is a media of an outlet; Asset is the item that it became when it was taken over before, or 0.
type OutletMedia struct {
	outlets.Media
	Asset int64
}

// remote is what a file of an intake keeps about the media that it comes from.
type remote struct {
	ID       string `json:"id"`
	Album    string `json:"album"`
	PostedBy string `json:"postedBy"`
	Own      bool   `json:"own"`
	Caption  string `json:"caption"`
}

// Outlets lists what the viewer may take over from.
func (s *Service) Outlets(ctx context.Context, v *access.Viewer) ([]store.Outlet, error) {
	if !v.May(access.BringIn).All {
		return []store.Outlet{}, nil
	}
	return store.Outlets(ctx, s.DB, v.Brand)
}

// ConnectOutlet connects an outlet, once it has answered.
func (s *Service) ConnectOutlet(ctx context.Context, v *access.Viewer, o store.Outlet) (store.Done, error) {
	if !slices.Contains(outlets.Kinds, o.Kind) {
		return store.Done{}, fault.Invalidf("kind", "%q is not a kind of outlet.", o.Kind)
	}
	to, err := outlets.Connect(o.Kind, o.Address, o.Token)
	if err != nil {
		return store.Done{}, fault.Invalidf("address", "%s.", err)
	}
	if _, err := to.Albums(ctx); err != nil {
		return store.Done{}, outletFault(o.Name, err)
	}
	o.Brand = v.Brand
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		o.ID, err = tx.AddOutlet(ctx, o)
		return err
	})
	return store.Done{Said: "“" + o.Name + "” is connected", Changed: 1, ID: o.ID}, err
}

func outletFault(name string, err error) error {
	switch {
	case errors.Is(err, outlets.ErrRefused):
		return fault.Invalidf("token", "“%s” does not accept the access token. Ask for a new one there.", name)
	case errors.Is(err, outlets.ErrGone):
		return fault.NotFoundf("“%s” does not know that any more.", name)
	case errors.Is(err, outlets.ErrAway):
		return fault.Invalidf("address", "“%s” does not answer now. Nothing was changed; try again later.", name)
	}
	return err
}

func (s *Service) outlet(ctx context.Context, v *access.Viewer, id int64) (store.Outlet, outlets.Outlet, error) {
	if !v.May(access.BringIn).All {
		return store.Outlet{}, nil, fault.Forbiddenf("Only coordinators and stewards take over from outlets.")
	}
	o, err := store.OutletByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return o, nil, err
	}
	to, err := outlets.Connect(o.Kind, o.Address, o.Token)
	return o, to, err
}

// OutletAlbums lists the albums of an outlet.
func (s *Service) OutletAlbums(ctx context.Context, v *access.Viewer, id int64) ([]outlets.Album, error) {
	o, to, err := s.outlet(ctx, v, id)
	if err != nil {
		return nil, err
	}
	albums, err := to.Albums(ctx)
	return albums, outletFault(o.Name, err)
}

// OutletMedia lists an album of an outlet, and what of it is here already.
func (s *Service) OutletMedia(ctx context.Context, v *access.Viewer, id int64, album string) ([]OutletMedia, error) {
	o, to, err := s.outlet(ctx, v, id)
	if err != nil {
		return nil, err
	}
	media, err := to.Media(ctx, album)
	if err != nil {
		return nil, outletFault(o.Name, err)
	}
	here, err := store.TakenOver(ctx, s.DB, id)
	out := make([]OutletMedia, len(media))
	for i, m := range media {
		out[i] = OutletMedia{Media: m, Asset: here[m.ID]}
	}
	return out, err
}

// FetchMedia opens a media of an outlet, for showing it before it is taken over.
func (s *Service) FetchMedia(ctx context.Context, v *access.Viewer, id int64, media string) (io.ReadCloser, error) {
	o, to, err := s.outlet(ctx, v, id)
	if err != nil {
		return nil, err
	}
	file, err := to.Fetch(ctx, media)
	return file, outletFault(o.Name, err)
}

// BeginFromOutlet takes over media of an album, all of it when media is empty. What is here already is left out and
// counted; what others posted comes along only when it is asked for.
func (s *Service) BeginFromOutlet(ctx context.Context, v *access.Viewer, to Target, id int64, album string, media []string, others bool) (Batch, error) {
	o, err := store.OutletByID(ctx, s.DB, v.Brand, id)
	if err != nil {
		return Batch{}, err
	}
	listed, err := s.OutletMedia(ctx, v, id, album)
	if err != nil {
		return Batch{}, err
	}
	var files []Dropped
	here, foreign, name := 0, 0, o.Name
	for _, m := range listed {
		switch {
		case len(media) > 0 && !slices.Contains(media, m.ID):
			continue
		case m.Asset != 0:
			here++
			continue
		case !m.Own && !others:
			foreign++
			continue
		}
		about, err := json.Marshal(remote{ID: m.ID, Album: m.Album, PostedBy: m.PostedBy, Own: m.Own, Caption: m.Caption})
		if err != nil {
			return Batch{}, err
		}
		size := m.Bytes
		if size <= 0 {
			size = -1
		}
		files = append(files, Dropped{Name: m.FileName, Bytes: size, Remote: string(about)})
		name = o.Name + " / " + m.Album
	}
	if len(files) == 0 {
		why := fmt.Sprintf("Nothing new is there: %s here already", count(here, "picture is", "pictures are"))
		if foreign > 0 {
			why += fmt.Sprintf(", and %s by others", count(foreign, "was posted", "were posted"))
		}
		return Batch{}, fault.Invalidf("media", "%s.", why)
	}
	intake, err := s.open(ctx, v, to, from{source: "outlet", name: name, outlet: id}, files, here, func(file int64) river.JobArgs { return FetchArgs{File: file} })
	if err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, intake)
}

// FetchArgs is the job that gets a file from an outlet.
type FetchArgs struct {
	File int64 `json:"file"`
}

// Kind names the job in the queue.
func (FetchArgs) Kind() string { return "fetch_file" }

// InsertOpts leaves room before it for intakes that are moved ahead.
func (FetchArgs) InsertOpts() river.InsertOpts { return river.InsertOpts{Priority: 2} }

// Fetcher does the job.
type Fetcher struct {
	river.WorkerDefaults[FetchArgs]
	Service *Service
}

// Work gets one file. An outlet that is away is asked again later; a file that is gone there is refused.
func (w *Fetcher) Work(ctx context.Context, job *river.Job[FetchArgs]) error {
	s := w.Service
	f, err := store.IntakeFileByID(ctx, s.DB, job.Args.File)
	if err != nil || f.State != string(arrival.Waiting) {
		return err
	}
	in, err := store.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	if in.Paused {
		return river.JobSnooze(pausedFor)
	}
	err = s.fetch(ctx, in, f)
	switch {
	case errors.Is(err, outlets.ErrGone), errors.Is(err, outlets.ErrRefused), err != nil && job.Attempt >= job.MaxAttempts:
		return s.settle(ctx, f, store.Outcome{State: arrival.Refused, Why: fmt.Sprintf("It could not be fetched from “%s”: %s.", in.SourceName, reason(err))})
	}
	return err
}

func reason(err error) string {
	for _, known := range []error{outlets.ErrGone, outlets.ErrRefused, outlets.ErrAway} {
		if errors.Is(err, known) {
			return known.Error()
		}
	}
	return "something went wrong on the way"
}

func (s *Service) fetch(ctx context.Context, in store.Intake, f store.IntakeFile) error {
	var from remote
	if err := json.Unmarshal([]byte(f.Remote), &from); err != nil {
		return err
	}
	o, err := store.OutletByID(ctx, s.DB, in.Brand, in.Outlet.Int64)
	if err != nil {
		return outlets.ErrGone
	}
	to, err := outlets.Connect(o.Kind, o.Address, o.Token)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, 20*time.Minute)
	defer cancel()
	file, err := to.Fetch(ctx, from.ID)
	if err != nil {
		return err
	}
	defer func() { _ = file.Close() }()
	return s.Receive(ctx, f.Code, io.LimitReader(file, MaxFile+1))
}

// noteOrigin remembers which media of an outlet an item was taken over from.
func (s *Service) noteOrigin(ctx context.Context, tx *store.Tx, in store.Intake, f store.IntakeFile, asset int64) error {
	if !in.Outlet.Valid {
		return nil
	}
	var from remote
	if err := json.Unmarshal([]byte(f.Remote), &from); err != nil {
		return err
	}
	return tx.AddOrigin(ctx, in.Brand, store.Origin{Outlet: in.Outlet.Int64, Remote: from.ID, Asset: asset, Album: from.Album, PostedBy: from.PostedBy, Own: from.Own})
}

func captionOf(f store.IntakeFile) string {
	var from remote
	if json.Unmarshal([]byte(f.Remote), &from) != nil {
		return ""
	}
	return from.Caption
}

// DisconnectOutlet forgets an outlet. What came from it stays.
func (s *Service) DisconnectOutlet(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return tx.RemoveOutlet(ctx, v.Brand, id) })
	return store.Done{Said: "The outlet is not connected any more. What came from it stays.", Changed: 1}, err
}
