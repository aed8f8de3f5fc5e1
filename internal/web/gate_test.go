package web

import (
	"fmt"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"strings"
	"syscall"
	"testing"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestMadeUpMethodsAndAddresses are refused before anything is asked, and no two of them are told apart in what is measured.
func TestMadeUpMethodsAndAddresses(t *testing.T) {
	s, _ := newServer(t)
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	ask := func(method, path string) int {
		request, err := http.NewRequest(method, server.URL+path, nil)
		require.NoError(t, err)
		response, err := http.DefaultClient.Do(request)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response.StatusCode
	}
	require.Equal(t, 200, ask("GET", "/healthz"))
	before := toldApart()
	for i := range 300 {
		method := fmt.Sprintf("M%d%s", i, strings.Repeat("X", 1000))
		for _, path := range []string{"/healthz", "/dav/Library", "/assets/x", "/nowhere", "/api/session"} {
			require.Equal(t, 501, ask(method, path), path)
		}
	}
	assert.Equal(t, before, toldApart())
	for _, method := range []string{"TRACE", "CONNECT", "get", "PROPFINDX"} {
		assert.Equal(t, 501, ask(method, "/healthz"))
	}
	assert.Equal(t, 414, ask("GET", "/healthz?"+strings.Repeat("x", 9000)))
	for i := range 300 {
		ask("GET", fmt.Sprintf("/nowhere/%d", i))
	}
	assert.LessOrEqual(t, toldApart(), before+2)
}

// toldApart is how many kinds of requests are told apart in what is measured.
func toldApart() int {
	all := make(chan prometheus.Metric, 100_000)
	requests.Collect(all)
	return len(all)
}

// TestAFullDiskIsSaid, however deep below the answer it was met.
func TestAFullDiskIsSaid(t *testing.T) {
	p := problemOf(fmt.Errorf("drawing: %w", &fs.PathError{Op: "write", Path: "/x", Err: syscall.ENOSPC}))
	assert.Equal(t, http.StatusInsufficientStorage, p.Status)
	assert.Contains(t, *p.Detail, "disk of the server is full")
	assert.True(t, p.ours, "whoever runs the server reads of it")
}
