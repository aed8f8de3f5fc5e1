package hosting

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/gallerystore"
)

// Galleries lists the galleries of the brand, newest first, with how many items each shows and its cover.
func (s *Service) Galleries(ctx context.Context, v *access.Viewer) ([]gallerystore.Gallery, error) {
	all, err := gallerystore.Galleries(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	return all, s.withItems(ctx, all)
}

// Listed lists the galleries of a brand that are for everyone and open, newest first.
func (s *Service) Listed(ctx context.Context, brand int64) ([]gallerystore.Gallery, error) {
	all, err := gallerystore.ListedGalleries(ctx, s.DB, brand)
	if err != nil {
		return nil, err
	}
	return all, s.withItems(ctx, all)
}

// withItems counts what galleries show, and finds covers for those that have none.
func (s *Service) withItems(ctx context.Context, all []gallerystore.Gallery) error {
	for i := range all {
		g := &all[i]
		if len(g.Chapters) == 0 {
			continue
		}
		var err error
		if g.Items, err = showing.CountPlaces(ctx, s.DB, g.Brand, g.Places()); err != nil {
			return err
		}
		if g.CoverID.Valid || g.Items == 0 {
			continue
		}
		first, err := s.chapterIDs(ctx, g.Brand, g.Chapters[0], 1)
		if err != nil || len(first) == 0 {
			return err
		}
		if g.Cover, err = albumstore.CoverOf(ctx, s.DB, first[0]); err != nil {
			return err
		}
	}
	return nil
}

// GalleryChange is what can be set about a gallery; nil stays as it is. An empty Password, Address or Ends takes it away, and a Cover of
// 0 lets it be found.
type GalleryChange struct {
	Title, Message, Password, Ends, Audience, Address *string
	Cover                                             *int64
	TakesInto                                         *int64 // folder for what guests add; 0 takes nothing
	Open                                              *bool
	Settings                                          *galleries.Settings
	Chapters                                          []gallerystore.Chapter
}

// CreateGallery makes a gallery of some folders and albums. It is closed, and nobody outside can tell that it exists.
func (s *Service) CreateGallery(ctx context.Context, v *access.Viewer, kind string, c GalleryChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "create_gallery", func(tx *store.Tx) (store.Done, error) {
		g := gallerystore.Gallery{Brand: v.Brand, Kind: kind, Audience: galleries.Link}
		g.Settings.Settings = galleries.Usual()
		switch kind {
		case galleries.Web:
			g.Audience = galleries.Everyone
		case galleries.Slideshow:
			g.Settings.Downloads = false
		}
		sizes, err := downloadstore.OutputSizes(ctx, tx, v.Brand)
		if err != nil {
			return store.Done{}, err
		}
		if len(sizes) > 0 {
			g.Settings.Sizes = []int64{sizes[0].ID}
		}
		if len(c.Chapters) == 0 {
			return store.Done{}, fault.Invalidf("chapters", "Choose a folder or an album that it shows.")
		}
		if err := s.apply(ctx, tx, v, &g, c); err != nil {
			return store.Done{}, err
		}
		if g.Title == "" {
			g.Title = g.Chapters[0].Name
		}
		g.ID, err = gallerystore.AddGallery(ctx, tx, g)
		if err != nil {
			return store.Done{}, err
		}
		if kind == galleries.Client {
			if err := gallerystore.SetGuestLists(ctx, tx, g, []gallerystore.GuestList{{Name: "Favourites"}}); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: fmt.Sprintf("Made the gallery “%s”. It is closed", g.Title), Changed: 1, ID: g.ID}, nil
	})
}

// ChangeGallery sets things about a gallery, opens or closes it.
func (s *Service) ChangeGallery(ctx context.Context, v *access.Viewer, id int64, c GalleryChange) (store.Done, error) {
	return s.DB.Act(ctx, v, "change_gallery", func(tx *store.Tx) (store.Done, error) {
		g, err := gallerystore.GalleryForChange(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		was := g
		if err := s.apply(ctx, tx, v, &g, c); err != nil {
			return store.Done{}, err
		}
		if g.Title == "" {
			return store.Done{}, fault.Invalidf("title", "A gallery needs a title.")
		}
		if c.Chapters != nil {
			if err := gallerystore.SetChapters(ctx, tx, g); err != nil {
				return store.Done{}, err
			}
		}
		return store.Done{Said: changed(was, g, c), Changed: 1}, gallerystore.ChangeGallery(ctx, tx, g)
	})
}

// RemoveGallery removes a gallery; its items stay in the library.
func (s *Service) RemoveGallery(ctx context.Context, v *access.Viewer, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "remove_gallery", func(tx *store.Tx) (store.Done, error) {
		g, err := gallerystore.GalleryForChange(ctx, tx, v, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Removed the gallery “%s”. Its pictures stay in the library", g.Title), Changed: 1},
			gallerystore.RemoveGallery(ctx, tx, id)
	})
}

// MergeGalleries puts the chapters of one gallery behind those of another, and removes the first.
func (s *Service) MergeGalleries(ctx context.Context, v *access.Viewer, into, from int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "merge_galleries", func(tx *store.Tx) (store.Done, error) {
		if into == from {
			return store.Done{}, fault.Invalidf("from", "Choose another gallery to merge with.")
		}
		both := map[int64]gallerystore.Gallery{}
		for _, id := range []int64{min(into, from), max(into, from)} { // in one order, or two would wait for each other for ever
			g, err := gallerystore.GalleryForChange(ctx, tx, v, id)
			if err != nil {
				return store.Done{}, err
			}
			both[id] = g
		}
		g, other := both[into], both[from]
		for _, c := range other.Chapters {
			there := slices.ContainsFunc(g.Chapters, func(o gallerystore.Chapter) bool { return o.Folder == c.Folder && o.Album == c.Album })
			if !there {
				c.ID = 0
				g.Chapters = append(g.Chapters, c)
			}
		}
		if err := checkChapters(g.Chapters); err != nil {
			return store.Done{}, err
		}
		if err := gallerystore.RemoveGallery(ctx, tx, from); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Merged the gallery “%s” into “%s”, which has %s now", other.Title, g.Title,
			wording.Count(len(g.Chapters), "chapter", "chapters")), Changed: 2, ID: into}, gallerystore.SetChapters(ctx, tx, g)
	})
}

// WhoSees says to whom an open gallery is open.
func WhoSees(g gallerystore.Gallery) string {
	switch {
	case g.Audience == galleries.Everyone:
		return "everyone; it is listed"
	case g.Audience == galleries.Invited:
		return "people who were invited"
	case g.PasswordHash != "":
		return "anyone with the link and the password"
	}
	return "anyone with the link"
}

// changed says what differs about a gallery.
func changed(was, is gallerystore.Gallery, c GalleryChange) string {
	var what []string
	say := func(differs bool, format string, args ...any) {
		if differs {
			what = append(what, fmt.Sprintf(format, args...))
		}
	}
	say(is.Open && !was.Open, "opened it to %s", WhoSees(is))
	say(is.Open && was.Open && is.Audience != was.Audience, "it is open to %s now", WhoSees(is))
	say(!is.Open && is.Audience != was.Audience, "it is for %s", WhoSees(is))
	say(was.Open && !is.Open, "closed it; its link says so")
	say(was.Title != is.Title, "renamed it from “%s”", was.Title)
	say(was.Address != is.Address, "its address is %s", is.At())
	say(was.Message != is.Message, "changed its message")
	say(was.PasswordHash != is.PasswordHash && is.PasswordHash != "", "set its password")
	say(was.PasswordHash != is.PasswordHash && is.PasswordHash == "", "removed its password")
	say(was.Ends != is.Ends && is.Ends.Valid, "its last day is %s", is.Ends.String)
	say(was.Ends != is.Ends && !is.Ends.Valid, "it has no last day any more")
	say(was.TakesInto != is.TakesInto && is.TakesInto.Valid, "guests may add pictures of their own")
	say(was.TakesInto.Valid && !is.TakesInto.Valid, "guests may not add pictures any more")
	say(was.Chosen != is.Chosen, "chose its cover")
	say(c.Chapters != nil, "it shows %s", wording.Count(len(is.Chapters), "chapter", "chapters"))
	before, now := was.Settings.Settings, is.Settings.Settings
	mayTake := now.Downloads && (len(now.Sizes) > 0 || now.Original)
	say(!slices.Equal(before.Sizes, now.Sizes) || before.Original != now.Original || before.Downloads != now.Downloads, "%s",
		map[bool]string{true: "chose what guests may take along", false: "guests may only look"}[mayTake])
	say(before.Mark != now.Mark, "changed the mark across its pictures")
	say(before.Accent != now.Accent || before.Lettering != now.Lettering, "changed how it looks")
	say(before.SeeEachOther != now.SeeEachOther || before.Remarks != now.Remarks, "changed what guests may do")
	if len(what) == 0 {
		what = []string{"nothing changed"}
	}
	return fmt.Sprintf("Gallery “%s”: %s", is.Title, strings.Join(what, ", "))
}

func (s *Service) apply(ctx context.Context, tx *store.Tx, v *access.Viewer, g *gallerystore.Gallery, c GalleryChange) error {
	if c.Title != nil {
		g.Title = strings.TrimSpace(*c.Title)
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
	if c.Audience != nil {
		if !slices.Contains(galleries.Audiences, *c.Audience) {
			return fault.Invalidf("audience", "%q is none of %s.", *c.Audience, strings.Join(galleries.Audiences, ", "))
		}
		g.Audience = *c.Audience
	}
	if c.Address != nil {
		address, err := galleries.Address(*c.Address)
		if err != nil {
			return err
		}
		g.Address = address
	}
	if c.Cover != nil {
		if *c.Cover != 0 {
			if err := store.Reachable(ctx, tx, v, access.Look, []int64{*c.Cover}); err != nil {
				return err
			}
		}
		g.Chosen = sql.NullInt64{Int64: *c.Cover, Valid: *c.Cover != 0}
	}
	if c.TakesInto != nil {
		if err := s.applyTaking(v, g, *c.TakesInto); err != nil {
			return err
		}
	}
	if c.Settings != nil {
		if err := s.applySettings(ctx, tx, g, *c.Settings); err != nil {
			return err
		}
	}
	if c.Open != nil {
		g.Open = *c.Open
	}
	if c.Chapters == nil {
		return nil
	}
	return s.applyChapters(ctx, tx, g, c.Chapters)
}

func (s *Service) applySettings(ctx context.Context, tx *store.Tx, g *gallerystore.Gallery, settings galleries.Settings) error {
	settings.Mark.Words = strings.Join(strings.Fields(settings.Mark.Words), " ")
	if err := settings.Check(); err != nil {
		return err
	}
	slices.Sort(settings.Sizes)
	settings.Sizes = slices.Compact(settings.Sizes)
	sizes, err := downloadstore.OutputSizes(ctx, tx, g.Brand)
	if err != nil {
		return err
	}
	for _, id := range settings.Sizes {
		there := slices.ContainsFunc(sizes, func(size downloadstore.OutputSize) bool { return size.ID == id })
		if !there && !slices.Contains(g.Settings.Sizes, id) {
			return fault.Invalidf("sizes", "One of those output sizes is not there any more.")
		}
	}
	if item := settings.Mark.Item; item != 0 && item != g.Settings.Mark.Item {
		logos, err := embedstore.Logos(ctx, tx, g.Brand)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(logos, func(l albumstore.Cover) bool { return l.CoverID.Int64 == item }) {
			return fault.Invalidf("markItem", "That is no logo of the brand. Make it one first.")
		}
	}
	g.Settings.Settings = settings
	return nil
}

// longest title and words of a chapter, in characters.
const (
	longestTitle = 200
	longestWords = 5000
)

func (s *Service) applyChapters(ctx context.Context, tx *store.Tx, g *gallerystore.Gallery, chapters []gallerystore.Chapter) error {
	if err := checkChapters(chapters); err != nil { // before any of them is looked up
		return err
	}
	had := map[int64]gallerystore.Chapter{}
	for _, c := range g.Chapters {
		had[c.ID] = c
	}
	next := make([]gallerystore.Chapter, len(chapters))
	for i, c := range chapters {
		if before, known := had[c.ID]; known { // what it shows stays; another place is another chapter
			before.Title, before.Words, before.Below = c.Title, c.Words, c.Below
			c = before
			delete(had, c.ID)
		} else {
			place := []assetstore.Place{c.Place}
			if err := assetstore.NamePlaces(ctx, tx, g.Brand, place); err != nil {
				return err
			}
			c.ID, c.Place = 0, place[0]
		}
		c.Title = strings.TrimSpace(c.Title)
		next[i] = c
	}
	g.Chapters = next
	return nil
}

func checkChapters(chapters []gallerystore.Chapter) error {
	if len(chapters) == 0 {
		return fault.Invalidf("chapters", "A gallery shows at least one folder or album.")
	}
	if len(chapters) > galleries.MostChapters {
		return fault.Invalidf("chapters", "A gallery has %d chapters at most.", galleries.MostChapters)
	}
	for _, c := range chapters {
		if len([]rune(c.Title)) > longestTitle {
			return fault.Invalidf("chapters", "The title of a chapter has at most %d characters.", longestTitle)
		}
		if len([]rune(c.Words)) > longestWords {
			return fault.Invalidf("chapters", "The words of a chapter have at most %d characters.", longestWords)
		}
	}
	return nil
}
