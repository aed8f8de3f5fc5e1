package bringin

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/arrival"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/poststore"
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

func (s *Service) outlet(ctx context.Context, v *access.Viewer, id int64) (poststore.Outlet, outlets.Outlet, error) {
	if !v.May(access.BringIn).All {
		return poststore.Outlet{}, nil, fault.Forbiddenf("Only coordinators and stewards take over from outlets.")
	}
	return s.Outlets.Open(ctx, v.Brand, id)
}

// OutletAlbums lists the albums of an outlet.
func (s *Service) OutletAlbums(ctx context.Context, v *access.Viewer, id int64) ([]outlets.Album, error) {
	o, to, err := s.outlet(ctx, v, id)
	if err != nil {
		return nil, err
	}
	albums, err := to.Albums(ctx)
	return albums, outlets.Fault(o.Name, err)
}

// OutletMedia lists an album of an outlet, and what of it is here already.
func (s *Service) OutletMedia(ctx context.Context, v *access.Viewer, id int64, album string) ([]OutletMedia, error) {
	o, to, err := s.outlet(ctx, v, id)
	if err != nil {
		return nil, err
	}
	media, err := to.Media(ctx, album)
	if err != nil {
		return nil, outlets.Fault(o.Name, err)
	}
	here, err := assetstore.TakenOver(ctx, s.DB, id)
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
	return file, outlets.Fault(o.Name, err)
}

// BeginFromOutlet takes over media of an album, all of it when media is empty. What is here already is left out and
// counted; what others posted comes along only when it is asked for.
func (s *Service) BeginFromOutlet(ctx context.Context, v *access.Viewer, to Target, id int64, album string, media []string,
	others bool) (Batch, error) {
	o, err := poststore.OutletByID(ctx, s.DB, v.Brand, id)
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
		why := fmt.Sprintf("Nothing new is there: %s here already", wording.Count(here, "picture is", "pictures are"))
		if foreign > 0 {
			why += fmt.Sprintf(", and %s by others", wording.Count(foreign, "was posted", "were posted"))
		}
		return Batch{}, fault.Invalidf("media", "%s.", why)
	}
	intake, err := s.open(ctx, v, to, from{source: "outlet", name: name, outlet: id}, files, here,
		func(file int64) queue.Args { return fetchFile{File: file} })
	if err != nil {
		return Batch{}, err
	}
	return s.Load(ctx, v, intake)
}

// fetchFile is the job that gets a file from an outlet.
type fetchFile struct {
	File int64 `json:"file"`
}

// Kind names the job in the queue.
func (fetchFile) Kind() string { return "fetch_file" }

// fetchFile gets one file. An outlet that is away is asked again later, and a fault of ours is no verdict on the file: only
// what the outlet or the file says is final.
func (s *Service) fetchFile(ctx context.Context, job fetchFile) error {
	f, err := intakestore.IntakeFileByID(ctx, s.DB, job.File)
	if err != nil || f.State != string(arrival.Waiting) {
		return err
	}
	in, err := intakestore.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	if in.Paused {
		return queue.Later(pausedFor)
	}
	err = s.fetch(ctx, in, f)
	if errors.Is(err, outlets.ErrGone) || errors.Is(err, outlets.ErrRefused) || errors.Is(err, outlets.ErrForbiddenAddress) {
		return s.couldNotFetch(ctx, job, err)
	}
	return err
}

// couldNotFetch refuses a file that cannot be had, or could not at any try.
func (s *Service) couldNotFetch(ctx context.Context, job fetchFile, why error) error {
	f, err := intakestore.IntakeFileByID(ctx, s.DB, job.File)
	if err != nil || f.State != string(arrival.Waiting) {
		return err
	}
	in, err := intakestore.IntakeFileIntake(ctx, s.DB, f)
	if err != nil {
		return err
	}
	return s.settle(ctx, f, intakestore.Outcome{State: arrival.Refused,
		Why: fmt.Sprintf("It could not be fetched from “%s”: %s.", in.SourceName, reason(why))})
}

func reason(err error) string {
	for _, known := range []error{outlets.ErrGone, outlets.ErrRefused, outlets.ErrForbiddenAddress, outlets.ErrAway} {
		if errors.Is(err, known) {
			return known.Error()
		}
	}
	return "something went wrong on our side; bring it in again"
}

func (s *Service) fetch(ctx context.Context, in intakestore.Intake, f intakestore.IntakeFile) error {
	var from remote
	if err := json.Unmarshal([]byte(f.Remote), &from); err != nil {
		return err
	}
	_, to, err := s.Outlets.Open(ctx, in.Brand, in.Outlet.Int64)
	var disconnected *fault.NotFound
	if errors.As(err, &disconnected) {
		return outlets.ErrGone
	}
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
func (s *Service) noteOrigin(ctx context.Context, tx *store.Tx, in intakestore.Intake, f intakestore.IntakeFile, asset int64) error {
	if !in.Outlet.Valid {
		return nil
	}
	var from remote
	if err := json.Unmarshal([]byte(f.Remote), &from); err != nil {
		return err
	}
	return assetstore.AddOrigin(ctx, tx, in.Brand, assetstore.Origin{Outlet: in.Outlet.Int64, Remote: from.ID, Asset: asset, Album: from.Album,
		PostedBy: from.PostedBy, Own: from.Own})
}

func captionOf(f intakestore.IntakeFile) string {
	var from remote
	if json.Unmarshal([]byte(f.Remote), &from) != nil {
		return ""
	}
	return from.Caption
}
