package calendar

import (
	"strings"
	"time"
	_ "time/tzdata" // zones by name, also where the machine has none

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/wording"
)

// Clock says how the moments of capture of some items are put right: back to what their files say, or moved on by so many
// seconds, or in another zone, or both.
type Clock struct {
	Back    bool   `json:"back,omitempty"`
	Seconds int64  `json:"seconds,omitempty"` // forwards; backwards below 0
	Zone    string `json:"zone,omitempty"`    // an offset such as +02:00, or a name of the tz database such as Europe/Amsterdam
}

// Stamp is when an item was taken: wall time, nil when undated, and the offset from UTC where it is known.
type Stamp struct {
	At   *time.Time
	Zone string
}

// furthestMove is by how many seconds a clock can be wrong: a hundred years.
const furthestMove = 100 * 366 * 24 * 60 * 60

// Check says what is wrong with a clock (*fault.Invalid).
func (c Clock) Check() error {
	if c.Seconds < -furthestMove || c.Seconds > furthestMove {
		return fault.Invalidf("seconds", "A clock can be wrong by a hundred years at most.")
	}
	if c.Zone == "" {
		return nil
	}
	if _, err := c.location(); err != nil {
		return fault.Invalidf("zone", "There is no time zone “%s”. Type one as +02:00 or Europe/Amsterdam.", c.Zone)
	}
	return nil
}

// Moved says by how much a clock moves, in words: "1 day 2 hours forwards".
func (c Clock) Moved() string {
	left, way := c.Seconds, "forwards"
	if left < 0 {
		left, way = -left, "backwards"
	}
	var parts []string
	for _, unit := range []struct {
		seconds   int64
		one, many string
	}{{86400, "day", "days"}, {3600, "hour", "hours"}, {60, "minute", "minutes"}, {1, "second", "seconds"}} {
		if n := left / unit.seconds; n > 0 {
			parts = append(parts, wording.Count(int(n), unit.one, unit.many))
		}
		left %= unit.seconds
	}
	return strings.Join(append(parts, way), " ")
}

func (c Clock) location() (*time.Location, error) {
	if c.Zone == "Z" {
		return time.UTC, nil
	}
	if c.Zone[0] == '+' || c.Zone[0] == '-' {
		at, err := time.Parse("-07:00", c.Zone)
		return at.Location(), err
	}
	return time.LoadLocation(c.Zone)
}

// To puts a stamp right; file is what the file says. What is undated stays so, unless the file says when it was. A moment
// before the year 1 or after 9999, and one that a zone leaves out when its clocks go forward, is *fault.Invalid.
func (c Clock) To(now, file Stamp) (Stamp, error) {
	if c.Back {
		return file, nil
	}
	if now.At == nil {
		return now, nil
	}
	at := now.At.Add(time.Duration(c.Seconds) * time.Second)
	if at.Year() < 1 || at.Year() > 9999 {
		return now, fault.Invalidf("seconds", "The moment %s would be in the year %d.", now.At.Format("2 January 2006, 15:04"), at.Year())
	}
	out := Stamp{At: &at, Zone: now.Zone}
	if c.Zone == "" {
		return out, nil
	}
	place, err := c.location()
	if err != nil {
		return now, err
	}
	there := time.Date(at.Year(), at.Month(), at.Day(), at.Hour(), at.Minute(), at.Second(), 0, place)
	if there.Hour() != at.Hour() || there.Minute() != at.Minute() {
		return now, fault.Invalidf("zone", "There was no %s in %s: the clocks went forward.", at.Format("2 January 2006, 15:04"), c.Zone)
	}
	out.Zone = there.Format("Z07:00")
	return out, nil
}
