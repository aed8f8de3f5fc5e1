package web

import (
	"context"
	"errors"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/folderstore"
	"brightsatchel/internal/store/storetest"
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

func newServer(t *testing.T) (*Server, *house.House) {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	h := housetest.New(t, strings.ToLower(t.Name()[:min(30, len(t.Name()))]))
	s, err := New(ctx, h, Options{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s, h
}

var param = regexp.MustCompile(`\{(\w+)\}`)

// TestEveryRouteStatesWhatItNeeds walks all routes that the server has.
func TestEveryRouteStatesWhatItNeeds(t *testing.T) {
	s, _ := newServer(t)
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	require.NoError(t, err)
	byRoute := map[string]string{}
	for path, methods := range document.Paths.Map() {
		for method, operation := range methods.Operations() {
			name := strings.ToUpper(operation.OperationID[:1]) + operation.OperationID[1:]
			byRoute[method+" "+param.ReplaceAllString(path, ":$1")] = name
		}
	}
	routes := s.engine.Routes()
	require.Greater(t, len(routes), 50)
	for _, r := range routes {
		key := r.Method + " " + r.Path
		if operation, ok := byRoute[key]; ok {
			_, known := operations[operation]
			assert.True(t, known, "%s (%s) does not say what it needs", operation, key)
			delete(byRoute, key)
			continue
		}
		rule, known := s.rules[key]
		assert.True(t, known, "%s does not say what it needs", key)
		assert.True(t, rule.public || rule.self || rule.signedIn || rule.needs != "", "%s needs nothing at all", key)
	}
	assert.Empty(t, byRoute, "operations of the contract without a route")
}

// clientOf gives a client the session of a person.
func clientOf(t *testing.T, h *house.House, server *httptest.Server, person int64, email string) *http.Client {
	t.Helper()
	hash, err := passwords.Hash("correct horse")
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update person set password_hash = $2 where id = $1`, person, hash)
	require.NoError(t, err)
	response, err := server.Client().Post(server.URL+"/api/session", "application/json",
		strings.NewReader(`{"email":"`+email+`","password":"correct horse"}`))
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	require.Equal(t, http.StatusOK, response.StatusCode)
	client := *server.Client()
	for _, cookie := range response.Cookies() {
		if cookie.Name == "satchel" {
			client.Transport = withCookie{cookie}
		}
	}
	return &client
}

type withCookie struct{ cookie *http.Cookie }

func (w withCookie) RoundTrip(r *http.Request) (*http.Response, error) {
	r.AddCookie(w.cookie)
	return http.DefaultTransport.RoundTrip(r)
}

func TestSigningInIsLimited(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "door")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	try := func(email, password string) int {
		response, err := http.Post(server.URL+"/api/session", "application/json",
			strings.NewReader(`{"email":"`+email+`","password":"`+password+`"}`))
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		return response.StatusCode
	}
	_ = clientOf(t, h, server, people[access.Steward].Person, "steward@door.example")
	for range 8 {
		assert.Equal(t, 422, try("steward@door.example", "wrong"))
		assert.Equal(t, 422, try("nobody@door.example", "wrong"), "an unknown address gives the same answer")
	}
	assert.Equal(t, 429, try("steward@door.example", "correct horse"), "even the right one, for a while")
}

func TestForgedRequestsAreRefused(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "forged")
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, people[access.Steward].Person, "steward@forged.example")
	request, err := http.NewRequest(http.MethodPost, server.URL+"/api/brands/forged/folders", strings.NewReader(`{"name":"x"}`))
	require.NoError(t, err)
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Sec-Fetch-Site", "cross-site")
	response, err := client.Do(request)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	assert.Equal(t, http.StatusForbidden, response.StatusCode)
}

func TestProblemsNameTheField(t *testing.T) {
	cases := []struct {
		err    error
		status int
		field  string
	}{
		{fault.Invalidf("name", "taken"), 422, "name"},
		{fault.NotFoundf("gone"), 404, ""},
		{fault.Forbiddenf("no"), 403, ""},
		{&fault.Conflict{Text: "changed", Field: "title", Mine: "a", Theirs: "b"}, 409, "title"},
		{&fault.TooMany{Text: "wait"}, 429, ""},
		{errSignedOut, 401, ""},
		{context.DeadlineExceeded, 503, ""},
		{store.ErrBusy, 503, ""},
		{errors.New("broken"), 500, ""},
	}
	for _, c := range cases {
		p := problemOf(c.err)
		assert.Equal(t, c.status, p.Status, c.err)
		assert.Equal(t, c.field, value(p.Field), c.err)
		assert.NotEmpty(t, value(p.Detail))
	}
}

func TestBadInputIsNamed(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "bad")
	id := storetest.Items(t, h.DB, people[access.Steward], 0, "a.jpg")[0]
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	client := clientOf(t, h, server, people[access.Steward].Person, "steward@bad.example")
	post := func(method, path, body string) (int, string) {
		request, err := http.NewRequest(method, server.URL+"/api/brands/bad/"+path, strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		response, err := client.Do(request)
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		text := new(strings.Builder)
		_, err = copyAll(text, response)
		require.NoError(t, err)
		return response.StatusCode, text.String()
	}
	status, _ := post("POST", "folders", `{"name":"Harbour"}`)
	require.Equal(t, 200, status)
	cases := []struct{ name, method, path, body, says string }{
		{"two folders of one name", "POST", "folders", `{"name":"HARBOUR"}`, "already"},
		{"a folder without a name", "POST", "folders", `{"name":" / "}`, "needs a name"},
		{"a tag of 500 characters", "POST", "tags", `{"selection":{"ids":[` + itoa(id) + `]},"add":"` + strings.Repeat("x", 500) + `"}`,
			"at most 100"},
		{"a title of 400 characters", "PATCH", "assets/" + itoa(id), `{"revision":1,"title":"` + strings.Repeat("x", 400) + `"}`, "title"},
		{"a wrong revision", "PATCH", "assets/" + itoa(id), `{"revision":77,"title":"x"}`, "Revision 77"},
		{"six stars", "POST", "stars", `{"selection":{"ids":[` + itoa(id) + `]},"stars":6}`, "stars"},
		{"not JSON", "POST", "folders", `{"name"`, ""},
		{"a pattern that is not understood", "POST", "downloads/preview", `{"selection":{"ids":[` + itoa(id) +
			`]},"outputSizes":[1],"pattern":"{nmae}"}`, "output size"},
	}
	for _, c := range cases {
		status, body := post(c.method, c.path, c.body)
		assert.Contains(t, []int{400, 404, 409, 422}, status, "%s: %s", c.name, body)
		assert.Contains(t, body, c.says, c.name)
	}
	status, body := post("POST", "folders", `{"name":"a/../../b\u202e"}`)
	assert.Equal(t, 200, status, body)
	folders, err := folderstore.Folders(context.Background(), h.DB, people[access.Steward].Brand)
	require.NoError(t, err)
	names := []string{}
	for _, f := range folders {
		names = append(names, f.Name)
	}
	assert.Equal(t, []string{"a", "b", "Harbour"}, names, "a path cannot lead out, and signs that hide are dropped")
}

func itoa(n int64) string { return strconv.FormatInt(n, 10) }

func copyAll(w io.Writer, r *http.Response) (int64, error) { return io.Copy(w, r.Body) }

// TestTheContractKnowsAllTopics that the stream of events tells.
func TestTheContractKnowsAllTopics(t *testing.T) {
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	require.NoError(t, err)
	var known []topics.Topic
	for _, word := range document.Components.Schemas["Topic"].Value.Enum {
		known = append(known, topics.Topic(word.(string)))
	}
	assert.ElementsMatch(t, topics.All, known)
}
