package query

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Said is a text of an item, and in which field it is.
type Said struct{ Field, Text string }

// Reason is why an item was found: a part of a text around a word that was looked for.
type Reason struct{ Field, Before, Match, After string }

// around is how many letters of a text are shown on each side of what was found in it.
const around = 40

// Why finds, for each of some words in small letters and without accents, the first text that says it, and which word of it. A word
// that none says has no reason: what was found for it is known to the database only.
func Why(words []string, texts []Said) []Reason {
	var out []Reason
	told := map[string]bool{}
	for _, word := range words {
		for _, t := range texts {
			from, to := find(t.Text, word)
			if to == 0 {
				continue
			}
			if key := t.Field + " " + t.Text[from:to]; !told[key] {
				told[key] = true
				out = append(out, Reason{t.Field, lastLetters(t.Text[:from]), t.Text[from:to], firstLetters(t.Text[to:])})
			}
			break
		}
	}
	return out
}

// find says where a word is in a text, in bytes, whatever its case and accents; 0, 0 where it is not.
func find(text, word string) (from, to int) {
	if word == "" {
		return 0, 0
	}
	var folded strings.Builder
	places := make([]int, 0, len(text)+1) // of each byte that is folded, where its letter begins in the text
	for i, r := range text {
		before := folded.Len()
		fold(&folded, r)
		for range folded.Len() - before {
			places = append(places, i)
		}
	}
	places = append(places, len(text))
	at := strings.Index(folded.String(), word)
	if at < 0 {
		return 0, 0
	}
	return wholeWords(text, places[at], places[at+len(word)])
}

// wholeWords widens a part of a text to the words that it is in.
func wholeWords(text string, from, to int) (int, int) {
	for from > 0 {
		r, size := utf8.DecodeLastRuneInString(text[:from])
		if !ofWord(r) {
			break
		}
		from -= size
	}
	for to < len(text) {
		r, size := utf8.DecodeRuneInString(text[to:])
		if !ofWord(r) {
			break
		}
		to += size
	}
	return from, to
}

func ofWord(r rune) bool {
	return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.Is(unicode.Mn, r) || strings.ContainsRune("_-'’", r)
}

func lastLetters(text string) string {
	letters := []rune(text)
	if len(letters) <= around {
		return text
	}
	return "…" + string(letters[len(letters)-around:])
}

func firstLetters(text string) string {
	letters := []rune(text)
	if len(letters) <= around {
		return text
	}
	return string(letters[:around]) + "…"
}
