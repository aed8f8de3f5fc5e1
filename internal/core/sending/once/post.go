// Package once sends a post to a page exactly once. All steps of that but one are invisible and can be repeated; the visible call is
// written down before it is made, and what became of it is found out, not guessed.
//
// Next says what is to be done now, Began writes down that somebody does it, Took what came of it. All three are pure: whoever carries them
// out commits what Began gives before the call, and what Took gives after it.
package once

import "time"

// Phase is how far a post is.
type Phase string

// A post is planned for a moment, prepared (pictures are brought to the service, unseen), placed (the visible call is under way), settling
// (nobody knows what became of that call, and it is found out), unsure (it cannot be found out: a person says); and in the end out, refused
// or cancelled.
const (
	Planned   Phase = "planned"
	Preparing Phase = "preparing"
	Placing   Phase = "placing"
	Settling  Phase = "settling"
	Unsure    Phase = "unsure"
	Out       Phase = "out"
	Refused   Phase = "refused"
	Cancelled Phase = "cancelled"
)

// Over says whether nothing more is done by itself.
func (p Phase) Over() bool { return p == Unsure || p == Out || p == Refused || p == Cancelled }

// Post is one post on one page as far as sending it goes.
type Post struct {
	Phase Phase
	// Attempt counts the steps that were begun. What comes of a step is taken only of the last one, so that nobody who was held up
	// overwrites what was found out since.
	Attempt int
	// Round counts how often it was known that nothing of it is out there and it began anew. It is a part of Key.
	Round int
	// Due is the moment before which nothing visible is done, NotBefore the one before which nothing at all is.
	Due, NotBefore time.Time
	// FirstTry is when the visible call was written down first in this round, Deadline when the last one is over for whoever makes it.
	// Both are zero before.
	FirstTry, Deadline time.Time
	// Failures counts the failures in a row of steps that can be repeated.
	Failures int
	// Media are the ids of the pictures at the service, in their order; "" is not there yet.
	Media []string
	// Container is the id of the post while nobody sees it, at services that make it so; Ready says that it can be published.
	Container string
	Ready     bool
	// KeySpent says that asking again with the same key does not help, Blind that looking at the container does not.
	KeySpent, Blind bool
	// Remote is the id of the post out there, Why what is said of one that is not.
	Remote, Why string
}

// New is a post with so many pictures for a moment.
func New(pictures int, due time.Time) Post {
	return Post{Phase: Planned, Due: due, Media: make([]string, pictures)}
}

// Ways are how a service lets one find out what became of a call.
type Ways struct {
	// Keys is how long the same idempotency key gives the same post, from the first call with it; 0 is never.
	Keys time.Duration
	// Containers are made unseen first, and published then.
	Containers bool
	// LooksUp says that the posts of a page can be listed; that list is up to Lag late.
	LooksUp bool
	Lag     time.Duration
	// Timeout is how long one waits for an answer; Late how long after that a call may still take effect.
	Timeout, Late time.Duration
}

// How long before it is due a post is prepared, and how failures are borne.
const (
	lead         = 10 * time.Minute
	mostFailures = 12
	longestPause = 15 * time.Minute
	mostPolling  = 6 * time.Hour // after it was due
)

// pause is how long one waits after so many failures in a row.
func pause(failures int) time.Duration {
	return min(longestPause, time.Second<<min(failures, 12))
}
