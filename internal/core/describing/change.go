package describing

import (
	"slices"
	"strings"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"
)

// How says what becomes of what is there.
type How string

// The ways to write into a field of many items.
const (
	Replace How = "replace"
	Fill    How = "fill"   // only where nothing is there
	Before  How = "before" // the text, then what is there
	After   How = "after"
)

// Change writes a text into a field.
type Change struct {
	Field string `json:"field"`
	How   How    `json:"how"`
	Text  string `json:"text"`
}

// Check cleans the text and says what is wrong with the change (*fault.Invalid).
func (c Change) Check() (Change, error) {
	field, err := FieldOf(c.Field)
	if err != nil {
		return c, err
	}
	if !slices.Contains([]How{Replace, Fill, Before, After}, c.How) {
		return c, fault.Invalidf("how", "%q is not a way to write into a field.", c.How)
	}
	if added := c.How == Before || c.How == After; added && !field.Worded() {
		return c, fault.Invalidf("how", "Nothing can be added to the %s.", field.Label)
	}
	c.Text, err = field.Clean(c.Text)
	if err == nil && c.Text == "" && c.How != Replace {
		err = fault.Invalidf(field.Name, "Type what is to be added.")
	}
	return c, err
}

// To is what becomes of what is there. What is there already in its place is not added again, so that doing it twice does
// nothing. A text that would become too long is *fault.Invalid, and nothing is cut.
func (c Change) To(now string) (string, error) {
	field, err := FieldOf(c.Field)
	if err != nil {
		return "", err
	}
	between := " "
	if field.Kind == Text {
		between = "\n"
	}
	becomes := c.Text
	switch {
	case c.How == Fill && now != "":
		return now, nil
	case now == "" || c.How == Replace || c.How == Fill:
	case c.How == Before && !beginsWith(now, c.Text, between):
		becomes = c.Text + between + now
	case c.How == After && !endsWith(now, c.Text, between):
		becomes = now + between + c.Text
	default:
		becomes = now
	}
	if n := utf8.RuneCountInString(becomes); n > field.Longest {
		return "", fault.Invalidf(field.Name, "“%s…” would have %d characters; the %s has at most %d.", beginning(becomes), n, field.Label,
			field.Longest)
	}
	return becomes, nil
}

func beginsWith(now, text, between string) bool {
	return now == text || strings.HasPrefix(now, text+between)
}

func endsWith(now, text, between string) bool {
	return now == text || strings.HasSuffix(now, between+text)
}
