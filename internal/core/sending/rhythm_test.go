package sending_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/sending"
)

func TestTheNextFreeMomentOfARhythm(t *testing.T) {
	berlin, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	r := sending.Rhythm{{Weekday: time.Friday, Minute: 9 * 60}, {Weekday: time.Sunday, Minute: 2*60 + 30}}
	at := func(text string) time.Time {
		moment, err := time.ParseInLocation("2006-01-02 15:04", text, berlin)
		require.NoError(t, err)
		return moment
	}
	for _, test := range []struct {
		after, want string
		taken       []string
	}{
		{after: "2026-11-26 12:00", want: "2026-11-27 09:00"},
		{after: "2026-11-27 09:00", want: "2026-11-29 02:30"}, // after, not at
		{after: "2026-11-26 12:00", taken: []string{"2026-11-27 09:00"}, want: "2026-11-29 02:30"},
		{after: "2027-03-27 12:00", want: "2027-04-02 09:00"}, // there is no 02:30 on 28 March
		{after: "2026-10-24 12:00", want: "2026-10-25 02:30"}, // which comes twice
	} {
		var taken []time.Time
		for _, one := range test.taken {
			taken = append(taken, at(one))
		}
		assert.Equal(t, test.want, r.Next(at(test.after), berlin, taken).Format("2006-01-02 15:04"), test.after)
	}
	assert.True(t, sending.Rhythm{}.Next(time.Now(), berlin, nil).IsZero())
	assert.Equal(t, 2, sending.OnDay(at("2026-11-27 00:10"), berlin, []time.Time{at("2026-11-27 23:50"), at("2026-11-26 23:59"),
		at("2026-11-27 00:00")}))
	assert.True(t, sending.Crowds(at("2026-11-27 09:59"), []time.Time{at("2026-11-27 09:00")}))
	assert.False(t, sending.Crowds(at("2026-11-27 10:00"), []time.Time{at("2026-11-27 09:00")}))
}

// TestAMomentOfARhythmIsOneOfItsOwn, later than what was asked, and the days between have none that is free.
func TestAMomentOfARhythmIsOneOfItsOwn(t *testing.T) {
	zones := []string{"Europe/London", "America/New_York", "Australia/Lord_Howe", "Pacific/Apia"}
	rapid.Check(t, func(t *rapid.T) {
		zone, err := time.LoadLocation(rapid.SampledFrom(zones).Draw(t, "zone"))
		require.NoError(t, err)
		beat := sending.Beat{Weekday: time.Weekday(rapid.IntRange(0, 6).Draw(t, "weekday")), Minute: rapid.IntRange(0, 1439).Draw(t, "minute")}
		after := time.Unix(rapid.Int64Range(1_700_000_000, 2_000_000_000).Draw(t, "after"), 0)
		next := sending.Rhythm{beat}.Next(after, zone, nil)
		require.False(t, next.IsZero())
		assert.True(t, next.After(after))
		assert.Equal(t, beat, sending.Beat{Weekday: next.Weekday(), Minute: next.Hour()*60 + next.Minute()})
		assert.LessOrEqual(t, next.Sub(after), 15*24*time.Hour)
		assert.True(t, sending.Rhythm{beat}.Next(after, zone, []time.Time{next}).After(next), "taken is not free")
	})
}
