package query

import "strings"

// Slips is how many slips of the hand turn one word into another: a letter too many, missing, or another one, or two that changed
// places (optimal string alignment distance; Damerau, "A technique for computer detection and correction of spelling errors", 1964).
// Where there are more than most it says most + 1, and stops as soon as that is sure, since every word of a library is asked.
func Slips(a, b []rune, most int) int {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b)-len(a) > most {
		return most + 1
	}
	before, last, now := make([]int, len(a)+1), make([]int, len(a)+1), make([]int, len(a)+1)
	for i := range last {
		last[i] = i
	}
	for j := 1; j <= len(b); j++ {
		now[0] = j
		least := j
		for i := 1; i <= len(a); i++ {
			differs := 1
			if a[i-1] == b[j-1] {
				differs = 0
			}
			now[i] = min(last[i]+1, now[i-1]+1, last[i-1]+differs)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				now[i] = min(now[i], before[i-2]+1)
			}
			least = min(least, now[i])
		}
		if least > most {
			return most + 1
		}
		before, last, now = last, now, before
	}
	return min(last[len(a)], most+1)
}

// Forgiven is how many slips a word of so many letters may have and still be meant: none in short ones, where every other word is near.
func Forgiven(letters int) int {
	switch {
	case letters >= 8:
		return 2
	case letters >= 4:
		return 1
	}
	return 0
}

// wordSigns are what stands around words in texts.
const wordSigns = ".,;:!?()[]{}<>\"'“”‘’«»–—-_/\\|*#&+=…"

// longestWord is the most letters of a word that one can have meant.
const longestWord = 40

// WordsOf takes a text, as search_text makes it, apart into words that somebody may have meant: of at least four letters, without
// digits.
func WordsOf(text string, yield func(word string)) {
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r <= ' ' || r < 0x2100 && strings.ContainsRune(wordSigns, r) }) {
		if n := len(part); n < 4 || n > 4*longestWord || strings.ContainsAny(part, "0123456789") {
			continue
		}
		if n := len([]rune(part)); n >= 4 && n <= longestWord {
			yield(part)
		}
	}
}
