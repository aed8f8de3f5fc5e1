package access

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestPausesGrow(t *testing.T) {
	l := Limit{Free: 3, Within: time.Hour, Longest: 2 * time.Minute}
	now := time.Date(2026, 6, 1, 9, 0, 0, 0, time.UTC)
	var a Attempts
	for _, want := range []time.Duration{0, 0, 0, 15 * time.Second, 30 * time.Second, time.Minute, 2 * time.Minute, 2 * time.Minute} {
		assert.Equal(t, want, l.Wait(a, now), "after %d", a.N)
		now = now.Add(l.Wait(a, now))
		a = l.Counted(a, now)
	}
	right := l.TakenBack(a, now)
	assert.Zero(t, l.Wait(right, now), "after a right one nobody waits")
	assert.Equal(t, 2*time.Minute, l.Wait(l.Counted(right, now), now), "and what was wrong before counts still")
	assert.Zero(t, l.Wait(a, now.Add(2*time.Minute)))
	assert.Zero(t, l.kept(a, now.Add(time.Hour)).N, "it is forgotten")
}

func TestSoManyWithinATime(t *testing.T) {
	l := Limit{Free: 2, Within: time.Hour}
	now := time.Date(2026, 6, 1, 9, 0, 0, 0, time.UTC)
	a := l.Counted(l.Counted(Attempts{}, now), now.Add(20*time.Minute))
	assert.Equal(t, 30*time.Minute, l.Wait(a, now.Add(30*time.Minute)))
	assert.Zero(t, l.Wait(a, now.Add(time.Hour)))
	assert.Equal(t, 1, l.Counted(a, now.Add(time.Hour)).N)
}

// TestGuessingIsSlow: whatever the moments, no more guesses are made in a day than the free ones and one for each longest pause.
func TestGuessingIsSlow(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		l := Limit{Free: rapid.IntRange(1, 8).Draw(rt, "free"), Within: time.Hour, Longest: 15 * time.Minute}
		now := time.Date(2026, 6, 1, 0, 0, 0, 0, time.UTC)
		end := now.Add(24 * time.Hour)
		var a Attempts
		made := 0
		for now.Before(end) {
			if l.Wait(a, now) == 0 {
				a, made = l.Counted(a, now), made+1
			}
			now = now.Add(time.Duration(rapid.IntRange(1, 3600).Draw(rt, "seconds")) * time.Second)
		}
		assert.LessOrEqual(rt, made, 24*(l.Free+10))
	})
}
