package keeping

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestDaysLeft(t *testing.T) {
	binned := time.Date(2026, 5, 3, 14, 30, 0, 0, time.UTC)
	for passed, left := range map[time.Duration]int{
		0: 60, time.Hour: 60, 24 * time.Hour: 59, 59*24*time.Hour + time.Minute: 1, 60 * 24 * time.Hour: 0, 90 * 24 * time.Hour: 0,
	} {
		assert.Equal(t, left, DaysLeft(binned, binned.Add(passed)), passed)
	}
}

func TestNothingIsDueBeforeItsDaysAreOver(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		binned := time.Unix(rapid.Int64Range(0, 4_000_000_000).Draw(rt, "binned"), 0).UTC()
		now := binned.Add(time.Duration(rapid.Int64Range(0, 100*24*3600).Draw(rt, "passed")) * time.Second)
		assert.Equal(rt, now.Before(Due(binned)), DaysLeft(binned, now) > 0)
		assert.LessOrEqual(rt, DaysLeft(binned, now), BinDays)
	})
}

func TestHowFarRightsGo(t *testing.T) {
	now := time.Date(2026, 11, 25, 23, 30, 0, 0, time.FixedZone("", 3600))
	for _, c := range []struct {
		until string
		want  Rights
		left  int
	}{
		{"", Open, 0}, {"2026-12-26", Lasting, 31}, {"2026-12-25", Ending, 30}, {"2026-11-26", Ending, 1},
		{"2026-11-25", Ending, 0}, {"2026-11-24", Ended, -1}, {"2024-02-29", Ended, -1000},
	} {
		rights, left := RightsOn(c.until, now)
		assert.Equal(t, c.want, rights, c.until)
		assert.Equal(t, c.left, left, c.until)
	}
}
