package query

import "strings"

// quotes are the quotation marks that people type, as plain ones.
var quotes = strings.NewReplacer("“", `"`, "”", `"`, "„", `"`, "«", `"`, "»", `"`)

// Split splits what somebody types into words, and phrases in quotation marks, each of these in plain marks. A mark that is not closed yet
// goes on to the end; one within a word is a part of it, as in 24".
func Split(text string) []string {
	out := []string{}
	rest := strings.TrimSpace(quotes.Replace(text))
	for rest != "" {
		inside, quoted := strings.CutPrefix(rest, `"`)
		if !quoted {
			word := strings.Fields(rest)[0]
			out, rest = append(out, word), strings.TrimSpace(rest[len(word):])
			continue
		}
		phrase, after, _ := strings.Cut(inside, `"`)
		if phrase = strings.Join(strings.Fields(phrase), " "); phrase != "" {
			out = append(out, `"`+phrase+`"`)
		}
		rest = strings.TrimSpace(after)
	}
	return out
}
