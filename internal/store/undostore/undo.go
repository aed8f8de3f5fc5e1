// Package undostore keeps large acts that are done in pieces, and takes steps of the trail back.
package undostore

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/jackc/pgx/v5/pgconn"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/orderstore"
	"brightsatchel/internal/store/peoplestore"
)

// Undoable is a trail entry that somebody wants to undo.
type Undoable struct {
	Person  int64  `db:"person_id"`
	Action  string `db:"action"`
	Said    string `db:"said"`
	Undone  bool   `db:"undone"`
	GoesOn  bool   `db:"goes_on"`
	Changes int    `db:"changes"`
}

const undoable = `select t.person_id, t.action, t.said, t.undone_by is not null as undone,
	exists (select from bulk where trail_id = t.id and finished_at is null) as goes_on, (select count(*) from trail_change c
	where c.trail_id = t.id) as changes
	from trail t where t.id = $1`

// StepByID reads a trail entry of a brand.
func StepByID(ctx context.Context, r store.Reader, brand, entry int64) (Undoable, error) {
	return store.Get[Undoable](ctx, r, "That step is not in the trail.", undoable+` and t.brand_id = $2`, entry, brand)
}

// MayUndo reads a trail entry, and says what is against undoing it: it needs now the rights that doing the opposite needs,
// where that is done.
func MayUndo(ctx context.Context, r store.Reader, v *access.Viewer, entry int64) (Undoable, error) {
	e, err := StepByID(ctx, r, v.Brand, entry)
	if err != nil {
		return e, err
	}
	if !v.MayUndo(e.Person) {
		return e, fault.Forbiddenf("Only the person who did it, or a coordinator, can undo that.")
	}
	if err := e.refusal(); err != nil {
		return e, err
	}
	return e, mayTakeBack(ctx, r, v, entry)
}

// errNoRight is what somebody is told who has not, or no longer, the right that undoing needs.
var errNoRight = &fault.Forbidden{Text: "Undoing that needs a right that you do not have, or no longer have. Nothing was touched."}

func mayTakeBack(ctx context.Context, r store.Reader, v *access.Viewer, entry int64) error {
	rows, err := store.List[struct {
		Table  string `db:"table_name"`
		Made   bool   `db:"made"`
		Gone   bool   `db:"gone"`
		Column string `db:"col"`
	}](ctx, r, `select distinct c.table_name, false as made, false as gone,
		case when col = 'stars' and '-1' in (c.before ->> 'stars', c.after ->> 'stars') then 'aside' else col end as col
		from trail_change c cross join jsonb_object_keys(c.before) col where trail_id = $1 and before is not null and after is not null
		union all select distinct table_name, before is null, after is null, '' from trail_change where trail_id = $1
		and (before is null or after is null)`, entry)
	if err != nil {
		return err
	}
	changes := make([]access.Changed, len(rows))
	others := false // it is about what is a person's own, who may be another one
	for i, c := range rows {
		changes[i] = access.Changed{Table: c.Table, Made: c.Made, Gone: c.Gone, Column: c.Column}
		others = others || slices.Contains(store.Own, c.Table)
	}
	if others { // nobody marks or carries for somebody else
		others, err = store.Get[bool](ctx, r, "", `select exists (select from trail_change where trail_id = $1 and table_name = any($3)
			and (key ->> 'person_id')::bigint <> $2)`, entry, v.Person, store.Own)
		if err != nil || others {
			return cmp.Or(err, error(errNoRight))
		}
	}
	for _, action := range store.Rights.Undoing(changes) {
		if err := mayTakeBackWhere(ctx, r, v, entry, action); err != nil {
			return err
		}
	}
	return nil
}

// mayTakeBackWhere checks one right for everything that an entry changed and for the folders that it goes back to.
func mayTakeBackWhere(ctx context.Context, r store.Reader, v *access.Viewer, entry int64, action access.Action) error {
	reach := v.May(action)
	if reach.All {
		return nil
	}
	if reach.None() {
		return errNoRight
	}
	assets, err := store.List[int64](ctx, r, `select distinct coalesce(key ->> 'asset_id',
		case when table_name = 'asset' then key ->> 'id' end)::bigint from trail_change
		where trail_id = $1 and (table_name = 'asset' or key ? 'asset_id')`, entry)
	if err != nil {
		return err
	}
	if len(assets) > 0 {
		if err := store.AllReachable(ctx, r, v, action, assets); err != nil {
			return cmp.Or(onlyFault(err), error(errNoRight))
		}
	}
	if action != access.File {
		return nil
	}
	folders, err := store.List[int64](ctx, r, `select distinct coalesce((before ->> 'folder_id')::bigint, 0) from trail_change
		where trail_id = $1 and table_name = 'asset' and before ? 'folder_id'
		union select distinct case when after is null then coalesce((before ->> 'parent_id')::bigint, 0) else (key ->> 'id')::bigint end
		from trail_change where trail_id = $1 and table_name = 'folder'`, entry)
	for _, id := range folders {
		if !reach.Folder(id) {
			return errNoRight
		}
	}
	return err
}

// onlyFault is an error unless it is one of the person's, which a caller words anew.
func onlyFault(err error) error {
	var forbidden *fault.Forbidden
	var missing *fault.NotFound
	if errors.As(err, &forbidden) || errors.As(err, &missing) {
		return nil
	}
	return err
}

func (e *Undoable) refusal() error {
	switch {
	case e.Undone:
		return &fault.Conflict{Text: "That has been undone already."}
	case e.GoesOn:
		return &fault.Conflict{Text: "That is still being done. Undo it when it is finished."}
	}
	return nil
}

// Undo takes back what a trail entry changed. It refuses, and says who and why, where somebody changed the thing since.
func Undo(ctx context.Context, db *store.DB, v *access.Viewer, entry int64) (store.Done, error) {
	e, err := MayUndo(ctx, db, v, entry)
	if err != nil {
		return store.Done{}, err
	}
	done, err := db.Act(ctx, v, e.Opposite(), func(tx *store.Tx) (store.Done, error) {
		if _, err := MayUndo(ctx, tx, v, entry); err != nil {
			return store.Done{}, err
		}
		return undo(ctx, db, tx, v, entry)
	})
	return done, explainUndo(ctx, db, entry, err)
}

// UndoOf takes back what a trail entry did to one item, and leaves the rest of it as it is.
func UndoOf(ctx context.Context, db *store.DB, v *access.Viewer, entry, asset int64) (store.Done, error) {
	e, err := StepByID(ctx, db, v.Brand, entry)
	if err != nil {
		return store.Done{}, err
	}
	done, err := db.Act(ctx, v, e.Opposite(), func(tx *store.Tx) (store.Done, error) {
		part, err := tx.Split(ctx, v, entry, asset)
		if err != nil {
			return store.Done{}, err
		}
		if _, err := MayUndo(ctx, tx, v, part); err != nil {
			return store.Done{}, err
		}
		done, err := undo(ctx, db, tx, v, part)
		if err != nil || part == entry {
			return done, err
		}
		name, err := store.Get[string](
			ctx,
			tx,
			assetstore.AssetMissing,
			`select coalesce(nullif(title, ''), file_name) from asset where id = $1`,
			asset,
		)
		done.Said += ", only for “" + name + "”"
		return done, err
	})
	return done, explainUndo(ctx, db, entry, err)
}

// UndoInto is Undo within a bulk change that was begun before, which it ends in the same transaction: a server that is
// killed has done both or neither. The person is looked at anew.
func UndoInto(ctx context.Context, db *store.DB, entry int64, b Bulk) (store.Done, error) {
	var done store.Done
	err := db.InTx(ctx, func(tx *store.Tx) error {
		if _, err := tx.ExecContext(ctx, `set local statement_timeout = 0`); err != nil {
			return err
		}
		open, err := LockBulk(ctx, tx, b.ID)
		if err != nil || !open {
			return err
		}
		v, err := peoplestore.ViewerIn(ctx, tx, b.Person, b.Brand)
		if err != nil {
			return err
		}
		if _, err := MayUndo(ctx, tx, v, entry); err != nil {
			return err
		}
		if err := tx.ContinueTrail(ctx, b.Trail); err != nil {
			return err
		}
		if done, err = undo(ctx, db, tx, v, entry); err != nil {
			return err
		}
		return EndBulk(ctx, tx, b.ID, done.Said, "")
	})
	return done, explainUndo(ctx, db, entry, err)
}

func undo(ctx context.Context, db *store.DB, tx *store.Tx, v *access.Viewer, entry int64) (store.Done, error) {
	row, err := store.Get[Undoable](ctx, tx, "That step is not in the trail.", undoable+` for no key update of t`, entry)
	if err != nil {
		return store.Done{}, err
	}
	if err := row.refusal(); err != nil {
		return store.Done{}, err
	}
	n, special, err := db.ByItsWay(ctx, tx, v, entry)
	switch {
	case err != nil || special:
	case row.Action == "bring_in":
		n, err = intakestore.UndoIntake(ctx, tx, entry)
	default:
		err = tx.GetContext(ctx, &n, `select undo_trail($1)`, entry)
	}
	if err != nil {
		return store.Done{}, err
	}
	if n == 0 {
		return store.Done{}, &fault.Conflict{Text: "Nothing of it is left to undo."}
	}
	if err := orderstore.Mend(ctx, tx, entry); err != nil {
		return store.Done{}, err
	}
	_, err = tx.ExecContext(ctx, `update trail set undone_by = nullif(current_setting('satchel.trail'), '')::bigint where id = $1`, entry)
	return store.Done{Said: row.SaidOfOpposite(), Changed: n}, err
}

// Opposite is the action that undoes an entry: undoing an undo does its step again, and that can be undone as any other.
func (e *Undoable) Opposite() string {
	if e.Action == "undo" {
		return "redo"
	}
	return "undo"
}

const saidUndone, saidAgain = "Undone: ", "Done again: "

// DoingOpposite words what begins when an entry is undone, while it goes on.
func (e *Undoable) DoingOpposite() string {
	doing := strings.Replace(e.SaidOfOpposite(), saidAgain, "Doing again: ", 1)
	return strings.Replace(doing, saidUndone, "Undoing: ", 1)
}

// SaidOfOpposite words what undoing an entry does.
func (e *Undoable) SaidOfOpposite() string {
	step := lowerFirst(strings.TrimPrefix(strings.TrimPrefix(e.Said, saidUndone), saidAgain))
	if e.Opposite() == "redo" {
		return saidAgain + step
	}
	return saidUndone + step
}

// explainUndo turns what undo_trail raised into a conflict that names who changed the thing since.
func explainUndo(ctx context.Context, db *store.DB, entry int64, err error) error {
	var pg *pgconn.PgError
	if !errors.As(err, &pg) {
		return err
	}
	switch pg.Code {
	case "SB001":
		table, key, _ := strings.Cut(pg.Detail, " ")
		who, lookupErr := store.Get[string](ctx, db, "", `select p.name from trail_change c join trail t on t.id = c.trail_id
			join person p on p.id = t.person_id where c.table_name = $1 and c.key @> $2::jsonb and t.id > $3
			order by t.id desc limit 1`, table, key, entry)
		if lookupErr != nil {
			who = "Somebody"
		}
		return &fault.Conflict{Text: who + " has changed it since, so it cannot be undone. Nothing was touched.", By: who}
	case "23503":
		return &fault.Conflict{Text: "Something has been put in there since, so it cannot be undone. Nothing was touched."}
	case "23505":
		return &fault.Conflict{Text: "Something of that name is there now, so it cannot be undone. Nothing was touched."}
	}
	return err
}

func lowerFirst(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	return string(unicode.ToLower(first)) + s[size:]
}
