// Package screens knows how a screen in a shop shows an album: in which order, for how long, at which hours.
package screens

import (
	"hash/fnv"
	"math/rand/v2"
	"slices"
	"time"

	"brightsatchel/internal/core/fault"
)

// Settings are how a screen shows an album.
type Settings struct {
	Seconds    int    `json:"seconds"`    // that each picture stays; a clip stays until its end
	Transition string `json:"transition"` // one of Transitions
	Captions   string `json:"captions"`   // one of CaptionKinds
	Order      string `json:"order"`      // one of Orders
	Fit        string `json:"fit"`        // one of Fits
	From       string `json:"from"`       // the hours at which it shows something, as 09:00; both empty is always
	Until      string `json:"until"`
	Days       []int  `json:"days"` // the weekdays on which it does, 0 is Sunday; none is every day
	Zone       string `json:"zone"` // IANA
}

// What a screen can be set to; the first of each is the usual one.
var (
	Transitions  = []string{"fade", "none", "slide"}
	CaptionKinds = []string{"none", "title", "credit"}
	Orders       = []string{"album", "shuffled", "newest"}
	Fits         = []string{"fill", "whole"} // cut around the focal point, or all of it
)

// Usual is what a screen begins with, in a zone.
func Usual(zone string) Settings {
	return Settings{Seconds: 12, Transition: Transitions[0], Captions: CaptionKinds[0], Order: Orders[0], Fit: Fits[0], Days: []int{},
		Zone: zone}
}

// Bounds of settings, in seconds.
const (
	shortest = 3
	longest  = 600
)

// Check says what is wrong with settings.
func (s Settings) Check() error {
	if s.Seconds < shortest || s.Seconds > longest {
		return fault.Invalidf("seconds", "A picture stays for %d to %d seconds.", shortest, longest)
	}
	for _, one := range []struct {
		field, value string
		of           []string
	}{{"transition", s.Transition, Transitions}, {"captions", s.Captions, CaptionKinds}, {"order", s.Order, Orders}, {"fit", s.Fit, Fits}} {
		if !slices.Contains(one.of, one.value) {
			return fault.Invalidf(one.field, "%q is nothing that it can be.", one.value)
		}
	}
	if (s.From == "") != (s.Until == "") || s.From != "" && s.From == s.Until {
		return fault.Invalidf("until", "Say from when until when, with two different times; or neither, for always.")
	}
	for field, clock := range map[string]string{"from": s.From, "until": s.Until} {
		if _, err := minuteOf(clock); err != nil {
			return fault.Invalidf(field, "%q is no time of the day, as 09:00.", clock)
		}
	}
	for i, day := range s.Days {
		if day < 0 || day > 6 || slices.Contains(s.Days[:i], day) {
			return fault.Invalidf("days", "Those are no weekdays.")
		}
	}
	if s.Zone == "Local" {
		return fault.Invalidf("zone", "Choose a time zone.")
	}
	if _, err := time.LoadLocation(s.Zone); err != nil {
		return fault.Invalidf("zone", "%q is no time zone.", s.Zone)
	}
	return nil
}

// minuteOf is a time of the day in minutes since midnight; that of "" is 0.
func minuteOf(clock string) (int, error) {
	if clock == "" {
		return 0, nil
	}
	at, err := time.Parse("15:04", clock)
	return at.Hour()*60 + at.Minute(), err
}

// Switch is a moment from which a screen shows something, or nothing.
type Switch struct {
	At time.Time
	On bool
}

// ahead is how far switches are told, in days: a screen knows them also while it has no network.
const ahead = 15

// Switches are the moments at which a screen is switched on and off by its hours, from before a moment until two weeks after it. The
// first one
// is how it is then. Hours over midnight belong to the day on which they begin. A time that clocks skip is the first one after the gap.
func (s Settings) Switches(now time.Time) []Switch {
	zone, err := time.LoadLocation(s.Zone)
	from, fromErr := minuteOf(s.From)
	until, untilErr := minuteOf(s.Until)
	if err != nil || fromErr != nil || untilErr != nil {
		return []Switch{{now, true}}
	}
	day := now.In(zone)
	at := func(days, minute int) time.Time {
		return time.Date(day.Year(), day.Month(), day.Day()+days, 0, minute, 0, 0, zone)
	}
	type span struct{ from, until time.Time }
	var spans []span
	for d := -2; d <= ahead; d++ {
		if len(s.Days) > 0 && !slices.Contains(s.Days, int(at(d, 12*60).Weekday())) {
			continue
		}
		one := span{at(d, from), at(d, until)}
		switch {
		case s.From == "":
			one = span{at(d, 0), at(d+1, 0)}
		case until < from:
			one.until = at(d+1, until)
		}
		if n := len(spans); n > 0 && !one.from.After(spans[n-1].until) { // one into the other
			spans[n-1].until = one.until
			continue
		}
		spans = append(spans, one)
	}
	out := []Switch{{now, false}}
	for _, one := range spans {
		switch {
		case !one.until.After(now):
		case !one.from.After(now):
			out[0].On = true
			out = append(out, Switch{one.until, false})
		default:
			out = append(out, Switch{one.from, true}, Switch{one.until, false})
		}
	}
	return slices.DeleteFunc(out, func(w Switch) bool { return w.At.After(now.AddDate(0, 0, ahead-1)) })
}

// Sorted puts items, which are in the order of their album, into that of a screen. A shuffled one is the same all day, and another one the
// next; newest takes them as they are, since they were asked for like this.
func (s Settings) Sorted(ids []int64, screen string, now time.Time) []int64 {
	if s.Order != "shuffled" {
		return ids
	}
	zone, err := time.LoadLocation(s.Zone)
	if err != nil {
		zone = time.UTC
	}
	seed := fnv.New64a()
	_, _ = seed.Write([]byte(screen + now.In(zone).Format(time.DateOnly)))
	out := slices.Clone(ids)
	slices.Sort(out) // so that the order of the album does not matter
	rand.New(rand.NewPCG(seed.Sum64(), 0)).Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

// The signs of pairing codes: none that are taken for another one, and no vowels, so that no words come of them.
const signs = "BCDFGHJKLMNPQRSTVWXZ23456789"

// codeLength is how many signs a pairing code has.
const codeLength = 6

// PairingCode makes a code of random numbers, of which it takes one for each sign.
func PairingCode(random func(n int) int) string {
	out := make([]byte, codeLength)
	for i := range out {
		out[i] = signs[random(len(signs))]
	}
	return string(out)
}

// TypedCode is a pairing code as somebody typed it, with small letters, spaces or dashes; "" is none.
func TypedCode(text string) string {
	var out []rune
	for _, r := range text {
		switch {
		case r >= 'a' && r <= 'z':
			r -= 'a' - 'A'
		case r == ' ' || r == '-' || r == '\u00a0':
			continue
		}
		if !slices.Contains([]rune(signs), r) || len(out) == codeLength {
			return ""
		}
		out = append(out, r)
	}
	if len(out) != codeLength {
		return ""
	}
	return string(out)
}
