package query

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// spelled are letters that the database's dictionary spells otherwise, beyond those with accents.
var spelled = map[rune]string{'ø': "o", 'æ': "ae", 'œ': "oe", 'ß': "ss", 'ł': "l", 'đ': "d", 'ð': "d", 'þ': "th", 'ı': "i"}

// fold writes a letter in small letters and without accents.
func fold(out *strings.Builder, r rune) {
	if r < utf8.RuneSelf {
		out.WriteRune(unicode.ToLower(r))
		return
	}
	r = unicode.ToLower(r)
	if plain, known := spelled[r]; known {
		out.WriteString(plain)
		return
	}
	for _, part := range norm.NFD.String(string(r)) {
		if !unicode.Is(unicode.Mn, part) {
			out.WriteRune(part)
		}
	}
}

// folded is a text in small letters and without accents.
func folded(text string) string {
	var out strings.Builder
	for _, r := range text {
		fold(&out, r)
	}
	return out.String()
}
