package web

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

// asks puts a question as somebody, in one brand.
type asks func(method, path, body string) (int, string)

func asksOf(t *testing.T, client *http.Client, address string) asks {
	return func(method, path, body string) (int, string) {
		request, err := http.NewRequest(method, address+path, strings.NewReader(body))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		response, err := client.Do(request)
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		answer, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		return response.StatusCode, string(answer)
	}
}

// TestFacesRulesAndColoursOverHTTP asks for what is new in finding and about people as those who may, as those who may not, with what
// hurts, and forty at once.
func TestFacesRulesAndColoursOverHTTP(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "shown")
	v := people[access.Coordinator]
	folder, err := h.Filing.Create(context.Background(), v, 0, "Theirs")
	require.NoError(t, err)
	ids := append(storetest.Items(t, h.DB, v, folder.ID, "theirs.jpg"), storetest.Items(t, h.DB, v, 0, "unfiled.jpg")...)
	contributor := people[access.Contributor].Person
	require.NoError(t, h.DB.InTx(context.Background(), func(tx *store.Tx) error {
		return peoplestore.AddGrant(
			context.Background(),
			tx,
			v.Brand,
			contributor,
			access.Grant{Folder: folder.ID, Level: access.LevelContribute},
		)
	}))
	require.NoError(t, h.Index.Load(context.Background(), v.Brand))
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	api := server.URL + "/api/brands/shown"
	as := func(role access.Role) asks {
		return asksOf(t, clientOf(t, h, server, people[role].Person, string(role)+"@shown.example"), api)
	}
	stranger := asksOf(t, server.Client(), api)
	coordinator, reviewer, granted, steward := as(access.Coordinator), as(access.Reviewer), as(access.Contributor), as(access.Steward)

	const twoNames = `{"x":0,"y":0,"width":1,"height":1,"name":"Ada, Bo"}`
	const region = `{"x":0.1,"y":0.1,"width":0.2,"height":0.2}`
	faces := func(i int) string { return fmt.Sprintf("/assets/%d/faces", ids[i]) }
	for what, test := range map[string]struct {
		ask                asks
		method, path, body string
		status             int
		says               string
	}{
		"a stranger draws":              {stranger, "POST", faces(0), region, 401, ""},
		"a reviewer draws":              {reviewer, "POST", faces(0), region, 403, "may not"},
		"elsewhere than granted":        {granted, "POST", faces(1), region, 403, "can’t change"},
		"where it is granted":           {granted, "POST", faces(0), region, 200, "Outlined a face"},
		"no item":                       {coordinator, "POST", "/assets/999999/faces", region, 404, ""},
		"two names":                     {coordinator, "POST", faces(0), twoNames, 422, "one name"},
		"no numbers":                    {coordinator, "POST", faces(0), `{"x":"left"}`, 422, ""},
		"a face that is not there":      {coordinator, "PATCH", faces(0) + "/99999", `{"name":"Ada"}`, 404, "not there any more"},
		"a reviewer asks for people":    {reviewer, "GET", "/people-shown", "", 403, ""},
		"a contributor asks for people": {granted, "GET", "/people-shown", "", 403, ""},
		"nobody of that number":         {coordinator, "PATCH", "/people-shown/99999", `{"note":"x"}`, 404, ""},
		"a reviewer adds a colour":      {reviewer, "POST", "/colours", `{"name":"Sea","colour":"#17695f"}`, 403, ""},
		"a coordinator adds a colour":   {coordinator, "POST", "/colours", `{"name":"Sea","colour":"#17695f"}`, 403, ""},
		"no colour":                     {steward, "POST", "/colours", `{"name":"Sea","colour":"sea"}`, 422, "not a colour"},
		"a colour without a name":       {steward, "POST", "/colours", `{"name":" ","colour":"#17695f"}`, 422, ""},
		"a colour":                      {steward, "POST", "/colours", `{"name":"Sea","colour":"#17695F"}`, 200, "Added the colour"},
		"a reviewer makes a rule album": {reviewer, "POST", "/albums", `{"name":"R","rule":{"field":"keeper"}}`, 403, ""},
		"a rule that is none":           {coordinator, "POST", "/albums", kept(`"from":3`), 422, "does not take that"},
		"a rule of an unknown field":    {coordinator, "POST", "/albums", `{"name":"R","rule":{"field":"mood"}}`, 422, ""},
		"a rule too deep":               {coordinator, "POST", "/albums", `{"name":"R","rule":` + deep(40) + `}`, 422, "too long"},
		"far too many at random":        {coordinator, "POST", "/albums", `{"name":"R","rule":{"field":"keeper"},"pick":999999}`, 422, ""},
		"by fit of nothing":             {coordinator, "POST", "/sheet", `{"place":"everything","sort":"fit"}`, 422, "how well it fits"},
		"like what is not theirs":       {granted, "POST", "/sheet", like(ids[1]), 200, `"total":0`},
		"many rules":                    {coordinator, "POST", "/rules/count", counting(many(150, wide(9))), 422, "too long"},
		"conditions of a stranger":      {stranger, "POST", "/rules/read", typing("taken in may"), 401, ""},
		"conditions of a reviewer":      {reviewer, "POST", "/rules/read", typing("taken in 2019"), 200, `"said":"taken in 2019"`},
		"nothing but signs":             {reviewer, "POST", "/rules/read", typing("!?🪁"), 200, "[]"},
		"ten thousand letters":          {reviewer, "POST", "/rules/read", typing(strings.Repeat("taken ", 1600)), 200, "[]"},
		"more than that":                {reviewer, "POST", "/rules/read", typing(strings.Repeat("taken ", 2000)), 422, "typed"},
		"beside a filter that is none": {reviewer, "POST", "/rules/read",
			`{"query":{"place":"everything","filter":{"match":"all","rules":[{"field":"mood"}]}},"typed":"taken in 2019"}`, 422, ""},
		"rules of a reviewer": {reviewer, "POST", "/rules/count", counting(wide(1)), 200, `"my keepers"`},
	} {
		status, answer := test.ask(test.method, test.path, test.body)
		assert.Equal(t, test.status, status, "%s: %s", what, answer)
		assert.Contains(t, answer, test.says, what)
	}

	// each sees the open faces of what they may describe, and no others
	status, answer := coordinator("POST", faces(1), region)
	require.Equal(t, 200, status, answer)
	for ask, left := range map[string]struct {
		asks
		n int
	}{"all": {coordinator, 2}, "the granted folder": {granted, 1}} {
		status, answer := left.asks("GET", "/faces/next", "")
		require.Equal(t, 200, status, answer)
		var found struct{ Left int }
		require.NoError(t, json.Unmarshal([]byte(answer), &found))
		assert.Equal(t, left.n, found.Left, ask)
	}
	status, _ = reviewer("GET", "/faces/next", "")
	assert.Equal(t, 403, status)

	var wait sync.WaitGroup
	for i := range 40 {
		wait.Go(func() {
			status, answer := coordinator("POST", "/rules/count",
				counting(many(20, fmt.Sprintf(`{"field":"stars","from":%d}`, i%6))))
			assert.Equal(t, 200, status, answer)
			status, answer = coordinator("POST", "/rules/read", typing(fmt.Sprintf("kite %d taken in 20%02d", i, i)))
			assert.Equal(t, 200, status, answer)
			status, answer = coordinator("POST", "/sheet", fmt.Sprintf(`{"place":"everything","piled":true,"unfolded":[%d]}`, ids[i%2]))
			assert.Equal(t, 200, status, answer)
			status, answer = coordinator("POST", "/albums", fmt.Sprintf(`{"name":"Rule %d","rule":{"field":"keeper"}}`, i/2))
			assert.Contains(t, []int{200, 422}, status, answer) // of two with one name one is made
		})
	}
	wait.Wait()
	var albums int
	require.NoError(t, storetest.SQL(h.DB).Get(&albums, `select count(*) from album where rule is not null`))
	assert.Equal(t, 20, albums)
}

// like asks for what is like an item.
func like(id int64) string {
	return fmt.Sprintf(`{"place":"everything","filter":{"field":"like","ids":[%d]}}`, id)
}

// typing asks what somebody who types may mean.
func typing(text string) string {
	return fmt.Sprintf(`{"query":{"place":"everything"},"typed":%q}`, text)
}

// counting asks for how many items rules find.
func counting(rules string) string {
	return `{"query":{"place":"everything"},"rules":[` + rules + `]}`
}

// kept makes an album of keepers, with something more in its rule.
func kept(more string) string { return `{"name":"R","rule":{"field":"keeper",` + more + `}}` }

// deep is a rule of so many groups in one another.
func deep(n int) string {
	return strings.Repeat(`{"match":"all","rules":[`, n) + `{"field":"keeper"}` + strings.Repeat(`]}`, n)
}

// many is a rule so many times.
func many(n int, rule string) string { return strings.TrimSuffix(strings.Repeat(rule+",", n), ",") }

// wide is a group of so many conditions.
func wide(n int) string { return `{"match":"any","rules":[` + many(n, `{"field":"keeper"}`) + `]}` }
