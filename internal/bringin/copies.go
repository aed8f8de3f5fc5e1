package bringin

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"path"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

// copyOutlets is the job that copies what the brand itself posted at outlets.
type copyOutlets struct{}

// Kind names the job in the queue.
func (copyOutlets) Kind() string { return "copy_outlets" }

const (
	copyLooks = time.Minute
	copyEvery = time.Hour
	mostOnce  = 1000 // media of an outlet that are copied at once
)

func (s *Service) addCopies() {
	queue.Add(s.Queue, queue.Kind[copyOutlets]{Do: func(ctx context.Context, _ copyOutlets) error { return s.CopyOutlets(ctx) },
		GaveUp: queue.Nothing[copyOutlets], Tries: queue.Once, Queue: queue.Waited, Priority: 4, Alone: true})
	s.Queue.Regularly(copyLooks, true, copyOutlets{})
}

// KeepCopy has what the brand itself posted at an outlet copied here from now on, arranged as it is there, in the name of who asks for
// it; or
// ends that. What was copied stays.
func (s *Service) KeepCopy(ctx context.Context, v *access.Viewer, id int64, on bool) (store.Done, error) {
	o, _, err := s.outlet(ctx, v, id)
	if err != nil {
		return store.Done{}, err
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.CopyOutlet(ctx, tx, v.Brand, id, v.Person, on) })
	said := fmt.Sprintf("What is your own on “%s” is copied into the folder of that name", o.Name)
	if !on {
		said = fmt.Sprintf("Nothing more is copied from “%s”. What was copied stays.", o.Name)
	}
	return store.Done{Said: said, Changed: 1}, err
}

// CopyOutlets copies what is new at outlets, at most once an hour each.
func (s *Service) CopyOutlets(ctx context.Context) error {
	var due []int64
	if err := s.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		due, err = poststore.OutletsToCopy(ctx, tx, copyEvery.Seconds())
		return err
	}); err != nil {
		return err
	}
	for _, id := range due {
		if err := s.copyOutlet(ctx, id); err != nil {
			slog.Info("an outlet could not be copied", "outlet", id, "error", err)
		}
	}
	return nil
}

// copyOutlet copies what is new at an outlet. Whoever asked for it must be allowed to bring in now.
func (s *Service) copyOutlet(ctx context.Context, id int64) error {
	o, err := poststore.AnyOutlet(ctx, s.DB, id)
	if err != nil {
		return err
	}
	code, err := peoplestore.BrandCode(ctx, s.DB, o.Brand)
	if err != nil {
		return err
	}
	v, err := peoplestore.LoadViewer(ctx, s.DB, o.CopiedBy, code)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && !v.May(access.BringIn).All {
		return s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.CopyOutlet(ctx, tx, o.Brand, id, 0, false) })
	}
	if err != nil {
		return err
	}
	to, err := s.Outlets.To(o)
	if err != nil {
		return err
	}
	files, here, err := s.newThere(ctx, o, to)
	if err != nil || len(files) == 0 {
		return err
	}
	_, err = s.open(ctx, v, Target{}, from{source: "outlet", name: o.Name, outlet: id}, files, here,
		func(file int64) queue.Args { return fetchFile{File: file} })
	return err
}

// newThere lists the brand's own media at an outlet that are not here and not on their way, each in a folder for its page and album.
func (s *Service) newThere(ctx context.Context, o poststore.Outlet, to outlets.Outlet) (files []Dropped, here int, err error) {
	albums, err := to.Albums(ctx)
	if err != nil {
		return nil, 0, err
	}
	known, err := assetstore.TakenOver(ctx, s.DB, o.ID)
	if err != nil {
		return nil, 0, err
	}
	coming, err := poststore.OnTheWay(ctx, s.DB, o.ID)
	if err != nil {
		return nil, 0, err
	}
	names := map[string]string{}
	if poster, posts := to.(outlets.Poster); posts {
		pages, err := poster.Pages(ctx)
		if err != nil {
			return nil, 0, err
		}
		for _, p := range pages {
			names[p.ID] = p.Name
		}
	}
	for _, album := range albums {
		media, err := to.Media(ctx, album.ID)
		if err != nil {
			return nil, 0, err
		}
		for _, m := range media {
			if _, there := known[m.ID]; there || !m.Own || slices.Contains(coming, m.ID) || len(files) == mostOnce {
				here++
				continue
			}
			about, err := json.Marshal(remote{ID: m.ID, Album: album.Title, PostedBy: m.PostedBy, Own: true, Caption: m.Caption})
			if err != nil {
				return nil, 0, err
			}
			size := m.Bytes
			if size <= 0 {
				size = -1
			}
			files = append(files, Dropped{Name: m.FileName, Path: path.Join(flat(o.Name), flat(names[album.Page]), flat(album.Title)),
				Bytes: size, Remote: string(about)})
		}
	}
	return files, here, nil
}

// flat is a name as one folder: what it says is not taken for folders in folders.
func flat(name string) string {
	if name == "" {
		return ""
	}
	return outputs.CleanName(strings.NewReplacer("/", "-", "\\", "-").Replace(name))
}
