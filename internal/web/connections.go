package web

import (
	"net"
	"net/http"
	"sync"
	"time"
)

// NewHTTPServer is a server with limits for headers and idle connections. How long bodies may take is for each route: see
// limit, patiently and the uploads.
func NewHTTPServer(handler http.Handler) *http.Server {
	return &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 60 * time.Second, MaxHeaderBytes: 64 << 10}
}

// mostConnections is how many connections one address may have open: enough for an office behind one address.
const mostConnections = 600

// Bounded lets one address have only so many connections at a time. What comes beyond them is closed at once.
func Bounded(listener net.Listener) net.Listener {
	return &boundedListener{Listener: listener, from: map[string]int{}}
}

type boundedListener struct {
	net.Listener
	mu   sync.Mutex
	from map[string]int
}

// Accept implements net.Listener.
func (l *boundedListener) Accept() (net.Conn, error) {
	for {
		conn, err := l.Listener.Accept()
		if err != nil {
			return nil, err
		}
		host, _, err := net.SplitHostPort(conn.RemoteAddr().String())
		if err != nil {
			host = conn.RemoteAddr().String()
		}
		if l.enter(host) {
			open.Inc()
			return &countedConn{TCPConn: conn.(*net.TCPConn), leave: func() { l.leave(host) }}, nil
		}
		_ = conn.Close()
	}
}

func (l *boundedListener) enter(host string) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.from[host] >= mostConnections {
		return false
	}
	l.from[host]++
	return true
}

func (l *boundedListener) leave(host string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	open.Dec()
	if l.from[host]--; l.from[host] <= 0 {
		delete(l.from, host)
	}
}

// countedConn is a connection that tells once when it is closed. Files are sent through it by the system.
type countedConn struct {
	*net.TCPConn
	once  sync.Once
	leave func()
}

// Close implements net.Conn.
func (c *countedConn) Close() error {
	c.once.Do(c.leave)
	return c.TCPConn.Close()
}
