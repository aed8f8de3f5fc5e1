package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/calendar"
)

func wall(text string) *time.Time {
	at, err := time.Parse("2006-01-02 15:04", text)
	if err != nil {
		panic(err)
	}
	return &at
}

func TestAClockIsPutRight(t *testing.T) {
	file := calendar.Stamp{At: wall("2026-03-29 01:10"), Zone: "+01:00"}
	now := calendar.Stamp{At: wall("2026-03-29 01:30")}
	for _, c := range []struct {
		clock calendar.Clock
		at    string
		zone  string
	}{
		{calendar.Clock{Seconds: 3600 + 25*60}, "2026-03-29 02:55", ""},
		{calendar.Clock{Seconds: -7200}, "2026-03-28 23:30", ""},
		{calendar.Clock{Zone: "+05:30"}, "2026-03-29 01:30", "+05:30"},
		{calendar.Clock{Zone: "Z"}, "2026-03-29 01:30", "Z"},
		{calendar.Clock{Zone: "Europe/Amsterdam"}, "2026-03-29 01:30", "+01:00"},
		{calendar.Clock{Zone: "Europe/Amsterdam", Seconds: 7200}, "2026-03-29 03:30", "+02:00"},
		{calendar.Clock{Back: true}, "2026-03-29 01:10", "+01:00"},
	} {
		require.NoError(t, c.clock.Check())
		is, err := c.clock.To(now, file)
		require.NoError(t, err)
		assert.Equal(t, c.at, is.At.Format("2006-01-02 15:04"))
		assert.Equal(t, c.zone, is.Zone)
	}
	_, err := calendar.Clock{Zone: "Europe/Amsterdam", Seconds: 3600}.To(now, file)
	require.ErrorContains(t, err, "There was no 29 March 2026, 02:30 in Europe/Amsterdam")
	_, err = calendar.Clock{Seconds: -3600 * 24}.To(calendar.Stamp{At: wall("0001-01-01 12:00")}, file)
	require.ErrorContains(t, err, "would be in the year 0")
	undated, err := calendar.Clock{Seconds: 60}.To(calendar.Stamp{}, file)
	require.NoError(t, err)
	assert.Nil(t, undated.At)
	for _, wrong := range []calendar.Clock{{Zone: "Middle-earth"}, {Zone: "+2"}, {Seconds: 1 << 40}} {
		require.Error(t, wrong.Check())
	}
}

func TestForwardsAndBackIsWhereItWas(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		at := time.Unix(rapid.Int64Range(-4e9, 8e9).Draw(t, "at"), 0).UTC()
		by := rapid.Int64Range(-1e9, 1e9).Draw(t, "by")
		there, err := calendar.Clock{Seconds: by}.To(calendar.Stamp{At: &at}, calendar.Stamp{})
		require.NoError(t, err)
		back, err := calendar.Clock{Seconds: -by}.To(there, calendar.Stamp{})
		require.NoError(t, err)
		assert.Equal(t, at, *back.At)
	})
}
