package store

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"strconv"

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

// ByItsWay undoes an entry by the way back of its table; false where its table has none.
func (db *DB) ByItsWay(ctx context.Context, tx *Tx, v *access.Viewer, entry int64) (int, bool, error) {
	tables, err := List[string](ctx, tx, `select distinct table_name from trail_change where trail_id = $1 limit 2`, entry)
	if err != nil || len(tables) != 1 || db.waysBack[tables[0]] == nil {
		return 0, false, err
	}
	changes, err := List[Change](ctx, tx, `select (key ->> 'id')::bigint as id, before, after from trail_change where trail_id = $1
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

// again is how the step of a person is called that did the same several times in a row.
var again = regexp.MustCompile(`, (\d+) times in a row$`)

// FoldStep makes one step of two, where the one before did the same to the same items within a minute and nothing was done in between: it
// goes from how they were before the first to how they are now. It returns the step that remains, and what is said of it. Steps that make
// or remove something, and those that go on in pieces, stay as they are.
func (tx *Tx) FoldStep(ctx context.Context, entry int64) (int64, string, error) {
	found, err := List[struct {
		ID   int64  `db:"id"`
		Said string `db:"said"`
		Was  string `db:"was"`
	}](ctx, tx, `with now as (select * from trail where id = $1),
		before as (select t.* from trail t join now on t.brand_id = now.brand_id and t.person_id = now.person_id and t.id < now.id
			order by t.id desc limit 1),
		of as (select trail_id, count(*) as n, md5(string_agg(table_name || key::text, ',' order by table_name, key::text)) as keys,
			bool_and(before is not null and after is not null) as plain
			from trail_change where trail_id in ($1, (select id from before)) group by 1)
		select b.id, now.said, b.said as was from before b, now, of x, of y where x.trail_id = b.id and y.trail_id = now.id
		and x.keys = y.keys and x.plain and y.plain and b.action = now.action and b.agent = now.agent and b.undone_by is null
		and b.at > now.at - interval '1 minute' and not exists (select from bulk where trail_id in (b.id, now.id))`, entry)
	if err != nil || len(found) == 0 || again.ReplaceAllString(found[0].Was, "") != found[0].Said {
		return entry, "", err
	}
	free, err := List[int64](ctx, tx, `select id from trail where id = $1 and undone_by is null for no key update`, found[0].ID)
	if err != nil || len(free) == 0 { // it is undone just now
		return entry, "", err
	}
	times := 2
	if m := again.FindStringSubmatch(found[0].Was); m != nil {
		n, _ := strconv.Atoi(m[1])
		times = n + 1
	}
	said := fmt.Sprintf("%s, %d times in a row", found[0].Said, times)
	for _, statement := range []string{
		`update trail_change c set before = n.before || c.before, after = c.after || n.after from trail_change n
			where c.trail_id = $1 and n.trail_id = $2 and n.table_name = c.table_name and n.key = c.key`,
		`delete from trail_change where $1 > 0 and trail_id = $2`,
		`delete from trail_folder where $1 > 0 and trail_id = $2`,
		`delete from trail where $1 > 0 and id = $2`,
	} {
		if _, err := tx.ExecContext(ctx, statement, found[0].ID, entry); err != nil {
			return entry, "", err
		}
	}
	_, err = tx.ExecContext(ctx, `update trail set said = $2, at = now() where id = $1`, found[0].ID, said)
	return found[0].ID, said, err
}
