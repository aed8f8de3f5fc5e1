package web

import (
	"bufio"
	"context"
	"net"
	"net/http"
	"net/http/httptest"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/storetest"
)

// TestSixHundredStreamsLeaveEverybodyElseServed opens them from one address behind a trusted proxy: as many as allowed are there, the
// others are told to wait, and requests from there, and streams from elsewhere, are answered.
func TestSixHundredStreamsLeaveEverybodyElseServed(t *testing.T) {
	_, h := newServer(t)
	s, err := New(context.Background(), h, Options{Proxies: []string{"127.0.0.1"}})
	require.NoError(t, err)
	people := storetest.Brand(t, h.DB, "streaming")
	server := httptest.NewUnstartedServer(s.Handler())
	server.Listener, err = Bounded(server.Listener, []string{"127.0.0.0/8"})
	require.NoError(t, err)
	server.Start()
	defer server.Close()
	defer s.Close()
	client := clientOf(t, h, server, people[access.Steward].Person, "steward@streaming.example")
	ask := func(path, from string) int {
		request, err := http.NewRequest(http.MethodGet, server.URL+path, nil)
		require.NoError(t, err)
		request.Header.Set("X-Forwarded-For", from)
		response, err := client.Do(request)
		if !assert.NoError(t, err) {
			return 0
		}
		if response.StatusCode == http.StatusOK && path != "/api/session" {
			line, err := bufio.NewReader(response.Body).ReadString('\n')
			assert.NoError(t, err)
			assert.Equal(t, "event: ready\n", line)
			t.Cleanup(func() { _ = response.Body.Close() })
			return response.StatusCode
		}
		_ = response.Body.Close()
		return response.StatusCode
	}
	const events, crowd, elsewhere = "/api/brands/streaming/events", "203.0.113.7", "203.0.113.8"
	var mu sync.Mutex
	var wait sync.WaitGroup
	statuses := map[int]int{}
	for range 600 {
		wait.Go(func() {
			status := ask(events, crowd)
			mu.Lock()
			defer mu.Unlock()
			statuses[status]++
		})
	}
	wait.Wait()
	assert.Equal(t, map[int]int{http.StatusOK: mostStreams, http.StatusTooManyRequests: 600 - mostStreams}, statuses)
	assert.Equal(t, http.StatusOK, ask("/api/session", crowd), "who has them all open goes on working")
	assert.Equal(t, http.StatusOK, ask(events, elsewhere))
}

// TestOneAddressHasOnlySoManyConnections when it comes straight, while others have theirs.
func TestOneAddressHasOnlySoManyConnections(t *testing.T) {
	l := &boundedListener{clients: newCrowd(2), proxies: newCrowd(3)}
	assert.True(t, l.among("203.0.113.7").enter("203.0.113.7"))
	assert.True(t, l.among("203.0.113.7").enter("203.0.113.7"))
	assert.False(t, l.among("203.0.113.7").enter("203.0.113.7"))
	assert.True(t, l.among("203.0.113.8").enter("203.0.113.8"))
	l.clients.leave("203.0.113.7")
	assert.True(t, l.among("203.0.113.7").enter("203.0.113.7"))

	plain, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer func() { _ = plain.Close() }()
	_, err = Bounded(plain, []string{"not an address"})
	require.Error(t, err)
	bounded, err := Bounded(plain, []string{"127.0.0.1"})
	require.NoError(t, err)
	assert.Same(t, bounded.(*boundedListener).proxies, bounded.(*boundedListener).among("127.0.0.1"))
	assert.Same(t, bounded.(*boundedListener).clients, bounded.(*boundedListener).among("203.0.113.7"))
}
