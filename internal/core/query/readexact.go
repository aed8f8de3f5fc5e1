package query

import (
	"regexp"
	"strconv"
	"strings"
	"time"
)

// Sizes and spans with a number in them, as people say them, in small letters.
var (
	sizeSaid = regexp.MustCompile(`^(wider|narrower|taller|higher|lower|longer|larger|bigger|smaller) than ([\d.,]+) ?(px|pixels?|kb|mb|gb)?$`)
	sideSaid = regexp.MustCompile(`^(at least|at most|exactly) ([\d.,]+) ?(?:px |pixels? )?(wide|high|tall|on the longer side)$`)
	byteSaid = regexp.MustCompile(`^(at least|at most|over|under|more than|less than) ([\d.,]+) ?(kb|mb|gb)$`)
	lastSaid = regexp.MustCompile(`^(?:(taken|shot|added) )?(?:in )?the last (\d{1,5}) (days?|weeks?|months?|years?)$`)
	daysSaid = regexp.MustCompile(`^(?:(taken|shot|added) )?(?:(on|in|since|after|before|until|from) )?(.+?)( or later| or earlier)?$`)
	twoSaid  = regexp.MustCompile(`^(?:(taken|shot|added) )?(?:between|from) (.+?) (?:and|to|until) (.+)$`)
)

var boundsSaid = map[string]string{"over": "at least", "more than": "at least", "under": "at most", "less than": "at most"}

var byteUnits = map[string]float64{"kb": 1e3, "mb": 1e6, "gb": 1e9}

// readExact reads a condition that is said in full and has a number or a day in it.
func readExact(text string, today time.Time) (Rule, bool) {
	if m := sizeSaid.FindStringSubmatch(text); m != nil {
		return readSize(m[1], m[2], m[3])
	}
	if m := sideSaid.FindStringSubmatch(text); m != nil {
		n, ok := wholeNumber(m[2])
		return bounded(map[string]string{"wide": "width", "high": "height", "tall": "height", "on the longer side": "longer"}[m[3]], m[1], n), ok
	}
	if m := byteSaid.FindStringSubmatch(text); m != nil {
		how := m[1]
		if plain, other := boundsSaid[how]; other {
			how = plain
		}
		n, ok := bytesSaid(m[2], m[3])
		return bounded("bytes", how, n), ok
	}
	if m := lastSaid.FindStringSubmatch(text); m != nil {
		n, _ := strconv.ParseInt(m[2], 10, 64)
		n *= map[byte]int64{'d': 1, 'w': 7, 'm': 30, 'y': 365}[m[3][0]]
		return Rule{Field: daysField(m[1]), Last: n}, n >= 1 && n <= longestSpan
	}
	if m := twoSaid.FindStringSubmatch(text); m != nil {
		since, until, a := readDays(m[2], today)
		from, to, b := readDays(m[3], today)
		if a && b { // whichever is said first
			return Rule{Field: daysField(m[1]), Since: min(since, from), Until: max(until, to)}, true
		}
	}
	if m := daysSaid.FindStringSubmatch(text); m != nil {
		if since, until, ok := readDays(m[3], today); ok {
			return sideOf(Rule{Field: daysField(m[1]), Since: since, Until: until}, m[2]+m[4]), true
		}
	}
	return Rule{}, false
}

// sideOf takes what lies before or after the days of a rule, or in them.
func sideOf(r Rule, how string) Rule {
	switch how {
	case "since", "from", "on or later", "in or later", " or later":
		return Rule{Field: r.Field, Since: r.Since}
	case "after":
		return Rule{Field: r.Field, Since: daysLater(r.Until, 1)}
	case "before":
		return Rule{Field: r.Field, Until: daysLater(r.Since, -1)}
	case "until", "on or earlier", "in or earlier", " or earlier":
		return Rule{Field: r.Field, Until: r.Until}
	}
	return r
}

func daysLater(day string, days int) string {
	t, _ := time.Parse(time.DateOnly, day)
	return t.AddDate(0, 0, days).Format(time.DateOnly)
}

func daysField(verb string) string {
	if verb == "added" {
		return "added"
	}
	return "taken"
}

// readSize reads "wider than 2000 px", "larger than 5 mb". Without a unit it is pixels; of a size that is neither wide nor high they
// are those of the longer side.
func readSize(how, number, unit string) (Rule, bool) {
	field := map[string]string{"wider": "width", "narrower": "width", "taller": "height", "higher": "height", "lower": "height"}[how]
	atMost := how == "narrower" || how == "lower" || how == "smaller"
	bound := "at least"
	if atMost {
		bound = "at most"
	}
	if factor := byteUnits[unit]; factor > 0 {
		n, ok := bytesSaid(number, unit)
		return bounded("bytes", bound, n), ok && field == "" && how != "longer"
	}
	n, ok := wholeNumber(number)
	if field == "" {
		field = "longer"
	}
	return bounded(field, bound, n), ok
}

func bounded(field, how string, n int64) Rule {
	r := Rule{Field: field}
	if how != "at most" {
		r.From = ptr(n)
	}
	if how != "at least" {
		r.To = ptr(n)
	}
	return r
}

// wholeNumber reads 2000, 2,000 and 2.000 alike.
func wholeNumber(text string) (int64, bool) {
	n, err := strconv.ParseInt(strings.NewReplacer(",", "", ".", "").Replace(text), 10, 32)
	return n, err == nil && n > 0
}

func bytesSaid(number, unit string) (int64, bool) {
	n, err := strconv.ParseFloat(strings.ReplaceAll(number, ",", "."), 64)
	n *= byteUnits[unit]
	return int64(n), err == nil && n >= 1 && n < 1e15
}

// Layouts of days, months and years, as people here write them: the day before the month.
var dayLayouts = []struct {
	layout string
	years  int
	months int
	days   int
}{
	{"2006-01-02", 0, 0, 1}, {"2 January 2006", 0, 0, 1}, {"2 Jan 2006", 0, 0, 1}, {"January 2, 2006", 0, 0, 1},
	{"January 2 2006", 0, 0, 1}, {"2.1.2006", 0, 0, 1}, {"2/1/2006", 0, 0, 1}, {"2006-01", 0, 1, 0}, {"January 2006", 0, 1, 0},
	{"Jan 2006", 0, 1, 0}, {"1/2006", 0, 1, 0}, {"2006", 1, 0, 0}, {"2 January", 0, 0, 1}, {"2 Jan", 0, 0, 1}, {"January", 0, 1, 0},
	{"Jan", 0, 1, 0},
}

// readDays reads a day, month or year; without a year it is the last one that has begun.
func readDays(text string, today time.Time) (since, until string, ok bool) {
	switch text {
	case "today":
		return today.Format(time.DateOnly), today.Format(time.DateOnly), true
	case "yesterday":
		day := today.AddDate(0, 0, -1).Format(time.DateOnly)
		return day, day, true
	}
	if m := seasonSaid.FindStringSubmatch(text); m != nil {
		return season(m[2], m[1], m[3], today)
	}
	for _, l := range dayLayouts {
		from, err := time.Parse(l.layout, text)
		if err != nil {
			continue
		}
		if from.Year() == 0 {
			day := from.Day()
			if from = from.AddDate(today.Year(), 0, 0); from.After(today) {
				from = from.AddDate(-1, 0, 0)
			}
			if from.Day() != day { // 29 February of a year that has none
				return "", "", false
			}
		}
		if from.Year() < 1800 || from.Year() > today.Year()+100 {
			return "", "", false
		}
		return from.Format(time.DateOnly), from.AddDate(l.years, l.months, l.days).AddDate(0, 0, -1).Format(time.DateOnly), true
	}
	return "", "", false
}

var seasonSaid = regexp.MustCompile(`^(?:the )?(?:(this|last) )?(spring|summer|autumn|winter)(?: (?:of )?(\d{4}))?$`)

// firstMonths are the months with which seasons begin, three months each, as meteorologists count them in the north. A winter is called
// by the year in which it begins.
var firstMonths = map[string]time.Month{"spring": time.March, "summer": time.June, "autumn": time.September, "winter": time.December}

// season reads a season of a year, or this or the last one; by its name alone it is no day, for many other things are called so.
func season(name, which, year string, today time.Time) (since, until string, ok bool) {
	begins := func(year int) time.Time { return time.Date(year, firstMonths[name], 1, 0, 0, 0, 0, time.UTC) }
	y, _ := strconv.Atoi(year)
	switch {
	case (which == "") == (year == ""):
		return "", "", false
	case which != "":
		if y = today.Year(); begins(y).After(today) {
			y--
		}
		if which == "last" && !begins(y).AddDate(0, 3, 0).After(today) {
			break // the one that has ended
		}
		if which == "last" {
			y--
		}
	case y < 1800 || y > today.Year()+100:
		return "", "", false
	}
	return begins(y).Format(time.DateOnly), begins(y).AddDate(0, 3, -1).Format(time.DateOnly), true
}
