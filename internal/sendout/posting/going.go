package posting

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/sendout/leaving"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/rehearsalstore"
)

// Go sends a dispatch: at once, or at its moment; or, where the brand asks for it, once a second person says "go". What hinders is refused,
// all of it, with nothing sent. What the pages take is asked again before.
func (s *Service) Go(ctx context.Context, v *access.Viewer, w Dispatching) (store.Done, error) {
	return s.goWith(ctx, v, w, func(*store.Tx) error { return nil })
}

// goWith is Go, which does something else in the same transaction.
func (s *Service) goWith(ctx context.Context, v *access.Viewer, w Dispatching, also func(tx *store.Tx) error) (store.Done, error) {
	if err := s.askAgain(ctx, v.Brand, w.Pages); err != nil {
		return store.Done{}, err
	}
	checks, against, items, err := s.CheckDispatch(ctx, v, w)
	if err != nil {
		return store.Done{}, err
	}
	if err := refusal(checks, against); err != nil {
		return store.Done{}, err
	}
	return s.send(ctx, v, w, checks, items, also)
}

// send writes a dispatch down that was checked, and does something else in the same transaction.
func (s *Service) send(ctx context.Context, v *access.Viewer, w Dispatching, checks []PageCheck, items []assetstore.Asset,
	also func(tx *store.Tx) error) (store.Done, error) {
	brand, err := peoplestore.BrandByID(ctx, s.DB, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	moves, err := s.moved(ctx, v, w.Moves)
	if err != nil {
		return store.Done{}, err
	}
	now := time.Now()
	d := poststore.Dispatch{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person, Valid: v.Person != 0}, Items: len(items), Due: now,
		Waits: brand.SecondGo, Origin: w.Origin, Moves: moves}
	if w.Rehearsal != 0 {
		if _, err := rehearsalstore.RehearsalByID(ctx, s.DB, v.Brand, w.Rehearsal); err != nil {
			return store.Done{}, err
		}
		d.Rehearsal = sql.NullInt64{Int64: w.Rehearsal, Valid: true}
	}
	for i, c := range checks {
		for _, pieces := range c.Posts {
			d.Posts = append(d.Posts, postFor(c, w.Pages[i], items, pieces))
		}
		if i == 0 || c.Due.Before(d.Due) {
			d.Due, d.Zone = c.Due, c.Page.Zone
		}
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		ids := make([]int64, len(items))
		for i, a := range items {
			ids[i] = a.ID
		}
		if err := store.Reachable(ctx, tx, v, access.Look, ids); err != nil {
			return store.Done{}, err
		}
		id, posts, err := poststore.AddDispatch(ctx, tx, d)
		if err == nil {
			err = also(tx)
		}
		if err != nil {
			return store.Done{}, err
		}
		what := fmt.Sprintf("%s to %s", query.Items(len(items)), wording.Count(len(checks), "page", "pages"))
		said := "Sending " + what
		switch {
		case d.Waits:
			return store.Done{Said: what + " waits for somebody else’s go", Changed: len(posts), ID: id}, nil
		case d.Due.After(now.Add(time.Minute)):
			said = "Planned: " + what
		}
		return store.Done{Said: said, Changed: len(posts), ID: id}, s.wake(ctx, tx, posts)
	})
}

// askAgain asks the outlets of pages what these take now. One that is away is believed what it said last.
func (s *Service) askAgain(ctx context.Context, brand int64, pages []WantedPost) error {
	asked := map[int64]bool{}
	together, all := errgroup.WithContext(ctx)
	for _, p := range pages {
		page, err := poststore.PageByID(ctx, s.DB, brand, p.Page)
		if err != nil {
			return err
		}
		if asked[page.Outlet] {
			continue
		}
		asked[page.Outlet] = true
		together.Go(func() error {
			o, err := poststore.OutletByID(all, s.DB, brand, page.Outlet)
			if err != nil {
				return err
			}
			return s.learnPages(all, o)
		})
	}
	return together.Wait()
}

// refusal is why a dispatch does not go out, if it does not.
func refusal(checks []PageCheck, against leaving.Checked) error {
	for _, a := range against.Against {
		if sending.Hinders(a.Reason) {
			return fault.Invalidf("selection", "%s should not go out: %s. Leave them out, or see to it first.",
				query.Items(len(a.IDs)), leaving.Hindrance[a.Reason])
		}
	}
	for _, c := range checks {
		if at := slices.IndexFunc(c.Findings, func(f sending.Finding) bool { return f.Hinders }); at >= 0 {
			return fault.Invalidf("pages", "“%s” does not take it like this: %s", c.Page.Name, c.Findings[at].Said)
		}
	}
	return nil
}

// postFor is a post on a page with some of the items, by their numbers.
func postFor(c PageCheck, w WantedPost, items []assetstore.Asset, pieces []int) poststore.DispatchPost {
	limits := c.Page.Limits.Limits
	p := poststore.DispatchPost{Page: sql.NullInt64{Int64: c.Page.ID, Valid: true}, PageName: c.Page.Name, Caption: c.Caption, Due: c.Due,
		Wall: c.Wall, Zone: zoneOf(c.Page)}
	if c.Page.Albums {
		p.Album = strings.TrimSpace(w.Album)
	}
	for _, i := range pieces {
		a, mend := items[i], c.chosen.Pieces[i]
		item := poststore.DispatchItem{Asset: sql.NullInt64{Int64: a.ID, Valid: true}, Version: sql.NullInt64{Int64: a.VersionID, Valid: true},
			Mend: mend.Way}
		if mend.At != nil {
			item.AtX, item.AtY = sql.NullFloat64{Float64: mend.At.X, Valid: true}, sql.NullFloat64{Float64: mend.At.Y, Valid: true}
		}
		switch {
		case limits.Alt > 0:
			item.Alt = sending.Shortened(a.Alt, limits.Alt, limits.AltIn)
		case limits.Alt == 0:
			item.Alt = a.Alt
		}
		p.Items = append(p.Items, item)
	}
	p.Post.Post = once.New(len(p.Items), c.Due)
	return p
}

// ChangeDispatch does to a dispatch what somebody asks: "go" to one that waits for a second person, "hold" what has not left, "carry_on",
// "cancel" all that has not left, "withdraw" all that is out.
func (s *Service) ChangeDispatch(ctx context.Context, v *access.Viewer, id int64, what string) (store.Done, error) {
	posts, err := poststore.PostsOf(ctx, s.DB, id)
	if err != nil {
		return store.Done{}, err
	}
	switch what {
	case "cancel":
		return s.changeAll(ctx, v, which(posts, v.Brand, func(p poststore.DispatchPost) bool {
			return once.Cancel(p.Post.Post).Phase == once.Cancelled && p.Post.Phase != once.Cancelled
		}), what, "Cancelled %s")
	case "withdraw":
		return s.changeAll(ctx, v, which(posts, v.Brand, func(p poststore.DispatchPost) bool {
			return p.Post.Phase == once.Out && !p.Withdrawn.Valid
		}), what, "Took %s back")
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		d, err := poststore.DispatchOfBrand(ctx, tx, v.Brand, id)
		if err != nil {
			return store.Done{}, err
		}
		said := ""
		switch {
		case what == "go" && d.Waits && d.Person.Valid && d.Person.Int64 == v.Person:
			return store.Done{}, fault.Forbiddenf("You prepared this dispatch, so somebody else says “go”.")
		case what == "go" && d.Waits:
			said, err = "It goes out", poststore.SayGo(ctx, tx, id, v.Person)
		case what == "hold" && !d.Held:
			said, err = "What has not left is held", poststore.Hold(ctx, tx, id, true)
		case what == "carry_on" && d.Held:
			said, err = "It carries on", poststore.Hold(ctx, tx, id, false)
		default:
			return store.Done{}, fault.Invalidf("what", "That cannot be done to this dispatch now. Somebody else may have been quicker.")
		}
		if err != nil {
			return store.Done{}, err
		}
		woken, err := poststore.WakeDispatch(ctx, tx, id)
		if err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: said, Changed: len(woken), ID: id}, s.wake(ctx, tx, woken)
	})
}

// which lists the posts of a brand of which something makes sense.
func which(posts []poststore.DispatchPost, brand int64, can func(p poststore.DispatchPost) bool) (ids []int64) {
	for _, p := range posts {
		if p.Brand == brand && can(p) {
			ids = append(ids, p.ID)
		}
	}
	return ids
}

// changeAll does the same to several posts. It goes on where one refuses, and says how many did.
func (s *Service) changeAll(ctx context.Context, v *access.Viewer, posts []int64, what, said string) (store.Done, error) {
	done := 0
	var refused error
	for _, id := range posts {
		if _, err := s.ChangePost(ctx, v, id, what); err != nil {
			refused = err
			continue
		}
		done++
	}
	switch {
	case done == 0 && refused != nil:
		return store.Done{}, refused
	case done == 0:
		return store.Done{}, fault.Invalidf("what", "None of its posts can be changed like that now.")
	}
	text := fmt.Sprintf(said, wording.Count(done, "post", "posts"))
	if refused != nil {
		text += ". Not all: " + fault.Words(refused)
	}
	return store.Done{Said: text, Changed: done}, nil
}

// MovePost gives a post that has not left another moment, as the clocks of its page show it.
func (s *Service) MovePost(ctx context.Context, v *access.Viewer, id int64, wall string) (store.Done, error) {
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) { return s.movePost(ctx, tx, v, id, wall) })
}

// moment is where a post is in the calendar, for the trail.
type moment struct {
	Wall string `json:"wall"`
}

func (s *Service) movePost(ctx context.Context, tx *store.Tx, v *access.Viewer, id int64, wall string) (store.Done, error) {
	p, err := poststore.PostOfBrand(ctx, tx, v.Brand, id)
	if err != nil {
		return store.Done{}, err
	}
	zone := cmp.Or(p.Zone, "UTC")
	at, _, err := calendar.Wall(wall, zone)
	if err != nil {
		return store.Done{}, err
	}
	if now := time.Now(); at.Before(now) || at.After(now.Add(mostAhead)) {
		return store.Done{}, fault.Invalidf("due", "Choose a moment between now and a year from now.")
	}
	next := once.Move(p.Post.Post, at)
	if !next.Due.Equal(at) {
		return store.Done{}, fault.Invalidf("due", "The post for “%s” is %s by now, so that it cannot be moved.", p.PageName,
			phases[p.Post.Phase])
	}
	in, err := calendar.Zone(zone)
	if err != nil {
		return store.Done{}, err
	}
	if err := poststore.MovePost(ctx, tx, id, at, wall, zone); err != nil {
		return store.Done{}, err
	}
	was := p.Post.Due.In(in).Format(calendar.WallForm)
	if err := tx.NoteChange(ctx, "dispatch_post", id, moment{was}, moment{wall}); err != nil {
		return store.Done{}, err
	}
	wake := time.Now()
	if p.Still {
		wake = time.Time{}
	}
	if err := poststore.SavePost(ctx, tx, id, next, wake); err != nil {
		return store.Done{}, err
	}
	said := fmt.Sprintf("Moved the post for “%s” to %s", p.PageName, at.In(in).Format("2 January 2006 at 15:04"))
	return store.Done{Said: said, Changed: 1}, s.wake(ctx, tx, []int64{id})
}

// moveBack gives posts the moment again that they had: one that is past or has left by now is said to be.
func (s *Service) moveBack(ctx context.Context, tx *store.Tx, v *access.Viewer, changes []store.Change) error {
	for _, c := range changes {
		var was, is moment
		if err := errors.Join(json.Unmarshal(c.Before, &was), json.Unmarshal(c.After, &is)); err != nil {
			return err
		}
		p, err := poststore.PostOfBrand(ctx, tx, v.Brand, c.ID)
		if err != nil {
			return err
		}
		in, err := calendar.Zone(cmp.Or(p.Zone, "UTC"))
		if err != nil {
			return err
		}
		if p.Post.Due.In(in).Format(calendar.WallForm) != is.Wall {
			return &fault.Conflict{Text: "Somebody has moved that post since, so it cannot be undone. Nothing was touched."}
		}
		if _, err := s.movePost(ctx, tx, v, c.ID, was.Wall); err != nil {
			return &fault.Conflict{Text: "It cannot be undone: " + fault.Words(err)}
		}
	}
	return nil
}

// ChangePost does to a post what somebody asks: "cancel" what has not left, "again" what was refused, "there" and "not_there" about one of
// which nobody knows, "withdraw" what is out.
func (s *Service) ChangePost(ctx context.Context, v *access.Viewer, id int64, what string) (store.Done, error) {
	if what == "withdraw" {
		return s.withdraw(ctx, v, id)
	}
	return s.DB.Act(ctx, v, "dispatch", func(tx *store.Tx) (store.Done, error) {
		p, err := poststore.PostOfBrand(ctx, tx, v.Brand, id)
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
			if err := poststore.NotePlaced(ctx, tx, p, ""); err != nil {
				return store.Done{}, err
			}
		}
		wake := time.Now()
		if next.Phase.Over() {
			wake = time.Time{}
		} else if err := s.Queue.Enqueue(ctx, tx, sendPost{id}); err != nil {
			return store.Done{}, err
		}
		return store.Done{Said: said, Changed: 1}, poststore.SavePost(ctx, tx, id, next, wake)
	})
}

var phases = map[once.Phase]string{once.Planned: "planned", once.Preparing: "being prepared", once.Placing: "being sent",
	once.Settling: "being looked for", once.Unsure: "unsure", once.Out: "out", once.Refused: "refused", once.Cancelled: "cancelled"}
