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
type Tx struct{ *sqlx.Tx }

// Done says what an action did: in words with numbers, to how many things, under which trail entry it can be undone
// (0 when nothing changed), and the id of what it made, if anything.
type Done struct {
	Said    string
	Changed int
	Trail   int64
	ID      int64
}

// InTx runs f in a transaction that leaves no trail: for what the machine does by itself.
func (db *DB) InTx(ctx context.Context, f func(*Tx) error) error {
	tx, err := db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	if err := f(&Tx{tx}); err != nil {
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

// Undo takes back what a trail entry changed. It refuses, and says who and why, where somebody changed the thing since.
func (db *DB) Undo(ctx context.Context, v *access.Viewer, entry int64) (Done, error) {
	type trailRow struct {
		PersonID int64  `db:"person_id"`
		Action   string `db:"action"`
		Said     string `db:"said"`
		UndoneBy *int64 `db:"undone_by"`
	}
	done, err := db.Act(ctx, v, "undo", func(tx *Tx) (Done, error) {
		row, err := get[trailRow](ctx, tx, "That step is not in the trail.",
			`select person_id, action, said, undone_by from trail where id = $1 and brand_id = $2 for update`, entry, v.Brand)
		if err != nil {
			return Done{}, err
		}
		if !v.MayUndo(row.PersonID) {
			return Done{}, fault.Forbiddenf("Only the person who did it, or a coordinator, can undo that.")
		}
		if row.UndoneBy != nil {
			return Done{}, &fault.Conflict{Text: "That has been undone already."}
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
	})
	return done, db.explainUndo(ctx, entry, err)
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
