package posting

import (
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"time"

	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"

	ics "github.com/arran4/golang-ical"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/store"
)

// Bounds of the calendar.
const (
	longestSpan = 45 * 24 * time.Hour  // post by post
	longestYear = 400 * 24 * time.Hour // day by day
	mostPlanned = 20_000
)

// InCalendar is a post in the calendar; Crowded says that another one goes to its page within the hour.
type InCalendar struct {
	poststore.PlannedPost
	Crowded bool
}

// Calendar lists what goes out and went out from a moment until before another one, by its moment.
func (s *Service) Calendar(ctx context.Context, v *access.Viewer, from, to time.Time) ([]InCalendar, error) {
	if !to.After(from) || to.Sub(from) > longestSpan {
		return nil, fault.Invalidf("to", "Ask for at most %d days, the first one first.", longestSpan/(24*time.Hour))
	}
	found, err := poststore.PlannedPosts(ctx, s.DB, v.Brand, from, to, mostPlanned)
	out := make([]InCalendar, len(found))
	last := map[int64]int{} // the one before on the same page, by its number
	for i, p := range found {
		out[i].PlannedPost = p
		if !counts(p) {
			continue
		}
		if before, there := last[p.Page]; there && p.Page != 0 && found[before].Dispatch != p.Dispatch &&
			sending.Crowds(p.Due, []time.Time{found[before].Due}) {
			out[i].Crowded, out[before].Crowded = !over(p), !over(found[before])
		}
		last[p.Page] = i
	}
	return out, err
}

func over(p poststore.PlannedPost) bool { return once.Phase(p.Phase).Over() }

// counts says whether a post takes up its moment.
func counts(p poststore.PlannedPost) bool {
	return p.Phase != string(once.Refused) && p.Phase != string(once.Cancelled) && !p.Withdrawn
}

// CalendarDays counts what is due on each day, from a moment until before another one.
func (s *Service) CalendarDays(ctx context.Context, v *access.Viewer, from, to time.Time) ([]poststore.PlannedDay, error) {
	if !to.After(from) || to.Sub(from) > longestYear {
		return nil, fault.Invalidf("to", "Ask for at most %d days, the first one first.", longestYear/(24*time.Hour))
	}
	return poststore.PlannedDays(ctx, s.DB, v.Brand, from, to)
}

// MakeCalendarFeed is a new address at which somebody subscribes to the calendar; an earlier one ends.
func (s *Service) MakeCalendarFeed(ctx context.Context, v *access.Viewer) (string, error) {
	code := rand.Text()
	err := s.DB.InTx(ctx, func(tx *store.Tx) error {
		return poststore.MakeCalendarFeed(ctx, tx, v.Brand, v.Person, stateSum(code))
	})
	return s.Origin + "/calendar/" + code + ".ics", err
}

// EndCalendarFeed ends one's address for the calendar.
func (s *Service) EndCalendarFeed(ctx context.Context, v *access.Viewer) (store.Done, error) {
	err := s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.EndCalendarFeed(ctx, tx, v.Brand, v.Person) })
	return store.Done{Said: "The address of the calendar does not work any more", Changed: 1}, err
}

// How far the calendar of a feed goes back and ahead.
const (
	feedBack   = 60 * 24 * time.Hour
	feedAhead  = 300 * 24 * time.Hour
	mostInFeed = 5000
	slotLasts  = 15 * time.Minute // as long as an event is drawn
)

// CalendarFeed writes the calendar for somebody who subscribes to it (iCalendar, RFC 5545). Whose address it is must be allowed to see it
// now.
func (s *Service) CalendarFeed(ctx context.Context, code string) (string, error) {
	whose, err := poststore.CalendarFeed(ctx, s.DB, stateSum(code))
	if err != nil {
		return "", err
	}
	v, err := peoplestore.LoadViewer(ctx, s.DB, whose.Person, whose.Brand)
	if err != nil {
		return "", err
	}
	if !v.Can(access.Galleries) {
		return "", fault.NotFoundf("There is no such calendar any more.")
	}
	now := time.Now()
	all, err := poststore.PlannedPosts(ctx, s.DB, v.Brand, now.Add(-feedBack), now.Add(feedAhead), mostInFeed)
	if err != nil {
		return "", err
	}
	calendar := ics.NewCalendarFor("-//Bright Satchel//Dispatches//EN")
	calendar.SetMethod(ics.MethodPublish)
	calendar.SetXWRCalName("Dispatches")
	calendar.SetRefreshInterval("PT1H")
	for _, p := range all {
		if !counts(p) {
			continue
		}
		event := calendar.AddEvent(p.Code + "@bright-satchel")
		event.SetDtStampTime(now)
		event.SetStartAt(p.Due)
		event.SetEndAt(p.Due.Add(slotLasts))
		event.SetSummary(fmt.Sprintf("%s: %s", p.PageName, query.Items(p.Items)))
		event.SetDescription(p.Caption)
		event.SetURL(fmt.Sprintf("%s/b/%s/dispatches", s.Origin, whose.Brand))
		status := ics.ObjectStatusConfirmed
		if p.Still {
			status = ics.ObjectStatusTentative
		}
		event.SetStatus(status)
	}
	return calendar.Serialize(), nil
}

// SetRhythm says when a page is posted to.
func (s *Service) SetRhythm(ctx context.Context, v *access.Viewer, page int64, r sending.Rhythm) (store.Done, error) {
	slices.SortFunc(r, func(a, b sending.Beat) int {
		return (int(a.Weekday)*1440 + a.Minute) - (int(b.Weekday)*1440 + b.Minute)
	})
	r = slices.Compact(r)
	for _, beat := range r {
		if beat.Weekday < time.Sunday || beat.Weekday > time.Saturday || beat.Minute < 0 || beat.Minute >= 24*60 {
			return store.Done{}, fault.Invalidf("beats", "That is no moment of a week.")
		}
	}
	p, err := poststore.PageByID(ctx, s.DB, v.Brand, page)
	if err != nil {
		return store.Done{}, err
	}
	err = s.DB.InTx(ctx, func(tx *store.Tx) error { return poststore.SetRhythm(ctx, tx, v.Brand, page, r) })
	return store.Done{Said: fmt.Sprintf("“%s” has %d moments a week", p.Name, len(r)), Changed: 1}, err
}
