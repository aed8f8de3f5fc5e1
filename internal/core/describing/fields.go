// Package describing says which words an item has, what each of them may be, and how they change for many at once.
package describing

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/fault"
)

// Kind says what a field holds.
type Kind string

// The kinds of fields, with the form in which their texts are kept; "" is always nothing.
const (
	Line        Kind = "line"        // one line
	Text        Kind = "text"        // several lines
	Day         Kind = "day"         // 2026-05-17
	Moment      Kind = "moment"      // 2026-05-17T14:03:22, wall time
	Zone        Kind = "zone"        // +02:00 or Z
	Coordinates Kind = "coordinates" // 52.3702, 4.8952: degrees of latitude and longitude (WGS 84)
)

// Field is one of the words of an item.
type Field struct {
	Name    string
	Label   string // as the person at the desk reads it
	Kind    Kind
	Longest int // characters
}

// Fields are all of them, in the order in which a card shows them.
var Fields = []Field{
	{"title", "title", Line, 300}, {"alt", "alt text", Text, 1000}, {"description", "description", Text, 5000},
	{"credit", "credit", Line, 300}, {"copyright", "copyright", Line, 300}, {"usageTerms", "usage terms", Text, 1000},
	{"rightsUntil", "end of the rights", Day, 10}, {"place", "place", Line, 300}, {"coordinates", "coordinates", Coordinates, 40},
	{"taken", "date taken", Moment, 30}, {"takenZone", "time zone", Zone, 6},
}

// FieldOf finds a field by its name.
func FieldOf(name string) (Field, error) {
	for _, f := range Fields {
		if f.Name == name {
			return f, nil
		}
	}
	return Field{}, fault.Invalidf("field", "There is no field called %q.", name)
}

// Worded says whether a field takes words, so that some can be put before or after others.
func (f Field) Worded() bool { return f.Kind == Line || f.Kind == Text }

// Clean brings what somebody typed into the form in which it is kept, or says what is wrong with it (*fault.Invalid).
func (f Field) Clean(text string) (string, error) {
	text = strings.TrimSpace(norm.NFC.String(strings.ReplaceAll(text, "\r\n", "\n")))
	if strings.ContainsRune(text, 0) {
		return "", f.wrong("The %s holds a character that is none.", f.Label)
	}
	if f.Kind == Line {
		text = strings.Join(strings.Fields(text), " ")
	}
	if n := utf8.RuneCountInString(text); n > f.Longest {
		return "", f.wrong("“%s…” has %d characters; the %s has at most %d.", beginning(text), n, f.Label, f.Longest)
	}
	if text == "" {
		return "", nil
	}
	switch f.Kind {
	case Day:
		return f.day(text)
	case Moment:
		return f.moment(text)
	case Zone:
		return f.zone(text)
	case Coordinates:
		return f.coordinates(text)
	}
	return text, nil
}

func (f Field) wrong(format string, args ...any) error {
	return fault.Invalidf(f.Name, format, args...)
}

// beginning is the first characters of a text that is too long to be shown.
func beginning(text string) string {
	letters := []rune(text)
	return string(letters[:min(20, len(letters))])
}

// Days that somebody can mean: what is before is a slip of the hand.
const firstYear, lastYear = 1800, 2199

func (f Field) day(text string) (string, error) {
	day, err := time.Parse(time.DateOnly, text)
	if err != nil || day.Year() < firstYear || day.Year() > lastYear {
		return "", f.wrong("“%s” is not a day between %d and %d, as in 2026-05-17.", text, firstYear, lastYear)
	}
	return text, nil
}

// WallTime is how a moment is written.
const WallTime = "2006-01-02T15:04:05"

func (f Field) moment(text string) (string, error) {
	for _, layout := range []string{WallTime, "2006-01-02T15:04", "2006-01-02 15:04:05", "2006-01-02 15:04"} {
		if at, err := time.Parse(layout, text); err == nil && at.Year() >= firstYear && at.Year() <= lastYear {
			return at.Format(WallTime), nil
		}
	}
	return "", f.wrong("“%s” is not a moment between %d and %d, as in 2026-05-17 14:30.", text, firstYear, lastYear)
}

var offset = regexp.MustCompile(`^([+-])(\d{1,2}):?(\d{2})?$`)

// furthest is the largest offset of a zone from UTC, in minutes.
const furthest = 14 * 60

func (f Field) zone(text string) (string, error) {
	if strings.EqualFold(text, "Z") || strings.EqualFold(text, "UTC") {
		return "Z", nil
	}
	parts := offset.FindStringSubmatch(strings.Replace(text, "−", "-", 1))
	if parts != nil {
		hours, _ := strconv.Atoi(parts[2])
		minutes, _ := strconv.Atoi("0" + parts[3])
		if minutes < 60 && hours*60+minutes <= furthest {
			return fmt.Sprintf("%s%02d:%02d", parts[1], hours, minutes), nil
		}
	}
	return "", f.wrong("“%s” is not a time zone, as in +02:00.", text)
}

func (f Field) coordinates(text string) (string, error) {
	north, east, two := strings.Cut(text, ",")
	latitude, wrong := strconv.ParseFloat(strings.TrimSpace(north), 64)
	longitude, wrongToo := strconv.ParseFloat(strings.TrimSpace(east), 64)
	if !two || wrong != nil || wrongToo != nil || !(math.Abs(latitude) <= 90) || !(math.Abs(longitude) <= 180) {
		return "", f.wrong("“%s” is not a place on the earth, as in 52.3702, 4.8952 (latitude, longitude).", text)
	}
	return degrees(latitude) + ", " + degrees(longitude), nil
}

// degrees writes an angle to about a tenth of a metre.
func degrees(angle float64) string {
	return strconv.FormatFloat(math.Round(angle*1e6)/1e6+0, 'f', -1, 64)
}
