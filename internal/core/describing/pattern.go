package describing

import (
	"fmt"
	"path"
	"regexp"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/core/fault"
)

// Pattern makes titles for many items. Text holds placeholders in braces: {n} is the running number, {name} the original file
// name without its ending, {title} the title there is, {folder} the folder, {place} the place, {date}, {day}, {month} and {year}
// the day of capture as 2026-05-17, 17 May 2026, May 2026 and 2026, {tag Season} the tags of the group Season.
type Pattern struct {
	Text     string `json:"text"`
	Start    int    `json:"start"`              // the first number
	Digits   int    `json:"digits"`             // at least so many, with leading zeros
	Total    int    `json:"total"`              // items
	Distinct bool   `json:"distinct,omitempty"` // no two titles are the same: they end in the number if need be
	Fill     bool   `json:"fill,omitempty"`     // only where there is no title
}

// Facts fill the placeholders of a pattern. Tags are names by the name of their group in lower case.
type Facts struct {
	Title, FileName, Folder, Place string
	Taken                          *time.Time // wall time
	Tags                           map[string][]string
}

var (
	placeholder = regexp.MustCompile(`\{([^{}]*)\}`)
	tagged      = regexp.MustCompile(`(?i)^tag +(.+)$`)
)

// Limits of a pattern.
const (
	longestPattern = 300
	mostDigits     = 8
	highestStart   = 10_000_000
)

// Check says what is wrong with a pattern (*fault.Invalid).
func (p Pattern) Check() error {
	switch {
	case strings.TrimSpace(p.Text) == "":
		return fault.Invalidf("pattern", "Type what the titles are to be, or choose from below.")
	case len([]rune(p.Text)) > longestPattern:
		return fault.Invalidf("pattern", "A pattern has at most %d characters.", longestPattern)
	case p.Start < 0 || p.Start > highestStart:
		return fault.Invalidf("start", "The first number is between 0 and %d.", highestStart)
	case p.Digits < 0 || p.Digits > mostDigits:
		return fault.Invalidf("digits", "A number has at most %d digits here.", mostDigits)
	}
	for _, found := range placeholder.FindAllStringSubmatch(p.Text, -1) {
		if _, known := p.fill(found[1], Facts{}, 0); !known {
			return fault.Invalidf("pattern", "%s is not understood. Choose from the parts below.", found[0])
		}
	}
	if rest := placeholder.ReplaceAllString(p.Text, ""); strings.ContainsAny(rest, "{}") {
		return fault.Invalidf("pattern", "A brace is not closed.")
	}
	return nil
}

// Title is the title of the item that is so many places after the first, counted from 0. Where the pattern comes to nothing
// it is the title there is.
func (p Pattern) Title(f Facts, place int) string {
	if p.Fill && f.Title != "" {
		return f.Title
	}
	text, number := p.Text, ""
	if p.Distinct { // the number comes last, in a fixed width: then no two are the same, whatever is before it
		number = p.number(place)
		text, _ = strings.CutSuffix(strings.TrimSpace(text), "{n}")
		if text != "" && strings.TrimSpace(p.Text) == strings.TrimSpace(text) {
			text += " "
		}
	}
	filled := placeholder.ReplaceAllStringFunc(text, func(found string) string {
		part, _ := p.fill(found[1:len(found)-1], f, place)
		return part
	})
	spaced := strings.HasSuffix(filled, " ")
	filled = strings.TrimLeft(strings.Join(strings.Fields(filled), " "), separators)
	if number == "" {
		filled = strings.TrimRight(filled, separators)
	}
	if letters := []rune(filled); len(letters) > titleLength-len(number)-1 {
		filled = strings.TrimSpace(string(letters[:titleLength-len(number)-1]))
	}
	if spaced && filled != "" && number != "" {
		filled += " "
	}
	if filled += number; filled == "" {
		return f.Title
	}
	return filled
}

const (
	titleLength = 300
	separators  = " -–,·" // at an end, where a placeholder came to nothing
)

// number is the running number, as wide as the largest of them.
func (p Pattern) number(place int) string {
	width := max(p.Digits, len(strconv.Itoa(p.Start+max(p.Total, place+1)-1)))
	return fmt.Sprintf("%0*d", width, p.Start+place)
}

func (p Pattern) fill(word string, f Facts, place int) (text string, known bool) {
	dated := func(layout string) (string, bool) {
		if f.Taken == nil {
			return "", true
		}
		return f.Taken.Format(layout), true
	}
	switch word {
	case "n":
		return p.number(place), true
	case "name":
		return strings.TrimSuffix(f.FileName, path.Ext(f.FileName)), true
	case "title":
		return f.Title, true
	case "folder":
		return f.Folder, true
	case "place":
		return f.Place, true
	case "date":
		return dated(time.DateOnly)
	case "day":
		return dated("2 January 2006")
	case "month":
		return dated("January 2006")
	case "year":
		return dated("2006")
	}
	if group := tagged.FindStringSubmatch(word); group != nil {
		return strings.Join(f.Tags[strings.ToLower(strings.TrimSpace(group[1]))], ", "), true
	}
	return "", false
}
