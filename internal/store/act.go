package store

import (
	"context"
	"errors"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jmoiron/sqlx"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// Tx is a transaction.
type Tx struct {
	*sqlx.Tx
	finder Finder
}

// Done says what an action did: in words with numbers, to how many things, under which trail entry it can be undone
// (0 when nothing changed), the id of what it made, if anything, and whether it only begins now and is done in pieces.
type Done struct {
	Said    string
	Changed int
	Trail   int64
	ID      int64
	GoesOn  bool
}

// InTx runs f in a transaction that leaves no trail: for what the machine does by itself.
func (db *DB) InTx(ctx context.Context, f func(*Tx) error) error {
	tx, err := db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	if err := f(&Tx{tx, db.Finder}); err != nil {
		return err
	}
	return tx.Commit()
}

// Act runs f in a transaction as an action of a person. Every change to a tracked row is written into the trail (see
// record_change in the migrations). An action that changed nothing leaves no entry.
func (db *DB) Act(ctx context.Context, v *access.Viewer, action string, f func(*Tx) (Done, error)) (Done, error) {
	var done Done
	err := db.InTx(ctx, func(tx *Tx) error {
		entry, err := tx.OpenTrail(ctx, v.Brand, v.Person, action)
		if err != nil {
			return err
		}
		if done, err = f(tx); err != nil {
			return err
		}
		done.Trail = entry
		if done.Changed == 0 {
			done.Trail = 0
			_, err = tx.ExecContext(ctx, `delete from trail where id = $1`, entry)
			return err
		}
		_, err = tx.ExecContext(ctx, `update trail set said = $2 where id = $1`, entry, done.Said)
		return err
	})
	return done, err
}

// OpenTrail begins a trail entry and makes the rest of the transaction write into it.
func (tx *Tx) OpenTrail(ctx context.Context, brand, person int64, action string) (int64, error) {
	var entry int64
	err := tx.GetContext(ctx, &entry, `insert into trail (brand_id, person_id, action) values ($1, $2, $3) returning id`, brand, person, action)
	if err != nil {
		return 0, err
	}
	return entry, tx.ContinueTrail(ctx, entry)
}

// ContinueTrail makes the rest of the transaction write into an entry that was begun before.
func (tx *Tx) ContinueTrail(ctx context.Context, entry int64) error {
	_, err := tx.ExecContext(ctx, `select set_config('satchel.trail', $1::bigint::text, true)`, entry)
	return err
}

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
	exists (select from bulk where trail_id = t.id and finished_at is null) as goes_on, (select count(*) from trail_change c where c.trail_id = t.id) as changes
	from trail t where t.id = $1`

// MayUndo reads a trail entry, and says what is against undoing it.
func (db *DB) MayUndo(ctx context.Context, v *access.Viewer, entry int64) (Undoable, error) {
	e, err := get[Undoable](ctx, db, "That step is not in the trail.", undoable+` and t.brand_id = $2`, entry, v.Brand)
	if err == nil && !v.MayUndo(e.Person) {
		err = fault.Forbiddenf("Only the person who did it, or a coordinator, can undo that.")
	}
	if err == nil {
		err = e.refusal()
	}
	return e, err
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
func (db *DB) Undo(ctx context.Context, v *access.Viewer, entry int64) (Done, error) {
	if _, err := db.MayUndo(ctx, v, entry); err != nil {
		return Done{}, err
	}
	done, err := db.Act(ctx, v, "undo", func(tx *Tx) (Done, error) { return tx.undo(ctx, entry) })
	return done, db.explainUndo(ctx, entry, err)
}

// UndoInto is Undo within a trail entry that was begun before.
func (db *DB) UndoInto(ctx context.Context, entry, into int64) (Done, error) {
	var done Done
	err := db.InTx(ctx, func(tx *Tx) (err error) {
		if _, err = tx.ExecContext(ctx, `set local statement_timeout = 0`); err != nil {
			return err
		}
		if err = tx.ContinueTrail(ctx, into); err != nil {
			return err
		}
		done, err = tx.undo(ctx, entry)
		return err
	})
	return done, db.explainUndo(ctx, entry, err)
}

func (tx *Tx) undo(ctx context.Context, entry int64) (Done, error) {
	row, err := get[Undoable](ctx, tx, "That step is not in the trail.", undoable+` for update of t`, entry)
	if err != nil {
		return Done{}, err
	}
	if err := row.refusal(); err != nil {
		return Done{}, err
	}
	var n int
	if row.Action == "bring_in" {
		n, err = tx.UndoIntake(ctx, entry)
	} else {
		err = tx.GetContext(ctx, &n, `select undo_trail($1)`, entry)
	}
	if err != nil {
		return Done{}, err
	}
	if n == 0 {
		return Done{}, &fault.Conflict{Text: "Nothing of it is left to undo."}
	}
	_, err = tx.ExecContext(ctx, `update trail set undone_by = nullif(current_setting('satchel.trail'), '')::bigint where id = $1`, entry)
	return Done{Said: "Undone: " + lowerFirst(row.Said), Changed: n}, err
}

// explainUndo turns what undo_trail raised into a conflict that names who changed the thing since.
func (db *DB) explainUndo(ctx context.Context, entry int64, err error) error {
	var pg *pgconn.PgError
	if !errors.As(err, &pg) {
		return err
	}
	switch pg.Code {
	case "SB001":
		table, key, _ := strings.Cut(pg.Detail, " ")
		who, lookupErr := get[string](ctx, db, "", `select p.name from trail_change c join trail t on t.id = c.trail_id
			join person p on p.id = t.person_id where c.table_name = $1 and c.key @> $2::jsonb and t.id > $3 order by t.id desc limit 1`, table, key, entry)
		if lookupErr != nil {
			who = "Somebody"
		}
		return &fault.Conflict{Text: who + " has changed it since, so it cannot be undone. Nothing was touched.", By: who}
	case "23503":
		return &fault.Conflict{Text: "Something has been put in there since, so it cannot be undone. Nothing was touched."}
	case "23505":
		return &fault.Conflict{Text: "Something of that name stands there now, so it cannot be undone. Nothing was touched."}
	}
	return err
}

func lowerFirst(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	return string(unicode.ToLower(first)) + s[size:]
}

// TrailEntry is the entry that the transaction writes into.
func (tx *Tx) TrailEntry(ctx context.Context) (int64, error) {
	return get[int64](ctx, tx, "", `select current_setting('satchel.trail')::bigint`)
}
