package poststore

import (
	"context"
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
)

// CountAttempt counts an attempt under all keys, unless it is one too many under any of them: then it counts under none, so that nobody
// uses up what is others', and it returns how long to wait. Of many at the same time each has its number.
func CountAttempt(ctx context.Context, db *store.DB, limits ...access.Limit) (wait time.Duration, err error) {
	err = db.InTx(ctx, func(tx *store.Tx) error {
		attempts, now, err := holdAttempts(ctx, tx, limits)
		if err != nil {
			return err
		}
		for _, l := range limits {
			wait = max(wait, l.Wait(attempts[l.Key], now))
		}
		if wait > 0 {
			return nil
		}
		for _, l := range limits {
			attempts[l.Key] = l.Counted(attempts[l.Key], now)
		}
		return keepAttempts(ctx, tx, attempts)
	})
	return wait, err
}

// ForgetAttempt takes back that an attempt was counted, since it was right; those before it under the first key are forgotten too.
func ForgetAttempt(ctx context.Context, db *store.DB, limits ...access.Limit) error {
	return db.InTx(ctx, func(tx *store.Tx) error {
		attempts, now, err := holdAttempts(ctx, tx, limits)
		if err != nil {
			return err
		}
		for i, l := range limits {
			attempts[l.Key] = l.TakenBack(attempts[l.Key], now)
			if i == 0 {
				attempts[l.Key] = access.Attempts{Began: now, Last: now}
			}
		}
		return keepAttempts(ctx, tx, attempts)
	})
}

// holdAttempts locks what was counted under keys, in one order, so that two never wait for each other, and says what time it is for the
// database.
func holdAttempts(ctx context.Context, tx *store.Tx, limits []access.Limit) (attempts map[string]access.Attempts, now time.Time,
	err error) {
	keys := make([]string, len(limits))
	for i, l := range limits {
		keys[i] = l.Key
	}
	slices.SortFunc(keys, strings.Compare)
	if _, err := tx.ExecContext(ctx, `insert into attempt_count (key, n) select k, 0 from unnest($1::text[]) k on conflict do nothing`,
		keys); err != nil {
		return nil, now, err
	}
	rows, err := store.List[struct {
		Key   string    `db:"key"`
		N     int       `db:"n"`
		Began time.Time `db:"began"`
		Last  time.Time `db:"last_at"`
		Now   time.Time `db:"now"`
	}](ctx, tx, `select key, n, began, last_at, clock_timestamp() as now from attempt_count where key = any($1) order by key for update`, keys)
	attempts = map[string]access.Attempts{}
	for _, r := range rows {
		attempts[r.Key] = access.Attempts{N: r.N, Began: r.Began, Last: r.Last}
		now = r.Now
	}
	return attempts, now, err
}

func keepAttempts(ctx context.Context, tx *store.Tx, attempts map[string]access.Attempts) error {
	for key, a := range attempts {
		if _, err := tx.ExecContext(ctx, `update attempt_count set n = $2, began = $3, last_at = $4 where key = $1`, key, a.N, a.Began,
			a.Last); err != nil {
			return err
		}
	}
	return nil
}

// ClearAttempts forgets attempts of which none was made for so long: they count no more.
func ClearAttempts(ctx context.Context, tx *store.Tx, within time.Duration) error {
	_, err := tx.ExecContext(ctx, `delete from attempt_count where last_at < now() - make_interval(secs => $1)`, within.Seconds())
	return err
}
