package web

import (
	"bytes"
	"context"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestWhoReadsTheDriveIsBelievedForAMoment and no longer: a password that is taken back, and a role that is lost, count at once for whoever
// changes something, and as soon as the database has told of it for whoever reads.
func TestWhoReadsTheDriveIsBelievedForAMoment(t *testing.T) {
	ctx := context.Background()
	s, h := newServer(t)
	v := storetest.Brand(t, h.DB, "believed")[access.Coordinator]
	site := httptest.NewServer(s.Handler())
	t.Cleanup(site.Close)
	passwords := map[string]string{}
	for _, device := range []string{"laptop", "desk"} {
		password, err := h.People.MakeDrivePassword(ctx, v, device, 0)
		require.NoError(t, err)
		passwords[device] = password
	}
	ask := func(device, method, path string, body []byte) int {
		t.Helper()
		request, err := http.NewRequest(method, site.URL+"/dav/Library/"+path, bytes.NewReader(body))
		require.NoError(t, err)
		request.SetBasicAuth(v.Email, passwords[device])
		answer, err := http.DefaultClient.Do(request)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer.StatusCode
	}
	require.Equal(t, http.StatusCreated, ask("laptop", http.MethodPut, "a.txt", []byte("words")))
	for range 20 {
		assert.Equal(t, http.StatusOK, ask("laptop", http.MethodGet, "a.txt", nil))
		assert.Equal(t, http.StatusOK, ask("desk", http.MethodGet, "a.txt", nil))
	}
	all, err := h.People.DrivePasswords(ctx, v)
	require.NoError(t, err)
	for _, p := range all {
		if p.Name == "laptop" {
			_, err = h.People.EndDrivePassword(ctx, v, p.ID)
			require.NoError(t, err)
		}
	}
	assert.Equal(t, http.StatusUnauthorized, ask("laptop", http.MethodPut, "b.txt", []byte("words")), "at once")
	assert.Equal(t, http.StatusUnauthorized, ask("laptop", http.MethodDelete, "a.txt", nil))
	require.Eventually(t, func() bool { return ask("laptop", http.MethodGet, "a.txt", nil) == http.StatusUnauthorized }, holdFor,
		10*time.Millisecond)
	assert.Equal(t, http.StatusOK, ask("desk", http.MethodGet, "a.txt", nil), "the other one goes on")

	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		_, err := tx.ExecContext(ctx, `delete from membership where person_id = $1`, v.Person)
		return err
	}))
	assert.Equal(t, http.StatusUnauthorized, ask("desk", http.MethodPut, "c.txt", []byte("words")))
	require.Eventually(t, func() bool { return ask("desk", http.MethodGet, "a.txt", nil) == http.StatusUnauthorized }, holdFor,
		10*time.Millisecond)
}
