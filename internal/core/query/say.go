package query

import (
	"fmt"
	"slices"
	"strings"
	"time"
)

// Names are what the things are called that rules speak of by their ids; the places and cameras that there are; and who asks, by the
// id of the person.
type Names struct {
	Folders, Albums, Tags, Stages, Outlets, People map[int64]string
	Places, Cameras                                []string
	Me                                             int64
}

// Say puts a rule into one plain phrase, as in: at least 4 stars and stage Cleared, or my keepers.
func (r *Rule) Say(n *Names) string {
	if said := r.say(n, ""); said != "" {
		return said
	}
	return "everything"
}

// say is Say within a group that goes together by a way, so that it is clear what belongs together.
func (r *Rule) say(n *Names, within string) string {
	if r.Match == "" {
		return r.sayLeaf(n)
	}
	var parts []string
	for i := range r.Rules {
		if said := r.Rules[i].say(n, r.Match); said != "" {
			parts = append(parts, said)
		}
	}
	if len(parts) == 1 && r.Match != None {
		return parts[0]
	}
	if len(parts) == 0 {
		return ""
	}
	switch r.Match {
	case All:
		said := strings.Join(parts, " and ")
		if within == None {
			return "(" + said + ")"
		}
		return said
	case Any:
		switch {
		case within == All && len(parts) == 2:
			return "either " + parts[0] + " or " + parts[1]
		case within == All || within == None:
			return "any of (" + strings.Join(parts, "; ") + ")"
		case slices.ContainsFunc(parts, func(p string) bool { return strings.Contains(p, " and ") }):
			return strings.Join(parts, ", or ")
		}
		return strings.Join(parts, " or ")
	}
	if len(parts) == 1 {
		return "not " + parts[0]
	}
	return "neither " + strings.Join(parts, " nor ")
}

// sayLeaf says a comparison by what its field says of itself.
func (r *Rule) sayLeaf(n *Names) string {
	if f := Fields[r.Field]; f != nil {
		return f.Say(r, n)
	}
	return ""
}

func (r *Rule) sayStars() string {
	stars := func(n int64) string {
		switch n {
		case -1:
			return "set aside"
		case 0:
			return "no stars"
		case 1:
			return "1 star"
		}
		return fmt.Sprintf("%d stars", n)
	}
	switch {
	case r.From != nil && r.To != nil && *r.From == *r.To:
		return stars(*r.From)
	case r.From != nil && (r.To == nil || *r.To >= 5):
		return "at least " + stars(*r.From)
	case r.To != nil && (r.From == nil || *r.From == 0):
		return "at most " + stars(*r.To)
	case r.From != nil && r.To != nil:
		return fmt.Sprintf("%d to %s", *r.From, stars(*r.To))
	}
	return "any stars"
}

func (r *Rule) saySize() string {
	unit, side := " px", map[string]string{"width": " wide", "height": " high", "longer": " on the longer side"}[r.Field]
	number := func(n int64) string { return fmt.Sprintf("%d%s%s", n, unit, side) }
	if r.Field == "bytes" {
		number = func(n int64) string { return fmt.Sprintf("%.3g MB", float64(n)/1e6) }
	}
	switch {
	case r.From != nil && r.To != nil && *r.From == *r.To:
		return "exactly " + number(*r.From)
	case r.From != nil && r.To != nil:
		return "at least " + number(*r.From) + ", at most " + number(*r.To)
	case r.From != nil:
		return "at least " + number(*r.From)
	case r.To != nil:
		return "at most " + number(*r.To)
	}
	return ""
}

func (r *Rule) sayDays() string {
	verb, missing := r.Field, map[string]string{"taken": "undated", "rights": "rights without an end"}[r.Field]
	if r.Field == "rights" {
		verb = "rights that end"
	}
	said := ""
	switch {
	case r.Next > 0:
		said = fmt.Sprintf("rights that end within %d days", r.Next)
	case r.Field == "rights" && r.Last == longestSpan:
		said = "rights that have ended"
	case r.Field == "rights" && r.Last > 0:
		said = fmt.Sprintf("rights that ended in the last %d days", r.Last)
	case r.Last == 1:
		said = verb + " today"
	case r.Last > 0:
		said = fmt.Sprintf("%s in the last %d days", verb, r.Last)
	case r.Since != "" && r.Until != "":
		said = verb + " " + span(r.Since, r.Until)
	case r.Since != "":
		said = verb + " on " + dayInWords(r.Since) + " or later"
	case r.Until != "":
		said = verb + " on " + dayInWords(r.Until) + " or earlier"
	}
	switch {
	case said == "" && r.Missing:
		return missing
	case said == "":
		return verb + " at any time"
	case r.Missing:
		return said + " or " + missing
	}
	return said
}

// span says two days: as a year, a month or a day where that is what they are.
func span(since, until string) string {
	from, err := time.Parse(time.DateOnly, since)
	to, bad := time.Parse(time.DateOnly, until)
	switch {
	case err != nil || bad != nil:
		return "from " + since + " to " + until
	case from.Equal(to):
		return "on " + dayInWords(since)
	case from.YearDay() == 1 && to.Equal(from.AddDate(1, 0, -1)):
		return from.Format("in 2006")
	case from.Day() == 1 && to.Equal(from.AddDate(0, 1, -1)):
		return from.Format("in January 2006")
	}
	return "from " + dayInWords(since) + " to " + dayInWords(until)
}

func dayInWords(day string) string {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return t.Format("2 January 2006")
}

func or(names []string) string { return strings.Join(names, " or ") }
