package once

import (
	"strconv"
	"time"
)

// Do is a step.
type Do string

// The steps. Of these Place and PlaceAgain are visible; the others can be repeated.
const (
	Wait         Do = "wait"          // until At
	Upload       Do = "upload"        // the picture number Item
	Contain      Do = "contain"       // make the container
	Poll         Do = "poll"          // ask whether the container is ready
	Place        Do = "place"         // make the visible call
	PlaceAgain   Do = "place_again"   // make it again with the same key
	AskContainer Do = "ask_container" // whether it was published
	LookUp       Do = "look_up"       // among the posts of the page
	AskPerson    Do = "ask_person"    // it cannot be found out
	Nothing      Do = "nothing"       // it is over
)

// Step is what is to be done now.
type Step struct {
	Do   Do
	Item int
	At   time.Time
}

// Visible says whether others may see what the step does.
func (s Step) Visible() bool { return s.Do == Place || s.Do == PlaceAgain }

// Next says what is to be done for a post at a moment.
func Next(p Post, w Ways, now time.Time) Step {
	if p.Phase.Over() {
		return Step{Do: Nothing}
	}
	if now.Before(p.NotBefore) {
		return Step{Do: Wait, At: p.NotBefore}
	}
	switch p.Phase {
	case Planned:
		if from := p.Due.Add(-lead); now.Before(from) {
			return Step{Do: Wait, At: from}
		}
		return prepare(p, w, now)
	case Preparing:
		return prepare(p, w, now)
	}
	if p.Phase == Placing && now.Before(p.Deadline) { // whoever makes the call is still at it
		return Step{Do: Wait, At: p.Deadline}
	}
	return settle(p, w, now)
}

// prepare is the next step of what nobody sees, or the visible one when it is time.
func prepare(p Post, w Ways, now time.Time) Step {
	for i, id := range p.Media {
		if id == "" {
			return Step{Do: Upload, Item: i}
		}
	}
	switch {
	case w.Containers && p.Container == "":
		return Step{Do: Contain}
	case w.Containers && !p.Ready:
		return Step{Do: Poll}
	case now.Before(p.Due):
		return Step{Do: Wait, At: p.Due}
	}
	return Step{Do: Place}
}

// settle is how it is found out what became of the visible call.
func settle(p Post, w Ways, now time.Time) Step {
	// The key must live until the last moment at which this call can take effect.
	keyed := now.Add(w.Timeout + w.Late).Before(p.FirstTry.Add(w.Keys))
	switch {
	case keyed && !p.KeySpent:
		return Step{Do: PlaceAgain}
	case w.Containers && !p.Blind:
		return Step{Do: AskContainer}
	case w.LooksUp:
		return Step{Do: LookUp}
	}
	return Step{Do: AskPerson}
}

// absentFrom is the moment from which "it is not there" holds: the call cannot take effect any more, and the list shows what did.
func absentFrom(p Post, w Ways, list bool) time.Time {
	from := p.Deadline.Add(w.Late)
	if list {
		from = from.Add(w.Lag)
	}
	return from
}

// Key is the idempotency key of a post that has a code of its own: the same until it is known that nothing of it is out there.
func Key(code string, p Post) string { return code + "." + strconv.Itoa(p.Round) }
