package screens

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func at(t require.TestingT, zone, wall string) time.Time {
	in, err := time.LoadLocation(zone)
	require.NoError(t, err)
	out, err := time.ParseInLocation("2006-01-02 15:04", wall, in)
	require.NoError(t, err)
	return out
}

func TestTheHoursOfAScreen(t *testing.T) {
	const berlin = "Europe/Berlin"
	s := Usual(berlin)
	require.NoError(t, s.Check())
	assert.Equal(t, []Switch{{at(t, berlin, "2026-11-27 12:00"), true}}, s.Switches(at(t, berlin, "2026-11-27 12:00")), "always")
	s.From, s.Until = "09:00", "20:00"
	got := s.Switches(at(t, berlin, "2026-11-27 08:00"))
	assert.Equal(t, []Switch{{at(t, berlin, "2026-11-27 08:00"), false}, {at(t, berlin, "2026-11-27 09:00"), true},
		{at(t, berlin, "2026-11-27 20:00"), false}}, got[:3])
	assert.True(t, s.Switches(at(t, berlin, "2026-11-27 09:00"))[0].On)
	assert.False(t, s.Switches(at(t, berlin, "2026-11-27 20:00"))[0].On)
	s.From, s.Until, s.Days = "22:00", "02:00", []int{5} // Fridays, over midnight
	assert.True(t, s.Switches(at(t, berlin, "2026-11-28 01:30"))[0].On, "the night belongs to the Friday")
	assert.False(t, s.Switches(at(t, berlin, "2026-11-28 22:30"))[0].On)
	s.From, s.Until, s.Days = "", "", []int{1, 2, 3, 4, 5}
	week := s.Switches(at(t, berlin, "2026-11-27 12:00")) // a Friday
	assert.Equal(t, Switch{at(t, berlin, "2026-11-28 00:00"), false}, week[1])
	assert.Equal(t, Switch{at(t, berlin, "2026-11-30 00:00"), true}, week[2], "working days are one span")
	// Clocks go forward on 28 March 2027: 02:30 is not there.
	s.Days, s.From, s.Until = nil, "02:30", "04:00"
	spring := s.Switches(at(t, berlin, "2027-03-28 00:00"))
	assert.Equal(t, "03:30", spring[1].At.Format("15:04"))
}

// TestSwitches take turns, are in order, and say of every moment what the clock on the wall says.
func TestSwitches(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		zone := rapid.SampledFrom([]string{"UTC", "Europe/Berlin", "America/New_York", "Australia/Lord_Howe"}).Draw(t, "zone")
		s := Usual(zone)
		clock := rapid.SampledFrom([]string{"00:00", "01:00", "08:30", "12:00", "23:59"})
		s.From, s.Until = clock.Draw(t, "from"), clock.Draw(t, "until")
		if s.From == s.Until {
			t.Skip("always")
		}
		now := time.Unix(rapid.Int64Range(1_700_000_000, 1_900_000_000).Draw(t, "now"), 0)
		all := s.Switches(now)
		for i := 1; i < len(all); i++ {
			assert.True(t, all[i].At.After(all[i-1].At))
			assert.NotEqual(t, all[i].On, all[i-1].On)
		}
		then := now.Add(time.Duration(rapid.Int64Range(0, 12*24*3600).Draw(t, "later")) * time.Second)
		on := false
		for _, w := range all {
			if !w.At.After(then) {
				on = w.On
			}
		}
		assert.Equal(t, s.Switches(then)[0].On, on, "what was told before is what is told then")
	})
}

func TestAShuffledOrderHoldsForTheDay(t *testing.T) {
	s := Usual("Europe/Berlin")
	s.Order = "shuffled"
	ids := []int64{}
	for i := range int64(40) {
		ids = append(ids, i)
	}
	morning, evening := at(t, s.Zone, "2026-11-27 08:00"), at(t, s.Zone, "2026-11-27 23:00")
	first := s.Sorted(ids, "screen", morning)
	slices.Reverse(ids)
	assert.Equal(t, first, s.Sorted(ids, "screen", evening))
	assert.NotEqual(t, first, s.Sorted(ids, "screen", evening.Add(3*time.Hour)))
	assert.NotEqual(t, first, s.Sorted(ids, "another", morning))
	assert.ElementsMatch(t, ids, first)
	s.Order = "album"
	assert.Equal(t, ids, s.Sorted(ids, "screen", morning))
}

func TestWrongSettings(t *testing.T) {
	for field, change := range map[string]func(s *Settings){
		"seconds": func(s *Settings) { s.Seconds = 2 }, "transition": func(s *Settings) { s.Transition = "spin" },
		"captions": func(s *Settings) { s.Captions = "" }, "order": func(s *Settings) { s.Order = "x" }, "fit": func(s *Settings) { s.Fit = "x" },
		"until": func(s *Settings) { s.From = "09:00" }, "from": func(s *Settings) { s.From, s.Until = "25:00", "09:00" },
		"days": func(s *Settings) { s.Days = []int{1, 1} }, "zone": func(s *Settings) { s.Zone = "Local" },
	} {
		s := Usual("UTC")
		change(&s)
		err := s.Check()
		require.Error(t, err, field)
		assert.Contains(t, strings.ToLower(field), field)
	}
}

func TestPairingCodes(t *testing.T) {
	code := PairingCode(rand.IntN)
	assert.Len(t, code, codeLength)
	assert.Equal(t, code, TypedCode(" "+strings.ToLower(code[:3])+" - "+code[3:]))
	for _, wrong := range []string{"", code[:5], code + "B", "AEIOU1", "💥"} {
		assert.Empty(t, TypedCode(wrong), wrong)
	}
}
