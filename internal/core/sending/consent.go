// Package sending says what may leave the house, and what is against it.
package sending

import (
	"fmt"
	"slices"
	"time"

	"brightsatchel/internal/core/fault"
)

// Consent is whether a person who is shown agrees to be shown in public, and the last day on which that holds, as YYYY-MM-DD, or ""
// without an end.
type Consent struct{ State, Until string }

// What people have said.
const (
	Open    = "open" // nobody has asked
	Given   = "given"
	Refused = "refused"
	Ended   = "ended" // given once; nobody says this, the day makes it so
)

// Standings are how the consent of a person can stand on a day.
var Standings = []string{Open, Given, Refused, Ended}

// Check says what is wrong with what somebody wrote down, naming the field.
func (c Consent) Check() error {
	if !slices.Contains([]string{Open, Given, Refused}, c.State) {
		return fault.Invalidf("consent", "%q is not a consent.", c.State)
	}
	if c.Until == "" {
		return nil
	}
	if _, err := time.Parse(time.DateOnly, c.Until); err != nil {
		return fault.Invalidf("consentUntil", "%q is not a day, as in 2026-05-17.", c.Until)
	}
	if c.State != Given {
		return fault.Invalidf("consentUntil", "Only a consent that was given has a last day.")
	}
	return nil
}

// On is how the consent stands on a day, YYYY-MM-DD: one of Standings.
func (c Consent) On(day string) string {
	if c.State == Given && c.Until != "" && day > c.Until {
		return Ended
	}
	return c.State
}

// Shown is somebody who is shown in an item.
type Shown struct {
	Name    string
	Consent Consent
}

// Against says, in a sentence for each person, what is against sending out an item that shows some people. Nothing is said of
// those who agree, nor of those whom nobody has asked.
func Against(shown []Shown, day string) []string {
	var out []string
	for _, p := range shown {
		switch p.Consent.On(day) {
		case Refused:
			out = append(out, fmt.Sprintf("%s does not agree to be shown in public", p.Name))
		case Ended:
			out = append(out, fmt.Sprintf("%s agreed to be shown in public until %s only", p.Name, dayInWords(p.Consent.Until)))
		}
	}
	return out
}

func dayInWords(day string) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.Format("2 January 2006")
}
