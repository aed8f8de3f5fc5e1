// Package queue runs background work that is kept in PostgreSQL (River): a job is enqueued in the transaction that
// causes it, so that neither exists without the other, and a job that was killed half-way is done again.
package queue

import (
	"context"
	"database/sql"
	"fmt"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"

	"brightsatchel/internal/store"
)

// Args is what a job is told. It is kept as JSON, and says which kind of job it is.
type Args = river.JobArgs

// Ranked is a job that says itself how early it comes among those of its lane: 1 goes before 4.
type Ranked interface{ Rank() int }

// Queue takes jobs, and runs them where Start was called.
type Queue struct {
	db      *store.DB
	insert  *river.Client[*sql.Tx]
	run     *river.Client[pgx.Tx]
	workers *river.Workers
	kinds   map[string]river.InsertOpts
	regular []*river.PeriodicJob
}

// mostTries is more than any kind of job has: the kinds count their tries themselves, so that the queue never lets go of a
// job without the kind knowing.
const mostTries = 1000

// New returns a queue that only takes jobs. Add the kinds of jobs before any is enqueued.
func New(db *store.DB) (*Queue, error) {
	insert, err := river.NewClient(riverdatabasesql.New(db.Plain()), &river.Config{MaxAttempts: mostTries, Logger: quiet()})
	return &Queue{db: db, insert: insert, workers: river.NewWorkers(), kinds: map[string]river.InsertOpts{}}, err
}

func (q *Queue) opts(job Args) (*river.InsertOpts, error) {
	opts, known := q.kinds[job.Kind()]
	if !known {
		return nil, fmt.Errorf("nobody knows how to do a job of the kind %q", job.Kind())
	}
	if ranked, is := job.(Ranked); is {
		opts.Priority = ranked.Rank()
	}
	return &opts, nil
}

// Enqueue adds a job in a transaction.
func (q *Queue) Enqueue(ctx context.Context, tx *store.Tx, job Args) error {
	opts, err := q.opts(job)
	if err != nil {
		return err
	}
	_, err = q.insert.InsertTx(ctx, tx.Plain(), job, opts)
	return err
}

// EnqueueAll adds many jobs in a transaction.
func (q *Queue) EnqueueAll(ctx context.Context, tx *store.Tx, jobs []Args) error {
	const piece = 1000
	for len(jobs) > 0 {
		n := min(piece, len(jobs))
		params := make([]river.InsertManyParams, n)
		for i, job := range jobs[:n] {
			opts, err := q.opts(job)
			if err != nil {
				return err
			}
			params[i] = river.InsertManyParams{Args: job, InsertOpts: opts}
		}
		if _, err := q.insert.InsertManyFastTx(ctx, tx.Plain(), params); err != nil {
			return err
		}
		jobs = jobs[n:]
	}
	return nil
}

// Regularly has a job done now and then: in one process of all that run. AtStart has it done at once too.
func (q *Queue) Regularly(every time.Duration, atStart bool, job Args) {
	opts, err := q.opts(job)
	if err != nil {
		panic(err)
	}
	q.regular = append(q.regular, river.NewPeriodicJob(river.PeriodicInterval(every),
		func() (river.JobArgs, *river.InsertOpts) { return job, opts }, &river.PeriodicJobOpts{RunOnStart: atStart}))
}

// Start runs jobs, so many of those that people wait for at a time, until Stop. Jobs that processes which are gone left
// running are taken up at once.
func (q *Queue) Start(ctx context.Context, self *Identity, atOnce int) error {
	for _, name := range self.inherited {
		if err := q.db.ReleaseJobs(ctx, name); err != nil {
			return err
		}
	}
	lanes := map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: atOnce}}
	for lane, most := range lanesOfTheirOwn {
		lanes[string(lane)] = river.QueueConfig{MaxWorkers: most}
	}
	client, err := river.NewClient(riverpgxv5.New(q.db.Pool), &river.Config{
		ID:                   self.Name,
		Logger:               quiet(),
		Workers:              q.workers,
		PeriodicJobs:         q.regular,
		Queues:               lanes,
		MaxAttempts:          mostTries,
		FetchCooldown:        5 * time.Millisecond,
		FetchPollInterval:    time.Second,
		JobTimeout:           25 * time.Minute,
		RescueStuckJobsAfter: 30 * time.Minute,
	})
	if err != nil {
		return err
	}
	q.run = client
	return client.Start(ctx)
}

// Stop waits for the running jobs, at most until ctx ends, and then cuts them off; they are done again later. It says whether
// none is left running.
func (q *Queue) Stop(ctx context.Context) (clean bool) {
	if q.run == nil {
		return true
	}
	if err := q.run.Stop(ctx); err == nil {
		return true
	}
	cut, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	return q.run.StopAndCancel(cut) == nil
}

func quiet() *slog.Logger {
	return slog.New(levelAtLeast{slog.Default().Handler(), slog.LevelWarn})
}

type levelAtLeast struct {
	slog.Handler
	level slog.Level
}

func (h levelAtLeast) Enabled(ctx context.Context, level slog.Level) bool {
	return level >= h.level && h.Handler.Enabled(ctx, level)
}
