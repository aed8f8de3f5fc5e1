package access

import "time"

// firstPause is how long one waits after the first attempt too many; each further one doubles it.
const firstPause = 15 * time.Second

// Attempts are the attempts that were counted under one key: how many, when the first and the last of them was made.
type Attempts struct {
	N           int
	Began, Last time.Time
}

// Limit is how many attempts under a key are free. With Longest, each one beyond them waits twice as long as the one before, at most
// Longest, and all are forgotten when none was made Within so long. Without it they are free anew Within so long of the first, and none
// is made before.
type Limit struct {
	Key     string
	Free    int
	Within  time.Duration
	Longest time.Duration // shorter than Within
}

// Wait is how long the next attempt has to wait at a moment; 0 is not at all.
func (l Limit) Wait(a Attempts, now time.Time) time.Duration {
	if a = l.kept(a, now); a.N < l.Free {
		return 0
	}
	if l.Longest == 0 {
		return a.Began.Add(l.Within).Sub(now)
	}
	return max(0, a.Last.Add(l.pause(a.N-l.Free)).Sub(now))
}

// Counted is what attempts are with one more, made at a moment.
func (l Limit) Counted(a Attempts, now time.Time) Attempts {
	if a = l.kept(a, now); a.N == 0 {
		a.Began = now
	}
	return Attempts{N: a.N + 1, Began: a.Began, Last: now}
}

// TakenBack is what attempts are without the last one, since it was right: nobody waits because of it.
func (l Limit) TakenBack(a Attempts, now time.Time) Attempts {
	if a.N--; a.N < 0 {
		a.N = 0
	}
	if free := now.Add(-l.Longest); a.Last.After(free) {
		a.Last = free
	}
	return a
}

// kept is what of attempts is not forgotten at a moment.
func (l Limit) kept(a Attempts, now time.Time) Attempts {
	since := a.Last
	if l.Longest == 0 {
		since = a.Began
	}
	if now.Sub(since) >= l.Within {
		return Attempts{}
	}
	return a
}

func (l Limit) pause(beyond int) time.Duration {
	pause := firstPause
	for range beyond {
		if pause >= l.Longest {
			break
		}
		pause *= 2
	}
	return min(pause, l.Longest)
}
