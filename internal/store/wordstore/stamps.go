package wordstore

import (
	"context"
	"database/sql"

	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/store"
)

// Stamped is when an item was taken: now, and as its file has it.
type Stamped struct {
	ID        int64
	Name      string // of the file
	Now, File calendar.Stamp
}

// StampsOf reads when items were taken, in the order of the ids.
func StampsOf(ctx context.Context, r store.Reader, ids []int64) ([]Stamped, error) {
	rows, err := store.List[struct {
		ID       int64        `db:"id"`
		Name     string       `db:"file_name"`
		At       sql.NullTime `db:"captured_at"`
		Zone     string       `db:"captured_zone"`
		FileAt   sql.NullTime `db:"file_captured_at"`
		FileZone string       `db:"file_captured_zone"`
	}](ctx, r, `select a.id, a.file_name, a.captured_at, a.captured_zone, a.file_captured_at, a.file_captured_zone
		from unnest($1::bigint[]) with ordinality u(id, n) join asset a on a.id = u.id order by u.n`, ids)
	out := make([]Stamped, len(rows))
	for i, row := range rows {
		out[i] = Stamped{ID: row.ID, Name: row.Name, Now: calendar.Stamp{Zone: row.Zone}, File: calendar.Stamp{Zone: row.FileZone}}
		if row.At.Valid {
			out[i].Now.At = &row.At.Time
		}
		if row.FileAt.Valid {
			out[i].File.At = &row.FileAt.Time
		}
	}
	return out, err
}

// Stamp writes when items were taken, and returns how many changed.
func Stamp(ctx context.Context, tx *store.Tx, stamped []Stamped) (int, error) {
	ids, moments, zones := make([]int64, len(stamped)), make([]*string, len(stamped)), make([]string, len(stamped))
	for i, s := range stamped {
		ids[i], zones[i] = s.ID, s.Now.Zone
		if s.Now.At != nil {
			text := s.Now.At.Format("2006-01-02 15:04:05.999999")
			moments[i] = &text
		}
	}
	return tx.Change(ctx, `update asset a set captured_at = s.at::timestamp, captured_zone = s.zone
		from unnest($1::bigint[], $2::text[], $3::text[]) as s(id, at, zone) where a.id = s.id
		and (a.captured_at, a.captured_zone) is distinct from (s.at::timestamp, s.zone)`, ids, moments, zones)
}
