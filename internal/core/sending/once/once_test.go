package once_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/sending/once"
)

var began = time.Date(2026, 5, 17, 9, 0, 0, 0, time.UTC)

// world is a service with a page, and the workers of a house that sends one post to it. Calls are answered, lost before or after they took
// effect, or take effect late; workers die at any moment.
type world struct {
	t       *rapid.T
	is      once.Ways // how the service is
	believe once.Ways // how it says that it is
	now     time.Time
	code    string

	posts      map[string]time.Time // what is out there, since when
	keys       map[string]keyed
	containers map[string]string // the post that each became, or ""
	coming     []effect          // of calls that take effect later
	n          int

	noFence, resends, trustsRefusals bool // planted mistakes of the workers
}

type keyed struct {
	post  string
	first time.Time
}

type effect struct {
	at        time.Time
	key       string
	container string
}

type answer struct {
	step    once.Step
	attempt int
	outcome once.Outcome
	at      time.Time
}

func (w *world) id(of string) string { w.n++; return fmt.Sprint(of, w.n) }

// pass lets time go by, with the effects that fall into it.
func (w *world) pass(to time.Time) {
	for i := 0; i < len(w.coming); i++ {
		if e := w.coming[i]; !e.at.After(to) {
			w.coming = append(w.coming[:i], w.coming[i+1:]...)
			w.publish(e.key, e.container, e.at)
			i--
		}
	}
	if to.After(w.now) {
		w.now = to
	}
}

// publish is the visible call as it takes effect.
func (w *world) publish(key, container string, at time.Time) once.Outcome {
	if w.is.Keys > 0 {
		if k, known := w.keys[key]; known && at.Before(k.first.Add(w.is.Keys)) {
			return once.Outcome{Kind: once.Done, ID: k.post}
		}
	}
	if w.is.Containers {
		post, known := w.containers[container]
		if !known || post != "" {
			return once.Outcome{Kind: once.No, Why: "already published"}
		}
	}
	id := w.id("post")
	w.posts[id] = at
	w.keys[key] = keyed{id, at}
	if w.is.Containers {
		w.containers[container] = id
	}
	return once.Outcome{Kind: once.Done, ID: id}
}

// call carries a step out; nil is a worker that died before it heard anything.
func (w *world) call(p once.Post, s once.Step, calm bool) *once.Outcome {
	fate := "done"
	if !calm {
		fate = rapid.SampledFrom([]string{"done", "done", "lost before", "lost after", "late", "later", "no", "dies before", "dies after",
			"dies, late"}).Draw(w.t, "fate")
	}
	lost := &once.Outcome{Kind: once.Lost}
	if s.Visible() {
		key := once.Key(w.code, p)
		switch fate {
		case "done":
			o := w.publish(key, p.Container, w.now)
			return &o
		case "lost after", "dies after":
			w.publish(key, p.Container, w.now)
		case "late", "dies, late":
			late := rapid.Int64Range(0, int64(p.Deadline.Add(w.is.Late).Sub(w.now))).Draw(w.t, "late")
			w.coming = append(w.coming, effect{w.now.Add(time.Duration(late)), key, p.Container})
		case "later":
			return &once.Outcome{Kind: once.Later, After: 20 * time.Second}
		case "no":
			return &once.Outcome{Kind: once.No, Why: "not like this"}
		}
		if fate[:4] == "dies" {
			return nil
		}
		return lost
	}
	if fate == "dies before" || fate == "dies after" || fate == "dies, late" {
		return nil
	}
	if fate != "done" && fate != "no" {
		return lost
	}
	switch s.Do {
	case once.Upload:
		return &once.Outcome{Kind: once.Done, ID: w.id("media")}
	case once.Contain:
		id := w.id("container")
		w.containers[id] = ""
		return &once.Outcome{Kind: once.Done, ID: id}
	case once.Poll:
		if !calm && rapid.Bool().Draw(w.t, "pending") {
			return &once.Outcome{Kind: once.Pending, After: time.Minute}
		}
		return &once.Outcome{Kind: once.Done}
	case once.AskContainer:
		if fate == "no" {
			return &once.Outcome{Kind: once.Unknown}
		}
		if post := w.containers[p.Container]; post != "" {
			return &once.Outcome{Kind: once.Done, ID: post}
		}
		return &once.Outcome{Kind: once.Absent}
	case once.LookUp:
		for id, since := range w.posts {
			if !since.After(w.now.Add(-time.Duration(rapid.Int64Range(0, int64(w.is.Lag)).Draw(w.t, "lag")))) {
				return &once.Outcome{Kind: once.Done, ID: id}
			}
		}
		return &once.Outcome{Kind: once.Absent}
	}
	return lost
}

// run sends one post, and gives how it ended.
func (w *world) run() once.Post {
	p := once.New(rapid.IntRange(1, 3).Draw(w.t, "pictures"), began.Add(time.Duration(rapid.IntRange(-60, 60).Draw(w.t, "due"))*time.Minute))
	w.now = began
	var flying []answer
	for i := 0; i < 600; i++ {
		calm := i > 60
		if len(flying) > 0 && (calm || rapid.Bool().Draw(w.t, "an answer comes")) {
			a := flying[0]
			flying = flying[1:]
			w.pass(a.at)
			attempt := a.attempt
			if w.noFence {
				attempt = p.Attempt
			}
			p = w.take(p, a, attempt)
			continue
		}
		if p.Phase == once.Unsure {
			w.pass(w.now.Add(24 * time.Hour)) // a person looks the next day
			for id := range w.posts {
				p = once.Decide(p, true, id)
			}
			p = once.Decide(p, false, "")
			continue
		}
		if p.Phase.Over() && len(flying) == 0 {
			break
		}
		s := once.Next(p, w.believe, w.now)
		switch {
		case s.Do == once.Nothing:
			continue
		case s.Do == once.Wait:
			w.pass(s.At.Add(time.Duration(rapid.IntRange(0, 3000).Draw(w.t, "later by")) * time.Millisecond))
			continue
		}
		p = once.Began(p, s, w.believe, w.now)
		asked := w.now
		if s.Visible() && !calm { // a worker that is slow, but not too slow
			w.pass(w.now.Add(time.Duration(rapid.Int64Range(0, int64(w.believe.Timeout)).Draw(w.t, "slow"))))
		}
		if o := w.call(p, s, calm); o != nil {
			o.Asked = asked
			slow := time.Duration(0)
			if !calm {
				slow = time.Duration(rapid.Int64Range(0, int64(4*w.believe.Timeout)).Draw(w.t, "heard after")) // long after others went on
			}
			flying = append(flying, answer{s, p.Attempt, *o, w.now.Add(slow)})
		}
	}
	w.pass(w.now.Add(1000 * time.Hour))
	return p
}

func (w *world) take(p once.Post, a answer, attempt int) once.Post {
	if w.resends && a.step.Visible() && a.outcome.Kind == once.Lost {
		a.outcome.Kind, a.step.Do = once.Later, once.Place
	}
	if w.trustsRefusals && a.step.Visible() && a.outcome.Kind == once.No {
		a.step.Do = once.Place
	}
	return once.Took(p, a.step, attempt, a.outcome, w.believe, w.now)
}

// wrong says what is wrong with how a post ended.
func (w *world) wrong(p once.Post) string {
	switch {
	case len(w.posts) > 1:
		return fmt.Sprintf("it is out there %d times", len(w.posts))
	case !p.Phase.Over():
		return "it never ends: " + string(p.Phase)
	case p.Phase == once.Out && len(w.posts) == 0:
		return "it is said to be out, and is not"
	case p.Phase == once.Refused && len(w.posts) > 0:
		return "it is said to be refused, and is out"
	}
	return ""
}

// services are made up, each with another mixture of ways to find out.
var services = map[string]once.Ways{
	"keys":               {Keys: 2 * time.Hour, Timeout: 30 * time.Second, Late: time.Minute},
	"keys and a list":    {Keys: 3 * time.Minute, LooksUp: true, Lag: 2 * time.Minute, Timeout: 30 * time.Second, Late: time.Minute},
	"containers":         {Containers: true, Timeout: 20 * time.Second, Late: 5 * time.Minute},
	"containers, a list": {Containers: true, LooksUp: true, Lag: time.Minute, Timeout: 20 * time.Second, Late: time.Minute},
	"a late list":        {LooksUp: true, Lag: 10 * time.Minute, Timeout: 10 * time.Second, Late: 2 * time.Minute},
	"nothing":            {Timeout: 10 * time.Second, Late: time.Minute},
}

func newWorld(t *rapid.T, is once.Ways) *world {
	return &world{t: t, is: is, believe: is, code: "code", posts: map[string]time.Time{}, keys: map[string]keyed{},
		containers: map[string]string{}}
}

func TestEveryPostGoesOutOnce(t *testing.T) {
	for name, is := range services {
		t.Run(name, func(t *testing.T) {
			rapid.Check(t, func(t *rapid.T) {
				w := newWorld(t, is)
				p := w.run()
				if wrong := w.wrong(p); wrong != "" {
					t.Fatalf("%s: %s (%+v)", name, wrong, p)
				}
				if p.Phase == once.Out {
					if _, there := w.posts[p.Remote]; !there {
						t.Fatalf("%s is not the post that is out there", p.Remote)
					}
				}
			})
		})
	}
}

// found says whether a mistake is found within some thousand histories.
func found(t *testing.T, is once.Ways, plant func(*world)) bool {
	t.Helper()
	caught := false
	example := rapid.Custom(func(t *rapid.T) string {
		w := newWorld(t, is)
		plant(w)
		return w.wrong(w.run())
	})
	for seed := range 6000 {
		if example.Example(seed) != "" {
			caught = true
			break
		}
	}
	return caught
}

// TestPlantedMistakesAreCaught plants mistakes of which each sends twice, or says what is not so: the histories above are hard enough to
// show every one of them.
func TestPlantedMistakesAreCaught(t *testing.T) {
	for mistake, m := range map[string]struct {
		service string
		plant   func(*world)
	}{
		"late effects are not waited for":      {"a late list", func(w *world) { w.believe.Late = 0 }},
		"the list is believed at once":         {"a late list", func(w *world) { w.believe.Lag = 0 }},
		"a key is thought to live longer":      {"keys and a list", func(w *world) { w.believe.Keys = time.Hour }},
		"what comes too late is still taken":   {"keys and a list", func(w *world) { w.noFence = true }},
		"what was lost is sent again":          {"nothing", func(w *world) { w.resends = true }},
		"a refusal of a second call is a 'no'": {"keys", func(w *world) { w.trustsRefusals = true }},
		"a container is believed at once":      {"containers", func(w *world) { w.believe.Late = 0 }},
	} {
		t.Run(mistake, func(t *testing.T) { assert.True(t, found(t, services[m.service], m.plant), mistake) })
	}
}
