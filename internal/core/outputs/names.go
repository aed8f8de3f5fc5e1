package outputs

import (
	"fmt"
	"path"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"

	"golang.org/x/text/unicode/norm"
)

// Values fill the placeholders of a name pattern. Number counts from 1 in the order in which items are handed out.
type Values struct {
	Title    string
	FileName string
	Number   int
	Total    int
	Taken    *time.Time
	Size     string
	Width    int
	Height   int
}

var placeholder = regexp.MustCompile(`\{([^{}]*)\}`)

// Placeholders are the words that a name pattern can hold in braces.
var Placeholders = []string{"title", "name", "n", "date", "size", "width", "height"}

// CheckPattern says what is wrong with a name pattern in a fault.Invalid, or returns nil.
func CheckPattern(pattern string) error {
	if strings.TrimSpace(pattern) == "" {
		return fault.Invalidf("pattern", "It is empty; try {name}.")
	}
	rest := placeholder.ReplaceAllStringFunc(pattern, func(p string) string {
		if _, ok := fill(p[1:len(p)-1], Values{}); ok {
			return ""
		}
		return p
	})
	if i := strings.IndexAny(rest, "{}"); i >= 0 {
		return fault.Invalidf("pattern", "%q is not understood; use {%s}.", rest[i:], strings.Join(Placeholders, "}, {"))
	}
	return nil
}

// Name fills a pattern and adds the ending of the format. The result is safe as a file name everywhere.
func Name(pattern string, v Values, format string) string {
	base := placeholder.ReplaceAllStringFunc(pattern, func(p string) string {
		text, _ := fill(p[1:len(p)-1], v)
		return text
	})
	return CleanName(base) + "." + Extension(format)
}

func fill(word string, v Values) (string, bool) {
	name := strings.TrimSuffix(v.FileName, path.Ext(v.FileName))
	switch word {
	case "title":
		if v.Title == "" {
			return name, true
		}
		return v.Title, true
	case "name":
		return name, true
	case "n":
		width := max(2, len(strconv.Itoa(v.Total)))
		return fmt.Sprintf("%0*d", width, v.Number), true
	case "date":
		if v.Taken == nil {
			return "undated", true
		}
		return v.Taken.Format("2006-01-02"), true
	case "size":
		return v.Size, true
	case "width":
		return strconv.Itoa(v.Width), true
	case "height":
		return strconv.Itoa(v.Height), true
	}
	return "", false
}

// longestName is what file systems and ZIP tools take without trouble, in bytes, with room for an ending and a number.
const (
	longestName   = 180
	longestEnding = 12
)

var reserved = regexp.MustCompile(`(?i)^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)`)

// CleanName turns any text into a file name that every common file system takes: no separators, control or direction
// characters, no reserved device names, composed Unicode, at most 180 bytes, never empty and never starting with a dot.
func CleanName(name string) string {
	name = strings.Map(func(r rune) rune {
		switch {
		case strings.ContainsRune(`/\:*?"<>|`, r):
			return '-'
		case unicode.IsSpace(r):
			return ' '
		case r == utf8.RuneError, unicode.IsControl(r), unicode.Is(unicode.Bidi_Control, r):
			return -1
		}
		return r
	}, strings.ToValidUTF8(name, ""))
	// Composed last: what was taken out may have stood between a letter and its accent.
	name = norm.NFC.String(strings.Trim(strings.Join(strings.Fields(name), " "), ". "))
	name = strings.TrimRight(cutBeforeEnding(name), ". ")
	if name == "" {
		return "untitled"
	}
	if reserved.MatchString(name) {
		return "_" + name
	}
	return name
}

// cutBeforeEnding cuts a name that is too long and keeps its ending, which says what the file is.
func cutBeforeEnding(name string) string {
	if len(name) <= longestName {
		return name
	}
	ending := path.Ext(name)
	if len(ending) < 2 || len(ending) > longestEnding || strings.ContainsRune(ending, ' ') {
		ending = ""
	}
	stem := name[:len(name)-len(ending)]
	for len(stem)+len(ending) > longestName {
		_, size := utf8.DecodeLastRuneInString(stem)
		stem = stem[:len(stem)-size]
	}
	return strings.TrimRight(stem, ". ") + ending
}

// CleanPath cleans each part of a folder path with slashes; parts that are empty or only dots are dropped, so the result
// can never lead upwards or start at a root.
func CleanPath(p string) []string {
	var parts []string
	for part := range strings.SplitSeq(strings.ReplaceAll(p, `\`, "/"), "/") {
		if strings.Trim(part, ". ") == "" {
			continue
		}
		parts = append(parts, CleanName(part))
	}
	return parts
}

// Unique makes names differ, ignoring case, by adding " 2", " 3" … before the ending of the later ones.
func Unique(names []string) []string {
	taken, next := map[string]bool{}, map[string]int{} // by names in small letters
	out := make([]string, len(names))
	for i, name := range names {
		ending := path.Ext(name)
		candidate, low := name, strings.ToLower(name)
		for n := max(2, next[low]); taken[strings.ToLower(candidate)]; n++ {
			candidate = fmt.Sprintf("%s %d%s", strings.TrimSuffix(name, ending), n, ending)
			next[low] = n + 1
		}
		taken[strings.ToLower(candidate)] = true
		out[i] = candidate
	}
	return out
}
