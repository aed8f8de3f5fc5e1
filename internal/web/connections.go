package web

import (
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"sync"
	"time"
)

// NewHTTPServer is a server with limits for headers and idle connections. How long bodies may take: see patience, and patiently for
// answers.
func NewHTTPServer(handler http.Handler) *http.Server {
	return &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 60 * time.Second, MaxHeaderBytes: 64 << 10}
}

// Bounded lets one address have only so many connections at a time, and the addresses or networks (CIDR) of trusted proxies, behind which
// many are, many more. What comes beyond them is closed at once.
func Bounded(listener net.Listener, proxies []string) (net.Listener, error) {
	l := &boundedListener{Listener: listener, clients: newCrowd(mostConnections), proxies: newCrowd(mostByProxy)}
	for _, text := range proxies {
		network, err := netip.ParsePrefix(text)
		if err != nil {
			address, err := netip.ParseAddr(text)
			if err != nil {
				return nil, fmt.Errorf("the addresses of proxies: %w", err)
			}
			network = netip.PrefixFrom(address, address.BitLen())
		}
		l.trusted = append(l.trusted, network)
	}
	return l, nil
}

type boundedListener struct {
	net.Listener
	trusted          []netip.Prefix
	clients, proxies *crowd
}

// among is with whom connections of an address are counted.
func (l *boundedListener) among(host string) *crowd {
	address, err := netip.ParseAddr(host)
	if err == nil && slices.ContainsFunc(l.trusted, func(n netip.Prefix) bool { return n.Contains(address.Unmap()) }) {
		return l.proxies
	}
	return l.clients
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
		if among := l.among(host); among.enter(host) {
			open.Inc()
			return &countedConn{TCPConn: conn.(*net.TCPConn), leave: func() { open.Dec(); among.leave(host) }}, nil
		}
		_ = conn.Close()
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
