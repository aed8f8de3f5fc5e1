package web

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/storetest"
)

// TestABodyThatStallsHoldsNoConnection walks all routes, of the contract and outside of it, with a body that stops at the first, in the
// middle or at the last byte, of known and of unknown length: each connection ends soon.
func TestABodyThatStallsHoldsNoConnection(t *testing.T) {
	s, h := newServer(t)
	s.patience = patience{begin: 400 * time.Millisecond, stall: 400 * time.Millisecond, unread: 50 * time.Millisecond}
	people := storetest.Brand(t, h.DB, "stalls")
	server := httptest.NewUnstartedServer(s.Handler())
	server.Config = NewHTTPServer(s.Handler())
	server.Start()
	defer server.Close()
	defer s.Close()
	steward := clientOf(t, h, server, people[access.Steward].Person, "steward@stalls.example")
	cookie := steward.Transport.(withCookie).cookie.String()
	const length = 3000
	whole := []byte(`{"name": "` + strings.Repeat("x", length-12) + `"}`)
	require.Len(t, whole, length)
	heads := map[string]string{"of known length": fmt.Sprintf("Content-Length: %d\r\n\r\n", length),
		"of unknown length": fmt.Sprintf("Transfer-Encoding: chunked\r\n\r\n%x\r\n", length)}
	fill := strings.NewReplacer(":brand", "stalls", ":id", "1", "*path", "Library/x.jpg", "*file", "x.js", ":", "")
	address := strings.TrimPrefix(server.URL, "http://")
	stalled := func(method, path, kind string, sent int) error {
		conn, err := net.Dial("tcp", address)
		if err != nil {
			return err
		}
		defer func() { _ = conn.Close() }()
		_ = conn.SetDeadline(time.Now().Add(30 * time.Second))
		if _, err := fmt.Fprintf(conn, "%s %s HTTP/1.1\r\nHost: %s\r\nCookie: %s\r\nContent-Type: application/json\r\n%s", method, path, address,
			cookie, heads[kind]); err != nil {
			return err
		}
		if _, err := conn.Write(whole[:sent]); err != nil {
			return nil // it was closed already
		}
		_, err = io.Copy(io.Discard, bufio.NewReader(conn))
		if slow, is := err.(net.Error); is && slow.Timeout() {
			return fmt.Errorf("%s %s with a body %s that stalls after %d bytes is held", method, path, kind, sent)
		}
		return nil
	}
	var wait sync.WaitGroup
	gate := make(chan struct{}, 64)
	tried := 0
	for _, route := range s.engine.Routes() {
		for kind := range heads {
			for _, sent := range []int{0, length / 2, length - 1} {
				tried++
				gate <- struct{}{}
				wait.Go(func() {
					defer func() { <-gate }()
					assert.NoError(t, stalled(route.Method, fill.Replace(route.Path), kind, sent))
				})
			}
		}
	}
	wait.Wait()
	assert.Greater(t, tried, 1500)
}

// TestASlowBodyArrives at a rate that is allowed, for longer than any pause is.
func TestASlowBodyArrives(t *testing.T) {
	p := patience{begin: 2 * time.Second, stall: 4 * time.Second, unread: 50 * time.Millisecond}
	server := httptest.NewServer(p.gated(func(w http.ResponseWriter, r *http.Request) {
		data, err := io.ReadAll(r.Body)
		if err != nil {
			w.WriteHeader(http.StatusRequestTimeout)
		}
		_, _ = fmt.Fprint(w, len(data))
	}))
	defer server.Close()
	from, to := io.Pipe()
	go func() {
		for range 48 {
			_, _ = to.Write(bytes.Repeat([]byte("x"), slowest/4))
			time.Sleep(125 * time.Millisecond)
		}
		_ = to.Close()
	}()
	began := time.Now()
	response, err := http.Post(server.URL, "text/plain", from)
	require.NoError(t, err)
	defer func() { _ = response.Body.Close() }()
	answer, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	assert.Equal(t, fmt.Sprint(12*slowest), string(answer))
	assert.Greater(t, time.Since(began), 2*p.begin)
}

// TestNoBodyTakesLongerThanItsSizeAllows, however its bytes come in.
func TestNoBodyTakesLongerThanItsSizeAllows(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		began := time.Unix(0, 0)
		now, arrived := began, int64(0)
		most := rapid.Int64Range(1, 100<<20).Draw(rt, "most")
		for arrived < most {
			until := usualPatience.until(began, now, arrived)
			assert.False(rt, until.After(now.Add(usualPatience.stall)))
			if !until.After(now) {
				break
			}
			now = now.Add(time.Duration(rapid.Int64Range(0, int64(until.Sub(now))).Draw(rt, "pause")))
			arrived += rapid.Int64Range(1, 4<<20).Draw(rt, "bytes")
		}
		assert.LessOrEqual(rt, now.Sub(began), usualPatience.begin+time.Duration((most+4<<20)/slowest+1)*time.Second)
	})
}
