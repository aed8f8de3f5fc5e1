package outlets

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"syscall"
	"time"
)

// ErrForbiddenAddress is returned for an outlet whose address leads to this machine or into a private network. A steward
// types it, and the server may reach there what the steward may not.
var ErrForbiddenAddress = errors.New("the address is not a public one")

// reserved are networks that no outlet is in, besides those that netip knows: shared address space (RFC 6598), benchmarks
// (RFC 2544), "this network" (RFC 1122), documentation (RFC 5737) and reserved (RFC 1112), and the IPv6 forms that carry an
// IPv4 address (RFC 6052, RFC 3056).
var reserved = []netip.Prefix{
	netip.MustParsePrefix("100.64.0.0/10"), netip.MustParsePrefix("198.18.0.0/15"), netip.MustParsePrefix("0.0.0.0/8"),
	netip.MustParsePrefix("192.0.0.0/24"), netip.MustParsePrefix("192.0.2.0/24"), netip.MustParsePrefix("198.51.100.0/24"),
	netip.MustParsePrefix("203.0.113.0/24"), netip.MustParsePrefix("240.0.0.0/4"), netip.MustParsePrefix("64:ff9b::/96"),
	netip.MustParsePrefix("2002::/16"),
}

// public says whether an address is one that outlets can have.
func public(a netip.Addr) bool {
	a = a.Unmap()
	if !a.IsGlobalUnicast() || a.IsPrivate() || a.IsLoopback() || a.IsLinkLocalUnicast() {
		return false
	}
	return !slices.ContainsFunc(reserved, func(p netip.Prefix) bool { return p.Contains(a) })
}

// clientFor is an HTTP client that connects to public addresses and to the allowed ones only. It looks at the address that
// a name was resolved to when it connects, so that no name can point elsewhere in between. It follows no redirects: a token
// goes to the address that the steward typed and to no other.
func clientFor(allowed []string) *http.Client {
	dialer := &net.Dialer{Timeout: 10 * time.Second, KeepAlive: 30 * time.Second}
	transport := &http.Transport{
		TLSHandshakeTimeout: 10 * time.Second, ResponseHeaderTimeout: 30 * time.Second, IdleConnTimeout: 30 * time.Second,
		MaxIdleConnsPerHost: 4,
		DialContext: func(ctx context.Context, network, address string) (net.Conn, error) {
			d := *dialer
			if !slices.Contains(allowed, address) {
				d.Control = func(_, resolved string, _ syscall.RawConn) error {
					to, err := netip.ParseAddrPort(resolved)
					if err != nil || !public(to.Addr()) {
						return fmt.Errorf("%w: %s", ErrForbiddenAddress, resolved)
					}
					return nil
				}
			}
			return d.DialContext(ctx, network, address)
		},
	}
	return &http.Client{Transport: transport, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}
