package bench

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/web"
)

// desk is a person at work in a library.
type desk struct {
	t       *testing.T
	h       *house.House
	address string
	client  *http.Client
	took    map[string][]float64 // milliseconds
	items   int
	person  int64

	email, password string // for the drive
}

// deskIn is a coordinator at work in a library of so many items.
func deskIn(t *testing.T, name string, items int) *desk {
	return deskOf(t, name, items, access.Coordinator)
}

// deskOf is somebody at work in a library of so many items.
func deskOf(t *testing.T, name string, items int, role access.Role) *desk {
	h := housetest.New(t, name)
	v := storetest.Brand(t, h.DB, "bench")[role]
	began := time.Now()
	storetest.Library(t, h.DB, v.Brand, v.Person, items)
	t.Logf("%d items made in %.0f s", items, time.Since(began).Seconds())
	fillTrail(t, h.DB, v.Brand, v.Person, items)
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	began = time.Now()
	require.NoError(t, h.Index.Load(context.Background(), v.Brand))
	loading := time.Since(began).Seconds()
	runtime.GC()
	runtime.ReadMemStats(&after)
	t.Logf("%d items: the index loads in %.1f s and takes %d MB", items, loading, (int64(after.HeapInuse)-int64(before.HeapInuse))>>20)
	d := &desk{t: t, h: h, took: map[string][]float64{}, items: items, person: v.Person}
	d.signIn(v.Person)
	require.NoError(t, h.Work(context.Background()))
	return d
}

// fillTrail writes what people did to every fifth item, and where.
func fillTrail(t *testing.T, db *store.DB, brand, person int64, items int) {
	t.Helper()
	for _, statement := range []string{
		`insert into trail (brand_id, person_id, action, said, at) select $1, $2, (array['rate', 'tag', 'move', 'describe'])[1 + n % 4],
			'Did something to item ' || n, now() - make_interval(mins => $3::int / 5 - n) from generate_series(1, $3::int / 5) n`,
		`insert into trail_change (trail_id, table_name, key, before, after) select t.id, 'asset', jsonb_build_object('id', 5 * t.id),
			'{"stars": 0}', '{"stars": 3}' from trail t where t.brand_id = $1 and $2 > 0 and $3 > 0`,
		`insert into trail_folder (folder_id, trail_id) select 1 + t.id % ($3::int / 200), t.id from trail t where t.brand_id = $1
			and $2 > 0`,
		`analyze trail`, `analyze trail_change`, `analyze trail_folder`,
	} {
		args := []any{brand, person, items}
		if strings.HasPrefix(statement, "analyze") {
			args = nil
		}
		_, err := storetest.SQL(db).Exec(statement, args...)
		require.NoError(t, err, statement)
	}
}

func (d *desk) signIn(person int64) {
	hash, err := passwords.Hash("correct horse")
	require.NoError(d.t, err)
	var email string
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&email, `update person set password_hash = $2 where id = $1 returning email`, person, hash))
	ctx, cancel := context.WithCancel(context.Background())
	d.t.Cleanup(cancel)
	site, err := web.New(ctx, d.h, web.Options{})
	require.NoError(d.t, err)
	d.t.Cleanup(site.Close)
	server := httptest.NewServer(site.Handler())
	d.t.Cleanup(server.Close)
	jar, err := cookiejar.New(nil)
	require.NoError(d.t, err)
	d.client, d.address = &http.Client{Jar: jar}, server.URL
	d.ask("", http.MethodPost, "/api/session", map[string]any{"email": email, "password": "correct horse"}, nil)
}

// ask sends a request and notes how long the answer took under a name, unless that is "". An answer of []byte gets the bytes,
// any other what the JSON says.
func (d *desk) ask(what, method, path string, body, answer any) {
	var sent io.Reader // what only asks has no body
	if body != nil {
		text, err := json.Marshal(body)
		require.NoError(d.t, err)
		sent = bytes.NewReader(text)
	}
	request, err := http.NewRequest(method, d.address+path, sent)
	require.NoError(d.t, err)
	request.Header.Set("Content-Type", "application/json")
	began := time.Now()
	response, err := d.client.Do(request)
	require.NoError(d.t, err)
	got, err := io.ReadAll(response.Body)
	require.NoError(d.t, err)
	if what != "" {
		d.took[what] = append(d.took[what], time.Since(began).Seconds()*1000)
	}
	require.NoError(d.t, response.Body.Close())
	require.Equal(d.t, http.StatusOK, response.StatusCode, "%s %s: %s", method, path, got)
	switch answer := answer.(type) {
	case nil:
	case *[]byte:
		*answer = got
	default:
		require.NoError(d.t, json.Unmarshal(got, answer))
	}
}

type sheetPage struct {
	Total int     `json:"total"`
	IDs   []int64 `json:"ids"`
}

// So many rounds warm up before any is measured.
const warm = 5

// warmed names what is measured in a round, or nothing while it warms up.
func warmed(round int) func(what string) string {
	return func(what string) string {
		if round < warm {
			return ""
		}
		return what
	}
}
