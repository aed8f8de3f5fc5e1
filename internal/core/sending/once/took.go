package once

import "time"

// Kind is what came of a step.
type Kind string

// What can come of a step. Only what a service says clearly counts; everything else is lost.
const (
	Done    Kind = "done"    // ID is what it gave; of a question that it is out there under ID
	Later   Kind = "later"   // it did nothing and says when to come again
	Pending Kind = "pending" // the container is not ready yet
	Absent  Kind = "absent"  // it is not out there, as the service says
	Unknown Kind = "unknown" // the service does not know what was asked for
	No      Kind = "no"      // it says no, and why
	Lost    Kind = "lost"    // no answer, half an answer, or one that says nothing
)

// Outcome is what came of a step. Asked is when it was begun.
type Outcome struct {
	Kind  Kind
	ID    string
	Why   string
	After time.Duration // of Later and Pending
	Asked time.Time
}

// Began writes down that somebody does a step, so that nobody else does it meanwhile; what it gives is committed before anything is done.
// Whoever makes a visible call does not begin it after the Deadline, and breaks it off then.
func Began(p Post, s Step, w Ways, now time.Time) Post {
	p.Attempt++
	switch {
	case s.Visible():
		p.Phase = Placing
		p.Deadline = now.Add(w.Timeout)
		if p.FirstTry.IsZero() {
			p.FirstTry = now
		}
	case s.Do == AskPerson:
		p.Phase = Unsure
	default:
		if p.Phase == Planned {
			p.Phase = Preparing
		}
		if p.Phase == Placing {
			p.Phase = Settling
		}
		p.NotBefore = now.Add(w.Timeout)
	}
	return p
}

// Took writes down what came of a step that was begun as the attempt of a number. What comes of an older attempt changes nothing.
func Took(p Post, s Step, attempt int, o Outcome, w Ways, now time.Time) Post {
	if attempt != p.Attempt || p.Phase.Over() {
		return p
	}
	p.NotBefore = time.Time{}
	switch s.Do {
	case Upload, Contain, Poll:
		return tookUnseen(p, s, o, now)
	case Place, PlaceAgain:
		return tookVisible(p, s, o, now)
	case AskContainer, LookUp:
		return tookAnswer(p, s, o, w, now)
	}
	return p
}

// tookUnseen is Took for what nobody sees: a refusal there is one, for nothing visible was tried.
func tookUnseen(p Post, s Step, o Outcome, now time.Time) Post {
	switch o.Kind {
	case Done:
		p.Failures = 0
		switch s.Do {
		case Upload:
			p.Media = append([]string(nil), p.Media...)
			p.Media[s.Item] = o.ID
		case Contain:
			p.Container, p.Ready = o.ID, false
		default:
			p.Ready = true
		}
	case Pending, Later: // waiting is no failure
		p.NotBefore = now.Add(max(time.Second, o.After))
		if o.Kind == Pending && now.After(p.Due.Add(mostPolling)) {
			return refuse(p, "It was not ready after six hours.")
		}
	case No:
		return refuse(p, o.Why)
	case Unknown: // it forgot what was brought to it
		p.Container, p.Ready, p.Media = "", false, make([]string, len(p.Media))
		return failed(p, o, now)
	default:
		return failed(p, o, now)
	}
	return p
}

func failed(p Post, o Outcome, now time.Time) Post {
	p.Failures++
	if p.Failures >= mostFailures {
		return refuse(p, orElse(o.Why, "It does not answer."))
	}
	p.NotBefore = now.Add(pause(p.Failures))
	return p
}

// tookVisible is Took for the visible call. A refusal or "later" says that nothing is out there only of the first call of a round: what
// is refused on a second one may be out from the first.
func tookVisible(p Post, s Step, o Outcome, now time.Time) Post {
	first := s.Do == Place
	switch {
	case o.Kind == Done:
		return out(p, o.ID)
	case o.Kind == No && first:
		return refuse(p, o.Why)
	case o.Kind == Later && first:
		p.Phase, p.FirstTry, p.Deadline = Preparing, time.Time{}, time.Time{}
		p.NotBefore = now.Add(max(time.Second, o.After))
		return p
	}
	p.Phase = Settling
	switch {
	case o.Kind == No:
		p.KeySpent = true
	case o.Kind == Later:
		p.NotBefore = now.Add(max(time.Second, o.After))
	default:
		p.Failures++
		p.NotBefore = now.Add(pause(p.Failures))
	}
	return p
}

// tookAnswer is Took for a question what is out there. That it is there is believed at once; that it is not only where the question was
// asked when the call could not take effect any more.
func tookAnswer(p Post, s Step, o Outcome, w Ways, now time.Time) Post {
	from := absentFrom(p, w, s.Do == LookUp)
	switch {
	case o.Kind == Done:
		return out(p, o.ID)
	case o.Kind == Absent && o.Asked.Before(from):
		p.Failures = 0
		p.NotBefore = from
	case o.Kind == Absent:
		return anew(p)
	case o.Kind == Later:
		p.NotBefore = now.Add(max(time.Second, o.After))
	case s.Do == AskContainer && (o.Kind == Unknown || o.Kind == No):
		p.Blind, p.Failures = true, 0
	default:
		if p.Failures++; p.Failures >= mostFailures {
			p.Failures = 0
			if s.Do == AskContainer {
				p.Blind = true
				return p
			}
			p.Phase, p.Why = Unsure, orElse(o.Why, "It does not say what is out there.")
			return p
		}
		p.NotBefore = now.Add(pause(p.Failures))
	}
	return p
}

func out(p Post, id string) Post {
	p.Phase, p.Remote, p.Why, p.Failures = Out, id, "", 0
	return p
}

func refuse(p Post, why string) Post {
	p.Phase, p.Why = Refused, orElse(why, "It was refused without a reason.")
	return p
}

// anew begins another round, where it is known that nothing is out there.
func anew(p Post) Post {
	p.Phase, p.Round = Preparing, p.Round+1
	p.FirstTry, p.Deadline, p.NotBefore = time.Time{}, time.Time{}, time.Time{}
	p.Failures, p.KeySpent, p.Blind = 0, false, false
	p.Container, p.Ready = "", false // one that was asked to be published is not published again
	return p
}

func orElse(text, other string) string {
	if text == "" {
		return other
	}
	return text
}

// Cancel ends a post of which nothing visible was tried; any other stays as it is.
func Cancel(p Post) Post {
	if p.Phase == Planned || p.Phase == Preparing {
		p.Phase = Cancelled
		p.Attempt++ // whatever is being brought there does not come back to life
	}
	return p
}

// Move gives a post another moment, as long as nothing visible of it was tried; any other stays as it is.
func Move(p Post, due time.Time) Post {
	if p.Phase == Planned || p.Phase == Preparing {
		p.Due, p.NotBefore = due, time.Time{}
	}
	return p
}

// Decide is what a person says of a post that nobody could find out about: it is out there, under an id if they know one; or it is not,
// and is sent again.
func Decide(p Post, there bool, id string) Post {
	if p.Phase != Unsure {
		return p
	}
	if there {
		return out(p, id)
	}
	return anew(p)
}

// Again tries a post anew that was refused, from the beginning: nothing of it is out there.
func Again(p Post) Post {
	if p.Phase != Refused {
		return p
	}
	p.Media, p.Why = make([]string, len(p.Media)), ""
	p.Attempt++
	return anew(p)
}
