package web

import (
	"encoding/base64"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store/storetest"
)

// TestWhatIsNoPageIsNotKeptAsOne: what a stranger says of where something is shown is an address of the web, or nothing.
func TestWhatIsNoPageIsNotKeptAsOne(t *testing.T) {
	for at, origin := range map[string]string{"javascript://x/%0aalert(1)": "javascript://x", "data://x/y": "data://x",
		"https://user:pw@shop.example/": "https://shop.example", "file://etc/passwd": "file://etc", "//shop.example/": "://shop.example"} {
		assert.Empty(t, pageOf(at, origin), at)
		assert.Empty(t, pageThatAsks(at, "http://home"), at)
	}
	assert.Equal(t, "https://shop.example/a", pageOf("https://shop.example/a?b", "https://shop.example"))
	assert.Equal(t, "https://shop.example/a", pageThatAsks("https://shop.example/a?b", "http://home"))
}

// TestAddressesAreOurs: where it is said how people reach the server, no answer repeats the host that somebody asked for.
func TestAddressesAreOurs(t *testing.T) {
	h, _, _, _, e := published(t, "ours")
	s, err := New(t.Context(), h, Options{Origin: "https://media.example"})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	page := "/e/" + e.Code
	for _, path := range []string{page, page + "/feed.json", page + "/feed.xml", "/api/public/embeds/" + e.Code} {
		r, err := http.NewRequest(http.MethodGet, server.URL+path, nil)
		require.NoError(t, err)
		r.Host = "evil.example"
		answer, err := server.Client().Do(r)
		require.NoError(t, err)
		var text strings.Builder
		_, err = copyAll(&text, answer)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		assert.Contains(t, text.String(), "https://media.example/", path)
		assert.NotContains(t, text.String(), "evil.example", path)
	}
}

// TestAnUploadIsAsLargeAsItWasAnnounced, also where it says something else when it begins.
func TestAnUploadIsAsLargeAsItWasAnnounced(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "sizes")
	v := people[access.Coordinator]
	batch, err := h.BringIn.Begin(t.Context(), v, bringin.Target{}, []bringin.Dropped{{Name: "a.jpg", Bytes: 10}}, 0)
	require.NoError(t, err)
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, v.Person, "coordinator@sizes.example")
	begin := func(headers ...string) int {
		r, err := http.NewRequest(http.MethodPost, server.URL+"/api/brands/sizes/uploads", nil)
		require.NoError(t, err)
		r.Header.Set("Tus-Resumable", "1.0.0")
		r.Header.Set("Upload-Metadata", "code "+base64.StdEncoding.EncodeToString([]byte(batch.Files[0].Code)))
		for i := 0; i < len(headers); i += 2 {
			r.Header.Set(headers[i], headers[i+1])
		}
		answer, err := client.Do(r)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer.StatusCode
	}
	for _, wrong := range [][]string{{"Upload-Length", "4294967296"}, {"Upload-Length", "11"}, {"Upload-Defer-Length", "1"}, {}} {
		assert.Equal(t, http.StatusUnprocessableEntity, begin(wrong...), wrong)
	}
	assert.Equal(t, http.StatusCreated, begin("Upload-Length", "10"))
}

// TestAnOutletsAddressHoldsNoPassword.
func TestAnOutletsAddressHoldsNoPassword(t *testing.T) {
	_, err := (&outlets.Connections{}).Connect("windward", "http://user:pw@windward.example", "token")
	require.ErrorContains(t, err, "a name and a password")
}

// TestPasswordsThatAreTriedFirstAreNotTaken.
func TestPasswordsThatAreTriedFirstAreNotTaken(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "weak")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, people[access.Reviewer].Person, "reviewer@weak.example")
	choose := func(next string) (int, string) {
		body := map[string]any{"present": "correct horse", "next": next}
		return call{"changePassword", "POST", "/api/me/password", body}.send(t, client, server.URL)
	}
	for _, weak := range []string{"password12", "1234567890", "qwertyuiop", "letmein123", "aaaaaaaaaa"} {
		status, text := choose(weak)
		assert.Equal(t, http.StatusUnprocessableEntity, status, weak)
		assert.Contains(t, text, "tried first", weak)
	}
	status, text := choose("three gulls on a kite line")
	assert.Equal(t, http.StatusNoContent, status, text)
}
