package web

import (
	"context"
	"encoding/base64"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/storetest"
)

func TestUploadsBelongToTheirIntake(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "tus")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	mine := clientOf(t, h, server, people[access.Coordinator].Person, "coordinator@tus.example")
	other := clientOf(t, h, server, people[access.Steward].Person, "steward@tus.example")
	ctx := context.Background()
	batch, err := h.BringIn.Begin(ctx, people[access.Coordinator], bringin.Target{},
		[]bringin.Dropped{{Name: "a.jpg", Bytes: 5}, {Name: "b.jpg", Bytes: 5}}, 0)
	require.NoError(t, err)
	code := batch.Files[0].Code
	send := func(client *http.Client, method, path, code, body string, headers ...string) *http.Response {
		request, err := http.NewRequest(method, server.URL+"/api/brands/tus/uploads"+path, strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Tus-Resumable", "1.0.0")
		if method == http.MethodPost {
			request.Header.Set("Upload-Length", "5")
			request.Header.Set("Upload-Metadata", "code "+base64.StdEncoding.EncodeToString([]byte(code)))
		}
		for i := 0; i < len(headers); i += 2 {
			request.Header.Set(headers[i], headers[i+1])
		}
		response, err := client.Do(request)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response
	}
	piece := func(offset string) []string {
		return []string{"Upload-Offset", offset, "Content-Type", "application/offset+octet-stream"}
	}
	assert.Equal(t, 404, send(mine, "POST", "", "made-up-code", "").StatusCode, "an upload that no intake knows")
	assert.Equal(t, 404, send(mine, "POST", "", "../../etc/cron.d/x", "").StatusCode)
	assert.Equal(t, 404, send(other, "POST", "", code, "").StatusCode, "somebody else's intake")
	made := send(mine, "POST", "", code, "")
	require.Equal(t, 201, made.StatusCode)
	assert.Equal(t, "/api/brands/tus/uploads/"+code, made.Header.Get("Location"))
	assert.Equal(t, 404, send(other, "PATCH", "/"+code, code, "he", piece("0")...).StatusCode)
	assert.Equal(t, 204, send(mine, "PATCH", "/"+code, code, "he", piece("0")...).StatusCode)
	assert.Equal(t, 409, send(mine, "PATCH", "/"+code, code, "xx", piece("0")...).StatusCode, "from the wrong byte")
	assert.Equal(t, "2", send(mine, "HEAD", "/"+code, code, "").Header.Get("Upload-Offset"))
	assert.Equal(t, 401, send(server.Client(), "PATCH", "/"+code, code, "llo", piece("2")...).StatusCode, "the session has ended")
	assert.Equal(t, 204, send(mine, "PATCH", "/"+code, code, "llo", piece("2")...).StatusCode, "signed in again it goes on")
	f, err := intakestore.IntakeFileByCode(ctx, h.DB, code)
	require.NoError(t, err)
	assert.Equal(t, "arrived", f.State)
	assert.Equal(t, 410, send(mine, "PATCH", "/"+code, code, "x", piece("5")...).StatusCode, "all of it is here")
	_, err = h.BringIn.Cancel(ctx, people[access.Coordinator], batch.ID)
	require.NoError(t, err)
	assert.Equal(t, 410, send(mine, "POST", "", batch.Files[1].Code, "").StatusCode, "it was cancelled")
}
