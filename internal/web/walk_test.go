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
		if folder, err = tx.AddFolder(context.Background(), v.Brand, 0, "Harbour"); err != nil {
			return err
		}
		album, err = tx.AddAlbum(context.Background(), v.Brand, 0, "Press kit")
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

// TestAnAssociateLearnsOfNothingElse walks through every answer of the contract as somebody who was granted a folder and an
// album: no id, code, name or count of anything else stands in any of them.
func TestAnAssociateLearnsOfNothingElse(t *testing.T) {
	ctx := context.Background()
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "walled")
	boss, guest := people[access.Steward], people[access.Associate]
	exec := func(statement string, args ...any) {
		t.Helper()
		_, err := h.DB.Exec(statement, args...)
		require.NoError(t, err, statement)
	}
	restart := func(from int) { // so that ids tell to whom they belong
		for _, table := range []string{"asset", "folder", "album", "tag", "version", "gallery", "intake", "intake_file", "stack",
			"output_size"} {
			exec(fmt.Sprintf(`select setval(pg_get_serial_sequence('%s', 'id'), %d)`, table, from))
		}
	}
	insert := func(statement string, args ...any) (id int64) {
		t.Helper()
		require.NoError(t, h.DB.Get(&id, statement+` returning id`, args...), statement)
		return id
	}
	// what nobody but the house may know of: 731 items, a folder above the granted one, albums, tags, a gallery, an intake
	restart(990_000)
	hidden := insert(`insert into folder (brand_id, name, description) values ($1, 'Wolfram merger', 'wolfram')`, boss.Brand)
	secrets := storetest.Items(t, h.DB, boss, hidden, manyNames(731)...)
	exec(`update asset set title = 'Wolfram ' || id, description = 'wolfram', alt = 'wolfram', credit = 'Wolfram', place = 'Wolfram'
		where brand_id = $1`, boss.Brand)
	tag := insert(`insert into tag (brand_id, name) values ($1, 'wolfram tag')`, boss.Brand)
	exec(`insert into asset_tag (brand_id, asset_id, tag_id) select brand_id, id, $2 from asset where brand_id = $1`, boss.Brand, tag)
	size := insert(`insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern) values ($1, 'Web',
		100, 100, 'inside', 'jpeg', 80, 'keep', '{name}')`, boss.Brand)
	album := insert(`insert into album (brand_id, name) values ($1, 'Wolfram album')`, boss.Brand)
	exec(`insert into album_item (brand_id, album_id, asset_id, position) select brand_id, $2, id, lpad(id::text, 9, '0') || 'V'
		from asset where brand_id = $1`, boss.Brand, album)
	shown := insert(`insert into gallery (brand_id, title, open, opened_at, settings) values ($1, 'Wolfram gallery', true, now(),
		jsonb_build_object('sizes', jsonb_build_array($2::bigint)))`, boss.Brand, size)
	insert(`insert into gallery_chapter (brand_id, gallery_id, position, album_id, title) values ($1, $2, 0, $3, 'Wolfram chapter')`,
		boss.Brand, shown, album)
	stack := insert(`insert into stack (brand_id) values ($1)`, boss.Brand)
	hiddenIntake := insert(`insert into intake (brand_id, person_id, folder_id, source_name) values ($1, $2, $3, 'Wolfram disk')`,
		boss.Brand, boss.Person, hidden)
	// what the associate was given
	restart(550_000)
	mine := insert(`insert into folder (brand_id, parent_id, name) values ($1, $2, 'For Wren')`, boss.Brand, hidden)
	given := storetest.Items(t, h.DB, boss, mine, "one.jpg", "two.jpg")
	shared := insert(`insert into album (brand_id, parent_id, name) values ($1, $2, 'Press kit')`, boss.Brand, album)
	exec(`insert into album_item (brand_id, album_id, asset_id, position) values ($1, $2, $3, 'V')`, boss.Brand, shared, given[0])
	exec(`insert into album_item (brand_id, album_id, asset_id, position) values ($1, $2, $3, 'X')`, boss.Brand, album,
		given[0]) // also in a hidden one
	exec(`update asset set stack_id = $1, stack_front = (id = $2) where id = any($3)`, stack, given[1], append(secrets[:5:5], given[1]))
	exec(`insert into access_grant (brand_id, person_id, folder_id, level) values ($1, $2, $3, 'manage')`, boss.Brand, guest.Person, mine)
	exec(`insert into access_grant (brand_id, person_id, album_id, level) values ($1, $2, $3, 'look')`, boss.Brand, guest.Person, shared)
	boss = storetest.See(t, h.DB, boss.Person, "walled")
	_, err := h.Filing.Move(ctx, boss, selectIDs(secrets[5]), mine) // its history tells of where it was
	require.NoError(t, err)
	_, err = h.Filing.Move(ctx, boss, selectIDs(secrets[5]), hidden)
	require.NoError(t, err)
	_, err = h.Describing.Tag(ctx, boss, selectIDs(given[0]), "open, shared", nil)
	require.NoError(t, err)
	_, err = h.Gathering.Add(ctx, boss, []int64{album}, selectIDs(given[1]))
	require.NoError(t, err)

	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, guest.Person, "associate@walled.example")
	var codes []string
	require.NoError(t, h.DB.Select(&codes, `select code from asset where folder_id = $1 union select code from folder
		where id = $1 union select code from album where id = $2
		union select v.code from version v join asset a on a.id = v.asset_id where a.folder_id = $1 union select code from gallery`,
		hidden, album))
	// ids of the house, counts of it, alone and with what was given
	forbidden := regexp.MustCompile(`(?i)wolfram|\b99\d{4}\b|\b7(29|3[0-4])\b`)
	asked := 0
	look := func(c call) {
		status, text := c.send(t, client, server.URL)
		asked++
		assert.Less(t, status, 500, "%s: %s", c.operation, text)
		assert.NotRegexp(t, missing, text, c.operation)
		text = timestamps.ReplaceAllString(text, "")
		for _, id := range []int64{hidden, album, secrets[0], secrets[5], hiddenIntake, tag, size} { // what was asked for may be named
			if strings.Contains(c.path, fmt.Sprint(id)) || strings.Contains(fmt.Sprint(c.body), fmt.Sprint(id)) {
				text = strings.ReplaceAll(text, fmt.Sprint(id), "")
			}
		}
		assert.NotRegexp(t, forbidden, text, "%s %s", c.operation, c.path)
		for _, code := range codes {
			assert.NotContains(t, text, code, c.operation)
		}
	}
	for _, ids := range []map[string]int64{
		{"folder": mine, "parent": mine, "album": shared, "asset": given[0], "id": given[0], "intake": 1, "outputSize": size},
		{"folder": hidden, "parent": hidden, "album": album, "asset": secrets[0], "id": hidden, "intake": hiddenIntake, "outputSize": size},
		{"folder": hidden, "album": album, "asset": secrets[5], "id": album},
		{"folder": mine, "album": album, "asset": secrets[5], "id": secrets[5], "tag": tag},
		{"id": given[1], "asset": given[1], "folder": mine, "album": shared},
		{"id": mine, "asset": given[1], "folder": mine, "album": shared},
		{"id": shared, "asset": given[1], "folder": mine, "album": shared},
		{"id": hiddenIntake, "asset": given[1]},
	} {
		for _, c := range everyCall(t, "walled", func(field string) int64 {
			if id, known := ids[field]; known {
				return id
			}
			return ids["asset"]
		}) {
			if slices.Contains([]string{"binAssets", "removeFolder", "moveAssets"}, c.operation) && ids["asset"] != secrets[0] {
				continue // it stays where it can be seen
			}
			look(c)
		}
	}
	ask := func(q map[string]any) {
		q["place"] = orElse(q["place"], "everything")
		look(call{"listSheet", "POST", "/api/brands/walled/sheet", q})
		look(call{"getFacets", "POST", "/api/brands/walled/facets", q})
		look(call{"listDays", "POST", "/api/brands/walled/days", q})
		look(call{"sizeUp", "POST", "/api/brands/walled/selection", map[string]any{"everything": q}})
	}
	ask(map[string]any{})
	ask(map[string]any{"filter": map[string]any{"field": "words", "names": []any{"wolfram"}}})
	ask(map[string]any{"place": "folder", "id": hidden, "below": true})
	ask(map[string]any{"place": "album", "id": album})
	everything := map[string]any{"place": "everything"}
	for _, typed := range []string{"wolfram", "tag: wolfram", "not wolfram", "in wolfram", "album wolfram"} {
		look(call{"readRules", "POST", "/api/brands/walled/rules/read", map[string]any{"query": everything, "typed": typed}})
	}
	for field, id := range map[string]int64{"tag": tag, "folder": hidden, "album": album} {
		rule := map[string]any{"field": field, "ids": []any{id}}
		look(call{"countRules", "POST", "/api/brands/walled/rules/count", map[string]any{"query": everything, "rules": []any{rule}}})
	}
	assert.Greater(t, asked, 700)
}

var timestamps = regexp.MustCompile(`\d{4}-\d\d-\d\dT[\d:.]+(Z|[+-]\d\d:\d\d)?`)

func orElse(v, otherwise any) any {
	if v == nil {
		return otherwise
	}
	return v
}

func selectIDs(ids ...int64) query.Selection { return query.Selection{IDs: ids} }
