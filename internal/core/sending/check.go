package sending

import (
	"time"

	"brightsatchel/internal/core/keeping"
)

// What can be said against sending out an item.
const (
	RightsEnded = "rights_ended"
	RightsSoon  = "rights_soon" // they end within keeping.SoonDays
	NotAgreed   = "not_agreed"  // somebody who is shown does not agree
	AgreedOnce  = "agreed_once" // somebody who is shown agreed until a day that is over
	WithoutAlt  = "without_alt"
	WasSetAside = "set_aside"
	InTheBin    = "binned"
	SaysWhere   = "says_where" // its file says where it was taken, and goes out with that
	Unseen      = "unseen"     // a guest added it, and nobody of the team has looked at it
)

// Reasons are all that can be said against an item, the gravest first. Those before WithoutAlt mean that it should not go out.
var Reasons = []string{InTheBin, RightsEnded, NotAgreed, AgreedOnce, Unseen, RightsSoon, SaysWhere, WasSetAside, WithoutAlt}

// Hinders says whether something that is said against an item means that it should not go out.
func Hinders(reason string) bool {
	return reason == InTheBin || reason == RightsEnded || reason == NotAgreed || reason == AgreedOnce || reason == Unseen
}

// Leaving is what is known of an item that is to leave the house.
type Leaving struct {
	RightsUntil      string // YYYY-MM-DD, or "" without an end
	Alt              bool   // it has an alt text
	Shown            []Consent
	SetAside, Binned bool
	SaysWhere        bool // its file says where it was taken, and goes out with that
	Unseen           bool // a guest added it, and nobody has looked at it
	Sight            bool // one looks at it, so that it needs an alt text
}

// Check lists what is against sending an item out at a moment, the gravest first.
func Check(l Leaving, now time.Time) []string {
	said := map[string]bool{InTheBin: l.Binned, Unseen: l.Unseen, SaysWhere: l.SaysWhere,
		WasSetAside: l.SetAside, WithoutAlt: l.Sight && !l.Alt}
	switch rights, _ := keeping.RightsOn(l.RightsUntil, now); rights {
	case keeping.Ended:
		said[RightsEnded] = true
	case keeping.Ending:
		said[RightsSoon] = true
	}
	day := now.UTC().Format(time.DateOnly)
	for _, consent := range l.Shown {
		switch consent.On(day) {
		case Refused:
			said[NotAgreed] = true
		case Ended:
			said[AgreedOnce] = true
		}
	}
	var out []string
	for _, reason := range Reasons {
		if said[reason] {
			out = append(out, reason)
		}
	}
	return out
}
