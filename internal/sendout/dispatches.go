package sendout

import (
	"context"
	"database/sql"
	"fmt"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
)

// Bounds of one dispatch.
const (
	mostDispatched  = 500    // items
	mostPagesAtOnce = 20     // pages
	longestCaption  = 10_000 // characters
	mostAhead       = 366 * 24 * time.Hour
	shownDispatches = 50
)

// Dispatching is a dispatch as somebody wants it: items in their order, to pages, with a caption, at a moment (the zero time is now).
type Dispatching struct {
	Selection query.Selection
	Caption   string
	Due       time.Time
	Zone      string
	Pages     []WantedPost
}

// WantedPost is what differs for a page: its caption, where it has one of its own, and the mends that were chosen by item; 0 is the
// caption.
type WantedPost struct {
	Page    int64
	Caption string
	Mends   map[int64]string
}

// PageCheck is what a page would not take, and what is against the items whatever the page.
type PageCheck struct {
	Page     store.Page
	Caption  string
	Findings []sending.Finding
}

// CheckDispatch says what is against a dispatch: for each page what it does not take, with its mends, and what is against items at all.
func (s *Service) CheckDispatch(ctx context.Context, v *access.Viewer, w Dispatching) ([]PageCheck, Checked, []store.Asset, error) {
	items, err := s.dispatched(ctx, v, w)
	if err != nil {
		return nil, Checked{}, nil, err
	}
	ids := make([]int64, len(items))
	pieces := make([]sending.Piece, len(items))
	for i, a := range items {
		ids[i] = a.ID
		pieces[i] = sending.Piece{Kind: a.Kind, Size: geometry.Size{Width: a.Width, Height: a.Height}, Seconds: a.Seconds.Float64, Alt: a.Alt}
	}
	against, err := s.check(ctx, v.Brand, ids, false)
	if err != nil {
		return nil, against, nil, err
	}
	var out []PageCheck
	for _, p := range w.Pages {
		page, err := store.PageByID(ctx, s.DB, v.Brand, p.Page)
		if err != nil {
			return nil, against, nil, err
		}
		mends := map[int]string{}
		for i, id := range ids {
			if m := p.Mends[id]; m != "" {
				mends[i] = m
			}
		}
		if m := p.Mends[0]; m != "" {
			mends[-1] = m
		}
		caption := captionFor(w, p)
		out = append(out, PageCheck{page, caption, sending.Fits(pieces, caption, page.Limits.Limits, mends)})
	}
	return out, against, items, nil
}

func captionFor(w Dispatching, p WantedPost) string {
	if p.Caption != "" {
		return p.Caption
	}
	return w.Caption
}

// dispatched reads the items of a dispatch, in their order.
func (s *Service) dispatched(ctx context.Context, v *access.Viewer, w Dispatching) ([]store.Asset, error) {
	ids, err := store.Select(ctx, s.DB, v, access.Look, w.Selection)
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
		if slices.ContainsFunc(w.Pages[:i], func(o WantedPost) bool { return o.Page == p.Page }) {
			return nil, fault.Invalidf("pages", "Each page is chosen once.")
		}
	}
	return store.AssetsIn(ctx, s.DB, v.Brand, ids)
}

// Go sends a dispatch: at once, or at its moment. What hinders is refused, all of it, with nothing sent.
func (s *Service) Go(ctx context.Context, v *access.Viewer, w Dispatching) (store.Done, error) {
	now := time.Now()
	if w.Due.IsZero() {
		w.Due = now
	}
	if w.Due.Before(now.Add(-5 * time.Minute)) {
		return store.Done{}, fault.Invalidf("due", "That moment is over. Choose a later one, or send it now.")
	}
	if w.Due.After(now.Add(mostAhead)) {
		return store.Done{}, fault.Invalidf("due", "At most a year ahead.")
	}
	checks, against, items, err := s.CheckDispatch(ctx, v, w)
	if err != nil {
		return store.Done{}, err
	}
	for _, a := range against.Against {
		if sending.Hinders(a.Reason) {
			return store.Done{}, fault.Invalidf("selection", "%s should not go out: %s. Leave them out, or see to it first.",
				query.Items(len(a.IDs)), hindrance[a.Reason])
		}
	}
	d := store.Dispatch{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person, Valid: v.Person != 0}, Items: len(items),
		Due: w.Due, Zone: w.Zone}
	for i, c := range checks {
		if at := slices.IndexFunc(c.Findings, func(f sending.Finding) bool { return f.Hinders }); at >= 0 {
			return store.Done{}, fault.Invalidf("pages", "“%s” does not take it like this: %s", c.Page.Name, c.Findings[at].Said)
		}
		d.Posts = append(d.Posts, postFor(c, w.Pages[i], items, w.Due))
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		ids := make([]int64, len(items))
		for i, a := range items {
			ids[i] = a.ID
		}
		if err := store.Reachable(ctx, tx, v, access.Look, ids); err != nil {
			return store.Done{}, err
		}
		id, posts, err := tx.AddDispatch(ctx, d)
		if err != nil {
			return store.Done{}, err
		}
		jobs := make([]queue.Args, len(posts))
		for i, post := range posts {
			jobs[i] = sendPost{post}
		}
		said := fmt.Sprintf("%s to %s", query.Items(len(items)), wording.Count(len(posts), "page", "pages"))
		if w.Due.After(now) {
			said = "Planned: " + said
		} else {
			said = "Sending " + said
		}
		return store.Done{Said: said, Changed: len(posts), ID: id}, s.Queue.EnqueueAll(ctx, tx, jobs)
	})
}

// postFor is a post on a page with the items that go there.
func postFor(c PageCheck, w WantedPost, items []store.Asset, due time.Time) store.DispatchPost {
	limits := c.Page.Limits.Limits
	p := store.DispatchPost{Page: sql.NullInt64{Int64: c.Page.ID, Valid: true}, PageName: c.Page.Name, Caption: c.Caption}
	if w.Mends[0] == sending.Shorten && limits.Caption > 0 {
		p.Caption = sending.Shortened(c.Caption, limits.Caption, limits.CaptionIn)
	}
	for _, a := range items {
		if w.Mends[a.ID] == sending.LeaveOut {
			continue
		}
		item := store.DispatchItem{Asset: sql.NullInt64{Int64: a.ID, Valid: true}, Version: sql.NullInt64{Int64: a.VersionID, Valid: true},
			Mend: w.Mends[a.ID]}
		switch {
		case limits.Alt > 0:
			item.Alt = sending.Shortened(a.Alt, limits.Alt, limits.AltIn)
		case limits.Alt == 0:
			item.Alt = a.Alt
		}
		p.Items = append(p.Items, item)
	}
	p.Post.Post = once.New(len(p.Items), due)
	return p
}

// Dispatches lists what was sent and what is planned, the newest first, before an id.
func (s *Service) Dispatches(ctx context.Context, v *access.Viewer, before int64) ([]store.Dispatch, error) {
	return store.Dispatches(ctx, s.DB, v.Brand, before, shownDispatches)
}

// ChangePost does to a post what somebody asks: "cancel" what has not left, "again" what was refused, "there" and "not_there" about one of
// which nobody knows, "withdraw" what is out.
func (s *Service) ChangePost(ctx context.Context, v *access.Viewer, id int64, what string) (store.Done, error) {
	if what == "withdraw" {
		return s.withdraw(ctx, v, id)
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		p, err := tx.PostOfBrand(ctx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		before := p.Post.Phase
		var next once.Post
		var said string
		switch what {
		case "cancel":
			next, said = once.Cancel(p.Post.Post), fmt.Sprintf("The post for “%s” is not sent", p.PageName)
		case "again":
			next, said = once.Again(p.Post.Post), fmt.Sprintf("Sending the post to “%s” again", p.PageName)
		case "there":
			next, said = once.Decide(p.Post.Post, true, p.Post.Remote), fmt.Sprintf("The post is on “%s”", p.PageName)
		case "not_there":
			next, said = once.Decide(p.Post.Post, false, ""), fmt.Sprintf("The post is not on “%s”, and is sent again", p.PageName)
		default:
			return store.Done{}, fault.Invalidf("what", "%q is nothing that can be done to a post.", what)
		}
		if next.Phase == before {
			return store.Done{}, fault.Invalidf("what", "The post for “%s” is %s by now, so that cannot be done.", p.PageName, phases[before])
		}
		if what == "there" {
			if err := tx.NotePlaced(ctx, p, ""); err != nil {
				return store.Done{}, err
			}
		}
		wake := time.Now()
		if next.Phase.Over() {
			wake = time.Time{}
		} else if err := s.Queue.Enqueue(ctx, tx, sendPost{id}); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: said, Changed: 1}, tx.SavePost(ctx, id, next, wake)
	})
}

var phases = map[once.Phase]string{once.Planned: "planned", once.Preparing: "being prepared", once.Placing: "being sent",
	once.Settling: "being looked for", once.Unsure: "unsure", once.Out: "out", once.Refused: "refused", once.Cancelled: "cancelled"}
