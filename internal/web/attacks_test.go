package web

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/store/storetest"
)

// TestWhatIsNoTextIsRefusedInWords sends NULs, broken UTF-8 and ids that are no numbers to every operation: 4xx in words and
// never a fault of the server.
func TestWhatIsNoTextIsRefusedInWords(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "texts")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, people[access.Steward].Person, "steward@texts.example")
	refused := func(name, method, path, body string) {
		t.Helper()
		request, err := http.NewRequest(method, server.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		response, err := client.Do(request)
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, response.StatusCode, 400, "%s: %s", name, text)
		assert.Less(t, response.StatusCode, 500, "%s: %s", name, text)
		var p api.Problem
		assert.NoError(t, json.Unmarshal(text, &p), name)
		assert.NotEmpty(t, value(p.Detail), name)
		assert.NotContains(t, string(text), "strconv", name)
		assert.NotContains(t, string(text), "SQLSTATE", name)
	}
	bodies := 0
	for _, c := range everyCall(t, "texts", func(string) int64 { return 1 }) {
		if strings.Contains(c.path, "/1") {
			refused(c.operation+": an id that is no number", c.method, strings.Replace(c.path, "/1", "/one", 1), "{}")
			refused(c.operation+": an id that is too long", c.method, strings.Replace(c.path, "/1", "/99999999999999999999", 1), "{}")
		}
		if c.body == nil {
			continue
		}
		text, err := json.Marshal(c.body)
		require.NoError(t, err)
		for _, sign := range []string{`\u0000`, "\xff\xfe"} {
			broken := strings.Replace(string(text), `"x`, `"x`+sign, 1)
			if broken != string(text) {
				refused(fmt.Sprintf("%s: %q in its body", c.operation, sign), c.method, c.path, broken)
				bodies++
			}
		}
	}
	assert.Greater(t, bodies, 20)
	for _, path := range []string{"/api/brands/te%00xts/overview", "/api/brands/%ff/overview", "/api/public/galleries/%00",
		"/media/texts/%00/small", "/g/%ff/media/x/small?v=x", "/api/brands/texts/twins?intake=%00", "/api/brands/texts/twins?intake=x"} {
		refused(path, "GET", path, "")
	}
	many, err := json.Marshal(map[string]any{"place": "everything", "filter": map[string]any{"match": "any", "rules": wordRules(150)}})
	require.NoError(t, err)
	refused("150,000 search words", "POST", "/api/brands/texts/sheet", string(many))
	large := map[string]any{}
	for i := range 3000 {
		large[fmt.Sprint("key", i)] = strings.Repeat("v", 100)
	}
	settings, err := json.Marshal(large)
	require.NoError(t, err)
	refused("settings of 300 kB", "PATCH", "/api/brands/texts/preferences", string(settings))
}

func wordRules(n int) []any {
	words := make([]string, 1000)
	for i := range words {
		words[i] = fmt.Sprint("word", i)
	}
	out := make([]any, n)
	for i := range out {
		out[i] = map[string]any{"field": "words", "names": words}
	}
	return out
}

// TestAFloodOfSignIns makes 256 sign-ins at the same time: few are looked at, the others are told when to come again, and
// memory stays.
func TestAFloodOfSignIns(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "flood")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	_ = clientOf(t, h, server, people[access.Steward].Person, "steward@flood.example")
	var before runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	var mu sync.Mutex
	statuses := map[int]int{}
	waited := true
	var wait sync.WaitGroup
	for range 256 {
		wait.Go(func() {
			response, err := http.Post(server.URL+"/api/session", "application/json",
				strings.NewReader(`{"email":"steward@flood.example","password":"guess"}`))
			if !assert.NoError(t, err) {
				return
			}
			_ = response.Body.Close()
			mu.Lock()
			defer mu.Unlock()
			statuses[response.StatusCode]++
			waited = waited && (response.StatusCode != 429 || response.Header.Get("Retry-After") != "")
		})
	}
	wait.Wait()
	assert.LessOrEqual(t, statuses[422], 8)
	assert.Equal(t, 256, statuses[422]+statuses[429]+statuses[503], "%v", statuses)
	assert.True(t, waited, "429 says when to try again")
	var after runtime.MemStats
	runtime.ReadMemStats(&after)
	assert.Less(t, int64(after.HeapSys-before.HeapSys), int64(400<<20))
	assert.Equal(t, 429, signIn(t, server.URL, "steward@flood.example", "correct horse", ""), "the guesses count")
}

func signIn(t *testing.T, server, email, password, forwarded string) int {
	t.Helper()
	request, err := http.NewRequest(http.MethodPost, server+"/api/session",
		strings.NewReader(`{"email":"`+email+`","password":"`+password+`"}`))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	if forwarded != "" {
		request.Header.Set("X-Forwarded-For", forwarded)
	}
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	return response.StatusCode
}

func TestAForwardedAddressIsBelievedOfProxiesOnly(t *testing.T) {
	plain, h := newServer(t)
	behind, err := New(context.Background(), h, Options{Proxies: []string{"127.0.0.1"}})
	require.NoError(t, err)
	t.Cleanup(behind.Close)
	for want, s := range map[int]*Server{429: plain, 422: behind} {
		server := httptest.NewServer(s.Handler())
		email := fmt.Sprintf("nobody-%d@proxy.example", want)
		for i := range 12 {
			last := signIn(t, server.URL, email, "guess", fmt.Sprintf("203.0.113.%d", i))
			if i == 11 {
				assert.Equal(t, want, last)
			}
		}
		server.Close()
	}
	_, err = New(context.Background(), h, Options{Proxies: []string{"not an address"}})
	require.Error(t, err)
}

// TestEventStreamsEnd with the session, and when what their person may do changes.
func TestEventStreamsEnd(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "streams")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	open := func(client *http.Client) (ended chan string) {
		response, err := client.Get(server.URL + "/api/brands/streams/events")
		require.NoError(t, err)
		require.Equal(t, 200, response.StatusCode)
		lines := bufio.NewReader(response.Body)
		first, err := lines.ReadString('\n')
		require.NoError(t, err)
		require.Equal(t, "event: ready\n", first)
		ended = make(chan string, 1)
		go func() {
			rest, _ := io.ReadAll(lines)
			_ = response.Body.Close()
			ended <- string(rest)
		}()
		return ended
	}
	ends := func(ended chan string, why string) {
		t.Helper()
		select {
		case told := <-ended:
			assert.NotContains(t, told, "null")
		case <-time.After(time.Minute):
			assert.Fail(t, "the stream goes on", why)
		}
	}
	reviewer := clientOf(t, h, server, people[access.Reviewer].Person, "reviewer@streams.example")
	stream := open(reviewer)
	_, err := storetest.SQL(h.DB).Exec(`update membership set role = 'associate' where person_id = $1`, people[access.Reviewer].Person)
	require.NoError(t, err)
	ends(stream, "the rights have changed")
	steward := clientOf(t, h, server, people[access.Steward].Person, "steward@streams.example")
	stream = open(steward)
	request, err := http.NewRequest(http.MethodDelete, server.URL+"/api/session", nil)
	require.NoError(t, err)
	response, err := steward.Do(request)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	ends(stream, "the session is over")
}

func TestEventsNeverTellNothing(t *testing.T) {
	e := newEvents()
	st := &stream{brand: 1, pending: map[topics.Topic]bool{}, wake: make(chan struct{}, 1)}
	e.open[st] = true
	e.changed(1, topics.Items)
	<-st.wake
	e.changed(1, topics.Items) // between waking and taking: it is told with the first
	told, _, _ := e.take(st)
	assert.Equal(t, []topics.Topic{topics.Items}, told)
	<-st.wake
	told, _, _ = e.take(st)
	assert.Empty(t, told, "the second waking finds nothing, of which nothing is sent")
}

// TestWithoutTheDatabase answers in words while the database is away, says that it is not ready, and comes back by itself.
func TestWithoutTheDatabase(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "away")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, people[access.Steward].Person, "steward@away.example")
	get := func(path string) (int, string) {
		response, err := client.Get(server.URL + path)
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		text, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		return response.StatusCode, response.Header.Get("Content-Type") + string(text)
	}
	status, _ := get("/readyz")
	require.Equal(t, 200, status)
	at, err := url.Parse(h.Config.Database)
	require.NoError(t, err)
	name := strings.TrimPrefix(at.Path, "/")
	at.Path = "/postgres"
	admin, err := sqlx.Connect("pgx", at.String())
	require.NoError(t, err)
	defer func() { _ = admin.Close() }()
	_, err = admin.Exec(`alter database ` + name + ` with allow_connections false`)
	require.NoError(t, err)
	defer func() { _, _ = admin.Exec(`alter database ` + name + ` with allow_connections true`) }()
	_, err = admin.Exec(`select pg_terminate_backend(pid) from pg_stat_activity where datname = $1`, name)
	require.NoError(t, err)
	require.Eventually(t, func() bool { status, _ := get("/readyz"); return status == 503 }, 2*time.Minute, 50*time.Millisecond)
	status, text := get("/api/brands/away/overview")
	assert.Equal(t, 503, status)
	assert.Contains(t, text, "application/problem+json")
	assert.Contains(t, text, "Nothing was changed")
	status, _ = get("/healthz")
	assert.Equal(t, 200, status, "the process lives")
	_, err = admin.Exec(`alter database ` + name + ` with allow_connections true`)
	require.NoError(t, err)
	require.Eventually(t, func() bool { status, _ := get("/api/brands/away/overview"); return status == 200 }, 30*time.Second,
		50*time.Millisecond)
	status, _ = get("/readyz")
	assert.Equal(t, 200, status)
}
