package web

import (
	"bufio"
	"bytes"
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
)

// bringInDrawing brings in a drawing with a script and returns the code of its item.
func bringInDrawing(t *testing.T, h *house.House, v *access.Viewer) string {
	t.Helper()
	ctx := context.Background()
	data := mediatest.SVG("/etc/hostname")
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "drawing.svg", Bytes: int64(len(data))}}, 0)
	require.NoError(t, err)
	require.NoError(t, h.BringIn.Receive(ctx, batch.Files[0].Code, bytes.NewReader(data)))
	require.NoError(t, h.Work(ctx))
	batch = housetest.Settled(t, h, v, batch.ID)
	require.Equal(t, "added", batch.Files[0].State, batch.Files[0].Why)
	return batch.Files[0].AssetCode.String
}

func TestUploadedFilesCannotActInOurName(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "bytes")
	code := bringInDrawing(t, h, people[access.Coordinator])
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	coordinator := clientOf(t, h, server, people[access.Coordinator].Person, "coordinator@bytes.example")
	reviewer := clientOf(t, h, server, people[access.Reviewer].Person, "reviewer@bytes.example")
	get := func(client *http.Client, path string) *http.Response {
		response, err := client.Get(server.URL + path)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response
	}
	preview := get(reviewer, "/media/bytes/"+code+"/small")
	assert.Equal(t, http.StatusOK, preview.StatusCode)
	assert.Equal(t, "image/webp", preview.Header.Get("Content-Type"))
	assert.Contains(t, preview.Header.Get("Cache-Control"), "immutable")
	assert.Empty(t, preview.Header.Values("Set-Cookie"), "or browsers would not keep it")

	original := get(coordinator, "/media/bytes/"+code+"/original")
	assert.Equal(t, http.StatusOK, original.StatusCode)
	assert.Contains(t, original.Header.Get("Content-Disposition"), "attachment")
	assert.Contains(t, original.Header.Get("Content-Security-Policy"), "sandbox")
	assert.Equal(t, "nosniff", original.Header.Get("X-Content-Type-Options"))
	assert.Equal(t, http.StatusForbidden, get(reviewer, "/media/bytes/"+code+"/original").StatusCode)
	for _, path := range []string{"/media/bytes/" + code + "/film", "/media/bytes/" + code + "/..%2f", "/media/bytes/nosuchcode/small",
		"/assets/missing.js", "/assets/../index.html", "/nowhere"} {
		assert.Equal(t, http.StatusNotFound, get(coordinator, path).StatusCode, path)
	}
	page := get(coordinator, "/b/bytes/file")
	assert.Equal(t, http.StatusOK, page.StatusCode)
	assert.Contains(t, page.Header.Get("Content-Security-Policy"), "script-src 'self';")
}

func TestOpenScreensAreTold(t *testing.T) {
	s, h := newServer(t)
	mine := storetest.Brand(t, h.DB, "told")
	others := storetest.Brand(t, h.DB, "untold")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	defer s.Close() // ends the streams, which the server would wait for
	listen := func(code string, person int64) *bufio.Scanner {
		client := clientOf(t, h, server, person, "reviewer@"+code+".example")
		response, err := client.Get(server.URL + "/api/brands/" + code + "/events")
		require.NoError(t, err)
		t.Cleanup(func() { _ = response.Body.Close() })
		lines := bufio.NewScanner(response.Body)
		require.True(t, lines.Scan())
		require.Equal(t, "event: ready", lines.Text())
		return lines
	}
	next := func(lines *bufio.Scanner) string {
		for lines.Scan() {
			if data, ok := strings.CutPrefix(lines.Text(), "data: ["); ok {
				return data
			}
		}
		return ""
	}
	first := listen("told", mine[access.Reviewer].Person)
	second := listen("untold", others[access.Reviewer].Person)
	ids := storetest.Items(t, h.DB, mine[access.Coordinator], 0, "a.jpg")
	assert.Contains(t, next(first), "items")
	_, err := h.Choosing.Rate(context.Background(), mine[access.Reviewer], query.Selection{IDs: ids}, 4)
	require.NoError(t, err)
	assert.Contains(t, next(first), "trail")
	require.NoError(t, h.DB.InTx(context.Background(), func(tx *store.Tx) error {
		_, err := folderstore.AddFolder(context.Background(), tx, others[access.Coordinator].Brand, 0, "Theirs")
		return err
	}))
	assert.Equal(t, `"folders"]`, next(second), "and nothing of the other brand before")
	s.Close()
	assert.Empty(t, next(first), "a server that ends says so")
}
