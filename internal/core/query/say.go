package query

import (
	"fmt"
	"slices"
	"strings"
	"time"
)

// Names are what the things are called that rules speak of by their ids; and the places and cameras that there are.
type Names struct {
	Folders, Albums, Tags, Stages, Outlets map[int64]string
	Places, Cameras                        []string
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

func (r *Rule) sayLeaf(n *Names) string {
	named := func(about string, names map[int64]string, missing string) string {
		var out []string
		for _, id := range r.IDs {
			name, known := names[id]
			if !known {
				name = "something that was removed"
			}
			out = append(out, name)
		}
		said := about + " " + or(out)
		switch {
		case r.Missing && len(out) == 0:
			return missing
		case r.Missing:
			return missing + " or " + said
		case len(out) == 0:
			return ""
		}
		return said
	}
	switch r.Field {
	case "folder":
		said := named("in", n.Folders, "Unfiled")
		if r.Below {
			said += " or below"
		}
		return said
	case "album":
		said := named("in the album", n.Albums, "")
		if r.Below {
			said += " or below"
		}
		return said
	case "tag":
		return named("tagged", n.Tags, "without tags")
	case "stage":
		return named("stage", n.Stages, "no stage")
	case "outlet":
		return named("from", n.Outlets, "")
	case "intake":
		return "from one intake"
	case "item":
		return "one of " + Items(len(r.IDs))
	case "stars":
		return r.sayStars()
	case "taken", "added", "rights":
		return r.sayDays()
	case "bytes", "width", "height", "longer":
		return r.saySize()
	case "camera":
		if r.Missing && len(r.Names) == 0 {
			return "without a camera"
		}
	case "place":
		if r.Missing && len(r.Names) == 0 {
			return "without a place"
		}
	case "colour":
		return "with the colour " + or(r.Names)
	case "like":
		return "like one picture"
	case "words":
		if parts := Split(strings.Join(r.Names, " ")); len(parts) == 1 && parts[0][0] == '"' {
			return "with “" + strings.Trim(parts[0], `"`) + "” word for word"
		}
		return "with “" + strings.Join(r.Names, " ") + "”"
	}
	if plain, known := plainly[r.Field]; known {
		return plain
	}
	if len(r.Names) == 0 {
		return ""
	}
	names := slices.Clone(r.Names)
	for i, name := range names {
		if word, known := words[r.Field][name]; known {
			names[i] = word
		}
	}
	return strings.TrimSpace(abouts[r.Field] + " " + or(names))
}

// plainly are the conditions that say nothing more.
var plainly = map[string]string{"keeper": "my keepers", "aside": "set aside", "described": "described", "binned": "in the bin",
	"behind": "behind its front", "anniversary": "taken on this day of other years"}

// abouts are what comes before the values of conditions by names.
var abouts = map[string]string{"kind": "a", "camera": "taken with", "place": "at",
	"source": "from", "lacks": "without", "consent": "showing somebody",
	"monthday": "taken on"}

// words are values of fields as one reads them.
var words = map[string]map[string]string{
	"source": {"upload": "people’s own devices", "server": "the server", "watched": "a watched folder", "outlet": "an outlet",
		"guest": "guests of galleries", "drive": "the drive"},
	"lacks":   {"alt": "alt text", "usageTerms": "usage terms", "taken": "date taken"},
	"consent": {"open": "nobody has asked", "given": "who agrees", "refused": "who does not agree", "ended": "who agreed once"},
	"state":   {"sent": "sent out", "older": "changed since it was sent out"},
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
