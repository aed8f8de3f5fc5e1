// Package galleries decides what a gallery for guests can be like, who may see it at a moment, and what they may take along.
package galleries

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
)

// The kinds of galleries: for a client, on the web under an address of its own, or a page that plays itself.
const (
	Client    = "client"
	Web       = "web"
	Slideshow = "slideshow"
)

// Who may look: anyone with the link (and the password, where there is one), people who were invited, or everyone, for whom it is listed.
const (
	Link     = "link"
	Invited  = "invited"
	Everyone = "everyone"
)

// The values that a gallery can have.
var (
	Kinds      = []string{Client, Web, Slideshow}
	Audiences  = []string{Link, Invited, Everyone}
	Accents    = []string{"sea", "plum", "saffron", "tomato", "ink"}
	Letterings = []string{"plain", "book", "poster"}
)

// MostChapters is how many chapters a gallery has, MostShown how many pictures it shows in all.
const (
	MostChapters = 100
	MostShown    = 10_000
)

// Settings are how a gallery looks and what guests may do in it.
type Settings struct {
	Accent       string       `json:"accent"`    // one of Accents
	Lettering    string       `json:"lettering"` // one of Letterings
	Sizes        []int64      `json:"sizes"`     // output sizes that may be taken along
	Original     bool         `json:"original"`  // the file itself may be taken along
	Downloads    bool         `json:"downloads"` // anything may be taken along at all
	SeeEachOther bool         `json:"seeEachOther"`
	Remarks      bool         `json:"remarks"` // guests may write remarks
	Mark         outputs.Mark `json:"mark"`    // drawn across pictures for guests
}

// Usual are the settings that a gallery begins with.
func Usual() Settings {
	return Settings{Accent: "sea", Lettering: "plain", Sizes: []int64{}, Downloads: true, Remarks: true,
		Mark: outputs.Mark{Place: "middle", Strength: 40}}
}

// MostOfMark is how many signs the words of a mark have.
const MostOfMark = 60

// Check says what is wrong with settings, naming the field.
func (s *Settings) Check() error {
	for _, one := range []struct {
		field, value string
		of           []string
	}{{"accent", s.Accent, Accents}, {"lettering", s.Lettering, Letterings}, {"markPlace", s.Mark.Place, outputs.MarkPlaces}} {
		if !slices.Contains(one.of, one.value) {
			return fault.Invalidf(one.field, "%q is none of %s.", one.value, strings.Join(one.of, ", "))
		}
	}
	if s.Mark.Strength < 10 || s.Mark.Strength > 100 {
		return fault.Invalidf("markStrength", "A mark covers from 10 to 100 %%.")
	}
	if len([]rune(s.Mark.Words)) > MostOfMark {
		return fault.Invalidf("markWords", "The words across a picture have at most %d characters.", MostOfMark)
	}
	drawable := 0
	for _, r := range s.Mark.Words {
		switch {
		case unicode.In(r, unicode.Latin, unicode.Greek, unicode.Cyrillic) || unicode.IsDigit(r):
			drawable++
		case !unicode.In(r, unicode.Common, unicode.Inherited):
			return fault.Invalidf("markWords", "The words across a picture can be in Latin, Greek or Cyrillic letters. “%c” cannot be drawn.", r)
		}
	}
	if s.Mark.Words != "" && drawable == 0 {
		return fault.Invalidf("markWords", "Write at least one letter or figure across the picture.")
	}
	return nil
}

// The states of a gallery for somebody who asks: they see it, they have to give a password, they were not invited, or it is closed.
const (
	Open      = "open"
	Locked    = "locked"
	Uninvited = "uninvited"
	Closed    = "closed"
)

// Gate is what decides who sees a gallery. Days are as 2026-12-31.
type Gate struct {
	Open     bool
	LastDay  string // "" is none
	Audience string
	Password bool // there is one
}

// Caller is who asks: what they gave or have.
type Caller struct {
	Password   bool // gave the present one
	Invitation bool // came by a link of their own that was not taken back
}

// State is what a caller gets of a gallery on a day.
func (g Gate) State(c Caller, today string) string {
	switch {
	case !g.Open || g.LastDay != "" && g.LastDay < today:
		return Closed
	case g.Audience == Invited && !c.Invitation:
		return Uninvited
	case g.Audience == Link && g.Password && !c.Password && !c.Invitation:
		return Locked
	}
	return Open
}

// Side is the longest side of an output size, in pixels.
type Side struct {
	Size    int64
	Longest int
}

// Allowance is what guests may have of what a gallery shows: pictures no larger than the largest size that they may take; where they
// may only look, as large as the big view is.
func (s *Settings) Allowance(sizes []Side, bigView int) access.Allowance {
	out := access.Allowance{Take: s.Downloads && (len(s.Sizes) > 0 || s.Original), Original: s.Downloads && s.Original}
	if out.Original {
		return out
	}
	for _, side := range sizes {
		if slices.Contains(s.Sizes, side.Size) {
			out.Largest = max(out.Largest, side.Longest)
		}
	}
	if out.Largest == 0 {
		out.Largest = bigView
	}
	return out
}

// MayTake says whether guests may take an output size; 0 is the original.
func (s *Settings) MayTake(size int64) bool {
	if size == 0 {
		return s.Downloads && s.Original
	}
	return s.Downloads && slices.Contains(s.Sizes, size)
}

var address = regexp.MustCompile(`^[a-z0-9](-?[a-z0-9])*$`)

// Address reads the address of its own that somebody types for a gallery: small letters, figures, and hyphens between them.
func Address(text string) (string, error) {
	text = strings.ToLower(strings.Join(strings.Fields(text), "-"))
	if text == "" {
		return "", nil
	}
	if len(text) < 3 || len(text) > 60 || !address.MatchString(text) {
		return "", fault.Invalidf("address", "“%s” is no address. Use 3 to 60 letters a to z, figures, and hyphens between them.", text)
	}
	return text, nil
}
