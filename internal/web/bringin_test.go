package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/windward"
)

// caller asks routes of one brand as one person.
type caller struct {
	t      *testing.T
	client *http.Client
	base   string
}

// ask sends body as JSON, checks the status and decodes the answer into out unless that is nil; it returns the text.
func (c caller) ask(method, path string, body any, status int, out any) string {
	c.t.Helper()
	var sent []byte
	if body != nil {
		var err error
		sent, err = json.Marshal(body)
		require.NoError(c.t, err)
	}
	request, err := http.NewRequest(method, c.base+path, bytes.NewReader(sent))
	require.NoError(c.t, err)
	request.Header.Set("Content-Type", "application/json")
	response, err := c.client.Do(request)
	require.NoError(c.t, err)
	defer func() { _ = response.Body.Close() }()
	text, err := io.ReadAll(response.Body)
	require.NoError(c.t, err)
	require.Equal(c.t, status, response.StatusCode, "%s %s: %s", method, path, text)
	if out != nil {
		require.NoError(c.t, json.Unmarshal(text, out))
	}
	return string(text)
}

// TestBringingInOverHTTP goes through the routes of bringing in as a steward, a coordinator and a reviewer.
func TestBringingInOverHTTP(t *testing.T) {
	ctx := context.Background()
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "ways")
	server := httptest.NewServer(s.Handler())
	t.Cleanup(server.Close)
	as := func(role access.Role) caller {
		return caller{t, clientOf(t, h, server, people[role].Person, string(role)+"@ways.example"), server.URL + "/api/brands/ways/"}
	}
	steward, coordinator, reviewer := as(access.Steward), as(access.Coordinator), as(access.Reviewer)
	require.NoError(t, h.Work(ctx))

	// a folder on the server
	disk := t.TempDir()
	h.BringIn.Allowed = []string{disk}
	require.NoError(t, os.MkdirAll(filepath.Join(disk, "Walk"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(disk, "Walk", "a.jpg"), mediatest.JPEG(t, 300, 200, 1), 0o600))
	coordinator.ask("POST", "server-folders", api.NewServerFolder{Path: disk}, 403, nil)
	var allowed api.Done
	steward.ask("POST", "server-folders", api.NewServerFolder{Path: disk}, 200, &allowed)
	assert.Contains(t, steward.ask("POST", "server-folders", api.NewServerFolder{Path: disk}, 422, nil), "allowed already")
	var listing api.ServerListing
	coordinator.ask("GET", fmt.Sprintf("server-folders/%d/listing?path=Walk", *allowed.ID), nil, 200, &listing)
	assert.Equal(t, []string{"a.jpg"}, listing.Files)
	var intake api.Intake
	coordinator.ask("POST", fmt.Sprintf("server-folders/%d/intakes", *allowed.ID), api.NewServerIntake{Path: "Walk"}, 200, &intake)
	housetest.Settled(t, h, people[access.Coordinator], intake.ID)
	reviewer.ask("POST", fmt.Sprintf("server-folders/%d/intakes", *allowed.ID), api.NewServerIntake{Path: "Walk"}, 403, nil)

	// what came of it, its words, and what the file says
	coordinator.ask("GET", fmt.Sprintf("intakes/%d", intake.ID), nil, 200, &intake)
	require.Equal(t, 1, intake.Added)
	reviewer.ask("GET", fmt.Sprintf("intakes/%d", intake.ID), nil, 200, nil)
	title, turn := "Walk {n}", api.WordsTurn(90)
	coordinator.ask("POST", fmt.Sprintf("intakes/%d/describe", intake.ID),
		api.IntakeWords{Words: api.Words{Title: &title, Turn: &turn}}, 200, nil)
	coordinator.ask("GET", fmt.Sprintf("intakes/%d", intake.ID), nil, 200, &intake)
	assert.Equal(t, "Walk 1", *intake.Files[0].AssetTitle)
	assert.Equal(t, turn, *intake.Files[0].Words.Turn)
	var says map[string]any
	coordinator.ask("GET", fmt.Sprintf("assets/%d/metadata", *intake.Files[0].Asset), nil, 200, &says)
	assert.NotEmpty(t, says)
	assert.Contains(t, coordinator.ask("POST", fmt.Sprintf("assets/%d/left/find", *intake.Files[0].Asset), nil, 422, nil), "own storage")
	paused := true
	reviewer.ask("PATCH", fmt.Sprintf("intakes/%d", intake.ID), api.IntakeChange{Paused: &paused}, 403, nil)

	// an outlet
	page := httptest.NewServer(windward.New(""))
	h.BringIn.Outlets.Allowed = []string{page.Listener.Addr().String()}
	t.Cleanup(page.Close)
	token := windward.Token
	var outlet api.Done
	steward.ask("POST", "outlets", api.NewOutlet{Kind: "windward", Name: "Page", Address: page.URL, Token: &token}, 200, &outlet)
	listed := coordinator.ask("GET", "outlets", nil, 200, nil)
	assert.NotContains(t, listed, token, "a token is told to nobody")
	var media []api.OutletMedia
	coordinator.ask("GET", fmt.Sprintf("outlets/%d/albums/0/media", *outlet.ID), nil, 200, &media)
	require.Len(t, media, 5)
	picture, err := coordinator.client.Get(coordinator.base + fmt.Sprintf("outlets/%d/media/%s/picture", *outlet.ID, media[0].ID))
	require.NoError(t, err)
	require.NoError(t, picture.Body.Close())
	assert.Equal(t, "image/jpeg", picture.Header.Get("Content-Type"))
	assert.Contains(t, picture.Header.Get("Content-Security-Policy"), "sandbox")
	reviewer.ask("GET", fmt.Sprintf("outlets/%d/media/%s/picture", *outlet.ID, media[0].ID), nil, 403, nil)

	// limits
	limits := api.Limits{LargestFile: 1000, Kinds: []api.Kind{"picture"}}
	coordinator.ask("PUT", "limits", limits, 403, nil)
	steward.ask("PUT", "limits", limits, 200, nil)
	steward.ask("PUT", "limits", map[string]any{"largestFile": 0, "kinds": []string{"picture"}, "storageLimit": 0}, 422, nil)
	coordinator.ask("GET", "limits", nil, 200, &limits)
	assert.EqualValues(t, 1000, limits.LargestFile)
	reviewer.ask("POST", "twins", api.TwinDecision{Later: 1, Earlier: 2, Decision: "different"}, 403, nil)
	coordinator.ask("POST", "twins", api.TwinDecision{Later: 1, Earlier: 999, Decision: "different"}, 404, nil)
}
