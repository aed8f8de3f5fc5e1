package signin_test

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/standins/signin"
)

const verifier = "a verifier that is long enough to be one, and known to one program"

// door is the server behind addresses, and one that says who calls.
func door(t *testing.T, s *signin.Server) *httptest.Server {
	t.Helper()
	ways := http.NewServeMux()
	ways.HandleFunc("/authorize", s.Authorize)
	ways.HandleFunc("/token", s.Token)
	ways.HandleFunc("/me", func(w http.ResponseWriter, r *http.Request) {
		account, known := s.Account(r)
		if !known {
			http.Error(w, "who are you?", http.StatusUnauthorized)
			return
		}
		_, _ = w.Write([]byte(account.ID))
	})
	server := httptest.NewServer(ways)
	t.Cleanup(server.Close)
	return server
}

func asked(change func(q url.Values)) string {
	sum := sha256.Sum256([]byte(verifier))
	q := url.Values{"client_id": {signin.Client}, "response_type": {"code"}, "redirect_uri": {"http://127.0.0.1:1/back"}, "state": {"mine"},
		"code_challenge_method": {"S256"}, "code_challenge": {base64.RawURLEncoding.EncodeToString(sum[:])}}
	change(q)
	return q.Encode()
}

func same(url.Values) {}

var stay = &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}

// letIn presses the button of an account, and gives what one is sent back with.
func letIn(t *testing.T, at, account string) url.Values {
	t.Helper()
	answer, err := stay.PostForm(at+"/authorize?"+asked(same), url.Values{"account": {account}})
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	back, err := url.Parse(answer.Header.Get("Location"))
	require.NoError(t, err)
	assert.Equal(t, "127.0.0.1:1", back.Host)
	return back.Query()
}

type tokens struct {
	Access  string `json:"access_token"`
	Refresh string `json:"refresh_token"`
	Ends    int    `json:"expires_in"`
	Error   string `json:"error"`
}

func exchange(t *testing.T, at string, values url.Values) (status int, got tokens) {
	t.Helper()
	answer, err := http.PostForm(at+"/token", values)
	require.NoError(t, err)
	require.NoError(t, json.NewDecoder(answer.Body).Decode(&got))
	require.NoError(t, answer.Body.Close())
	return answer.StatusCode, got
}

func byCode(code string) url.Values {
	return url.Values{"grant_type": {"authorization_code"}, "code": {code}, "code_verifier": {verifier},
		"redirect_uri": {"http://127.0.0.1:1/back"}}
}

func calls(t *testing.T, at, token string) int {
	t.Helper()
	request, err := http.NewRequest(http.MethodGet, at+"/me", nil)
	require.NoError(t, err)
	request.Header.Set("Authorization", "Bearer "+token)
	answer, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	return answer.StatusCode
}

func newServer() *signin.Server {
	return &signin.Server{Name: "Somewhere", Fixed: "always", Accounts: []signin.Account{{ID: "a1", Name: "First"}, {ID: "a2",
		Name: "Second"}}}
}

func TestAnApplicationIsLetIn(t *testing.T) {
	s := newServer()
	at := door(t, s).URL
	back := letIn(t, at, "a2")
	assert.Equal(t, "mine", back.Get("state"))
	status, got := exchange(t, at, byCode(back.Get("code")))
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, 3600, got.Ends)
	assert.Equal(t, http.StatusOK, calls(t, at, got.Access))
	assert.Equal(t, http.StatusUnauthorized, calls(t, at, "made up"))
	assert.Equal(t, http.StatusOK, calls(t, at, "always"))
	status, again := exchange(t, at, byCode(back.Get("code")))
	assert.Equal(t, http.StatusBadRequest, status, "a code is good for once")
	assert.Equal(t, "invalid_grant", again.Error)
	assert.Equal(t, "access_denied", letIn(t, at, "").Get("error"))
	assert.Equal(t, "access_denied", letIn(t, at, "nobody").Get("error"))
}

func TestWhoIsNotLetIn(t *testing.T) {
	at := door(t, newServer()).URL
	for name, change := range map[string]func(q url.Values){
		"another client":    func(q url.Values) { q.Set("client_id", "somebody") },
		"no way back":       func(q url.Values) { q.Del("redirect_uri") },
		"no challenge":      func(q url.Values) { q.Del("code_challenge") },
		"a plain challenge": func(q url.Values) { q.Set("code_challenge_method", "plain") },
		"no code":           func(q url.Values) { q.Set("response_type", "token") },
	} {
		answer, err := stay.Get(at + "/authorize?" + asked(change))
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		assert.Equal(t, http.StatusBadRequest, answer.StatusCode, name)
	}
	for name, change := range map[string]func(v url.Values){
		"another verifier": func(v url.Values) { v.Set("code_verifier", "guessed") },
		"another way back": func(v url.Values) { v.Set("redirect_uri", "http://127.0.0.1:1/elsewhere") },
		"another grant":    func(v url.Values) { v.Set("grant_type", "password") },
	} {
		values := byCode(letIn(t, at, "a1").Get("code"))
		change(values)
		status, _ := exchange(t, at, values)
		assert.Equal(t, http.StatusBadRequest, status, name)
	}
}

func TestTokensEndAndAreRenewedOnce(t *testing.T) {
	s := newServer()
	s.Lives = 50 * time.Millisecond
	at := door(t, s).URL
	_, first := exchange(t, at, byCode(letIn(t, at, "a1").Get("code")))
	require.Eventually(t, func() bool { return calls(t, at, first.Access) == http.StatusUnauthorized }, 10*time.Second, 10*time.Millisecond)
	s.Lives = time.Hour
	renew := func(token string) (int, tokens) {
		return exchange(t, at, url.Values{"grant_type": {"refresh_token"}, "refresh_token": {token}})
	}
	status, second := renew(first.Refresh)
	require.Equal(t, http.StatusOK, status)
	assert.NotEqual(t, first.Refresh, second.Refresh)
	assert.Equal(t, http.StatusOK, calls(t, at, second.Access))
	status, _ = renew(first.Refresh)
	assert.Equal(t, http.StatusBadRequest, status, "it was used before")
	assert.Equal(t, http.StatusUnauthorized, calls(t, at, second.Access), "all that it gave ends with it")
	status, _ = renew(second.Refresh)
	assert.Equal(t, http.StatusBadRequest, status)

	_, third := exchange(t, at, byCode(letIn(t, at, "a1").Get("code")))
	s.Forget(false)
	assert.Equal(t, http.StatusUnauthorized, calls(t, at, third.Access))
	status, fourth := renew(third.Refresh)
	require.Equal(t, http.StatusOK, status, "it was let in still")
	s.Forget(true)
	status, _ = renew(fourth.Refresh)
	assert.Equal(t, http.StatusBadRequest, status)
}
