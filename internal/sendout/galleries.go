package sendout

import (
	"archive/zip"
	"context"
	"database/sql"
	"fmt"
	"io"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
)

// Galleries lists the client galleries of the brand.
func (s *Service) Galleries(ctx context.Context, v *access.Viewer) ([]store.Gallery, error) {
	galleries, err := store.Galleries(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	items, err := s.DB.Find().Uses(ctx, v, store.InAlbum)
	for i := range galleries {
		galleries[i].Items = items[galleries[i].Album]
	}
	return galleries, err
}

// GalleryChange is what can be set about a gallery; nil stays as it is. An empty Password or Ends takes it away.
type GalleryChange struct {
	Title, Message, Password, Ends *string
	Cover, OutputSize              *int64
	Downloads, Open                *bool
}

// CreateGallery makes a gallery that shows an album. It is closed, and nobody outside can tell that it exists.
func (s *Service) CreateGallery(ctx context.Context, v *access.Viewer, album int64, c GalleryChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "create_gallery", func(tx *store.Tx) (store.Done, error) {
		if err := store.RefuseRuleAlbum(ctx, tx, album); err != nil {
			return store.Done{}, err
		}
		a, err := store.AlbumByID(ctx, tx, v, album)
		if err != nil {
			return store.Done{}, err
		}
		sizes, err := store.OutputSizes(ctx, tx, v.Brand)
		if err != nil {
			return store.Done{}, err
		}
		if len(sizes) == 0 {
			return store.Done{}, fault.Invalidf("outputSize", "The brand has no output size yet.")
		}
		g := store.Gallery{Brand: v.Brand, Title: a.Name, Album: album, SizeID: sizes[0].ID, Downloads: true}
		if err := s.apply(ctx, tx, v, &g, c); err != nil {
			return store.Done{}, err
		}
		id, err := tx.AddGallery(ctx, g)
		return store.Done{Said: fmt.Sprintf("Made the gallery “%s”. It is closed", g.Title), Changed: 1, ID: id}, err
	})
}

// ChangeGallery sets things about a gallery, opens or closes it.
func (s *Service) ChangeGallery(ctx context.Context, v *access.Viewer, id int64, c GalleryChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "change_gallery", func(tx *store.Tx) (store.Done, error) {
		g, err := store.GalleryByID(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		was := g
		if err := s.apply(ctx, tx, v, &g, c); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: changed(was, g), Changed: 1}, tx.ChangeGallery(ctx, g)
	})
}

// changed says what differs about a gallery.
func changed(was, is store.Gallery) string {
	var what []string
	say := func(differs bool, format string, args ...any) {
		if differs {
			what = append(what, fmt.Sprintf(format, args...))
		}
	}
	say(is.Open && !was.Open && is.PasswordHash != "", "opened it to anyone with the link and the password")
	say(is.Open && !was.Open && is.PasswordHash == "", "opened it to anyone with the link")
	say(was.Open && !is.Open, "closed it; its link says so")
	say(was.Title != is.Title, "renamed it from “%s”", was.Title)
	say(was.Message != is.Message, "changed its message")
	say(was.PasswordHash != is.PasswordHash && is.PasswordHash != "", "set its password")
	say(was.PasswordHash != is.PasswordHash && is.PasswordHash == "", "removed its password")
	say(was.Ends != is.Ends && is.Ends.Valid, "its last day is %s", is.Ends.String)
	say(was.Ends != is.Ends && !is.Ends.Valid, "it has no last day any more")
	say(was.Chosen != is.Chosen, "chose its cover")
	say(was.SizeID != is.SizeID, "chose the size that guests may take")
	say(!was.Downloads && is.Downloads, "guests may download pictures")
	say(was.Downloads && !is.Downloads, "guests may not download pictures any more")
	if len(what) == 0 {
		what = []string{"nothing changed"}
	}
	return fmt.Sprintf("Gallery “%s”: %s", is.Title, strings.Join(what, ", "))
}

func (s *Service) apply(ctx context.Context, tx *store.Tx, v *access.Viewer, g *store.Gallery, c GalleryChange) error {
	if c.Title != nil {
		if g.Title = strings.TrimSpace(*c.Title); g.Title == "" {
			return fault.Invalidf("title", "A gallery needs a title.")
		}
	}
	if c.Message != nil {
		g.Message = *c.Message
	}
	if c.Password != nil {
		g.PasswordHash = ""
		if *c.Password != "" {
			if len(*c.Password) < 6 {
				return fault.Invalidf("password", "A password has at least 6 characters.")
			}
			hash, err := s.Passwords.Hash(ctx, *c.Password)
			if err != nil {
				return err
			}
			g.PasswordHash = hash
		}
	}
	if c.Ends != nil {
		if *c.Ends != "" {
			if _, err := time.Parse(time.DateOnly, *c.Ends); err != nil {
				return fault.Invalidf("ends", "“%s” is not a day such as 2026-12-31.", *c.Ends)
			}
			if *c.Ends < time.Now().Format(time.DateOnly) {
				return fault.Invalidf("ends", "The last day is in the past. Choose today or a later day.")
			}
		}
		g.Ends = sql.NullString{String: *c.Ends, Valid: *c.Ends != ""}
	}
	if c.Cover != nil {
		if err := store.Reachable(ctx, tx, v, access.Look, []int64{*c.Cover}); err != nil {
			return err
		}
		g.Chosen = sql.NullInt64{Int64: *c.Cover, Valid: true}
	}
	if c.OutputSize != nil {
		if _, err := store.OutputSizeByID(ctx, tx, v.Brand, *c.OutputSize); err != nil {
			return err
		}
		g.SizeID = *c.OutputSize
	}
	if c.Downloads != nil {
		g.Downloads = *c.Downloads
	}
	if c.Open != nil {
		g.Open = *c.Open
	}
	return nil
}

// GuestView is a gallery as a guest sees it. State is open, locked or closed.
type GuestView struct {
	store.Gallery
	State string
	Size  outputs.Size
}

// Allowance is what guests may have of what the gallery shows.
func (g *GuestView) Allowance() access.Allowance {
	return access.ForGuests(g.Size.Width, g.Size.Height, g.Downloads)
}

// Visit reads a gallery for a guest; unlocked says whether this guest has given the present password.
func (s *Service) Visit(ctx context.Context, code string, unlocked func(store.Gallery) bool) (GuestView, error) {
	g, err := store.GalleryByCode(ctx, s.DB, code)
	if err != nil {
		return GuestView{}, err
	}
	view := GuestView{Gallery: g, State: "open"}
	switch {
	case !g.Open || g.Ended:
		view.State = "closed"
		return view, nil
	case g.PasswordHash != "" && !unlocked(g):
		view.State = "locked"
		return view, nil
	}
	size, err := store.OutputSizeByID(ctx, s.DB, g.Brand, g.SizeID)
	view.Size = size.Size
	return view, err
}

// Pictures reads what an open gallery shows, in its order.
func (s *Service) Pictures(ctx context.Context, view GuestView) ([]store.Asset, error) {
	ids, err := store.AlbumItemIDs(ctx, s.DB, view.Album)
	if err != nil {
		return nil, err
	}
	return store.AssetsIn(ctx, s.DB, view.Brand, ids)
}

// Unlock checks a guest's password. From says where the attempt comes from, for the limit. A gallery that is closed does not
// say whether a password is right, and one without a password has none to give: it says false.
func (s *Service) Unlock(ctx context.Context, g store.Gallery, password, from string) (bool, error) {
	if !g.Open || g.Ended {
		return false, fault.Forbiddenf("This gallery is closed.")
	}
	if g.PasswordHash == "" {
		return false, nil
	}
	return true, s.Passwords.Check(ctx, passwords.Attempt{What: "gallery " + g.Code, From: from}, password, g.PasswordHash,
		"That is not the password of this gallery.")
}

// ForGuest gives the key of one file for a guest who may see the gallery: a preview by its name, the film of a clip, or
// "download" for the size that was allowed; none is larger than that. There is no way to an original. It returns the name to
// save it under.
func (s *Service) ForGuest(ctx context.Context, view GuestView, asset, size string) (name, key string, err error) {
	if view.State != "open" {
		return "", "", fault.Forbiddenf("This gallery is not open to you.")
	}
	a, err := store.GalleryAsset(ctx, s.DB, view.Gallery, asset)
	if err != nil {
		return "", "", err
	}
	may := view.Allowance()
	switch {
	case size == "film" && a.Kind == "clip":
		key, err = s.Renditions.Film(ctx, view.Brand, a, may)
		return "film.mp4", key, err
	case size != "download":
		key, err = s.Renditions.Preview(ctx, a, size, may)
		return size + ".webp", key, err
	case !may.Take:
		return "", "", fault.Forbiddenf("This gallery is for looking at only.")
	}
	made, err := s.Renditions.Ensure(ctx, view.Brand, a, view.Size)
	return names([]store.Asset{a}, view.Size)[0], made.Blob, err
}

// ZipForGuest writes all pictures of a gallery at the size that was allowed as a ZIP.
func (s *Service) ZipForGuest(ctx context.Context, view GuestView, w io.Writer) error {
	pictures, err := s.Pictures(ctx, view)
	if err != nil {
		return err
	}
	archive := zip.NewWriter(w)
	for i, name := range names(pictures, view.Size) {
		made, err := s.ensureAtLast(ctx, view.Brand, pictures[i], view.Size)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if err := s.packOne(ctx, archive, name, made.Blob); err != nil {
			return err
		}
	}
	return archive.Close()
}
