package calendar

import (
	"time"

	"brightsatchel/internal/core/fault"
)

// WallForm is how a time of day is written that a clock on the wall shows, as HTML writes one (datetime-local).
const WallForm = "2006-01-02T15:04"

// Zone finds a time zone by its name (IANA). "Local" is none: it would be that of the server.
func Zone(name string) (*time.Location, error) {
	zone, err := time.LoadLocation(name)
	if err != nil || name == "" || name == "Local" {
		return nil, fault.Invalidf("zone", "There is no time zone “%s”.", name)
	}
	return zone, nil
}

// Wall is the moment at which clocks in a zone show a time. A time that they leave out in spring is refused; of one that comes twice in
// autumn it is the first, and twice says so.
func Wall(text, zone string) (at time.Time, twice bool, err error) {
	in, err := Zone(zone)
	if err != nil {
		return at, false, err
	}
	if at, err = time.ParseInLocation(WallForm, text, in); err != nil {
		return at, false, fault.Invalidf("due", "“%s” is no day and time.", text)
	}
	if shown := at.Format(WallForm); shown != text { // the standard library moves it silently
		return at, false, fault.Invalidf("due", "There is no %s in %s on that day: the clocks go forward. Choose %s, or an earlier time.",
			text[len("2006-01-02T"):], zone, after(at).Format("15:04"))
	}
	for _, by := range []time.Duration{30 * time.Minute, time.Hour, 2 * time.Hour} { // by how much clocks go back somewhere
		if earlier := at.Add(-by); earlier.Format(WallForm) == text {
			return earlier, true, nil
		}
		if at.Add(by).Format(WallForm) == text {
			return at, true, nil
		}
	}
	return at, false, nil
}

// after is the first time that clocks show once they went forward, near a moment.
func after(at time.Time) time.Time {
	start, end := at.Add(-3*time.Hour), at.Add(3*time.Hour)
	_, before := start.Zone()
	for start.Before(end) {
		next := start.Add(15 * time.Minute)
		if _, offset := next.Zone(); offset > before {
			return next
		}
		start = next
	}
	return at
}
