// Package store keeps everything in PostgreSQL: here the connection, transactions, the trail and the tables. What belongs to a noun is in
// a package below this one, and SQL is nowhere else. Functions that read take a Reader, which both DB and Tx are; those that change take
// a Tx.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"fmt"
	"io/fs"
	"strings"

	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed functions.sql
var functions string

// DB is the database. Pool is the same connections as pgx gives them, for the queue and for listening.
// Finder, when there is one, answers what is in a sheet.
type DB struct {
	sql    *sqlx.DB
	Pool   *pgxpool.Pool
	Finder Selecting
	Lately Lately // the folders

	waysBack map[string]WayBack // by table
}

// Selecting resolves selections that are queries. What a finder can do besides is asked of it where it is needed.
type Selecting interface {
	IDs(ctx context.Context, v *access.Viewer, q query.Query) ([]int64, error)
}

// Reader is what queries that only read need.
type Reader interface {
	GetContext(ctx context.Context, dest any, query string, args ...any) error
	SelectContext(ctx context.Context, dest any, query string, args ...any) error
}

// connections is how many connections a process has at most, unless the address says otherwise (pool_max_conns).
const connections = 20

// Open connects to a PostgreSQL database by its URL. No statement runs longer than a minute.
func Open(ctx context.Context, url string) (*DB, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("database address: %w", err)
	}
	config.ConnConfig.RuntimeParams["statement_timeout"] = "60000"
	config.ConnConfig.RuntimeParams["application_name"] = "bright-satchel"
	config.ConnConfig.RuntimeParams["jit"] = "off" // no question here takes as long as compiling it does
	if !strings.Contains(url, "pool_max_conns") {
		config.MaxConns = connections
	}
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, err
	}
	free := sql.OpenDB(bounded{stdlib.GetPoolConnector(pool)})
	free.SetMaxIdleConns(0) // the pool keeps them
	db := &DB{sql: sqlx.NewDb(free, "pgx"), Pool: pool}
	if err := db.sql.PingContext(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return db, nil
}

// Close ends all connections.
func (db *DB) Close() {
	_ = db.sql.Close()
	db.Pool.Close()
}

// GetContext reads one row into dest.
func (db *DB) GetContext(ctx context.Context, dest any, query string, args ...any) error {
	return db.sql.GetContext(ctx, dest, query, args...)
}

// SelectContext reads rows into dest, a slice.
func (db *DB) SelectContext(ctx context.Context, dest any, query string, args ...any) error {
	return db.sql.SelectContext(ctx, dest, query, args...)
}

// ExecContext runs a statement by itself.
func (db *DB) ExecContext(ctx context.Context, statement string, args ...any) (sql.Result, error) {
	return db.sql.ExecContext(ctx, statement, args...)
}

// PingContext asks the database whether it answers.
func (db *DB) PingContext(ctx context.Context) error { return db.sql.PingContext(ctx) }

// Plain is the connections as libraries take them: the queue, and the keeper of sessions.
func (db *DB) Plain() *sql.DB { return db.sql.DB }

// SchemaSum tells apart what migrations make.
func SchemaSum() (string, error) {
	sum := sha256.New()
	err := fs.WalkDir(migrations, ".", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		text, err := fs.ReadFile(migrations, path)
		_, _ = fmt.Fprintf(sum, "%s %d ", path, len(text))
		_, _ = sum.Write(text)
		return err
	})
	return hex.EncodeToString(sum.Sum(nil)[:8]), err
}

// Migrate brings the tables, ours and the queue's, to the present form. Several processes may call it at once.
func (db *DB) Migrate(ctx context.Context) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	if err := db.isOfOurs(ctx); err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db.sql.DB, files, goose.WithSessionLocker(locker))
	if err != nil {
		return err
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	if err := db.InTx(ctx, func(tx *Tx) error { return tx.putFunctions(ctx) }); err != nil {
		return fmt.Errorf("the functions of the database: %w", err)
	}
	queue, err := rivermigrate.New(riverpgxv5.New(db.Pool), nil)
	if err != nil {
		return err
	}
	_, err = queue.Migrate(ctx, rivermigrate.DirectionUp, nil)
	return err
}

// ErrOther is why a database cannot be used by this version.
type ErrOther struct{ Text string }

func (e *ErrOther) Error() string { return e.Text }

// oldest and newest are the first and the last number of the migrations that this version knows.
const (
	oldest = 101
	newest = 112
)

// isOfOurs refuses a database that was made before the first release, or that a newer version has used.
func (db *DB) isOfOurs(ctx context.Context) error {
	var known bool
	if err := db.GetContext(ctx, &known, `select to_regclass('goose_db_version') is not null`); err != nil || !known {
		return err
	}
	var last int64
	if err := db.GetContext(ctx, &last, `select coalesce(max(version_id), 0) from goose_db_version where is_applied`); err != nil {
		return err
	}
	switch {
	case last > 0 && last < oldest:
		return &ErrOther{"this database was made before the first release, and its tables cannot be brought to the present form. The " +
			"originals are untouched in the folder “media” of the data folder. Begin with an empty database (SATCHEL_DATABASE; ./start " +
			"--reset makes everything anew, so copy that folder first), allow the copy as a server folder, and bring in from it"}
	case last > newest:
		return &ErrOther{fmt.Sprintf("this database was used by a newer version (its tables are at %d, this version knows %d). Start that one; "+
			"nothing was changed", last, newest)}
	}
	return nil
}

// putFunctions puts our functions in place as they are now. Processes that start together do so one after the other.
func (tx *Tx) putFunctions(ctx context.Context) error {
	if _, err := tx.ExecContext(ctx, `select pg_advisory_xact_lock(hashtext('functions'))`); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, functions); err != nil {
		return err
	}
	return tx.putTriggers(ctx)
}
