package store

import (
	"sync"

	"github.com/jackc/pgx/v5/pgtype"
)

// Array is a slice that is read from an array of PostgreSQL; NULL is a nil slice.
type Array[T any] []T

// kinds read values of the database. One is used by one goroutine at a time, since it remembers how it read what came before.
var kinds = sync.Pool{New: func() any { return pgtype.NewMap() }}

// Scan implements sql.Scanner.
func (a *Array[T]) Scan(src any) error {
	m := kinds.Get().(*pgtype.Map)
	defer kinds.Put(m)
	return m.SQLScanner((*[]T)(a)).Scan(src)
}
