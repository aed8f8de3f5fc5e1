package store

import (
	"context"
	"slices"
	"strings"
	"time"
)

// AttemptLimit is how many attempts may be made under a key within a time.
type AttemptLimit struct {
	Key  string
	Most int
}

// CountAttempt counts an attempt under all keys, in one statement, so that of many at the same time each has its number. It
// returns how long to wait when it is one too many under any of them, else 0.
func (db *DB) CountAttempt(ctx context.Context, limits []AttemptLimit, within time.Duration) (time.Duration, error) {
	// In one order, so that two of them never wait for each other.
	limits = slices.SortedFunc(slices.Values(limits), func(a, b AttemptLimit) int { return strings.Compare(a.Key, b.Key) })
	keys, most := make([]string, len(limits)), make([]int64, len(limits))
	for i, l := range limits {
		keys[i], most[i] = l.Key, int64(l.Most)
	}
	seconds, err := get[float64](ctx, db, "", `with counted as (
			insert into attempt_count as c (key, began, n) select k, now(), 1 from unnest($1::text[]) k
			on conflict (key) do update set n = case when c.began < now() - make_interval(secs => $3) then 1 else c.n + 1 end,
				began = case when c.began < now() - make_interval(secs => $3) then now() else c.began end
			returning key, n, began)
		select coalesce(max(extract(epoch from c.began - now()) + $3) filter (where c.n > l.most), 0) from counted c
		join unnest($1::text[], $2::bigint[]) l(key, most) using (key)`,
		keys, most, within.Seconds())
	return time.Duration(seconds * float64(time.Second)), err
}

// ForgetAttempt takes back that an attempt was counted, since it was right; those before it from the same place are forgotten
// too.
func (db *DB) ForgetAttempt(ctx context.Context, limits []AttemptLimit) error {
	keys := make([]string, len(limits))
	for i, l := range limits {
		keys[i] = l.Key
	}
	return db.InTx(ctx, func(tx *Tx) error {
		_, err := tx.ExecContext(ctx, `update attempt_count c set n = case when c.key = $2 then 0 else greatest(0, c.n - 1) end
			from (select key from attempt_count where key = any($1) order by key for update) locked where c.key = locked.key`, keys,
			limits[0].Key)
		return err
	})
}

// ClearAttempts forgets attempts that count no more.
func (db *DB) ClearAttempts(ctx context.Context, within time.Duration) error {
	_, err := db.ExecContext(ctx, `delete from attempt_count where began < now() - make_interval(secs => $1)`, within.Seconds())
	return err
}
