package query

import (
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestSlips(t *testing.T) {
	for _, test := range []struct {
		a, b string
		n    int
	}{{"kite", "kite", 0}, {"kyte", "kite", 1}, {"kiet", "kite", 1}, {"kites", "kite", 1}, {"ite", "kite", 1}, {"kytes", "kite", 2},
		{"harbuor", "harbour", 1}, {"sail", "kite", 3}, {"", "kite", 3},
		{"ébca", "aéab", 3}} {
		assert.Equal(t, test.n, Slips([]rune(test.a), []rune(test.b), 2), "%s %s", test.a, test.b)
	}
	assert.Equal(t, []int{0, 0, 1, 1, 2, 2}, []int{Forgiven(0), Forgiven(3), Forgiven(4), Forgiven(7), Forgiven(8), Forgiven(30)})
	word := rapid.StringOfN(rapid.RuneFrom([]rune("abcé")), 0, 9, -1)
	rapid.Check(t, func(rt *rapid.T) {
		a, b := []rune(word.Draw(rt, "a")), []rune(word.Draw(rt, "b"))
		n := Slips(a, b, 20)
		assert.Equal(rt, n, Slips(b, a, 20), "the same in both directions")
		assert.Equal(rt, min(n, 3), Slips(a, b, 2), "and however early it stops")
		assert.Equal(rt, n == 0, slices.Equal(a, b))
		if len(a) > 0 {
			at := rapid.IntRange(0, len(a)-1).Draw(rt, "at")
			assert.Equal(rt, 1, Slips(a, slices.Delete(slices.Clone(a), at, at+1), 2))
		}
	})
}

func TestWordsOf(t *testing.T) {
	var words []string
	WordsOf(`the "kite" — red/blue (ost_0452.jpg), café harbour-walk 2026 `+strings.Repeat("x", 41),
		func(w string) { words = append(words, w) })
	assert.Equal(t, []string{"kite", "blue", "café", "harbour", "walk"}, words)
}

func TestWhyAnItemWasFound(t *testing.T) {
	texts := []Said{{"title", "Zoë’s first Kite"}, {"fileName", "OST_0452.JPG"}, {"tag", "Été à la mer"}, {"alt", strings.Repeat("long ", 30) +
		"kite over Cafe\u0301 Straße" + strings.Repeat(" tail", 30)}}
	assert.Equal(t, []Reason{{"title", "Zoë’s first ", "Kite", ""}}, Why([]string{"kite"}, texts))
	assert.Equal(t, []Reason{{"title", "", "Zoë’s", " first Kite"}, {"fileName", "", "OST_0452", ".JPG"}, {"tag", "", "Été", " à la mer"}},
		Why([]string{"zoe", "ost_04", "ete"}, texts))
	found := Why([]string{"cafe", "strasse", "nothing", ""}, texts)
	assert.Len(t, found, 2)
	assert.Equal(t, "Cafe\u0301", found[0].Match, "with its accent")
	assert.Equal(t, "Straße", found[1].Match)
	assert.True(t, strings.HasPrefix(found[0].Before, "…") && strings.HasSuffix(found[0].After, "…"))
	assert.LessOrEqual(t, utf8.RuneCountInString(found[0].After), around+1)
}

func TestTerms(t *testing.T) {
	assert.Equal(t, []string{"kite", "press", "bus", "gusts2", "canva", "étés"}, Terms("Kites PRESS bus", "gusts2 canvas Étés"))
	assert.Empty(t, Terms(" ", ""))
}
