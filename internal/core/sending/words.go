package sending

import (
	"slices"
	"strings"
	"unicode"
)

// Described is what the words of a post can take over from an item.
type Described struct {
	Title, Credit string
	Tags          []string
}

// Placeholders are what a caption can say in place of words of the items.
var Placeholders = []string{"{title}", "{credit}", "{tags}"}

// mostNamed is how many different titles or credits a caption names; of more it is one post too many to name them.
const mostNamed = 4

// Fill puts words of the items in place of the placeholders of a caption: their titles and credits, each once, and their tags as hashtags,
// at most so many (0 is any number). What no item says is left out, with the space before it.
func Fill(caption string, items []Described, hashtags int) string {
	if !strings.Contains(caption, "{") {
		return caption
	}
	pick := func(of func(d Described) string) string {
		var all []string
		for _, d := range items {
			if word := strings.TrimSpace(of(d)); word != "" && !slices.Contains(all, word) {
				all = append(all, word)
			}
		}
		if len(all) > mostNamed {
			all = append(all[:mostNamed:mostNamed], "…")
		}
		return strings.Join(all, ", ")
	}
	var tags []string
	for _, d := range items {
		for _, tag := range d.Tags {
			if word := Hashtag(tag); word != "" && !slices.Contains(tags, word) && (hashtags <= 0 || len(tags) < hashtags-Hashtags(caption)) {
				tags = append(tags, word)
			}
		}
	}
	var swaps []string
	for _, one := range []struct{ name, with string }{{"{title}", pick(func(d Described) string { return d.Title })},
		{"{credit}", pick(func(d Described) string { return d.Credit })}, {"{tags}", strings.Join(tags, " ")}} {
		if one.with == "" {
			swaps = append(swaps, " "+one.name, "", "\n"+one.name, "")
		}
		swaps = append(swaps, one.name, one.with)
	}
	return strings.TrimSpace(strings.NewReplacer(swaps...).Replace(caption)) // in one go: a title that says {tags} stays as it is
}

// Hashtag is a tag as one word behind a number sign: letters, digits and underscores, the words of it with capitals.
func Hashtag(tag string) string {
	var out strings.Builder
	begins := false
	for _, r := range tag {
		if !unicode.IsLetter(r) && !unicode.IsDigit(r) && !unicode.IsMark(r) && r != '_' {
			begins = out.Len() > 0
			continue
		}
		if begins {
			r = unicode.ToUpper(r)
		}
		begins = false
		out.WriteRune(r)
	}
	if out.Len() == 0 {
		return ""
	}
	return "#" + out.String()
}
