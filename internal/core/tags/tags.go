// Package tags reads what people type as tags.
package tags

import (
	"strings"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"

	"brightsatchel/internal/core/fault"
)

// Longest is how many characters a tag has at most.
const Longest = 100

// Split takes several tags with commas between them apart. The same tag twice counts once.
func Split(text string) ([]string, error) {
	var out []string
	seen := map[string]bool{}
	for part := range strings.SplitSeq(text, ",") {
		tag := strings.Join(strings.Fields(norm.NFC.String(part)), " ")
		if tag == "" || seen[strings.ToLower(tag)] {
			continue
		}
		if n := utf8.RuneCountInString(tag); n > Longest {
			return nil, fault.Invalidf("add", "“%s…” has %d characters; a tag has at most %d.", string([]rune(tag)[:20]), n, Longest)
		}
		seen[strings.ToLower(tag)] = true
		out = append(out, tag)
	}
	return out, nil
}
