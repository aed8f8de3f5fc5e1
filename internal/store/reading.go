package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"

	"brightsatchel/internal/core/fault"
)

// Get reads one row; a row that is not there becomes a NotFound with the given text.
func Get[T any](ctx context.Context, r Reader, missing, query string, args ...any) (T, error) {
	var out T
	err := r.GetContext(ctx, &out, query, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return out, fault.NotFoundf("%s", missing)
	}
	return out, err
}

// List reads rows; none is an empty slice, never nil.
func List[T any](ctx context.Context, r Reader, query string, args ...any) ([]T, error) {
	out := []T{}
	err := r.SelectContext(ctx, &out, query, args...)
	return out, err
}

// Violates says whether err is a violation of the named constraint or unique index.
func Violates(err error, constraint string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.ConstraintName == constraint
}

func First(ids []int64) int64 {
	if len(ids) == 0 {
		return 0
	}
	return ids[0]
}

// Change runs a statement and returns how many rows it changed.
func (tx *Tx) Change(ctx context.Context, statement string, args ...any) (int, error) {
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

// Names reads ids with names.
func Names(ctx context.Context, r Reader, query string, args ...any) (map[int64]string, error) {
	rows, err := List[struct {
		ID   int64  `db:"id"`
		Name string `db:"name"`
	}](ctx, r, query, args...)
	out := make(map[int64]string, len(rows))
	for _, row := range rows {
		out[row.ID] = row.Name
	}
	return out, err
}

// Listed are the parts of a list that is kept as one text with commas.
func Listed(s string) []string {
	if s == "" {
		return []string{}
	}
	return strings.Split(s, ",")
}

// ScanJSON reads what a column of the type jsonb holds.
func ScanJSON(value, into any) error {
	switch text := value.(type) {
	case []byte:
		return json.Unmarshal(text, into)
	case string:
		return json.Unmarshal([]byte(text), into)
	}
	return fmt.Errorf("%T cannot be read as JSON", value)
}
