package sending_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/sending"
)

func TestACaptionTakesWordsFromItsItems(t *testing.T) {
	one := sending.Described{Title: "Low tide", Credit: "Wren Achterberg", Tags: []string{"kite flying", "Pennick Moor", "2026"}}
	two := sending.Described{Title: "High tide", Credit: "Wren Achterberg", Tags: []string{"kite flying", "sea"}}
	for _, test := range []struct {
		caption, want string
		hashtags      int
		of            []sending.Described
	}{
		{"Nothing to fill", "Nothing to fill", 0, []sending.Described{one}},
		{"{title}, by {credit} {tags}", "Low tide, by Wren Achterberg #kiteFlying #PennickMoor #2026", 0, []sending.Described{one}},
		{"{title} ({credit})", "Low tide, High tide (Wren Achterberg)", 0, []sending.Described{one, two}},
		{"{tags}", "#kiteFlying #PennickMoor", 2, []sending.Described{one, two}},
		{"#wind {tags}", "#wind #kiteFlying", 2, []sending.Described{one, two}},
		{"Today {title}\n{tags}", "Today", 0, []sending.Described{{}}},
		{"{title}", "{tags} and {credit}", 0, []sending.Described{{Title: "{tags} and {credit}", Credit: "x"}}},
		{"{Title} {unknown}", "{Title} {unknown}", 0, []sending.Described{one}},
		{"{title}", "a, b, c, d, …", 0, []sending.Described{{Title: "a"}, {Title: "b"}, {Title: "c"}, {Title: "d"}, {Title: "e"}}},
	} {
		assert.Equal(t, test.want, sending.Fill(test.caption, test.of, test.hashtags), test.caption)
	}
}

func TestAHashtagIsOneWord(t *testing.T) {
	for tag, want := range map[string]string{"kite flying": "#kiteFlying", "Zoë’s kite": "#ZoëSKite", "!!!": "", "": "", "한국 연": "#한국연",
		"a-b_c": "#aB_c"} {
		assert.Equal(t, want, sending.Hashtag(tag), tag)
	}
	rapid.Check(t, func(t *rapid.T) {
		tag := sending.Hashtag(rapid.String().Draw(t, "tag"))
		assert.False(t, strings.ContainsAny(tag, " \t\n,;."))
		assert.LessOrEqual(t, sending.Hashtags(tag), 1)
	})
}
