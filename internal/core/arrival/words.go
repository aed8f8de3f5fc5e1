package arrival

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"brightsatchel/internal/core/fault"
)

// Words are what is set on files while they travel, for a batch or for some of its files. A nil field says nothing.
// Title may hold {n}, the number of the file in its batch, and {name}, its name without the ending.
type Words struct {
	Title       *string  `json:"title,omitempty"`
	Description *string  `json:"description,omitempty"`
	Alt         *string  `json:"alt,omitempty"`
	Credit      *string  `json:"credit,omitempty"`
	Tags        []string `json:"tags,omitempty"`
	People      []string `json:"people,omitempty"`
	Album       *int64   `json:"album,omitempty"`
	Turn        *int     `json:"turn,omitempty"` // degrees clockwise: 0, 90, 180, 270
}

// Over puts words over earlier ones: what is said now replaces what was said before, and tags and people are added.
func (w Words) Over(before Words) Words {
	out := before
	for _, f := range []struct{ to, from **string }{{&out.Title, &w.Title}, {&out.Description, &w.Description}, {&out.Alt, &w.Alt},
		{&out.Credit, &w.Credit}} {
		if *f.from != nil {
			*f.to = *f.from
		}
	}
	if w.Album != nil {
		out.Album = w.Album
	}
	if w.Turn != nil {
		out.Turn = w.Turn
	}
	out.Tags, out.People = union(before.Tags, w.Tags), union(before.People, w.People)
	return out
}

func union(a, b []string) []string {
	var out []string
	seen := map[string]bool{}
	for _, s := range append(append([]string{}, a...), b...) {
		if s = strings.TrimSpace(s); s != "" && !seen[strings.ToLower(s)] {
			seen[strings.ToLower(s)] = true
			out = append(out, s)
		}
	}
	return out
}

// Check names the field that is wrong.
func (w Words) Check() error {
	if w.Turn != nil && (*w.Turn%90 != 0 || *w.Turn < 0 || *w.Turn > 270) {
		return fault.Invalidf("turn", "A picture can be turned by 0, 90, 180 or 270 degrees.")
	}
	if w.Title != nil {
		for _, found := range placeholder.FindAllString(*w.Title, -1) {
			if found != "{n}" && found != "{name}" {
				return fault.Invalidf("title", "%s is not understood in a title; use {n} or {name}.", found)
			}
		}
	}
	for _, word := range append(append([]string{}, w.Tags...), w.People...) {
		if len([]rune(word)) > longestTag {
			return fault.Invalidf("tags", "“%s…” is too long for a tag; up to %d letters are taken.", string([]rune(word)[:20]), longestTag)
		}
	}
	return nil
}

const longestTag = 100

var placeholder = regexp.MustCompile(`\{[^{}]*\}`)

// Title fills a title pattern for the file of a number (from 1) among total, padded so that titles sort.
func Title(pattern, fileName string, number, total int) string {
	width := len(strconv.Itoa(total))
	name := fileName
	if i := strings.LastIndex(name, "."); i > 0 {
		name = name[:i]
	}
	return strings.NewReplacer("{n}", fmt.Sprintf("%0*d", width, number), "{name}", name).Replace(pattern)
}
