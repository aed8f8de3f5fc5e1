package web

import (
	"context"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestOneAddressLocksNobodyOut guesses at an account, at a gallery and asks for links, from one address, far beyond what is allowed:
// whoever was there before goes in from there at once, and anybody from elsewhere.
func TestOneAddressLocksNobodyOut(t *testing.T) {
	_, h := newServer(t)
	behind, err := New(context.Background(), h, Options{Proxies: []string{"127.0.0.1"}})
	require.NoError(t, err)
	t.Cleanup(behind.Close)
	people := storetest.Brand(t, h.DB, "besieged")
	server := httptest.NewServer(behind.Handler())
	defer server.Close()
	_ = clientOf(t, h, server, people[access.Steward].Person, "steward@besieged.example")
	const steward = "steward@besieged.example"
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	home := &http.Client{Jar: jar}
	post := func(client *http.Client, path, body, from string) (int, *http.Response) {
		request, err := http.NewRequest(http.MethodPost, server.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("X-Forwarded-For", from)
		response, err := client.Do(request)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response.StatusCode, response
	}
	const stranger, elsewhere = "203.0.113.7", "203.0.113.8"
	enter := func(client *http.Client, from, password string) int {
		status, _ := post(client, "/api/session", `{"email":"`+steward+`","password":"`+password+`"}`, from)
		return status
	}
	require.Equal(t, 200, enter(home, stranger, "correct horse")) // once before, from where the stranger is too
	var wait sync.WaitGroup
	for range 64 {
		wait.Go(func() {
			for range 4 {
				status := enter(http.DefaultClient, stranger, "guess")
				assert.Contains(t, []int{422, 429}, status)
			}
		})
	}
	wait.Wait()
	assert.Equal(t, 429, enter(http.DefaultClient, stranger, "correct horse"), "on a new device it waits")
	assert.Equal(t, 200, enter(home, stranger, "correct horse"), "on a known device it does not")
	assert.Equal(t, 200, enter(http.DefaultClient, elsewhere, "correct horse"), "nor from elsewhere")
	require.NoError(t, h.DB.InTx(context.Background(), func(tx *store.Tx) error {
		_, err := tx.ExecContext(t.Context(), `update attempt_count set last_at = now(), n = 100000 where key not like '% on %'`)
		return err
	}))
	assert.Equal(t, 200, enter(home, elsewhere, "correct horse"), "whatever is counted for all strangers together")

	cookies := jar.Cookies(mustParse(t, server.URL))
	at := slices.IndexFunc(cookies, func(c *http.Cookie) bool { return c.Name == deviceCookie })
	require.GreaterOrEqual(t, at, 0)
	for _, made := range []string{"", "x", cookies[at].Value[:len(cookies[at].Value)-4] + "AAAA", strings.Repeat("A", 4000)} {
		forger, err := cookiejar.New(nil)
		require.NoError(t, err)
		forger.SetCookies(mustParse(t, server.URL), []*http.Cookie{{Name: deviceCookie, Value: made}})
		assert.Equal(t, 429, enter(&http.Client{Jar: forger}, elsewhere, "correct horse"), "a device that is made up is none")
	}
}

func mustParse(t *testing.T, text string) *url.URL {
	t.Helper()
	at, err := url.Parse(text)
	require.NoError(t, err)
	return at
}
