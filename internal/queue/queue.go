// Package queue runs background work that is kept in PostgreSQL (River): a job is enqueued in the transaction that
// causes it, so that neither exists without the other, and a job that was killed half-way is done again.
package queue

import (
	"context"
	"database/sql"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"brightsatchel/internal/store"
)

// Attempts is how often a job is tried before it counts as failed.
const Attempts = 5

// Queue takes jobs, and runs them where Start was called.
type Queue struct {
	db     *store.DB
	insert *river.Client[*sql.Tx]
	run    *river.Client[pgx.Tx]
}

// New returns a queue that only takes jobs.
func New(db *store.DB) (*Queue, error) {
	insert, err := river.NewClient(riverdatabasesql.New(db.DB.DB), &river.Config{MaxAttempts: Attempts, Logger: quiet()})
	return &Queue{db: db, insert: insert}, err
}

// Enqueue adds a job in a transaction.
func (q *Queue) Enqueue(ctx context.Context, tx *store.Tx, job river.JobArgs) error {
	_, err := q.insert.InsertTx(ctx, tx.Tx.Tx, job, nil)
	return err
}

// EnqueueAll adds many jobs in a transaction.
func (q *Queue) EnqueueAll(ctx context.Context, tx *store.Tx, jobs []river.JobArgs) error {
	const piece = 1000
	for len(jobs) > 0 {
		n := min(piece, len(jobs))
		params := make([]river.InsertManyParams, n)
		for i, job := range jobs[:n] {
			params[i].Args = job
		}
		if _, err := q.insert.InsertManyFastTx(ctx, tx.Tx.Tx, params); err != nil {
			return err
		}
		jobs = jobs[n:]
	}
	return nil
}

// Background is the queue for work that nobody waits for: it never takes a place from what people started.
const Background = "background"

// Start runs jobs with the given workers, so many at a time, until Stop, and enqueues the periodic ones when they are due,
// in one process of all that run. Name is unique to this process among those that
// run now, and the same when it is started again: jobs that it left running when it was killed are taken up at once.
func (q *Queue) Start(ctx context.Context, name string, workers *river.Workers, periodic []*river.PeriodicJob, atOnce int) error {
	if err := q.db.ReleaseJobs(ctx, name); err != nil {
		return err
	}
	client, err := river.NewClient(riverpgxv5.New(q.db.Pool), &river.Config{
		ID:                   name,
		Logger:               quiet(),
		Workers:              workers,
		PeriodicJobs:         periodic,
		Queues:               map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: atOnce}, Background: {MaxWorkers: 1}},
		MaxAttempts:          Attempts,
		FetchCooldown:        5 * time.Millisecond,
		FetchPollInterval:    time.Second,
		JobTimeout:           25 * time.Minute,
		RescueStuckJobsAfter: 30 * time.Minute,
		RetryPolicy:          soon{},
	})
	if err != nil {
		return err
	}
	q.run = client
	return client.Start(ctx)
}

// Stop waits for the running jobs, at most until ctx ends, and then cuts them off; they are done again later.
func (q *Queue) Stop(ctx context.Context) {
	if q.run == nil {
		return
	}
	if err := q.run.Stop(ctx); err != nil {
		cut, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
		defer cancel()
		_ = q.run.StopAndCancel(cut)
	}
}

// soon tries again after 1, 4, 9 and 16 seconds: somebody is waiting.
type soon struct{ river.DefaultClientRetryPolicy }

func (soon) NextRetry(job *rivertype.JobRow) time.Time {
	n := len(job.Errors) + 1
	return time.Now().Add(time.Duration(n*n) * time.Second)
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

// OneAtATime are the options of a job that runs now and then: while one waits or runs, no other of its kind is enqueued.
func OneAtATime() river.InsertOpts {
	return river.InsertOpts{MaxAttempts: 1, UniqueOpts: river.UniqueOpts{ByState: []rivertype.JobState{
		rivertype.JobStateAvailable, rivertype.JobStatePending, rivertype.JobStateRunning, rivertype.JobStateRetryable, rivertype.JobStateScheduled}}}
}
