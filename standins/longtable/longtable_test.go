package longtable_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/standins/longtable"
)

// called calls something by its name, and reads what was said.
func called(t *testing.T, at, name string, values url.Values) (status int, said map[string]any) {
	t.Helper()
	request, err := http.NewRequest(http.MethodPost, at+"/call/"+name, strings.NewReader(values.Encode()))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	request.Header.Set("Authorization", "Bearer "+longtable.Token)
	answer, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	require.NoError(t, json.Unmarshal(text, &said), "%s", text)
	return answer.StatusCode, said
}

func TestItSaysInTheAnswerWhetherItWentWell(t *testing.T) {
	s := longtable.New("")
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	status, said := called(t, server.URL, "places.list", nil)
	assert.Equal(t, http.StatusOK, status)
	assert.Equal(t, true, said["ok"])
	assert.Len(t, said["places"], 2, "those of the account")
	for name, values := range map[string]url.Values{
		"posts.make":   {"place": {"lt-1"}, "pictures": {"nothing"}},
		"albums.make":  {"place": {"lt-3"}, "title": {"Of another account"}},
		"posts.drop":   {"post": {"nothing"}},
		"posts.read":   {"post": {"old9"}},
		"pictures.put": {"picture": {"no file"}},
		"sing":         nil,
	} {
		status, said = called(t, server.URL, name, values)
		assert.Equal(t, http.StatusOK, status, name)
		assert.Equal(t, false, said["ok"], name)
		assert.NotEmpty(t, said["message"], name)
	}
	for _, wrong := range []url.Values{{"place": {"lt-1"}}, {"place": {"lt-1"}, "pictures": {strings.Repeat("a,", 31)}},
		{"place": {"lt-1"}, "pictures": {"a"}, "words": {strings.Repeat("ä", 1001)}}} {
		_, said = called(t, server.URL, "posts.make", wrong)
		assert.Equal(t, false, said["ok"], "%.80v", wrong)
	}
	answer, err := http.Post(server.URL+"/call/places.list", "", nil)
	require.NoError(t, err)
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	assert.Equal(t, http.StatusOK, answer.StatusCode, "also to strangers")
	assert.Contains(t, string(text), "sign_in")
}

func TestItTakesSoManyCallsASecond(t *testing.T) {
	s := longtable.New("")
	s.Calls = 3
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	refused := 0
	for range 12 { // within two seconds at most
		if status, said := called(t, server.URL, "account.read", nil); status == http.StatusTooManyRequests {
			assert.Equal(t, "slow_down", said["code"])
			refused++
		}
	}
	assert.Positive(t, refused)
	time.Sleep(1100 * time.Millisecond)
	status, _ := called(t, server.URL, "account.read", nil)
	assert.Equal(t, http.StatusOK, status)
}

func TestVisitorsSeeAPlaceAlbumByAlbum(t *testing.T) {
	server := httptest.NewServer(longtable.New(""))
	t.Cleanup(server.Close)
	for path, words := range map[string][]string{"/see/lt-1": {"Beach days", "Workshop", "everybody sees"},
		"/see/lt-2": {"What we built", "by Marla P.", "its 87 members see"}, "/weather": {"Bad days of Longtable"}} {
		answer, err := http.Get(server.URL + path)
		require.NoError(t, err)
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		for _, w := range words {
			assert.Contains(t, strings.ReplaceAll(string(text), "\n", " "), w, path)
		}
	}
	answer, err := http.Get(server.URL + "/picture/nothing")
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	assert.Equal(t, http.StatusNotFound, answer.StatusCode)
}
