package store

import (
	"context"
	"time"
)

// TrailEntry is one thing that somebody did.
type TrailEntry struct {
	ID     int64     `db:"id"`
	Person int64     `db:"person_id"`
	By     string    `db:"by"`
	At     time.Time `db:"at"`
	Said   string    `db:"said"`
	Undone bool      `db:"undone"`
}

// Trail lists the last 200 entries of a brand, newest first; person 0 means everybody's.
func Trail(ctx context.Context, r Reader, brand, person int64) ([]TrailEntry, error) {
	return list[TrailEntry](ctx, r, `select t.id, t.person_id, p.name as by, t.at, t.said, t.undone_by is not null as undone from trail t
		join person p on p.id = t.person_id where t.brand_id = $1 and ($2 = 0 or t.person_id = $2) and t.said <> '' order by t.id desc limit 200`, brand, person)
}
