package calendar

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestWall(t *testing.T) {
	for _, test := range []struct {
		text, zone, want string // in UTC
		twice            bool
		wrong            string
	}{
		{text: "2026-11-28T09:00", zone: "Europe/London", want: "2026-11-28T09:00"},
		{text: "2026-07-28T09:00", zone: "Europe/London", want: "2026-07-28T08:00"},
		{text: "2027-03-28T02:30", zone: "Europe/Berlin",
			wrong: "There is no 02:30 in Europe/Berlin on that day: the clocks go forward. Choose 03:00"},
		{text: "2027-03-14T02:30", zone: "America/New_York", wrong: "Choose 03:00"},
		{text: "2027-10-03T02:15", zone: "Australia/Lord_Howe", wrong: "Choose 02:30"}, // by half an hour
		{text: "2026-10-25T02:30", zone: "Europe/Berlin", want: "2026-10-25T00:30", twice: true},
		{text: "2026-11-01T01:00", zone: "America/New_York", want: "2026-11-01T05:00", twice: true},
		{text: "2026-04-05T01:45", zone: "Australia/Lord_Howe", want: "2026-04-04T14:45", twice: true},
		{text: "2026-10-25T03:00", zone: "Europe/Berlin", want: "2026-10-25T02:00"},
		{text: "2026-02-30T09:00", zone: "Europe/Berlin", wrong: "is no day and time"},
		{text: "tomorrow", zone: "Europe/Berlin", wrong: "is no day and time"},
		{text: "2026-11-28T09:00", zone: "Local", wrong: "There is no time zone"},
		{text: "2026-11-28T09:00", zone: "", wrong: "There is no time zone"},
		{text: "2026-11-28T09:00", zone: "Kites/Moor", wrong: "There is no time zone “Kites/Moor”"},
	} {
		at, twice, err := Wall(test.text, test.zone)
		if test.wrong != "" {
			require.ErrorContains(t, err, test.wrong, test.text)
			continue
		}
		require.NoError(t, err, test.text)
		assert.Equal(t, test.want, at.UTC().Format(WallForm), test.text)
		assert.Equal(t, test.twice, twice, test.text)
	}
}

// TestWhatAWallShowsIsThatMoment, whichever moment it is: the same, or the first one of two.
func TestWhatAWallShowsIsThatMoment(t *testing.T) {
	zones := []string{"Europe/London", "Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "Asia/Kathmandu", "Pacific/Apia", "UTC",
		"America/St_Johns", "Africa/Casablanca"}
	rapid.Check(t, func(rt *rapid.T) {
		name := rapid.SampledFrom(zones).Draw(rt, "zone")
		zone, err := Zone(name)
		require.NoError(rt, err)
		moment := time.Unix(rapid.Int64Range(1_700_000_000, 2_000_000_000).Draw(rt, "seconds")/60*60, 0).In(zone)
		text := moment.Format(WallForm)
		at, twice, err := Wall(text, name)
		require.NoError(rt, err, text)
		assert.Equal(rt, text, at.Format(WallForm))
		if !twice {
			assert.True(rt, at.Equal(moment))
		}
		assert.False(rt, at.After(moment))
	})
}
