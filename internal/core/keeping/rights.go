package keeping

import "time"

// SoonDays is from how many days before their end on rights are said to end soon.
const SoonDays = 30

// Rights is how far the rights in an item go.
type Rights string

// The rights in an item have no end, last for longer than SoonDays, end within them (the last day counts in), or have ended.
const (
	Open    Rights = "open"
	Lasting Rights = "lasting"
	Ending  Rights = "ending"
	Ended   Rights = "ended"
)

// RightsOn says how far rights go on a day, and how many days are left: 0 on the last one, below 0 when they have ended. Until is
// their last day (YYYY-MM-DD); what is no day is no end. Of now only the day counts, in its zone.
func RightsOn(until string, now time.Time) (Rights, int) {
	last, err := time.Parse(time.DateOnly, until)
	if err != nil {
		return Open, 0
	}
	year, month, day := now.Date()
	left := int(last.Sub(time.Date(year, month, day, 0, 0, 0, 0, time.UTC)) / (24 * time.Hour))
	switch {
	case left < 0:
		return Ended, left
	case left <= SoonDays:
		return Ending, left
	}
	return Lasting, left
}
