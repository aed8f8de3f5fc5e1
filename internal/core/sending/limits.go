package sending

import (
	"fmt"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"github.com/clipperhouse/uax29/v2/graphemes"

	"brightsatchel/internal/core/arrival"
)

// Unit is in what a page counts the length of words.
type Unit string

// A sign is what a reader takes for one (an extended grapheme cluster, UAX #29); the others are of Unicode and its encodings.
const (
	Signs      Unit = "signs"
	CodePoints Unit = "code_points"
	UTF16      Unit = "utf16"
	Bytes      Unit = "bytes"
)

// Of is how long a text is in the unit.
func (u Unit) Of(text string) (n int) {
	switch u {
	case Bytes:
		return len(text)
	case CodePoints:
		return utf8.RuneCountInString(text)
	case UTF16:
		for _, r := range text {
			n += max(1, utf16.RuneLen(r))
		}
		return n
	}
	for all := graphemes.FromString(text); all.Next(); {
		n++
	}
	return n
}

// Shortened is a text of at most so many of the unit: as it is, or up to the end of a word with an ellipsis behind it. No sign is cut in
// two.
func Shortened(text string, most int, u Unit) string {
	if u.Of(text) <= most {
		return text
	}
	const ellipsis = "…"
	room := most - u.Of(ellipsis)
	cut, word := 0, 0
	used := 0
	for all := graphemes.FromString(text); all.Next(); {
		sign := all.Value()
		if used += u.Of(sign); used > room {
			break
		}
		if strings.TrimSpace(sign) == "" {
			word = cut
		}
		cut += len(sign)
	}
	if room < 0 {
		return ""
	}
	if word > cut/2 { // a long word at the end is cut rather than most of the text
		cut = word
	}
	return strings.TrimSpace(text[:cut]) + ellipsis
}

// Limits are what a page takes. They are data of the page; 0 sets no bound.
type Limits struct {
	Formats      []string `json:"formats"` // of pictures (jpeg, png, webp); what is of another one becomes the first
	Clips        bool     `json:"clips"`   // clips as well
	Mixed        bool     `json:"mixed"`   // clips and pictures in one post
	MostPictures int      `json:"mostPictures"`
	MostBytes    int64    `json:"mostBytes"` // of a picture
	LeastSide    int      `json:"leastSide"` // of the shorter side, in pixels
	MostSide     int      `json:"mostSide"`  // of the longer side, in pixels
	MostWidth    int      `json:"mostWidth"` // in pixels
	Narrowest    float64  `json:"narrowest"` // width by height
	Widest       float64  `json:"widest"`
	LeastSeconds float64  `json:"leastSeconds"` // of a clip
	MostSeconds  float64  `json:"mostSeconds"`
	Caption      int      `json:"caption"`
	CaptionIn    Unit     `json:"captionIn"`
	Hashtags     int      `json:"hashtags"`
	PerDay       int      `json:"perDay"` // posts, in the zone of the page
	Alt          int      `json:"alt"`    // how long alternative texts are, or -1 where none are taken
	AltIn        Unit     `json:"altIn"`
	Withdraws    bool     `json:"withdraws"` // what is out can be taken back
}

// Hashtags counts the words of a caption that begin with a number sign.
func Hashtags(caption string) (n int) {
	for word := range strings.FieldsSeq(caption) {
		if len(word) > 1 && word[0] == '#' {
			n++
		}
	}
	return n
}

// Said says in words what a page takes.
func (l Limits) Said() (out []string) {
	say := func(when bool, format string, args ...any) {
		if when {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	what := "pictures"
	if l.Clips {
		what = "pictures and clips"
	}
	say(l.MostPictures > 0, "up to %d %s in a post", l.MostPictures, what)
	say(l.Narrowest > 0 && l.Widest > 0, "proportions from %s to %s", proportion(l.Narrowest), proportion(l.Widest))
	say(l.MostWidth > 0 && l.MostSide > 0, "at most %d × %d pixels", l.MostWidth, l.MostSide)
	say(l.MostWidth == 0 && l.MostSide > 0, "at most %d pixels on a side", l.MostSide)
	say(l.LeastSide > 0, "at least %d pixels on a side", l.LeastSide)
	say(l.MostBytes > 0, "pictures of at most %s", arrival.Bytes(l.MostBytes))
	say(l.Clips && l.MostSeconds > 0, "clips of at most %.0f seconds", l.MostSeconds)
	say(l.Caption > 0, "a caption of at most %d %s", l.Caption, l.CaptionIn.said())
	say(l.PerDay > 0, "at most %d posts a day", l.PerDay)
	say(l.Hashtags > 0, "at most %d hashtags", l.Hashtags)
	say(l.Alt > 0, "alt texts of at most %d %s", l.Alt, l.AltIn.said())
	say(l.Alt < 0, "no alt texts")
	say(!l.Withdraws, "nothing can be taken back from here")
	return out
}
