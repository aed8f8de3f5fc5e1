package store

import (
	"context"
	"database/sql"
	"errors"
	"math/rand/v2"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jmoiron/sqlx"

	"brightsatchel/internal/core/access"
)

// Tx is a transaction.
type Tx struct{ sql *sqlx.Tx }

// GetContext reads one row into dest.
func (tx *Tx) GetContext(ctx context.Context, dest any, query string, args ...any) error {
	return tx.sql.GetContext(ctx, dest, query, args...)
}

// SelectContext reads rows into dest, a slice.
func (tx *Tx) SelectContext(ctx context.Context, dest any, query string, args ...any) error {
	return tx.sql.SelectContext(ctx, dest, query, args...)
}

// ExecContext runs a statement.
func (tx *Tx) ExecContext(ctx context.Context, statement string, args ...any) (sql.Result, error) {
	return tx.sql.ExecContext(ctx, statement, args...)
}

// Plain is the transaction as the queue takes it, to add jobs in it.
func (tx *Tx) Plain() *sql.Tx { return tx.sql.Tx }

// Done says what an action did: in words with numbers, to how many things, under which trail entry it can be undone
// (0 when nothing changed), the id of what it made, if anything, and whether it only begins now and is done in pieces.
type Done struct {
	Said    string
	Changed int
	Trail   int64
	ID      int64
	GoesOn  bool
}

// mostRepeats is how often a transaction is done again that the database ended because of another one.
const mostRepeats = 8

// InTx runs f in a transaction that leaves no trail: for what the machine does by itself. Where the database ends the transaction so that
// another one can go on, f is run again in a new one: what it writes to variables outside it writes anew, and never adds to.
func (db *DB) InTx(ctx context.Context, f func(*Tx) error) error {
	for n := 1; ; n++ {
		err := db.inTxOnce(ctx, f)
		if !Contended(err) || n > mostRepeats {
			return err
		}
		select { // longer each time, and not in step with whom it met
		case <-time.After(rand.N(time.Duration(n) * 20 * time.Millisecond)):
		case <-ctx.Done():
			return err
		}
	}
}

// Contended says whether the database ended a transaction that can be done again: it was in a circle of those that wait for each other
// (40P01), or would not have come out as if they were done one after the other (40001).
func Contended(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "40P01" || pg.Code == "40001")
}

func (db *DB) inTxOnce(ctx context.Context, f func(*Tx) error) error {
	tx, err := db.sql.BeginTxx(ctx, nil)
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
		if err = tx.SayOfStep(ctx, entry, done.Said); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `select note_folders($1)`, entry)
		return err
	})
	return done, err
}

type agentKey struct{}

// ByAgent makes what is done under the context stand in the trail as the work of a machine, by its name, in the name of
// whoever it works for. It is nobody's to undo by key.
func ByAgent(ctx context.Context, name string) context.Context {
	return context.WithValue(ctx, agentKey{}, name)
}

// agentOf is the machine that works under a context, or "".
func agentOf(ctx context.Context) string {
	name, _ := ctx.Value(agentKey{}).(string)
	return name
}

// OpenTrail begins a trail entry and makes the rest of the transaction write into it.
func (tx *Tx) OpenTrail(ctx context.Context, brand, person int64, action string) (int64, error) {
	var entry int64
	err := tx.GetContext(ctx, &entry, `insert into trail (brand_id, person_id, action, agent) values ($1, $2, $3, $4) returning id`,
		brand, person, action, agentOf(ctx))
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

// SayOfStep words a step of the trail anew.
func (tx *Tx) SayOfStep(ctx context.Context, entry int64, said string) error {
	_, err := tx.ExecContext(ctx, `update trail set said = $2 where id = $1`, entry, said)
	return err
}

// TrailEntry is the entry that the transaction writes into.
func (tx *Tx) TrailEntry(ctx context.Context) (int64, error) {
	return Get[int64](ctx, tx, "", `select current_setting('satchel.trail')::bigint`)
}
