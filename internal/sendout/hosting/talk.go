package hosting

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/gallerystore"
)

// What guests may write at most.
const (
	mostGuests    = 1000 // of a gallery who gave a name
	longestName   = 80   // characters
	longestRemark = 2000 // characters
	mostLists     = 20
	mostRead      = 2000 // remarks that are shown, the latest
	mostEvents    = 200
)

var remarkLimits = gallerystore.RemarkLimits{Minute: 20, Guest: 500, Gallery: 5000}

// Talk is what goes on in a gallery: its lists with what guests put there, and what was said.
type Talk struct {
	Lists   []gallerystore.GuestList
	Marks   []gallerystore.GuestMark
	Remarks []gallerystore.Remark
}

// talk reads what one guest did, with what the team said, or what all did where no guest is named.
func talk(ctx context.Context, r store.Reader, gallery int64, guest sql.NullInt64) (t Talk, err error) {
	if t.Lists, err = gallerystore.GuestLists(ctx, r, gallery); err != nil {
		return t, err
	}
	if t.Marks, err = gallerystore.GuestMarks(ctx, r, gallery, guest); err != nil {
		return t, err
	}
	t.Remarks, err = gallerystore.Remarks(ctx, r, gallery, guest, mostRead)
	return t, err
}

// TalkFor is what a guest sees of that: what they did, what the team answered, and what others did where the gallery allows that. Guest
// 0 is nobody yet.
func (s *Service) TalkFor(ctx context.Context, view *GuestView, guest int64) (Talk, error) {
	if view.Settings.SeeEachOther {
		return talk(ctx, s.DB, view.ID, sql.NullInt64{})
	}
	t, err := talk(ctx, s.DB, view.ID, sql.NullInt64{Int64: guest, Valid: true})
	seen := map[int64]bool{}
	t.Remarks = slices.DeleteFunc(t.Remarks, func(r gallerystore.Remark) bool { // in their order: what is answered comes before its answers
		seen[r.ID] = r.Guest.Valid || !r.Answers.Valid || seen[r.Answers.Int64]
		return !seen[r.ID]
	})
	return t, err
}

// Inside is what the team sees of a gallery: everything, its guests, and what happened.
type Inside struct {
	Lists        []gallerystore.GuestList
	Chosen       []gallerystore.Chosen
	Remarks      []gallerystore.Remark
	Guests       []InsideGuest
	Events       []gallerystore.GalleryEvent
	Opened, Took int
	Letters      bool // can be sent
}

// InsideGuest is a guest with how much they did.
type InsideGuest struct {
	gallerystore.ListedGuest
	Own                  string // the secret part of their link, "" where it was sealed by a key that is not there any more
	Marks, Remarks, Took int
}

// LookInside reads what goes on in a gallery of the brand.
func (s *Service) LookInside(ctx context.Context, v *access.Viewer, gallery int64) (in Inside, err error) {
	if _, err := gallerystore.GalleryByID(ctx, s.DB, v, gallery); err != nil {
		return in, err
	}
	if in.Lists, err = gallerystore.GuestLists(ctx, s.DB, gallery); err != nil {
		return in, err
	}
	if in.Chosen, err = gallerystore.ChosenBy(ctx, s.DB, gallery); err != nil {
		return in, err
	}
	if in.Remarks, err = gallerystore.Remarks(ctx, s.DB, gallery, sql.NullInt64{}, mostRead); err != nil {
		return in, err
	}
	guests, err := gallerystore.Guests(ctx, s.DB, gallery)
	if err != nil {
		return in, err
	}
	deeds, err := gallerystore.DeedsOf(ctx, s.DB, gallery)
	if err != nil {
		return in, err
	}
	in.count(guests, deeds)
	for i := range in.Guests {
		in.Guests[i].Own, _ = s.LinkOf(in.Guests[i].Link)
	}
	if in.Events, err = gallerystore.GalleryEvents(ctx, s.DB, gallery, mostEvents); err != nil {
		return in, err
	}
	in.Letters = s.Mailer.Ready() == nil
	return in, nil
}

// count says of each guest how much they did, and of all together.
func (in *Inside) count(guests []gallerystore.ListedGuest, deeds []gallerystore.GuestDeeds) {
	byGuest, marks := make(map[int64]gallerystore.GuestDeeds, len(deeds)), map[int64]int{}
	for _, d := range deeds {
		in.Opened, in.Took = in.Opened+d.Opened, in.Took+d.Took
		byGuest[d.Guest.Int64] = d
	}
	for _, c := range in.Chosen {
		for _, guest := range c.Guests {
			marks[guest]++
		}
	}
	in.Guests = make([]InsideGuest, len(guests))
	for i, g := range guests {
		in.Guests[i] = InsideGuest{g, "", marks[g.ID], byGuest[g.ID].Remarks, byGuest[g.ID].Took}
	}
}

// Introduce makes somebody a guest of an open gallery under the name that they give.
func (s *Service) Introduce(ctx context.Context, view *GuestView, name string) (g gallerystore.Guest, err error) {
	if name, err = cleanWords("name", name, longestName); err != nil {
		return g, err
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		g, err = gallerystore.AddGuest(ctx, tx, view.Gallery, wording.OneLine(name), mostGuests, s.newLink())
		return err
	})
	return g, err
}

// Mark puts a picture into a list of a guest, or takes it out.
func (s *Service) Mark(ctx context.Context, view *GuestView, guest, list, asset int64, on bool) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return gallerystore.Mark(ctx, tx, view.Gallery, guest, list, asset, on) })
}

// Say adds a remark of a guest.
func (s *Service) Say(ctx context.Context, view *GuestView, r gallerystore.Remark) (int64, error) {
	if !view.Settings.Remarks {
		return 0, fault.Forbiddenf("This gallery takes no remarks.")
	}
	return s.remark(ctx, view.Gallery, r)
}

// Answer adds a remark of somebody of the team.
func (s *Service) Answer(ctx context.Context, v *access.Viewer, gallery int64, r gallerystore.Remark) (int64, error) {
	g, err := gallerystore.GalleryByID(ctx, s.DB, v, gallery)
	if err != nil {
		return 0, err
	}
	if !r.Answers.Valid {
		if err := store.Reachable(ctx, s.DB, v, access.Look, []int64{r.Asset}); err != nil {
			return 0, err
		}
	}
	r.Person = sql.NullInt64{Int64: v.Person, Valid: true}
	return s.remark(ctx, g, r)
}

func (s *Service) remark(ctx context.Context, g gallerystore.Gallery, r gallerystore.Remark) (id int64, err error) {
	if r.Words, err = cleanWords("words", r.Words, longestRemark); err != nil {
		return 0, err
	}
	if r.X.Valid != r.Y.Valid || r.X.Valid && !(r.X.Float64 >= 0 && r.X.Float64 <= 1 && r.Y.Float64 >= 0 && r.Y.Float64 <= 1) {
		return 0, fault.Invalidf("x", "That point is not in the picture.")
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		id, err = gallerystore.AddRemark(ctx, tx, g, r, remarkLimits)
		return err
	})
	return id, err
}

// Unsay removes a remark of a guest's own.
func (s *Service) Unsay(ctx context.Context, view *GuestView, guest, id int64) error {
	return s.DB.InTx(ctx, func(tx *store.Tx) error { return gallerystore.RemoveRemark(ctx, tx, view.ID, guest, id) })
}

// RemoveRemark removes any remark in a gallery of the brand, with its answers.
func (s *Service) RemoveRemark(ctx context.Context, v *access.Viewer, gallery, id int64) (store.Done, error) {
	return s.DB.Act(ctx, v, "remove_remark", func(tx *store.Tx) (store.Done, error) {
		g, err := gallerystore.GalleryForChange(ctx, tx, v, gallery)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{
			Said:    fmt.Sprintf("Removed a remark in the gallery “%s”", g.Title),
			Changed: 1,
		}, gallerystore.RemoveRemark(ctx, tx, gallery, 0, id)
	})
}

// SetLists gives a gallery the lists into which guests put pictures.
func (s *Service) SetLists(ctx context.Context, v *access.Viewer, gallery int64, lists []gallerystore.GuestList) (store.Done, error) {
	if len(lists) > mostLists {
		return store.Done{}, fault.Invalidf("lists", "A gallery has %d lists at most.", mostLists)
	}
	for i := range lists {
		name, err := cleanWords("lists", lists[i].Name, longestName)
		if err != nil {
			return store.Done{}, err
		}
		lists[i].Name = wording.OneLine(name)
		if lists[i].Most < 0 || lists[i].Most > 10_000 {
			return store.Done{}, fault.Invalidf("lists", "A list takes from 1 to 10,000 pictures.")
		}
	}
	return s.DB.Act(ctx, v, "change_gallery", func(tx *store.Tx) (store.Done, error) {
		g, err := gallerystore.GalleryForChange(ctx, tx, v, gallery)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: fmt.Sprintf("Gallery “%s”: %s for guests", g.Title, wording.Count(len(lists), "list", "lists")), Changed: 1},
			gallerystore.SetGuestLists(ctx, tx, g, lists)
	})
}

func cleanWords(field, text string, longest int) (string, error) {
	text = strings.TrimSpace(strings.Map(func(r rune) rune {
		if r < ' ' && r != '\n' {
			return -1
		}
		return r
	}, norm.NFC.String(text)))
	if text == "" {
		return "", fault.Invalidf(field, "Write something first.")
	}
	if len([]rune(text)) > longest {
		return "", fault.Invalidf(field, "That has more than %d characters. Make it shorter.", longest)
	}
	return text, nil
}
