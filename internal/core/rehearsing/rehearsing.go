// Package rehearsing knows the kinds of places where a post or an advertisement can be seen, and what of it is seen there.
package rehearsing

import (
	"slices"
	"strings"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

// Kind is a kind of place.
type Kind string

// The kinds of places.
const (
	Feed  Kind = "feed"  // among others, one below the other
	Tall  Kind = "tall"  // fills a phone that is held upright
	Wide  Kind = "wide"  // beside or above an article
	Strip Kind = "strip" // a narrow band
	Card  Kind = "card"  // an advertisement with a headline, a text and a button
)

// Place is a kind of place with its proportion, and that of the picture in it where that is another one.
type Place struct {
	Kind    Kind
	Shape   geometry.Size
	Picture geometry.Size
	// Ad says that a headline and a button are shown there.
	Ad bool
}

// Places are all kinds of places, in the order in which they are shown.
var Places = []Place{
	{Feed, geometry.Size{Width: 4, Height: 5}, geometry.Size{Width: 4, Height: 5}, false},
	{Tall, geometry.Size{Width: 9, Height: 16}, geometry.Size{Width: 9, Height: 16}, false},
	{Wide, geometry.Size{Width: 16, Height: 9}, geometry.Size{Width: 16, Height: 9}, false},
	{Strip, geometry.Size{Width: 4, Height: 1}, geometry.Size{Width: 9, Height: 5}, true}, // beside its words
	{Card, geometry.Size{Width: 191, Height: 100}, geometry.Size{Width: 191, Height: 100}, true},
}

// Seen is which part of the area of a picture, from 0 to 1, a place shows of it, around its focal point.
func (p Place) Seen(picture geometry.Size, focal geometry.Point) float64 {
	if picture.Empty() {
		return 0
	}
	box := geometry.Size{Width: p.Picture.Width * 1000, Height: p.Picture.Height * 1000}
	cut, _ := geometry.Fill(picture, box, focal)
	return min(1, float64(cut.Width)*float64(cut.Height)/(float64(picture.Width)*float64(picture.Height)))
}

// Bounds of a rehearsal.
const (
	MostVariants = 12
	MostItems    = 20     // of a variant
	LongestText  = 10_000 // signs of a caption or a headline
	LongestName  = 200
	longestPress = 60 // signs of a button
)

// Words are what is said in a variant.
type Words struct{ Caption, Headline, Button string }

// Check says what is wrong with words, and takes the space around them off.
func (w *Words) Check() error {
	for _, one := range []struct {
		field string
		text  *string
		most  int
	}{{"caption", &w.Caption, LongestText}, {"headline", &w.Headline, LongestText}, {"button", &w.Button, longestPress}} {
		*one.text = strings.TrimSpace(*one.text)
		if n := utf8.RuneCountInString(*one.text); n > one.most {
			return fault.Invalidf(one.field, "At most %d characters; these are %d.", one.most, n)
		}
	}
	w.Headline, w.Button = oneLine(w.Headline), oneLine(w.Button)
	return nil
}

func oneLine(text string) string { return strings.Join(strings.Fields(text), " ") }

// CheckPlaces says what is wrong with a choice of places, and puts it in order.
func CheckPlaces(chosen []string) ([]string, error) {
	var out []string
	for _, p := range Places {
		if slices.Contains(chosen, string(p.Kind)) {
			out = append(out, string(p.Kind))
		}
	}
	if len(out) == 0 || slices.ContainsFunc(chosen, func(k string) bool { return !slices.Contains(out, k) }) {
		return nil, fault.Invalidf("places", "Choose at least one of the kinds of places.")
	}
	return out, nil
}

// All are the names of all kinds of places.
func All() (out []string) {
	for _, p := range Places {
		out = append(out, string(p.Kind))
	}
	return out
}

// NextName is a name for a variant beside others: A, B, C and so on.
func NextName(taken []string) string {
	for letter := 'A'; letter <= 'Z'; letter++ {
		if !slices.Contains(taken, string(letter)) {
			return string(letter)
		}
	}
	return "One more"
}
