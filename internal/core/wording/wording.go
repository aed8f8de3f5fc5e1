// Package wording says numbers of things in words, for the person at the desk.
package wording

import (
	"fmt"
	"math"
	"strings"
	"time"
	"unicode"
)

// Count says how many of something there are: "1 file", "2 files". Many is the whole of what stands behind a number that is not 1.
func Count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// Items says how many items there are.
func Items(n int) string { return Count(n, "item", "items") }

// Wait says how long to wait: seconds up to a minute and a half, then minutes.
func Wait(d time.Duration) string {
	if seconds := int(math.Ceil(d.Seconds())); seconds <= 90 {
		return Count(seconds, "second", "seconds")
	}
	return Count(int(math.Ceil(d.Minutes())), "minute", "minutes")
}

// And puts names together: one, two and three; of many the first two and how many more.
func And(names []string) string {
	switch n := len(names); {
	case n == 0:
		return ""
	case n == 1:
		return names[0]
	case n > 4:
		return fmt.Sprintf("%s, %s and %d more", names[0], names[1], n-2)
	default:
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
}

// OneLine is a text in one line: every run of spaces, line ends and control characters becomes one space.
func OneLine(text string) string {
	return strings.Join(strings.FieldsFunc(text, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) }), " ")
}

// Quoted puts names together, each in quotation marks.
func Quoted(names []string) string {
	out := make([]string, len(names))
	for i, name := range names {
		out[i] = "“" + name + "”"
	}
	return And(out)
}

// Rest says of so many of all that were meant how the others are, as in "; 2 were there already"; nothing where there are none.
func Rest(n, of int, was, were string) string {
	switch rest := of - n; {
	case rest <= 0:
		return ""
	case rest == 1:
		return "; 1 " + was
	default:
		return fmt.Sprintf("; %d %s", rest, were)
	}
}
