// Package store keeps everything in PostgreSQL. SQL lives here and nowhere else: one file for each noun. Functions that
// read take a Reader, which both DB and Tx are; functions that change take a Tx.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed functions.sql
var functions string

// DB is the database. Pool is the same connections as pgx gives them, for the queue and for listening.
// Finder, when there is one, answers what is in a sheet.
type DB struct {
	*sqlx.DB
	Pool   *pgxpool.Pool
	Finder Selecting
	Shelf  Shelf // of folders

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
	db := &DB{DB: sqlx.NewDb(free, "pgx"), Pool: pool}
	if err := db.PingContext(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return db, nil
}

// Close ends all connections.
func (db *DB) Close() {
	_ = db.DB.Close()
	db.Pool.Close()
}

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
	provider, err := goose.NewProvider(goose.DialectPostgres, db.DB.DB, files, goose.WithSessionLocker(locker))
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

// get reads one row; a row that is not there becomes a NotFound with the given text.
func get[T any](ctx context.Context, r Reader, missing, query string, args ...any) (T, error) {
	var out T
	err := r.GetContext(ctx, &out, query, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return out, fault.NotFoundf("%s", missing)
	}
	return out, err
}

// list reads rows; none is an empty slice, never nil.
func list[T any](ctx context.Context, r Reader, query string, args ...any) ([]T, error) {
	out := []T{}
	err := r.SelectContext(ctx, &out, query, args...)
	return out, err
}

// violates says whether err is a violation of the named constraint or unique index.
func violates(err error, constraint string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.ConstraintName == constraint
}

func first(ids []int64) int64 {
	if len(ids) == 0 {
		return 0
	}
	return ids[0]
}

// change runs a statement and returns how many rows it changed.
func (tx *Tx) change(ctx context.Context, statement string, args ...any) (int, error) {
	res, err := tx.ExecContext(ctx, statement, args...)
	if err != nil {
		return 0, err
	}
	n, err := res.RowsAffected()
	return int(n), err
}

// ReferenceGone says whether err is that of something which refers to what is not there any more.
func ReferenceGone(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "23503"
}
