package posting

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

// feedPages is the job that plans what feeds give their pages next.
type feedPages struct{}

// Kind names the job.
func (feedPages) Kind() string { return "feed_pages" }

const (
	// feedsEarly is how long before its moment what a feed gives is planned, so that it can be seen, and cancelled.
	feedsEarly = 24 * time.Hour
	feedsEvery = time.Minute
	mostTried  = 60 // items that may not fit, for one post
	mostFeeds  = 50
)

func (s *Service) addFeeds() {
	queue.Add(s.Queue, queue.Kind[feedPages]{Do: func(ctx context.Context, _ feedPages) error { return s.FeedPages(ctx, time.Now()) },
		GaveUp: queue.Nothing[feedPages], Tries: queue.Once, Queue: queue.Waited, Priority: 3, Alone: true})
	s.Queue.Regularly(feedsEvery, true, feedPages{})
}

// Feeding is what feeds a page, with what comes next of it.
type Feeding struct {
	poststore.PageFeed
	PageName string
	Item     int64 // 0 is none
	Left     int
}

// PageFeeds lists what feeds pages by itself.
func (s *Service) PageFeeds(ctx context.Context, v *access.Viewer) ([]Feeding, error) {
	all, err := poststore.PageFeeds(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	var out []Feeding
	for _, f := range all {
		page, err := poststore.PageByID(ctx, s.DB, v.Brand, f.Page)
		if err != nil {
			return nil, err
		}
		if !f.Next.Valid {
			f.Next = nextBeat(page, time.Now())
		}
		one := Feeding{PageFeed: f, PageName: page.Name}
		left, err := s.leftOf(ctx, v, f)
		if err != nil && f.Trouble == "" {
			one.Trouble = fault.Words(err)
		}
		if one.Left = len(left); one.Left > 0 {
			one.Item = left[0]
		}
		out = append(out, one)
	}
	return out, nil
}

// leftOf lists the items of the album of a feed that were never on its page and are not planned for it, in the order of the album.
func (s *Service) leftOf(ctx context.Context, v *access.Viewer, f poststore.PageFeed) ([]int64, error) {
	q := query.Query{Place: "album", ID: f.Album}
	if err := q.Check(); err != nil {
		return nil, err
	}
	ids, err := findstore.Find(s.DB).IDs(ctx, v, q)
	if err != nil {
		return nil, err
	}
	ever, err := poststore.EverOn(ctx, s.DB, f.Page, ids)
	return slices.DeleteFunc(ids, func(id int64) bool { return ever[id] }), err
}

// nextBeat is the next moment of the rhythm of a page.
func nextBeat(p poststore.Page, after time.Time) (next sql.NullTime) {
	in, err := calendar.Zone(zoneOf(p))
	if err != nil {
		return next
	}
	next.Time = p.Rhythm.Rhythm.Next(after, in, nil)
	next.Valid = !next.Time.IsZero()
	return next
}

// AddPageFeed has an album feed a page, once somebody says "go".
func (s *Service) AddPageFeed(ctx context.Context, v *access.Viewer, f poststore.PageFeed) (store.Done, error) {
	f.Brand = v.Brand
	if len([]rune(f.Caption)) > longestCaption {
		return store.Done{}, fault.Invalidf("caption", "A caption has at most %d characters.", longestCaption)
	}
	all, err := poststore.PageFeeds(ctx, s.DB, v.Brand)
	if err != nil {
		return store.Done{}, err
	}
	if len(all) >= mostFeeds {
		return store.Done{}, fault.Invalidf("page", "At most %d albums feed pages.", mostFeeds)
	}
	page, err := poststore.PageByID(ctx, s.DB, v.Brand, f.Page)
	if err != nil {
		return store.Done{}, err
	}
	album, err := albumstore.SeenAlbum(ctx, s.DB, v, f.Album)
	if err != nil {
		return store.Done{}, err
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error {
		f.ID, err = poststore.AddPageFeed(ctx, tx, f)
		return err
	})
	return store.Done{Said: fmt.Sprintf("“%s” feeds “%s” once somebody says “go”", album.Name, page.Name), Changed: 1, ID: f.ID}, err
}

// ChangePageFeed lets a feed run ("go"), stops it ("stop"), or removes it ("remove"). What it planned stays planned.
func (s *Service) ChangePageFeed(ctx context.Context, v *access.Viewer, id int64, what string) (store.Done, error) {
	var said string
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		f, err := poststore.PageFeedOf(ctx, tx, v.Brand, id)
		if err != nil {
			return err
		}
		page, err := poststore.PageByID(ctx, tx, v.Brand, f.Page)
		if err != nil {
			return err
		}
		switch what {
		case "go":
			if f.Next = nextBeat(page, time.Now()); !f.Next.Valid {
				return fault.Invalidf("page", "“%s” has no rhythm. Say first on which days and at what time it is posted to.", page.Name)
			}
			f.Running, f.Trouble, f.GoBy = true, "", sql.NullInt64{Int64: v.Person, Valid: v.Person != 0}
			said = fmt.Sprintf("“%s” feeds “%s” from %s", f.Title, page.Name, f.Next.Time.Format("2 January"))
		case "stop":
			f.Running, f.Next, said = false, sql.NullTime{}, fmt.Sprintf("“%s” does not feed “%s” any more", f.Title, page.Name)
		default:
			said = "Removed"
			return poststore.RemovePageFeed(ctx, tx, v.Brand, id)
		}
		return poststore.SavePageFeed(ctx, tx, f)
	})
	return store.Done{Said: said, Changed: 1, ID: id}, err
}

// FeedPages plans what feeds give their pages in the day after a moment.
func (s *Service) FeedPages(ctx context.Context, now time.Time) error {
	due, err := poststore.FeedsToRun(ctx, s.DB, now.Add(feedsEarly))
	for _, f := range due {
		err = errors.Join(err, s.feed(ctx, f, now))
	}
	return err
}

// feed plans the next post of a feed, in one transaction with the moment after it, so that a moment is filled once. Whoever said "go"
// must be
// allowed to send now.
func (s *Service) feed(ctx context.Context, f poststore.PageFeed, now time.Time) error {
	stop := func(why string) error {
		return s.DB.InTx(ctx, func(tx *store.Tx) error {
			f.Running, f.Next, f.Trouble = false, sql.NullTime{}, why
			return poststore.SavePageFeed(ctx, tx, f)
		})
	}
	code, err := peoplestore.BrandCode(ctx, s.DB, f.Brand)
	if err != nil {
		return err
	}
	v, err := peoplestore.LoadViewer(ctx, s.DB, f.GoBy.Int64, code)
	var missing *fault.NotFound
	if errors.As(err, &missing) || err == nil && !v.Can(access.Galleries) {
		return stop("Whoever said “go” may not send any more. Somebody else has to.")
	}
	if err != nil {
		return err
	}
	page, err := poststore.PageByID(ctx, s.DB, f.Brand, f.Page)
	if err != nil {
		return err
	}
	in, err := calendar.Zone(zoneOf(page))
	if err != nil {
		return stop(fault.Words(err))
	}
	following := nextBeat(page, f.Next.Time)
	if !following.Valid {
		return stop("The page has no rhythm any more.")
	}
	left, err := s.leftOf(ctx, v, f)
	if err != nil {
		return stop(fault.Words(err))
	}
	move := func(tx *store.Tx, trouble string) error {
		still, err := poststore.PageFeedOf(ctx, tx, f.Brand, f.ID)
		if err != nil {
			return err
		}
		if !still.Running || !still.Next.Time.Equal(f.Next.Time) {
			return errFedAlready
		}
		still.Next, still.Trouble = following, trouble
		return poststore.SavePageFeed(ctx, tx, still)
	}
	if f.Next.Time.Before(now) { // nobody was at work then: that moment is over
		return s.inTurn(ctx, func(tx *store.Tx) error { return move(tx, "A moment was missed, since the server was not running.") })
	}
	skipped := 0
	for _, id := range left[:min(len(left), mostTried)] {
		w := Dispatching{Selection: query.Selection{IDs: []int64{id}}, Caption: f.Caption, At: f.Next.Time.In(in).Format(calendar.WallForm),
			Pages: []WantedPost{{Page: f.Page, Mends: map[int64]sending.Mend{}, Shorten: true}}, Origin: f.Title}
		checks, against, items, err := s.CheckDispatch(ctx, v, w)
		if err != nil {
			return err
		}
		if refusal(checks, against) != nil {
			skipped++
			continue
		}
		trouble := ""
		if skipped > 0 {
			trouble = fmt.Sprintf("%s before it were passed over: they do not fit, or should not go out.", query.Items(skipped))
		}
		_, err = s.send(ctx, v, w, checks, items, func(tx *store.Tx) error { return move(tx, trouble) })
		if errors.Is(err, errFedAlready) {
			err = nil
		}
		return err
	}
	return s.inTurn(ctx, func(tx *store.Tx) error {
		return move(tx, "Nothing of the album is left that fits and was not shown there.")
	})
}

// errFedAlready is returned where somebody else filled the moment, or stopped the feed.
var errFedAlready = errors.New("the moment is filled")

func (s *Service) inTurn(ctx context.Context, do func(tx *store.Tx) error) error {
	err := s.DB.InTx(ctx, do)
	if errors.Is(err, errFedAlready) {
		return nil
	}
	return err
}
