package beanpole_test

import (
	"bytes"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/standins/beanpole"
)

// call calls the versioned API, and reads what was said.
func call(t *testing.T, method, address string, body any) (status int, said struct {
	Data  map[string]any
	Error map[string]string
}) {
	t.Helper()
	text, raw := body.([]byte)
	if !raw {
		var err error
		text, err = json.Marshal(body)
		require.NoError(t, err)
	}
	request, err := http.NewRequest(method, address, bytes.NewReader(text))
	require.NoError(t, err)
	request.Header.Set("Authorization", "Bearer "+beanpole.Token)
	answer, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	got, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	_ = json.Unmarshal(got, &said)
	return answer.StatusCode, said
}

func picture(t *testing.T, width, height int) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, image.NewGray(image.Rect(0, 0, width, height)), nil))
	return out.Bytes()
}

// brought brings a file in three steps, and says how the last one went.
func brought(t *testing.T, at string, content []byte) (id string, status int) {
	t.Helper()
	status, said := call(t, "POST", at+"/v2/uploads", map[string]any{"bytes": len(content), "type": "image/jpeg"})
	require.Equal(t, http.StatusCreated, status)
	id = said.Data["id"].(string)
	status, _ = call(t, "PUT", said.Data["put"].(string), content)
	require.Equal(t, http.StatusOK, status)
	status, _ = call(t, "POST", at+"/v2/uploads/"+id+"/finish", nil)
	return id, status
}

func TestAFileIsBroughtInThreeSteps(t *testing.T) {
	s := beanpole.New("")
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	for name, test := range map[string]struct {
		content []byte
		status  int
	}{"upright": {picture(t, 800, 1000), 200}, "too wide": {picture(t, 1000, 800), 422}, "too narrow": {picture(t, 400, 1000), 422},
		"too large": {picture(t, 1200, 1600), 422}, "no picture": {[]byte("text"), 422}} {
		_, status := brought(t, server.URL, test.content)
		assert.Equal(t, test.status, status, name)
	}
	_, said := call(t, "POST", server.URL+"/v2/uploads", map[string]any{"bytes": 10, "type": "image/jpeg"})
	status, _ := call(t, "PUT", said.Data["put"].(string), []byte("half"))
	assert.Equal(t, http.StatusConflict, status, "not what was announced")
	status, _ = call(t, "POST", server.URL+"/v2/uploads/"+said.Data["id"].(string)+"/finish", nil)
	assert.Equal(t, http.StatusConflict, status)
}

func TestADraftIsPublishedOnceItIsReady(t *testing.T) {
	s := beanpole.New("")
	s.Takes = 300 * time.Millisecond
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	calls := make(chan string, 4)
	us := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		body, _ := io.ReadAll(r.Body)
		calls <- r.Header.Get("Beanpole-Signature") + " " + string(body)
	}))
	t.Cleanup(us.Close)
	_, hook := call(t, "POST", server.URL+"/v2/hooks", map[string]string{"url": us.URL})
	secret := hook.Data["secret"].(string)
	upload, _ := brought(t, server.URL, picture(t, 800, 1000))
	_, draft := call(t, "POST", server.URL+"/v2/channels/c1/drafts", map[string]any{"text": "Up", "media": []any{map[string]string{
		"upload": upload, "alt": "A kite"}}})
	at := server.URL + "/v2/drafts/" + draft.Data["id"].(string)
	status, said := call(t, "POST", at+"/publish", nil)
	assert.Equal(t, http.StatusConflict, status)
	assert.Equal(t, "not_ready", said.Error["code"])
	told := <-calls
	signature, body, _ := bytes.Cut([]byte(told), []byte(" "))
	sum := hmac.New(sha256.New, []byte(secret))
	sum.Write(body)
	assert.Equal(t, hex.EncodeToString(sum.Sum(nil)), string(signature))
	require.Eventually(t, func() bool {
		_, said := call(t, "GET", at, nil)
		return said.Data["state"] == "ready"
	}, 10*time.Second, 20*time.Millisecond)
	status, said = call(t, "POST", at+"/publish", nil)
	require.Equal(t, http.StatusOK, status)
	assert.NotEmpty(t, said.Data["post"])
	status, said = call(t, "POST", at+"/publish", nil)
	assert.Equal(t, http.StatusConflict, status)
	assert.Equal(t, "already", said.Error["code"])
	assert.Len(t, s.Posts("c1"), 3)
	status, _ = call(t, "POST", server.URL+"/v2/channels/c2/drafts", map[string]any{"text": "",
		"media": []any{map[string]string{"upload": upload}}})
	assert.Equal(t, http.StatusNotFound, status, "a channel of another account")
}
