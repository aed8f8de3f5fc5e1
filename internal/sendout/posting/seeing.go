package posting

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/media"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/renditionstore"
)

// seePost is the job that looks at a post as it is out there.
type seePost struct {
	Post int64 `json:"post"`
}

// Kind names the job.
func (seePost) Kind() string { return "see_post" }

// How a post is looked at out there: so many of its pictures, of at most so many bytes each, within so long.
const (
	mostSeen    = 10
	mostFetched = 40 << 20
	seeingLasts = 2 * time.Minute
)

// lookedAt is how long after it went out a post is looked at again; later once a month.
var lookedAt = []time.Duration{0, time.Hour, 24 * time.Hour, 7 * 24 * time.Hour}

const monthly = 30 * 24 * time.Hour

// lookNext is when a post is looked at again that went out at a moment.
func lookNext(out, now time.Time) time.Time {
	for _, after := range lookedAt {
		if at := out.Add(after); at.After(now) {
			return at
		}
	}
	return now.Add(monthly)
}

func (s *Service) addSeeing() {
	queue.Add(s.Queue, queue.Kind[seePost]{Do: func(ctx context.Context, job seePost) error { return s.SeePost(ctx, job.Post) },
		GaveUp: queue.Nothing[seePost], Tries: queue.Once, Queue: queue.Waited, Priority: 4, Alone: true})
}

// seeDue has all posts looked at whose moment for it has come.
func (s *Service) seeDue(ctx context.Context) error {
	due, err := poststore.PostsToSee(ctx, s.DB, mostAwake)
	if err != nil || len(due) == 0 {
		return err
	}
	return s.DB.InTx(ctx, func(tx *store.Tx) error {
		return s.enqueueEach(ctx, tx, due, func(id int64) queue.Args { return seePost{id} })
	})
}

// SeePost looks at a post as it is out there, compares it with what was sent, and writes down in words how it differs. A service that does
// not answer is no reason to think that it is gone.
func (s *Service) SeePost(ctx context.Context, id int64) error {
	row, err := poststore.PostByID(ctx, s.DB, id)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && (row.Post.Phase != once.Out || row.Withdrawn.Valid || row.Post.Remote == "") {
		return nil
	}
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, seeingLasts)
	defer cancel()
	now := time.Now()
	seen := poststore.SeenPost{At: now, Said: []string{}, Media: []string{}}
	page, to, err := s.pageOf(ctx, s.DB, row)
	if err == nil {
		err = s.compare(ctx, row, page, to, &seen)
	}
	switch {
	case errors.Is(err, outlets.ErrGone):
		seen.Gone = now
		if row.Seen != nil && !row.Seen.Gone.IsZero() {
			seen.Gone = row.Seen.Gone
		}
	case errors.As(err, &missing):
		seen.Trouble = "Its page is not connected any more."
	case err != nil:
		slog.Info("a post could not be looked at", "post", id, "error", err)
		seen.Trouble = fmt.Sprintf("“%s” did not show it when it was asked last.", row.PageName)
		if row.Seen != nil { // what is known of it stays
			seen.Said, seen.Media, seen.Caption, seen.Gone = row.Seen.Said, row.Seen.Media, row.Seen.Caption, row.Seen.Gone
		}
	}
	return s.DB.InTx(context.WithoutCancel(ctx), func(tx *store.Tx) error {
		return poststore.NoteSeen(context.WithoutCancel(ctx), tx, id, seen, lookNext(row.Due, now))
	})
}

// compare compares a post as it is out there with what was sent.
func (s *Service) compare(ctx context.Context, row poststore.DispatchPost, page poststore.Page, to outlets.Poster,
	seen *poststore.SeenPost) error {
	there, err := to.See(ctx, page.Remote, row.Post.Remote)
	if err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "satchel-work-seen-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	sent, out := sending.Result{Caption: row.Caption}, sending.Result{Caption: there.Caption}
	for i := range row.Items[:min(len(row.Items), mostSeen)] {
		picture, err := s.sentPicture(ctx, row, page, i)
		if err != nil {
			return err
		}
		if picture == nil { // only what is out there can be shown
			sent.Pictures = nil
			break
		}
		sent.Pictures = append(sent.Pictures, *picture)
	}
	for i, id := range there.Pictures {
		if i == mostSeen {
			break
		}
		picture, err := s.fetchPicture(ctx, to, id, filepath.Join(dir, strconv.Itoa(i)))
		if err != nil {
			return err
		}
		out.Pictures = append(out.Pictures, picture)
	}
	seen.Caption, seen.Media = sending.Shortened(there.Caption, longestCaption, sending.CodePoints), there.Pictures
	if len(seen.Media) > mostSeen {
		seen.Media = seen.Media[:mostSeen]
	}
	if sent.Pictures == nil {
		out.Pictures = nil
	}
	seen.Said = append(seen.Said, sending.Compare(sent, out)...)
	if len(row.Items) > mostSeen && len(there.Pictures) != len(row.Items) {
		seen.Said = append(seen.Said, fmt.Sprintf("%d of %d pictures are there.", len(there.Pictures), len(row.Items)))
	}
	return nil
}

// sentPicture is what an item of a post looked like that was sent. That is found out once, after it was sent; nil where the item was
// changed here before.
func (s *Service) sentPicture(ctx context.Context, row poststore.DispatchPost, page poststore.Page, i int) (*sending.Picture, error) {
	item := row.Items[i]
	if item.Sent != nil {
		return &item.Sent.Picture, nil
	}
	if !item.Asset.Valid {
		return nil, nil
	}
	made, a, err := s.madeFor(ctx, row, page.Limits.Limits, i)
	var never neverAgain
	if errors.As(err, &never) || err == nil && item.Recipe.Valid && item.Recipe.String != a.Recipe.Hash() {
		return nil, nil // it cannot be made as it was any more
	}
	if err != nil {
		return nil, err
	}
	picture, err := s.pictureOf(ctx, made)
	if err != nil {
		return nil, err
	}
	return &picture, s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.NoteSentPicture(ctx, tx, row.ID, i, picture) })
}

// pictureOf is a rendition as it was sent.
func (s *Service) pictureOf(ctx context.Context, made renditionstore.Rendition) (p sending.Picture, err error) {
	path, err := s.Blobs.Local(ctx, made.Blob)
	if err != nil {
		return p, err
	}
	p, err = s.lookedInto(ctx, path)
	p.Bytes = made.Bytes
	return p, err
}

// lookedInto is what a picture looks like; of what is none, such as a film, nothing is known.
func (s *Service) lookedInto(ctx context.Context, path string) (p sending.Picture, err error) {
	found, size, err := s.Renditions.Media.LookAt(ctx, path)
	var refused *media.Refused
	if errors.As(err, &refused) {
		return p, nil
	}
	p.Size, p.Likeness = size, likeness.Hash(found.Likeness)
	return p, err
}

// fetchPicture gets a picture from out there, which may be anything, and looks at it.
func (s *Service) fetchPicture(ctx context.Context, to outlets.Outlet, id, path string) (p sending.Picture, err error) {
	from, err := to.Fetch(ctx, id)
	if err != nil {
		return p, err
	}
	defer func() { _ = from.Close() }()
	file, err := os.Create(path)
	if err != nil {
		return p, err
	}
	n, err := io.Copy(file, io.LimitReader(from, mostFetched+1))
	if err = errors.Join(err, file.Close()); err != nil {
		return p, err
	}
	if n > mostFetched {
		return p, nil // nothing is known of it
	}
	p, err = s.lookedInto(ctx, path)
	p.Bytes = n
	return p, err
}

// LookNow has a post looked at out there now, for somebody who asks.
func (s *Service) LookNow(ctx context.Context, v *access.Viewer, id int64) error {
	row, err := poststore.PostByID(ctx, s.DB, id)
	if err != nil {
		return err
	}
	if row.Brand != v.Brand {
		return fault.NotFoundf("That post is not there any more.")
	}
	return s.SeePost(ctx, id)
}
