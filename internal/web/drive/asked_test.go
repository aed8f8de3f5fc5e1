package drive_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/storetest"
)

// TestWhatHurtsIsNotAsked: very many properties, deep nesting, and prefixes that stand for nothing.
func TestWhatHurtsIsNotAsked(t *testing.T) {
	_, _, of := drives(t, "drive_asked")
	d := of(access.Coordinator)
	find := func(inside string) string {
		return `<?xml version="1.0"?><D:propfind xmlns:D="DAV:"><D:prop>` + inside + `</D:prop></D:propfind>`
	}
	var many strings.Builder
	for i := range 9000 {
		fmt.Fprintf(&many, "<D:p%d/>", i)
	}
	for body, want := range map[string]int{
		find("<D:getetag/><D:resourcetype/>"): 207, find(many.String()): 413, "": 207,
		strings.Repeat("<a>", 5000) + strings.Repeat("</a>", 5000):                                              413,
		`<?xml version="1.0"?><D:propfind xmlns:D="DAV:"><D:prop><bar:foo xmlns:bar=""/></D:prop></D:propfind>`: 400, "<unended": 400,
		find(strings.Repeat(" ", 300<<10)): 413,
	} {
		began := time.Now()
		status, text, _ := d.ask("PROPFIND", "/Library", []byte(body), "Depth", "1")
		assert.Equal(t, want, status, "%.80s: %.200s", body, text)
		assert.Less(t, time.Since(began), 5*time.Second)
	}
}

// TestTheTopTellsWhatProgramsAsk: how much room there is, when anything changed; and a space at the end of a name is taken off, and said.
func TestTheTopTellsWhatProgramsAsk(t *testing.T) {
	_, _, of := drives(t, "drive_top")
	d := of(access.Coordinator)
	quota := []byte(`<?xml version="1.0"?><D:propfind xmlns:D="DAV:"><D:prop><D:quota-available-bytes/><D:quota-used-bytes/>
		<D:getlastmodified/></D:prop></D:propfind>`)
	ask := func() (available, used int, changed time.Time) {
		t.Helper()
		status, text, _ := d.ask("PROPFIND", "/", quota, "Depth", "0")
		require.Equal(t, 207, status)
		found := func(name string) string {
			_, rest, there := strings.Cut(text, name+">")
			require.True(t, there, "%s in %s", name, text)
			value, _, _ := strings.Cut(rest, "<")
			return value
		}
		available, err := strconv.Atoi(found("quota-available-bytes"))
		require.NoError(t, err)
		used, err = strconv.Atoi(found("quota-used-bytes"))
		require.NoError(t, err)
		changed, err = time.Parse(time.RFC1123, found("getlastmodified"))
		require.NoError(t, err)
		return available, used, changed
	}
	available, used, _ := ask()
	assert.Greater(t, available, 1<<20)
	assert.Zero(t, used)
	data := jpeg(t, 1)
	status, _, headers := d.ask("PUT", "/Library/spaced%20.jpg%20", data)
	assert.Equal(t, 201, status)
	assert.Equal(t, "/dav/Library/spaced%20.jpg", headers.Get("Content-Location"))
	d.taken()
	assert.Equal(t, []string{"spaced .jpg"}, d.names("/Library"))
	d.does(200, "", "GET", "/Library/spaced%20.jpg%20")
	_, err := storetest.SQL(d.h.DB).Exec(`update trail set at = '2026-01-02 03:04:05Z'`)
	require.NoError(t, err)
	_, used, changed := ask()
	assert.Equal(t, len(data), used)
	assert.Equal(t, 2026, changed.Year())
	assert.Equal(t, time.January, changed.Month())
}
