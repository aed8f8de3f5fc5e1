package store

import (
	"context"
	"encoding/json"

	"brightsatchel/internal/core/access"
)

// Change is what a trail entry did to one row: the columns that changed, before and after.
type Change struct {
	ID     int64           `db:"id"` // of the row
	Before json.RawMessage `db:"before"`
	After  json.RawMessage `db:"after"`
}

// WayBack takes back, as the same person would do it by hand and under the same rules, what an entry did to rows of a table of which
// putting the columns back is not enough: something has to follow from it. An error of the person's refuses the whole undoing.
type WayBack func(ctx context.Context, tx *Tx, v *access.Viewer, changes []Change) error

// TakeBack makes a way back known for the rows of a table; an entry that changed such rows changed no others. It is called before anything
// is undone.
func (db *DB) TakeBack(table string, way WayBack) {
	if db.waysBack == nil {
		db.waysBack = map[string]WayBack{}
	}
	db.waysBack[table] = way
}

// byItsWay undoes an entry by the way back of its table; false where its table has none.
func (db *DB) byItsWay(ctx context.Context, tx *Tx, v *access.Viewer, entry int64) (int, bool, error) {
	tables, err := list[string](ctx, tx, `select distinct table_name from trail_change where trail_id = $1 limit 2`, entry)
	if err != nil || len(tables) != 1 || db.waysBack[tables[0]] == nil {
		return 0, false, err
	}
	changes, err := list[Change](ctx, tx, `select (key ->> 'id')::bigint as id, before, after from trail_change where trail_id = $1
		order by id desc`, entry)
	if err != nil {
		return 0, true, err
	}
	return len(changes), true, db.waysBack[tables[0]](ctx, tx, v, changes)
}

// NoteChange writes into the entry of the transaction what it did to a row of a table that is not recorded by itself.
func (tx *Tx) NoteChange(ctx context.Context, table string, id int64, before, after any) error {
	was, err := json.Marshal(before)
	if err != nil {
		return err
	}
	becomes, err := json.Marshal(after)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `insert into trail_change (trail_id, table_name, key, before, after)
		values (current_setting('satchel.trail')::bigint, $1, jsonb_build_object('id', $2::bigint), $3, $4)`, table, id, string(was),
		string(becomes))
	return err
}
