package queue

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/rivertype"
)

// Kind is a kind of job.
type Kind[A Args] struct {
	// Do does the job. It may be called again after any error, and after the process was killed anywhere in it.
	Do func(ctx context.Context, args A) error
	// GaveUp ends what the job was for when all tries failed, so that nothing waits for it for ever: it must leave the
	// thing in a state that people see and can act upon. ErrKilled says that processes were killed at it. It
	// may be called again. Every kind has one; Nothing is for work that begins anew by itself.
	GaveUp func(ctx context.Context, args A, why error) error
	// Tries are how often it is tried, and after what time.
	Tries Tries
	// Where it waits: see Lane. 1 goes before 4.
	Queue    Lane
	Priority int
	// Alone keeps one such job at a time: while one waits or runs, no other with the same arguments is enqueued.
	Alone bool
}

// Lane is where a job waits.
type Lane string

// The lanes: what people wait for, what nobody waits for and never takes a place from that, and those that never wait for each other:
// films, which take long, large acts, of which there can be very many, and letters, behind which somebody cannot sign in.
const (
	LargeActs  Lane = "large_acts"
	Letters    Lane = "letters"
	Waited     Lane = river.QueueDefault
	Background Lane = "background"
	Films      Lane = "films"

	filmsAtOnce = 2
)

// lanesOfTheirOwn are how many jobs of each lane run at a time beside those that people wait for.
var lanesOfTheirOwn = map[Lane]int{Background: 1, Films: filmsAtOnce, LargeActs: 2, Letters: 2}

// Tries are how often a job is tried, and how long after so many failures it is tried again.
type Tries struct {
	Most  int
	After func(failures int) time.Duration
}

// Soon suits local work that somebody waits for: 5 tries, after 1, 4, 9 and 16 seconds.
var Soon = Tries{Most: 5, After: func(n int) time.Duration { return time.Duration(n*n) * time.Second }}

// Patient suits what depends on others: 8 tries over half a day, after 10 seconds, then after 1, 5, 15, 60, 180 and 360 minutes.
var Patient = Tries{Most: 8, After: func(n int) time.Duration {
	minutes := []time.Duration{0, 1, 5, 15, 60, 180, 360}
	if n <= 1 {
		return 10 * time.Second
	}
	return minutes[min(n-1, len(minutes)-1)] * time.Minute
}}

// Once suits what comes round again by itself.
var Once = Tries{Most: 1, After: func(int) time.Duration { return time.Second }}

// ErrKilled is why a job gave up at which its process was killed again and again: it may be the job that kills.
var ErrKilled = errors.New("the process was killed each time that it was tried")

// mostKilled is how often a process may be killed at a job. Being killed is no failure of the job, which is tried again.
const mostKilled = 20

// killed is how often a process was killed at a job (see store.ReleaseJobs).
func killed(metadata []byte) int {
	var noted struct {
		Killed int `json:"killed"`
	}
	if json.Unmarshal(metadata, &noted) != nil {
		return 0
	}
	return noted.Killed
}

// Nothing is the GaveUp of jobs that come round again by themselves and that nothing waits for.
func Nothing[A Args](context.Context, A, error) error { return nil }

// Later makes a job wait for something: it is done again after d, which is no failure.
func Later(d time.Duration) error { return river.JobSnooze(d) }

// Outcomes counts the jobs that ended, by kind and outcome: done, failed (is tried again), gave up.
var Outcomes = prometheus.NewCounterVec(prometheus.CounterOpts{Name: "satchel_jobs_total",
	Help: "Background jobs by kind and outcome."}, []string{"kind", "outcome"})

// Add makes a queue know a kind of job.
func Add[A Args](q *Queue, k Kind[A]) {
	var args A
	if k.Do == nil || k.GaveUp == nil || k.Tries.After == nil || k.Queue == "" {
		panic("the kind of job " + args.Kind() + " does not say what it does, where it waits, how often it is tried, or what becomes of " +
			"what it gives up")
	}
	opts := river.InsertOpts{MaxAttempts: mostTries, Queue: string(k.Queue), Priority: max(1, k.Priority)}
	if k.Alone {
		opts.UniqueOpts = river.UniqueOpts{ByArgs: true, ByState: []rivertype.JobState{
			rivertype.JobStateAvailable, rivertype.JobStatePending, rivertype.JobStateRunning, rivertype.JobStateRetryable,
			rivertype.JobStateScheduled}}
	}
	q.kinds[args.Kind()] = opts
	river.AddWorker(q.workers, &worker[A]{kind: k})
}

// Kinds lists the kinds of jobs that the queue knows.
func (q *Queue) Kinds() []string {
	out := []string{}
	for kind := range q.kinds {
		out = append(out, kind)
	}
	return out
}

// worker does the jobs of a kind.
type worker[A Args] struct {
	river.WorkerDefaults[A]
	kind Kind[A]
}

// NextRetry implements river.Worker.
func (w *worker[A]) NextRetry(job *river.Job[A]) time.Time {
	return time.Now().Add(w.kind.Tries.After(job.Attempt))
}

const (
	patience   = 30 * time.Second // for giving up
	againAfter = 10 * time.Second // when even giving up failed
)

// Work implements river.Worker.
func (w *worker[A]) Work(ctx context.Context, job *river.Job[A]) error {
	kind := job.Args.Kind()
	if job.Attempt-w.kind.Tries.Most > mostKilled || killed(job.Metadata) > mostKilled {
		return w.giveUp(ctx, job, ErrKilled)
	}
	err := w.try(ctx, job)
	var later *rivertype.JobSnoozeError
	switch {
	case err == nil:
		Outcomes.WithLabelValues(kind, "done").Inc()
		return nil
	case errors.As(err, &later):
		return err
	case errors.Is(ctx.Err(), context.Canceled): // the process is told to end, which is no failure of the job
		return river.JobSnooze(time.Second)
	case job.Attempt >= w.kind.Tries.Most:
		return w.giveUp(ctx, job, err)
	}
	Outcomes.WithLabelValues(kind, "failed").Inc()
	slog.Warn("a job failed and is tried again", "kind", kind, "job", job.ID, "try", job.Attempt, "error", err)
	return err
}

// try does the job; a panic in it is an error with its stack in the log.
func (w *worker[A]) try(ctx context.Context, job *river.Job[A]) (err error) {
	defer func() {
		if r := recover(); r != nil {
			slog.Error("a job panicked", "kind", job.Args.Kind(), "job", job.ID, "panic", r, "stack", string(debug.Stack()))
			err = fmt.Errorf("panic: %v", r)
		}
	}()
	return w.kind.Do(ctx, job.Args)
}

func (w *worker[A]) giveUp(ctx context.Context, job *river.Job[A], why error) error {
	kind := job.Args.Kind()
	slog.Error("a job gave up", "kind", kind, "job", job.ID, "tries", job.Attempt, "error", why)
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), patience)
	defer cancel()
	if err := w.kind.GaveUp(ctx, job.Args, why); err != nil {
		slog.Error("what a job was for could not be ended; it is done again", "kind", kind, "job", job.ID, "error", err)
		return river.JobSnooze(againAfter)
	}
	Outcomes.WithLabelValues(kind, "gave up").Inc()
	return nil
}
