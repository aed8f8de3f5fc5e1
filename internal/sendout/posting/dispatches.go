package posting

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/poststore"
)

// Bounds of one dispatch.
const (
	mostDispatched  = 500    // items
	mostPagesAtOnce = 20     // pages
	longestCaption  = 10_000 // characters
	longestAlbum    = 200    // characters
	mostAhead       = 366 * 24 * time.Hour
	shownDispatches = 50
)

// Dispatching is a dispatch as somebody wants it: items in their order, to pages, with a caption, at a moment.
type Dispatching struct {
	Selection query.Selection
	Caption   string
	// At is what the clocks of each page show when it is due, as calendar.WallForm; "" is now. Slot is the next free moment of the rhythm of
	// each page instead.
	At    string
	Slot  bool
	Pages []WantedPost
	// Moves is a post that is taken back once all of this is out, or 0.
	Moves int64
	// Rehearsal is where it was tried out before, or 0.
	Rehearsal int64
	// Origin says what made it, where that was nobody.
	Origin string
}

// WantedPost is what differs for a page: its caption, where it has one of its own, how it is mended, and the album there that it goes into.
type WantedPost struct {
	Page           int64
	Caption        string
	Album          string
	Mends          map[int64]sending.Mend // by item
	Shorten, Split bool
}

// PageCheck is what a page would not take, and how it is posted there: when, in how many posts, with which words.
type PageCheck struct {
	Page     poststore.Page
	Caption  string
	Due      time.Time
	Wall     string
	Findings []sending.Finding
	Posts    [][]int // the items of each post, by their numbers
	Pieces   []sending.Piece
	chosen   sending.Chosen
	day      int // how many other posts go there on that day
}

// CheckDispatch says what is against a dispatch: for each page what it does not take, with its mends, and what is against items at all.
func (s *Service) CheckDispatch(ctx context.Context, v *access.Viewer, w Dispatching) ([]PageCheck, leaving.Checked, []assetstore.Asset,
	error) {
	items, err := s.dispatched(ctx, v, w)
	if err != nil {
		return nil, leaving.Checked{}, nil, err
	}
	ids := make([]int64, len(items))
	for i, a := range items {
		ids[i] = a.ID
	}
	pages, last, err := s.whenOnPages(ctx, v, w)
	if err != nil {
		return nil, leaving.Checked{}, nil, err
	}
	against, err := leaving.CheckFor(ctx, s.DB, v.Brand, ids, false, last)
	if err != nil {
		return nil, against, nil, err
	}
	known, err := s.knownOf(ctx, w, ids)
	if err != nil {
		return nil, against, nil, err
	}
	for i := range pages {
		s.checkPage(&pages[i], w.Pages[i], w, items, known)
	}
	return pages, against, items, nil
}

// PieceCut is what is left of an item that is cut, by its number, as parts of the whole.
type PieceCut struct {
	Piece               int
	X, Y, Width, Height float64
}

// Cuts says what is left of the items that are cut for the page.
func (c PageCheck) Cuts() (out []PieceCut) {
	for i, p := range c.Pieces {
		if mend := c.chosen.Pieces[i]; mend.Way == sending.Crop {
			x, y, w, h := c.Page.Limits.Cut(p, mend.At)
			out = append(out, PieceCut{i, x, y, w, h})
		}
	}
	return out
}

// known is what is known of the items of a dispatch besides what they are.
type known struct {
	shown map[int64]map[int64]time.Time
	tags  map[int64][]string
}

func (s *Service) knownOf(ctx context.Context, w Dispatching, ids []int64) (k known, err error) {
	pages := make([]int64, len(w.Pages))
	for i, p := range w.Pages {
		pages[i] = p.Page
	}
	if k.shown, err = poststore.OnPages(ctx, s.DB, pages, ids); err != nil {
		return k, err
	}
	if slices.ContainsFunc(w.Pages, func(p WantedPost) bool { return strings.Contains(captionFor(w, p), "{tags}") }) {
		k.tags, err = poststore.TagNamesOf(ctx, s.DB, ids)
	}
	return k, err
}

// checkPage says what a page would not take of the items.
func (s *Service) checkPage(c *PageCheck, p WantedPost, w Dispatching, items []assetstore.Asset, k known) {
	limits := c.Page.Limits.Limits
	c.chosen = sending.Chosen{Pieces: map[int]sending.Mend{}, Shorten: p.Shorten, Split: p.Split}
	var said []sending.Described
	for i, a := range items {
		piece := sending.Piece{Kind: a.Kind, Size: geometry.Size{Width: a.Width, Height: a.Height}, Seconds: a.Seconds.Float64, Alt: a.Alt,
			Focal: geometry.Point{X: a.FocalX, Y: a.FocalY}, Focals: a.Focals, Unready: !a.Looked, Missing: a.LeftOver == "missing",
			Format: formatOf(a.MediaType), Bytes: a.Bytes}
		if since, there := k.shown[c.Page.ID][a.ID]; there {
			piece.Shown = since.Format(time.DateOnly)
		}
		if a.Likeness.Valid {
			hash := likeness.Hash(a.Likeness.Int64)
			piece.Likeness = &hash
		}
		c.Pieces = append(c.Pieces, piece)
		if mend, set := p.Mends[a.ID]; set {
			c.chosen.Pieces[i] = mend
		}
		if c.chosen.Pieces[i].Way != sending.LeaveOut {
			said = append(said, sending.Described{Title: a.Title, Credit: a.Credit, Tags: k.tags[a.ID]})
		}
	}
	c.Caption = sending.Fill(captionFor(w, p), said, limits.Hashtags)
	c.Findings = append(c.Findings, sending.Fits(c.Pieces, c.Caption, limits, c.chosen)...)
	c.Posts = limits.Posts(len(items), c.chosen)
	if most := limits.PerDay; most > 0 && c.day+len(c.Posts) > most {
		said := fmt.Sprintf("At most %d posts a day there; with these it would be %d on that day.", most, c.day+len(c.Posts))
		c.Findings = append(c.Findings, sending.Finding{Piece: -1, What: "full_day", Said: said, Hinders: true})
	}
	if c.Page.Gone {
		c.Findings = append(c.Findings, sending.Finding{Piece: -1, What: "page_gone", Said: "That page is not there any more.", Hinders: true})
	}
	if p.Shorten && limits.Caption > 0 {
		c.Caption = sending.Shortened(c.Caption, limits.Caption, limits.CaptionIn)
	}
}

// formatOf is the format of a picture's file by its media type, or "" of what is no picture.
func formatOf(mediaType string) string {
	format, is := strings.CutPrefix(mediaType, "image/")
	if !is {
		return ""
	}
	format, _, _ = strings.Cut(format, "+")
	return format
}

// whenOnPages reads the pages of a dispatch, and says when it is due on each, and what is to be said of that; last is the latest moment.
func (s *Service) whenOnPages(ctx context.Context, v *access.Viewer, w Dispatching) (out []PageCheck, last time.Time, err error) {
	now := time.Now()
	last = now
	ids := make([]int64, len(w.Pages))
	for i, p := range w.Pages {
		ids[i] = p.Page
	}
	var others map[int64][]time.Time
	for _, p := range w.Pages {
		page, err := poststore.PageByID(ctx, s.DB, v.Brand, p.Page)
		if err != nil {
			return nil, last, err
		}
		if others == nil {
			due, err := poststore.DueOn(ctx, s.DB, ids, now.Add(-time.Hour), now.Add(mostAhead))
			if err != nil {
				return nil, last, err
			}
			others = map[int64][]time.Time{}
			for _, d := range due {
				others[d.Page] = append(others[d.Page], d.Due)
			}
		}
		c := PageCheck{Page: page}
		if err := c.when(w, now, others[page.ID]); err != nil {
			return nil, last, err
		}
		if c.Due.After(last) {
			last = c.Due
		}
		out = append(out, c)
	}
	return out, last, nil
}

// zoneOf is the time zone of a page, or UTC where it says none.
func zoneOf(p poststore.Page) string {
	if p.Zone == "" {
		return "UTC"
	}
	return p.Zone
}

// when says when a post is due on the page.
func (c *PageCheck) when(w Dispatching, now time.Time, others []time.Time) error {
	zone := zoneOf(c.Page)
	in, err := calendar.Zone(zone)
	if err != nil {
		return err
	}
	note := func(what, said string, hinders bool) {
		c.Findings = append(c.Findings, sending.Finding{Piece: -1, What: what, Said: said, Hinders: hinders})
	}
	c.Due = now
	switch {
	case w.Slot:
		if c.Due = c.Page.Rhythm.Rhythm.Next(now, in, others); c.Due.IsZero() {
			c.Due = now
			note("no_rhythm", "It has no rhythm, or no free moment in it within a year. Give it one under Outlets.", true)
		}
	case w.At != "":
		at, twice, err := calendar.Wall(w.At, zone)
		switch {
		case err != nil:
			note("no_such_time", fault.Words(err), true)
		case at.Before(now.Add(-5 * time.Minute)):
			note("past", fmt.Sprintf("%s is over in %s. Choose a later time, or send it now.", w.At[len("2006-01-02T"):], zone), true)
		case at.After(now.Add(mostAhead)):
			note("too_far", "At most a year ahead.", true)
		default:
			c.Due = at
			if twice {
				note("twice", fmt.Sprintf("Clocks in %s show that time twice on that day: it goes out at the first.", zone), false)
			}
		}
	}
	c.Wall = c.Due.In(in).Format(calendar.WallForm)
	c.day = sending.OnDay(c.Due, in, others)
	if sending.Crowds(c.Due, others) {
		note("crowded", "Another post goes there within the hour.", false)
	}
	return nil
}

func captionFor(w Dispatching, p WantedPost) string {
	if p.Caption != "" {
		return p.Caption
	}
	return w.Caption
}

// dispatched reads the items of a dispatch, in their order.
func (s *Service) dispatched(ctx context.Context, v *access.Viewer, w Dispatching) ([]assetstore.Asset, error) {
	ids, err := findstore.Select(ctx, s.DB, v, access.Look, w.Selection)
	switch {
	case err != nil:
		return nil, err
	case len(ids) == 0:
		return nil, fault.Invalidf("selection", "Nothing is selected.")
	case len(ids) > mostDispatched:
		return nil, fault.Invalidf("selection", "At most %d items go out in one dispatch; these are %d.", mostDispatched, len(ids))
	case len(w.Pages) == 0:
		return nil, fault.Invalidf("pages", "Choose at least one page.")
	case len(w.Pages) > mostPagesAtOnce:
		return nil, fault.Invalidf("pages", "At most %d pages at once.", mostPagesAtOnce)
	}
	for i, p := range w.Pages {
		if len([]rune(captionFor(w, p))) > longestCaption {
			return nil, fault.Invalidf("caption", "A caption has at most %d characters.", longestCaption)
		}
		if len([]rune(p.Album)) > longestAlbum {
			return nil, fault.Invalidf("album", "The title of an album has at most %d characters.", longestAlbum)
		}
		if slices.ContainsFunc(w.Pages[:i], func(o WantedPost) bool { return o.Page == p.Page }) {
			return nil, fault.Invalidf("pages", "Each page is chosen once.")
		}
	}
	return assetstore.AssetsIn(ctx, s.DB, v.Brand, ids)
}

// Dispatches lists what was sent and what is planned, the newest first, before an id.
func (s *Service) Dispatches(ctx context.Context, v *access.Viewer, before int64) ([]poststore.Dispatch, error) {
	return poststore.Dispatches(ctx, s.DB, v.Brand, before, shownDispatches)
}
