package sending

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestWhatIsAgainstAnItem(t *testing.T) {
	now := time.Date(2026, 11, 26, 20, 0, 0, 0, time.UTC)
	fine := Leaving{Alt: true, Sight: true, RightsUntil: "2028-01-01", Shown: []Consent{{State: Given}, {State: Open}}}
	for _, c := range []struct {
		name   string
		change func(l *Leaving)
		want   []string
	}{
		{"nothing", func(*Leaving) {}, nil},
		{"without an end", func(l *Leaving) { l.RightsUntil = "" }, nil},
		{"the last day counts in", func(l *Leaving) { l.RightsUntil = "2026-11-26" }, []string{RightsSoon}},
		{"with its place", func(l *Leaving) { l.SaysWhere = true }, []string{SaysWhere}},
		{"of a guest", func(l *Leaving) { l.Unseen = true }, []string{Unseen}},
		{"over", func(l *Leaving) { l.RightsUntil = "2026-11-25" }, []string{RightsEnded}},
		{"no alt text", func(l *Leaving) { l.Alt = false }, []string{WithoutAlt}},
		{"a document needs none", func(l *Leaving) { l.Alt, l.Sight = false, false }, nil},
		{"refused, and one agreed once", func(l *Leaving) {
			l.Shown = []Consent{{State: Refused}, {State: Given, Until: "2026-11-25"}, {State: Refused}}
		}, []string{NotAgreed, AgreedOnce}},
		{"all at once, the gravest first", func(l *Leaving) {
			*l = Leaving{Sight: true, SetAside: true, Binned: true, RightsUntil: "2020-01-01", Shown: []Consent{{State: Refused}}}
		}, []string{InTheBin, RightsEnded, NotAgreed, WasSetAside, WithoutAlt}},
	} {
		l := fine
		c.change(&l)
		assert.Equal(t, c.want, Check(l, now), c.name)
	}
	hinder := 0
	for _, reason := range Reasons {
		if Hinders(reason) {
			hinder++
		}
	}
	assert.Equal(t, 5, hinder)
}
