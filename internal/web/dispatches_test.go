package web

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/windward"
)

// back is where somebody is sent who let the server in at a service.
func back(t *testing.T, client *http.Client, address, account string) string {
	t.Helper()
	stay := *client
	stay.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	answer, err := stay.PostForm(address, url.Values{"account": {account}})
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	return answer.Header.Get("Location")
}

// TestConnectingAndPlanningOverHTTP goes through the routes of outlets, dispatches and the calendar as a steward, a coordinator and others.
func TestConnectingAndPlanningOverHTTP(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "posts")
	storetest.Brand(t, h.DB, "others")
	server := httptest.NewServer(s.Handler())
	t.Cleanup(server.Close)
	service := windward.New("/windward")
	site := httptest.NewServer(http.StripPrefix("/windward", service))
	t.Cleanup(site.Close)
	c := h.Posting.Outlets
	c.Allowed, c.Origin = []string{site.Listener.Addr().String()}, server.URL
	c.Services = []outlets.Registered{{Kind: "windward", Address: site.URL + "/windward", Client: signin.Client}}
	h.Posting.Origin = server.URL
	as := func(role access.Role) caller {
		return caller{t, clientOf(t, h, server, people[role].Person, string(role)+"@posts.example"), server.URL + "/api/brands/posts/"}
	}
	steward, coordinator, reviewer := as(access.Steward), as(access.Coordinator), as(access.Reviewer)

	var to struct{ Address string }
	kind := map[string]string{"kind": "windward"}
	coordinator.ask("POST", "outlet-services", kind, 403, nil)
	steward.ask("POST", "outlet-services", map[string]string{"kind": "pigeon"}, 422, nil)
	steward.ask("POST", "outlet-services", kind, 200, &to)
	assert.Contains(t, to.Address, "code_challenge_method=S256")
	returned := back(t, http.DefaultClient, to.Address, "a1")
	stay := func(client *http.Client, address string) *http.Response {
		still := *client
		still.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
		answer, err := still.Get(address)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer
	}
	assert.Equal(t, http.StatusUnauthorized, stay(http.DefaultClient, returned).StatusCode, "nobody who is signed in")
	assert.Equal(t, http.StatusNotFound, stay(coordinator.client, returned).StatusCode, "the state is of one person")
	answer := stay(steward.client, returned)
	assert.Equal(t, http.StatusSeeOther, answer.StatusCode)
	assert.Contains(t, answer.Header.Get("Location"), "/b/posts/outlets?connected=")
	assert.Equal(t, http.StatusNotFound, stay(steward.client, returned).StatusCode, "once")
	steward.ask("POST", "outlet-services", kind, 200, &to)
	answer = stay(steward.client, back(t, http.DefaultClient, to.Address, ""))
	assert.True(t, strings.HasSuffix(answer.Header.Get("Location"), "problem=code"), answer.Header.Get("Location"))
	steward.ask("POST", "outlet-services", kind, 200, &to)
	returned = back(t, http.DefaultClient, to.Address, "a1")
	_, err := storetest.SQL(h.DB).Exec(`update membership set role = 'coordinator' where person_id = $1`, people[access.Steward].Person)
	require.NoError(t, err)
	answer = stay(steward.client, returned)
	assert.Contains(t, answer.Header.Get("Location"), "problem=", "who may not any more when they come back")

	// the pages, and what is planned for them
	var pages []api.Page
	coordinator.ask("GET", "pages", nil, 200, &pages)
	require.Len(t, pages, 2)
	reviewer.ask("GET", "pages", nil, 403, nil)
	reviewer.ask("GET", "outlets", nil, 403, nil)
	ids := storetest.Items(t, h.DB, people[access.Coordinator], 0, "kite.jpg")
	_, err = storetest.SQL(h.DB).
		Exec(`update asset set kind = 'picture', width = 1200, height = 1000, looked_into = now() where id = $1`, ids[0])
	require.NoError(t, err)
	wanted := func(at string) api.NewDispatch {
		d := api.NewDispatch{Selection: api.Selection{Ids: &ids}, Caption: "Up", Pages: []api.NewDispatchPost{{Page: pages[0].ID}}}
		if at != "" {
			d.At = &at
		}
		return d
	}
	later := time.Now().Add(50 * time.Hour).UTC().Format("2006-01-02T15:04")
	var check api.DispatchCheck
	coordinator.ask("POST", "dispatches/check", wanted(later), 200, &check)
	assert.Equal(t, later, check.Pages[0].Wall)
	assert.Equal(t, 1, check.Pages[0].Posts)
	coordinator.ask("POST", "dispatches", wanted("next week"), 422, nil)
	coordinator.ask("POST", "dispatches", wanted(later), 200, nil)
	reviewer.ask("POST", "dispatches", wanted(later), 403, nil)
	var planned []api.CalendarPost
	span := fmt.Sprintf("from=%s&to=%s", time.Now().UTC().Format(time.RFC3339), time.Now().UTC().AddDate(0, 0, 20).Format(time.RFC3339))
	coordinator.ask("GET", "calendar?"+span, nil, 200, &planned)
	require.Len(t, planned, 1)
	coordinator.ask("PUT", fmt.Sprintf("dispatch-posts/%d/moment", planned[0].ID), map[string]string{"wall": "2020-01-01T09:00"}, 422, nil)
	var days []api.CalendarDay
	coordinator.ask("GET", "calendar-days?"+span, nil, 200, &days)
	require.Len(t, days, 1)
	assert.Equal(t, 1, days[0].Planned)
	coordinator.ask("GET", "calendar?from=yesterday&to=tomorrow", nil, 422, nil)

	// the rhythm
	beats := map[string]any{"beats": []api.Beat{{Weekday: 5, Minute: 540}, {Weekday: 5, Minute: 540}, {Weekday: 1, Minute: 0}}}
	coordinator.ask("PUT", fmt.Sprintf("pages/%d/rhythm", pages[0].ID), beats, 200, nil)
	coordinator.ask("GET", "pages", nil, 200, &pages)
	assert.Equal(t, []api.Beat{{Weekday: 1, Minute: 0}, {Weekday: 5, Minute: 540}}, pages[0].Rhythm)
	coordinator.ask("PUT", fmt.Sprintf("pages/%d/rhythm", pages[0].ID), map[string]any{"beats": []api.Beat{{Weekday: 9}}}, 422, nil)

	// the calendar for programs
	var feed struct{ Address string }
	coordinator.ask("POST", "calendar-feed", nil, 200, &feed)
	reviewer.ask("POST", "calendar-feed", nil, 403, nil)
	read, err := http.Get(feed.Address)
	require.NoError(t, err)
	require.NoError(t, read.Body.Close())
	assert.Equal(t, http.StatusOK, read.StatusCode)
	assert.Equal(t, "text/calendar; charset=utf-8", read.Header.Get("Content-Type"))
	for _, wrong := range []string{"/calendar/abc.ics", "/calendar/abc", strings.TrimSuffix(feed.Address[len(server.URL):], ".ics")} {
		assert.Equal(t, http.StatusNotFound, stay(http.DefaultClient, server.URL+wrong).StatusCode, wrong)
	}
	coordinator.ask("DELETE", "calendar-feed", nil, 200, nil)
	assert.Equal(t, http.StatusNotFound, stay(http.DefaultClient, feed.Address).StatusCode)

	// what an outlet says
	var code string
	require.NoError(t, storetest.SQL(h.DB).Get(&code, `select code from outlet limit 1`))
	for _, at := range []string{code, "nobody"} {
		said, err := http.Post(server.URL+"/heard/"+at, "application/json", strings.NewReader(`{"draft":"d1"}`))
		require.NoError(t, err)
		require.NoError(t, said.Body.Close())
		assert.GreaterOrEqual(t, said.StatusCode, 400, at)
	}
}
