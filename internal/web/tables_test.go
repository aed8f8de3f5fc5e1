package web

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/store/storetest"
)

// TestTablesComeBackOverHTTP brings tables back as somebody who may and as one who may not, malformed, too large, and forty at once.
func TestTablesComeBackOverHTTP(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "tabled")
	v := people[access.Coordinator]
	ids := storetest.Items(t, h.DB, v, 0, "a.jpg")
	require.NoError(t, h.Index.Load(context.Background(), v.Brand))
	var code string
	require.NoError(t, storetest.SQL(h.DB).Get(&code, `select code from asset where id = $1`, ids[0]))
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	may := clientOf(t, h, server, v.Person, "coordinator@tabled.example")
	mayNot := clientOf(t, h, server, people[access.Reviewer].Person, "reviewer@tabled.example")
	bring := func(client *http.Client, name, text string) (int, string) {
		response, err := client.Post(server.URL+"/api/brands/tabled/tables?name="+name, "text/csv", strings.NewReader(text))
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		answer, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		return response.StatusCode, string(answer)
	}
	good := "code,title\n" + code + ",Moth\n"
	for what, test := range map[string]struct {
		client     *http.Client
		name, text string
		status     int
		says       string
	}{
		"a stranger":    {server.Client(), "a.csv", good, 401, ""},
		"a reviewer":    {mayNot, "a.csv", good, 403, "may not"},
		"without name":  {may, "", good, 422, "name of its file"},
		"a NUL in it":   {may, "a%00.csv", good, 422, "name of its file"},
		"far too large": {may, "a.csv", strings.Repeat("x", describing.MostBytes+1), 422, "more than 32 MB"},
		"a good one":    {may, "a.csv", good, 200, `"state":"reading"`},
	} {
		status, answer := bring(test.client, test.name, test.text)
		assert.Equal(t, test.status, status, "%s: %s", what, answer)
		assert.Contains(t, answer, test.says, what)
	}
	var wait sync.WaitGroup
	for i := range 40 {
		wait.Go(func() {
			status, answer := bring(may, fmt.Sprintf("%d.csv", i), good)
			assert.Equal(t, 200, status, answer)
		})
	}
	wait.Wait()
	var kept int
	require.NoError(t, storetest.SQL(h.DB).Get(&kept, `select count(*) from words_table`))
	assert.Positive(t, kept)
}
