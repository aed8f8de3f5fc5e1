package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
)

// call is a request of the contract with a body that the contract takes.
type call struct {
	operation, method, path string
	body                    any
}

// everyCall makes a valid request for each operation below a brand. Ids gives what stands for an id, by the name of the field.
func everyCall(t *testing.T, brand string, id func(field string) int64) []call {
	t.Helper()
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	require.NoError(t, err)
	var out []call
	for path, item := range document.Paths.Map() {
		query := 0
		if !strings.Contains(path, "{brand}") {
			continue
		}
		for method, operation := range item.Operations() {
			c := call{operation: operation.OperationID, method: method, path: strings.ReplaceAll(path, "{brand}", brand)}
			for _, p := range append(slices.Clone(item.Parameters), operation.Parameters...) {
				if p.Value.In == "query" && p.Value.Required {
					query++
					c.path += fmt.Sprintf("%s%s=%v", map[bool]string{true: "?", false: "&"}[query == 1], p.Value.Name, sample(p.Value.Name,
						p.Value.Schema.Value, id))
				}
				if p.Value.In == "path" && p.Value.Name != "brand" {
					c.path = strings.ReplaceAll(c.path, "{"+p.Value.Name+"}", fmt.Sprint(sample(p.Value.Name, p.Value.Schema.Value, id)))
				}
			}
			if operation.RequestBody != nil {
				c.body = sample("", operation.RequestBody.Value.Content["application/json"].Schema.Value, id)
			}
			out = append(out, c)
		}
	}
	slices.SortFunc(out, func(a, b call) int { return strings.Compare(a.operation, b.operation) })
	return out
}

// sample is a value that a schema takes: what is required, and of choices the first.
func sample(field string, s *openapi3.Schema, id func(string) int64) any {
	for _, all := range s.AllOf {
		return sample(field, all.Value, id)
	}
	if len(s.Enum) > 0 {
		return s.Enum[0]
	}
	switch {
	case s.Type.Is("object"):
		out := map[string]any{}
		for _, name := range s.Required {
			out[name] = sample(name, s.Properties[name].Value, id)
		}
		if _, selection := s.Properties["everything"]; selection && len(out) == 0 {
			out["ids"] = []any{id("asset")}
		}
		return out
	case s.Type.Is("array"):
		return []any{sample(strings.TrimSuffix(field, "s"), s.Items.Value, id)}
	case s.Type.Is("integer"), s.Type.Is("number"):
		switch field {
		case "stars", "number", "bytes", "gap", "turn", "largestFile", "start", "digits":
			return 1
		}
		return id(field)
	case s.Type.Is("boolean"):
		return true
	}
	switch {
	case s.Format == "date-time":
		return "2026-05-17T10:00:00Z"
	case s.Format == "date", field == "since", field == "until":
		return "2026-05-17"
	case field == "place":
		return "everything"
	case field == "first":
		return "2026-05-17T10:00:00"
	case field == "sum":
		return strings.Repeat("ab", 32)
	case field == "address":
		return "http://127.0.0.1:1/"
	}
	return strings.Repeat("x", int(max(1, s.MinLength)))
}

// send makes a request and returns its status and what was answered.
func (c call) send(t *testing.T, client *http.Client, server string) (int, string) {
	t.Helper()
	var body io.Reader = http.NoBody
	if c.body != nil {
		text, err := json.Marshal(c.body)
		require.NoError(t, err)
		body = bytes.NewReader(text)
	}
	request, err := http.NewRequest(c.method, server+c.path, body)
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	response, err := client.Do(request)
	require.NoError(t, err, c.operation)
	defer func() { _ = response.Body.Close() }()
	text, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	return response.StatusCode, string(text)
}

// TestNoOperationAnswersStrangers asks every operation of a brand, with a body that it takes, without a session and as
// somebody of another brand: it is their right that is asked for, and nothing else.
func TestNoOperationAnswersStrangers(t *testing.T) {
	s, h := newServer(t)
	storetest.Brand(t, h.DB, "mine")
	others := storetest.Brand(t, h.DB, "theirs")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	neighbour := clientOf(t, h, server, others[access.Steward].Person, "steward@theirs.example")
	calls := everyCall(t, "mine", func(string) int64 { return 1 })
	assert.Greater(t, len(calls), 90)
	for _, c := range calls {
		status, text := c.send(t, server.Client(), server.URL)
		assert.Equal(t, http.StatusUnauthorized, status, "a stranger asks %s: %s", c.operation, text)
		status, text = c.send(t, neighbour, server.URL)
		assert.Equal(t, http.StatusNotFound, status, "a neighbour asks %s: %s", c.operation, text)
	}
	for _, r := range s.engine.Routes() { // those outside of the contract
		if _, outside := s.rules[r.Method+" "+r.Path]; !outside || !strings.Contains(r.Path, ":brand") || strings.HasPrefix(r.Path, "/b/") {
			continue
		}
		c := call{r.Path, r.Method, strings.NewReplacer(":brand", "mine", ":id", "1", ":code", "abc", ":size", "small", ":media",
			"m").Replace(r.Path), nil}
		status, _ := c.send(t, server.Client(), server.URL)
		assert.Equal(t, http.StatusUnauthorized, status, r.Path)
		status, _ = c.send(t, neighbour, server.URL)
		assert.Equal(t, http.StatusNotFound, status, r.Path)
	}
}

// missing is a list that is null instead of empty: the contract knows no null, and a screen would fall over it.
var missing = regexp.MustCompile(`"[a-zA-Z]+":null|^null`)

// smallPool is an application whose database gives two connections at a time.
func smallPool(t *testing.T, name string) (*Server, *house.House) {
	t.Helper()
	address, remove, err := storetest.Address(context.Background(), name)
	require.NoError(t, err)
	t.Cleanup(remove)
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	h, err := house.Open(ctx, house.Config{Database: address + "&pool_max_conns=2", Data: t.TempDir(), Workers: 1})
	require.NoError(t, err)
	t.Cleanup(func() { h.Close(context.Background()) })
	s, err := New(ctx, h, Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s, h
}

// TestAPoolOfTwoNeverLocksUp does every action several times at once, with two connections to the database: whoever took a
// second one while holding one would wait for ever.
func TestAPoolOfTwoNeverLocksUp(t *testing.T) {
	s, h := smallPool(t, "pool_of_two")
	people := storetest.Brand(t, h.DB, "two")
	v := people[access.Steward]
	ids := storetest.Items(t, h.DB, v, 0, manyNames(600)...)
	var folder, album int64
	require.NoError(t, h.DB.InTx(context.Background(), func(tx *store.Tx) (err error) {
		if folder, err = folderstore.AddFolder(context.Background(), tx, v.Brand, 0, "Harbour"); err != nil {
			return err
		}
		album, err = albumstore.AddAlbum(context.Background(), tx, v.Brand, 0, "Press kit")
		return err
	}))
	require.NoError(t, h.Index.Load(context.Background(), v.Brand))
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, v.Person, "steward@two.example")
	client.Timeout = time.Minute
	stop := readAlong(t, client, server.URL)
	defer stop()

	everything := map[string]any{"everything": map[string]any{"place": "everything",
		"filter": map[string]any{"field": "aside", "missing": true}}}
	calls := []call{}
	for range 40 {
		calls = append(calls, call{"rateAssets everything", "POST", "/api/brands/two/stars",
			map[string]any{"selection": everything, "stars": 3}})
	}
	for _, c := range everyCall(t, "two", func(field string) int64 {
		switch field {
		case "folder", "parent":
			return folder
		case "album":
			return album
		}
		return ids[0]
	}) {
		if body, ok := c.body.(map[string]any); ok && body["selection"] != nil {
			body["selection"] = everything
		}
		for range 4 {
			calls = append(calls, c)
		}
	}
	began := time.Now()
	var wait sync.WaitGroup
	gate := make(chan struct{}, 24)
	for _, c := range calls {
		gate <- struct{}{}
		wait.Go(func() {
			defer func() { <-gate }()
			status, text := c.send(t, client, server.URL)
			assert.Less(t, status, 500, "%s: %s", c.operation, text)
			assert.NotRegexp(t, missing, text, c.operation)
		})
	}
	wait.Wait()
	assert.Less(t, time.Since(began), 3*time.Minute)
	assert.Eventually(t, func() bool { return h.DB.Pool.Stat().AcquiredConns() == 0 }, 10*time.Second, 10*time.Millisecond,
		"every connection is given back")
}

// readAlong keeps looking at what everybody looks at until it is told to stop.
func readAlong(t *testing.T, client *http.Client, server string) (stop func()) {
	ctx, cancel := context.WithCancel(context.Background())
	var wait sync.WaitGroup
	for _, path := range []string{"overview", "folders", "albums", "tags"} {
		wait.Go(func() {
			for ctx.Err() == nil {
				status, _ := call{path, "GET", "/api/brands/two/" + path, nil}.send(t, client, server)
				assert.Less(t, status, 500, path)
			}
		})
	}
	return func() { cancel(); wait.Wait() }
}

func manyNames(n int) []string {
	out := make([]string, n)
	for i := range out {
		out[i] = fmt.Sprintf("picture-%d.jpg", i)
	}
	return out
}

func orElse(v, otherwise any) any {
	if v == nil {
		return otherwise
	}
	return v
}

func selectIDs(ids ...int64) query.Selection { return query.Selection{IDs: ids} }
