package queue_test

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

var ctx = context.Background()

type errand struct {
	Name string `json:"name"`
}

func (errand) Kind() string { return "errand" }

// book keeps what was done and what was given up.
type book struct {
	mu    sync.Mutex
	tried map[string]int
	ended map[string]error
}

func (b *book) try(name string) int {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.tried[name]++
	return b.tried[name]
}

func (b *book) end(name string, why error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.ended[name] = why
}

func (b *book) endOf(name string) (error, bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	why, ended := b.ended[name]
	return why, ended
}

// quick is like Soon without the waiting.
var quick = queue.Tries{Most: 3, After: func(int) time.Duration { return 10 * time.Millisecond }}

func errands(t *testing.T, db *store.DB, b *book, do func(name string, try int) error) *queue.Queue {
	t.Helper()
	q, err := queue.New(db)
	require.NoError(t, err)
	queue.Add(q, queue.Kind[errand]{
		Do: func(_ context.Context, e errand) error { return do(e.Name, b.try(e.Name)) },
		GaveUp: func(_ context.Context, e errand, why error) error {
			b.end(e.Name, why)
			return nil
		},
		Tries: quick, Queue: queue.Waited,
	})
	return q
}

func start(t *testing.T, q *queue.Queue, dir string) {
	t.Helper()
	self, err := queue.Identify(dir)
	require.NoError(t, err)
	require.NoError(t, q.Start(ctx, self, 4))
	t.Cleanup(func() {
		ending, cancel := context.WithTimeout(ctx, 5*time.Second)
		defer cancel()
		q.Stop(ending)
	})
}

func TestWhatFailsIsTriedAndThenGivenUp(t *testing.T) {
	db := storetest.New(t)
	b := &book{tried: map[string]int{}, ended: map[string]error{}}
	q := errands(t, db, b, func(name string, try int) error {
		switch {
		case name == "at last" && try < 3:
			return errors.New("not yet")
		case name == "at last":
			b.end(name, nil)
			return nil
		case name == "panics":
			panic("of course")
		}
		return errors.New("never")
	})
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		return q.EnqueueAll(ctx, tx, []queue.Args{errand{"at last"}, errand{"never"}, errand{"panics"}})
	}))
	start(t, q, t.TempDir())
	for name, says := range map[string]string{"at last": "", "never": "never", "panics": "panic: of course"} {
		require.Eventually(t, func() bool { _, ended := b.endOf(name); return ended }, time.Minute, 10*time.Millisecond, name)
		why, _ := b.endOf(name)
		if says == "" {
			assert.NoError(t, why)
		} else {
			assert.ErrorContains(t, why, says)
		}
		assert.Equal(t, 3, b.tried[name], name)
	}
}

// TestBeingKilledIsNoFailure: what a process was killed at in its last try is tried once more; what kills again and again is
// given up.
func TestBeingKilledIsNoFailure(t *testing.T) {
	db := storetest.New(t)
	b := &book{tried: map[string]int{}, ended: map[string]error{}}
	q := errands(t, db, b, func(name string, _ int) error {
		b.end(name, nil)
		return nil
	})
	require.NoError(t, db.InTx(ctx, func(tx *store.Tx) error {
		return q.EnqueueAll(ctx, tx, []queue.Args{errand{"killed in its last try"}, errand{"kills"}})
	}))
	dir := t.TempDir()
	host, err := os.Hostname()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, host+".gone"), nil, 0o600))
	_, err = storetest.SQL(db).Exec(`update river_job set state = 'running', attempt = 3, attempted_at = now(), attempted_by = array[$1],
		metadata = case when args ->> 'name' = 'kills' then '{"killed": 20}' else '{}' end::jsonb`, host+".gone")
	require.NoError(t, err)
	start(t, q, dir)
	for _, name := range []string{"killed in its last try", "kills"} {
		require.Eventually(t, func() bool { _, ended := b.endOf(name); return ended }, time.Minute, 10*time.Millisecond, name)
	}
	why, _ := b.endOf("killed in its last try")
	require.NoError(t, why)
	why, _ = b.endOf("kills")
	require.ErrorIs(t, why, queue.ErrKilled)
	assert.Zero(t, b.tried["kills"], "it is not tried once more")
}

func TestAKindSaysWhatBecomesOfWhatItGivesUp(t *testing.T) {
	q, err := queue.New(storetest.New(t))
	require.NoError(t, err)
	assert.Panics(t, func() {
		queue.Add(q, queue.Kind[errand]{Do: func(context.Context, errand) error { return nil }, Tries: queue.Soon, Queue: queue.Waited})
	})
}

// TestProcessesDoNotTakeEachOthersJobs: one process that lives keeps its identity, one that was killed leaves it.
func TestProcessesDoNotTakeEachOthersJobs(t *testing.T) {
	if dir := os.Getenv("SATCHEL_TEST_IDENTITY"); dir != "" { // the other process
		self, err := queue.Identify(dir)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "other"), []byte(self.Name), 0o600))
		time.Sleep(time.Minute)
		return
	}
	dir := t.TempDir()
	other := exec.Command(os.Args[0], "-test.run", "^TestProcessesDoNotTakeEachOthersJobs$")
	other.Env = append(os.Environ(), "SATCHEL_TEST_IDENTITY="+dir)
	require.NoError(t, other.Start())
	t.Cleanup(func() { _ = other.Process.Kill() })
	var name []byte
	require.Eventually(t, func() bool {
		var err error
		name, err = os.ReadFile(filepath.Join(dir, "other"))
		return err == nil && len(name) > 0
	}, time.Minute, 10*time.Millisecond)
	first, err := queue.Identify(dir)
	require.NoError(t, err)
	assert.Empty(t, first.Inherited(), "the other one lives")
	first.Release(true)
	require.NoError(t, other.Process.Kill())
	_ = other.Wait()
	second, err := queue.Identify(dir)
	require.NoError(t, err)
	assert.Equal(t, []string{string(name)}, second.Inherited())
	second.Settled(dir)
	third, err := queue.Identify(dir)
	require.NoError(t, err)
	assert.Empty(t, third.Inherited(), "it is inherited once")
}
