package sending

import (
	"slices"
	"time"
)

// Beat is one moment of every week at which a page is posted to: minutes since midnight, as clocks on its wall show.
type Beat struct {
	Weekday time.Weekday `json:"weekday"`
	Minute  int          `json:"minute"`
}

// Rhythm is when a page is posted to, in its zone.
type Rhythm []Beat

// weeksAhead is how far ahead a free moment is looked for.
const weeksAhead = 53

// Next is the next moment of the rhythm after one, in the zone of the page, that is not taken. It is zero where there is none within a
// year.
// A moment that clocks leave out in spring is not one; of one that comes twice it is the first.
func (r Rhythm) Next(after time.Time, zone *time.Location, taken []time.Time) time.Time {
	day := after.In(zone)
	var found []time.Time
	for range weeksAhead * 7 {
		for _, beat := range r {
			if day.Weekday() != beat.Weekday {
				continue
			}
			at := time.Date(day.Year(), day.Month(), day.Day(), beat.Minute/60, beat.Minute%60, 0, 0, zone)
			same := func(t time.Time) bool { return t.Equal(at) }
			if at.Hour()*60+at.Minute() == beat.Minute && at.After(after) && !slices.ContainsFunc(taken, same) {
				found = append(found, at)
			}
		}
		if len(found) > 0 {
			return slices.MinFunc(found, time.Time.Compare)
		}
		day = time.Date(day.Year(), day.Month(), day.Day()+1, 12, 0, 0, 0, zone)
	}
	return time.Time{}
}

// OnDay counts the moments that are on the same day as one, where clocks are of a zone.
func OnDay(at time.Time, zone *time.Location, others []time.Time) (n int) {
	day := at.In(zone).Format(time.DateOnly)
	for _, o := range others {
		if o.In(zone).Format(time.DateOnly) == day {
			n++
		}
	}
	return n
}

// crowded is how near two posts on one page are to be told.
const crowded = time.Hour

// Crowds says whether a moment is within the hour of another post on the page.
func Crowds(at time.Time, others []time.Time) bool {
	return slices.ContainsFunc(others, func(o time.Time) bool { return at.Sub(o).Abs() < crowded })
}
