package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// desk asks as somebody who is signed in, and reads the answers.
type desk struct {
	t       *testing.T
	client  *http.Client
	address string
}

func (d *desk) ask(method, path string, body any, answer any) int {
	d.t.Helper()
	var text []byte
	if body != nil {
		var err error
		text, err = json.Marshal(body)
		require.NoError(d.t, err)
	}
	request, err := http.NewRequest(method, d.address+path, bytes.NewReader(text))
	require.NoError(d.t, err)
	request.Header.Set("Content-Type", "application/json")
	response, err := d.client.Do(request)
	require.NoError(d.t, err)
	got, err := io.ReadAll(response.Body)
	require.NoError(d.t, err)
	require.NoError(d.t, response.Body.Close())
	if answer != nil {
		require.NoError(d.t, json.Unmarshal(got, answer), "%s", got)
	}
	return response.StatusCode
}

type object = map[string]any

// library is a brand with 600 made-up items, and desks of its steward and of its associate.
func library(t *testing.T) (steward, associate *desk, v *access.Viewer) {
	t.Helper()
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "mine")
	storetest.Library(t, h.DB, people[access.Steward].Brand, people[access.Steward].Person, 600)
	require.NoError(t, h.Index.Load(t.Context(), people[access.Steward].Brand))
	server := httptest.NewServer(s.Handler())
	t.Cleanup(server.Close)
	at := func(role access.Role) *desk {
		return &desk{t, clientOf(t, h, server, people[role].Person, string(role)+"@mine.example"), server.URL + "/api/brands/mine"}
	}
	return at(access.Steward), at(access.Associate), storetest.See(t, h.DB, people[access.Steward].Person, "mine")
}

func TestASheetComesInPages(t *testing.T) {
	d, _, _ := library(t)
	type page struct {
		Total  int
		IDs    []int64 `json:"ids"`
		Ratios []int
		Tints  []int
	}
	var whole, part, beyond page
	query := object{"place": "everything", "sort": "name"}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/sheet", query, &whole))
	require.Len(t, whole.IDs, whole.Total)
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/sheet?from=100&most=50", query, &part))
	assert.Equal(t, whole.IDs[100:150], part.IDs)
	assert.Equal(t, whole.Ratios[100:150], part.Ratios)
	assert.Equal(t, whole.Tints[100:150], part.Tints)
	assert.Equal(t, whole.Total, part.Total)
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/sheet?from=100000", query, &beyond))
	assert.Empty(t, beyond.IDs)
	assert.Equal(t, http.StatusUnprocessableEntity, d.ask(http.MethodPost, "/sheet?from=-1", query, nil))
	assert.Equal(t, http.StatusUnprocessableEntity, d.ask(http.MethodPost, "/sheet",
		object{"place": "everything", "filter": object{"field": "shoe"}}, nil))
}

func TestFacetsAndDaysAddUp(t *testing.T) {
	d, guest, _ := library(t)
	type named struct {
		ID    int64
		Name  string
		Items int
	}
	var facets struct {
		Total                                               int
		Tags, Stages, Kinds, Cameras, Sources, Years, Stars []named
	}
	everything := object{"place": "everything"}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/facets", everything, &facets))
	sum := func(list []named) (n int) {
		for _, f := range list {
			n += f.Items
		}
		return n
	}
	assert.Equal(t, facets.Total, sum(facets.Kinds), "everything has one kind")
	assert.Equal(t, facets.Total, sum(facets.Sources))
	assert.Equal(t, facets.Total, sum(facets.Stars))
	assert.NotEmpty(t, facets.Tags[0].Name)
	assert.GreaterOrEqual(t, facets.Tags[0].Items, facets.Tags[1].Items, "the most frequent first")

	var filtered struct{ Total int }
	rule := object{"match": "all", "rules": []object{{"match": "any",
		"rules": []object{{"field": "tag", "ids": []int64{facets.Tags[0].ID}}}}}}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/sheet", object{"place": "everything", "filter": rule}, &filtered))
	assert.GreaterOrEqual(t, filtered.Total, facets.Tags[0].Items, "as many as were said, and those that a folder is tagged for")

	var days []struct {
		Date  string
		Items int
	}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/days", everything, &days))
	n := 0
	for i, day := range days {
		n += day.Items
		if i > 0 {
			assert.Less(t, day.Date, days[i-1].Date, "the last day first, undated at the end")
		}
	}
	assert.Equal(t, facets.Total, n)
	require.Equal(t, http.StatusOK, guest.ask(http.MethodPost, "/facets", everything, &facets))
	assert.Zero(t, facets.Total, "who sees nothing learns nothing")
}

func TestASelectionIsSizedUpAndAnItemHasAHistory(t *testing.T) {
	d, guest, _ := library(t)
	var page struct {
		IDs []int64 `json:"ids"`
	}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/sheet?most=3", object{"place": "everything"}, &page))
	var size struct {
		Items int
		Bytes int64
	}
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/selection", object{"ids": page.IDs}, &size))
	assert.Equal(t, 3, size.Items)
	assert.Greater(t, size.Bytes, int64(600_000))
	assert.Equal(t, http.StatusNotFound, guest.ask(http.MethodPost, "/selection", object{"ids": page.IDs}, nil))

	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/move", object{"selection": object{"ids": page.IDs[:1]}, "folder": 3}, nil))
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/stacks", object{"selection": object{"ids": page.IDs[:2]}}, nil))
	var history struct {
		Versions []struct{ Current bool }
		Trail    []struct {
			Said           string
			Undoable, Mine bool
		}
	}
	path := fmt.Sprintf("/assets/%d/history", page.IDs[0])
	require.Equal(t, http.StatusOK, d.ask(http.MethodGet, path, nil, &history))
	require.Len(t, history.Versions, 1)
	assert.True(t, history.Versions[0].Current)
	require.Len(t, history.Trail, 2)
	assert.Equal(t, "Stacked 2 items", history.Trail[0].Said, "the newest first")
	assert.True(t, history.Trail[1].Undoable && history.Trail[1].Mine)
	assert.Equal(t, http.StatusNotFound, guest.ask(http.MethodGet, path, nil, nil))
}

func TestRightsOverTheWire(t *testing.T) {
	d, guest, v := library(t)
	var rights struct {
		People []struct {
			ID   int64
			Role string
		}
		Grants []struct{ ID int64 }
	}
	require.Equal(t, http.StatusOK, d.ask(http.MethodGet, "/rights", nil, &rights))
	require.Len(t, rights.People, 5)
	assert.Equal(t, http.StatusForbidden, guest.ask(http.MethodGet, "/rights", nil, nil))
	var associate int64
	for _, p := range rights.People {
		if p.Role == "associate" {
			associate = p.ID
		}
	}
	var sees struct {
		Items   int
		Can     []string
		Folders []struct{ ID int64 }
	}
	path := fmt.Sprintf("/people/%d/sees", associate)
	require.Equal(t, http.StatusOK, d.ask(http.MethodGet, path, nil, &sees))
	assert.Zero(t, sees.Items)
	var done store.Done
	require.Equal(t, http.StatusOK, d.ask(http.MethodPost, "/grants", object{"person": associate, "folder": 1, "level": "contribute"},
		&done))
	require.Equal(t, http.StatusOK, d.ask(http.MethodGet, path, nil, &sees))
	assert.Positive(t, sees.Items)
	assert.Len(t, sees.Folders, len(v.Tree.Below(1)))
	assert.Contains(t, sees.Can, "bring_in")
	var own struct{ Total int }
	require.Equal(t, http.StatusOK, guest.ask(http.MethodPost, "/sheet",
		object{"place": "everything", "filter": object{"field": "aside", "missing": true}}, &own))
	assert.Equal(t, sees.Items, own.Total, "what the steward is shown is what they see")
	require.Equal(t, http.StatusOK, d.ask(http.MethodGet, "/rights", nil, &rights))
	require.Equal(t, http.StatusOK, d.ask(http.MethodDelete, fmt.Sprintf("/grants/%d", rights.Grants[0].ID), nil, nil))
	assert.Equal(t, http.StatusNotFound, d.ask(http.MethodDelete, fmt.Sprintf("/grants/%d", rights.Grants[0].ID), nil, nil))
	assert.Equal(t, http.StatusUnprocessableEntity, d.ask(http.MethodPut, fmt.Sprintf("/people/%d/role", v.Person),
		object{"role": "reviewer"}, nil), "the only steward")
}

func TestWhatSomebodySetIsTheirs(t *testing.T) {
	d, guest, _ := library(t)
	var got object
	require.Equal(t, http.StatusOK, d.ask(http.MethodPatch, "/preferences",
		object{"unfolded": []int{1, 2}, "start": object{"place": "unfiled"}}, &got))
	got = nil
	require.Equal(t, http.StatusOK, d.ask(http.MethodPatch, "/preferences", object{"start": nil}, &got))
	assert.Equal(t, object{"unfolded": []any{1.0, 2.0}}, got)
	got = nil
	require.Equal(t, http.StatusOK, guest.ask(http.MethodGet, "/preferences", nil, &got))
	assert.Empty(t, got)
}
