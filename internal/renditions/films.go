package renditions

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/clips"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/renditionstore"
)

// ErrMaking is returned when a film is still being made after it was waited for. It goes on; ask again.
var ErrMaking = errors.New("the film is still being made; try again in a moment")

// How long one request waits for a film, and how long a film that nobody asks for any more is still wanted.
const (
	filmWait    = 25 * time.Second
	filmWanted  = time.Minute
	filmLook    = 250 * time.Millisecond
	filmLookFor = 5 * time.Second // while it is made, whether somebody waits for it
)

// webFilm is the size of films as browsers play them. It is no larger than what somebody may have.
func webFilm(may access.Allowance) outputs.Size {
	side := 1280
	if may.Largest > 0 {
		side = min(side, may.Largest)
	}
	return outputs.Size{Name: "film", Width: side, Height: side, Fit: outputs.Inside, Format: "jpeg", Quality: 80,
		Metadata: outputs.StripAll}
}

// Film says where the film of a clip is, within what somebody may have: the original where that may be had and browsers
// play it (then the key is ""), else one that was made for it.
func (s *Service) Film(ctx context.Context, brand int64, a assetstore.Asset, may access.Allowance) (key string, err error) {
	if may.Original && asItCame(a) {
		return "", nil
	}
	made, err := s.Ensure(ctx, brand, a, webFilm(may))
	return made.Blob, err
}

// asItCame says whether browsers play the original of a clip, and nothing is done to it.
func asItCame(a assetstore.Asset) bool {
	return (a.Codec == "" || clips.Playable(a.Codec)) && a.Recipe.Moving().Neutral()
}

// wantFilm has a film made that browsers play, where they do not play the original, before anybody asks for it.
func (s *Service) wantFilm(ctx context.Context, brand int64, a assetstore.Asset) error {
	if asItCame(a) {
		return nil
	}
	w, err := s.want(ctx, a, webFilm(access.Allowance{}))
	if err != nil {
		return err
	}
	made, err := renditionstore.RenditionOf(ctx, s.DB, a.VersionID, w.key)
	if err != nil || made != nil {
		return err
	}
	return s.enqueueFilm(ctx, brand, w, true)
}

func (s *Service) enqueueFilm(ctx context.Context, brand int64, w wanted, inAnyCase bool) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		if err := renditionstore.WantFilm(ctx, tx, w.asset.VersionID, w.key, inAnyCase); err != nil {
			return err
		}
		return s.Queue.Enqueue(ctx, tx, makeFilm{Brand: brand, Asset: w.asset.ID, Version: w.asset.VersionID, Size: w.size, Key: w.key})
	})
}

// waitForFilm asks for a film and waits for it, without holding a connection.
func (s *Service) waitForFilm(ctx context.Context, brand int64, w wanted) (renditionstore.Rendition, error) {
	if err := s.enqueueFilm(ctx, brand, w, false); err != nil {
		return renditionstore.Rendition{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, filmWait)
	defer cancel()
	for {
		made, failed, err := renditionstore.FilmOf(ctx, s.DB, w.asset.VersionID, w.key)
		switch {
		case made != nil:
			return *made, nil
		case failed != "":
			return renditionstore.Rendition{}, &media.Refused{Why: failed}
		case err != nil && ctx.Err() == nil:
			return renditionstore.Rendition{}, err
		}
		select {
		case <-ctx.Done():
			return renditionstore.Rendition{}, ErrMaking
		case <-time.After(filmLook):
		}
	}
}

// makeFilm is the job that makes a film.
type makeFilm struct {
	Brand   int64        `json:"brand"`
	Asset   int64        `json:"asset"`
	Version int64        `json:"version"`
	Size    outputs.Size `json:"size"`
	Key     string       `json:"key"`
}

// Kind names the job in the queue.
func (makeFilm) Kind() string { return "make_film" }

func (s *Service) addFilms() {
	queue.Add(s.Queue, queue.Kind[makeFilm]{Do: s.makeFilm, GaveUp: s.gaveUpFilm, Tries: queue.Soon, Queue: queue.Films, Alone: true})
}

// errUnwanted ends the making of a film for which nobody waits any more.
var errUnwanted = errors.New("nobody waits for the film any more")

func (s *Service) makeFilm(ctx context.Context, job makeFilm) error {
	if made, err := renditionstore.RenditionOf(ctx, s.DB, job.Version, job.Key); err != nil || made != nil {
		return err
	}
	found, err := assetstore.AssetsIn(ctx, s.DB, job.Brand, []int64{job.Asset})
	if err != nil || len(found) == 0 || found[0].VersionID != job.Version {
		return err
	}
	w, err := s.want(ctx, found[0], job.Size)
	if err != nil || w.key != job.Key {
		return err // it was changed since, and what is wanted now is another film
	}
	ctx, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	go s.whileWanted(ctx, stop, job)
	w.told = s.telling(ctx, job)
	made, err := s.make(ctx, w)
	switch {
	case errors.Is(context.Cause(ctx), errUnwanted):
		slog.Info("a film was given up: nobody waits for it", "asset", job.Asset)
		return nil
	case err != nil:
		var refused *media.Refused
		if errors.As(err, &refused) { // what the file says does not change
			return s.filmFailed(ctx, job, refused.Why)
		}
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return renditionstore.AddRendition(ctx, tx, job.Brand, job.Version, job.Key, made)
	})
}

// telling notes how much of a film is made, now and then.
func (s *Service) telling(ctx context.Context, job makeFilm) func(part float64) {
	var last time.Time
	return func(part float64) {
		if time.Since(last) < time.Second {
			return
		}
		last = time.Now()
		if err := renditionstore.FilmMade(ctx, s.DB, job.Version, job.Key, part); err != nil && ctx.Err() == nil {
			slog.Warn("how much of a film is made was not noted", "asset", job.Asset, "error", err)
		}
	}
}

// FilmState is how far a film is. Asking has it made.
type FilmState struct {
	Ready  bool
	Made   float64 // from 0 to 1
	Failed string  // why it cannot be made
}

// FilmState says how far the film of a clip is, within what somebody may have, and does not wait for it.
func (s *Service) FilmState(ctx context.Context, brand int64, a assetstore.Asset, may access.Allowance) (FilmState, error) {
	if may.Original && asItCame(a) {
		return FilmState{Ready: true, Made: 1}, nil
	}
	w, err := s.want(ctx, a, webFilm(may))
	if err != nil {
		return FilmState{}, err
	}
	made, failed, err := renditionstore.FilmOf(ctx, s.DB, a.VersionID, w.key)
	switch {
	case err != nil:
		return FilmState{}, err
	case made != nil:
		return FilmState{Ready: true, Made: 1}, nil
	case failed != "":
		return FilmState{Failed: failed}, nil
	}
	if err := s.enqueueFilm(ctx, brand, w, false); err != nil {
		return FilmState{}, err
	}
	part, err := renditionstore.FilmMadeOf(ctx, s.DB, a.VersionID, w.key)
	return FilmState{Made: part}, err
}

// whileWanted ends the making of a film once nobody has asked for it for some time.
func (s *Service) whileWanted(ctx context.Context, stop context.CancelCauseFunc, job makeFilm) {
	for {
		wanted, err := renditionstore.FilmWanted(ctx, s.DB, job.Version, job.Key, filmWanted)
		if err == nil && !wanted {
			stop(errUnwanted)
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(filmLookFor):
		}
	}
}

func (s *Service) filmFailed(ctx context.Context, job makeFilm, why string) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return renditionstore.FilmFailed(ctx, tx, job.Version, job.Key, why) })
}

// gaveUpFilm lets those who wait know.
func (s *Service) gaveUpFilm(ctx context.Context, job makeFilm, _ error) error {
	return s.filmFailed(ctx, job, "The film could not be made. Try again later.")
}
