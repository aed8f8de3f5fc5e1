package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgconn"
)

// ErrBusy is returned when no connection to the database became free in time.
var ErrBusy = errors.New("store: no connection to the database became free in time")

// longestWait is how long a connection is waited for.
const longestWait = 5 * time.Second

// bounded is a connector that does not wait for ever for a free connection.
type bounded struct{ driver.Connector }

// Connect implements driver.Connector.
func (b bounded) Connect(ctx context.Context) (driver.Conn, error) {
	limited, cancel := context.WithTimeoutCause(ctx, longestWait, ErrBusy)
	defer cancel()
	conn, err := b.Connector.Connect(limited)
	if err != nil && ctx.Err() == nil && errors.Is(context.Cause(limited), ErrBusy) {
		return nil, errors.Join(ErrBusy, err)
	}
	return conn, err
}

// Away says whether err is that the database cannot be reached: it is down, or going down, or takes no more connections.
func Away(err error) bool {
	var connect *pgconn.ConnectError
	var pg *pgconn.PgError
	var broken *net.OpError
	switch {
	case errors.As(err, &connect), errors.As(err, &broken), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, driver.ErrBadConn):
		return true
	case errors.As(err, &pg):
		return slices.Contains([]string{"57P01", "57P02", "57P03", "53300", "08000", "08003", "08006"}, pg.Code)
	}
	return strings.Contains(fmt.Sprint(err), "conn closed")
}
