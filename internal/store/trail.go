package store

import (
	"context"
	"time"
)

// TrailEntry is one thing that somebody did.
type TrailEntry struct {
	ID     int64     `db:"id"`
	Person int64     `db:"person_id"`
	By     string    `db:"by"`    // who did it: the person, or the machine that did it for them
	Agent  string    `db:"agent"` // the machine, or ""
	At     time.Time `db:"at"`
	Said   string    `db:"said"`
	Undone bool      `db:"undone"`
	Can    bool      `db:"can"` // it changed something that can be put back
}

const trailColumns = `t.id, t.person_id, coalesce(nullif(t.agent, ''), p.name) as by, t.agent, t.at, t.said,
	t.undone_by is not null as undone,
	t.action <> 'undo' and t.undone_by is null and exists (select from trail_change c where c.trail_id = t.id) as can from trail t
	join person p on p.id = t.person_id`

// Trail lists the last 200 entries of a brand, newest first; person 0 means everybody's.
func Trail(ctx context.Context, r Reader, brand, person int64) ([]TrailEntry, error) {
	return list[TrailEntry](ctx, r, `select `+trailColumns+` where t.brand_id = $1 and ($2 = 0 or t.person_id = $2) and t.said <> ''
		order by t.id desc limit 200`, brand, person)
}

// Note writes what was done into the trail, with nothing that could be undone.
func (tx *Tx) Note(ctx context.Context, brand, person int64, action, said string) error {
	_, err := tx.ExecContext(ctx, `insert into trail (brand_id, person_id, action, said, agent) values ($1, $2, $3, $4, $5)`, brand,
		person, action, said, agentOf(ctx))
	return err
}

// TrailOf lists what was done to an item, newest first.
func TrailOf(ctx context.Context, r Reader, brand, asset int64) ([]TrailEntry, error) {
	return list[TrailEntry](ctx, r, `select `+trailColumns+` where t.brand_id = $1 and t.said <> '' and t.id in (select trail_id
		from trail_change c where c.key @> jsonb_build_object('asset_id', $2::bigint)
			union select trail_id from trail_change c where c.table_name = 'asset' and c.key @> jsonb_build_object('id', $2::bigint))
			order by t.id desc limit 100`, brand, asset)
}
