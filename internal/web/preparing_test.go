package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	_ "image/jpeg"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// TestPreparingOverHTTP prepares a real picture, as those who may and those who may not, with what hurts, and many at once.
func TestPreparingOverHTTP(t *testing.T) {
	s, h := newServer(t)
	people := storetest.Brand(t, h.DB, "look")
	server := httptest.NewServer(s.Handler())
	t.Cleanup(server.Close)
	as := func(role access.Role) caller {
		return caller{t, clientOf(t, h, server, people[role].Person, string(role)+"@look.example"), server.URL + "/api/brands/look/"}
	}
	steward, coordinator, reviewer, associate := as(access.Steward), as(access.Coordinator), as(access.Reviewer), as(access.Associate)
	require.NoError(t, h.Work(context.Background()))
	disk := t.TempDir()
	h.BringIn.Allowed = []string{disk}
	require.NoError(t, os.WriteFile(filepath.Join(disk, "a.jpg"), mediatest.JPEG(t, 900, 600, 1), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(disk, "b.svg"), []byte(mediatest.SVG("")), 0o600))
	var allowed api.Done
	steward.ask("POST", "server-folders", api.NewServerFolder{Path: disk}, 200, &allowed)
	var intake api.Intake
	coordinator.ask("POST", fmt.Sprintf("server-folders/%d/intakes", *allowed.ID), api.NewServerIntake{Path: ""}, 200, &intake)
	housetest.Settled(t, h, people[access.Coordinator], intake.ID)
	coordinator.ask("GET", fmt.Sprintf("intakes/%d", intake.ID), nil, 200, &intake)
	var picture, drawing int64
	for _, f := range intake.Files {
		if strings.HasSuffix(f.Name, ".jpg") {
			picture = *f.Asset
		} else {
			drawing = *f.Asset
		}
	}
	at := fmt.Sprintf("assets/%d/", picture)

	frame := func(who caller, body string, status int) (string, string) {
		t.Helper()
		response, err := who.client.Post(who.base+at+"frame", "application/json", strings.NewReader(body))
		require.NoError(t, err)
		defer func() { _ = response.Body.Close() }()
		var text bytes.Buffer
		_, err = text.ReadFrom(response.Body)
		require.NoError(t, err)
		require.Equal(t, status, response.StatusCode, text.String())
		return text.String(), response.Header.Get("Satchel-Cut")
	}
	drawn, cut := frame(coordinator, `{"recipe":{"turn":90,"exposure":1},"width":300,"height":300}`, 200)
	config, kind, err := image.DecodeConfig(strings.NewReader(drawn))
	require.NoError(t, err)
	assert.Equal(t, "jpeg 200×300", fmt.Sprintf("%s %d×%d", kind, config.Width, config.Height))
	assert.Equal(t, "0.00000 0.00000 1.00000 1.00000", cut)
	_, cut = frame(coordinator, `{"recipe":{"straighten":10},"width":300,"height":300}`, 200)
	assert.NotContains(t, cut, "1.00000", "what is straightened has less room")
	for _, hostile := range []string{``, `[]`, `{"recipe":{"glow":1},"width":10,"height":10}`,
		`{"recipe":{"exposure":99},"width":10,"height":10}`,
		`{"recipe":{"crop":{"x":0,"y":0,"width":0,"height":0}},"width":10,"height":10}`, `{"recipe":{},"width":0,"height":10}`,
		`{"recipe":{},"width":100000,"height":10}`, `{"recipe":{"version":7},"width":10,"height":10}`,
		`{"recipe":{"curve":[` + strings.Repeat("[0,0],", 50000) + `[1,1]]},"width":10,"height":10}`} {
		frame(coordinator, hostile, 422)
	}
	frame(reviewer, `{"recipe":{},"width":10,"height":10}`, 403)
	frame(associate, `{"recipe":{},"width":10,"height":10}`, 403)
	var all sync.WaitGroup
	for i := range 256 {
		all.Go(func() {
			response, err := coordinator.client.Post(coordinator.base+at+"frame", "application/json",
				strings.NewReader(fmt.Sprintf(`{"recipe":{"exposure":%g},"width":200,"height":200}`, float64(i%60)/20)))
			if !assert.NoError(t, err) {
				return
			}
			_ = response.Body.Close()
			assert.Contains(t, []int{200, 503}, response.StatusCode) // busy, and said so
		})
	}
	all.Wait()

	exposure, strength := 0.5, 50.0
	var done api.Done
	coordinator.ask("PUT", at+"recipe", api.RecipeWanted{Recipe: api.Recipe{Exposure: &exposure}}, 200, &done)
	reviewer.ask("PUT", at+"recipe", api.RecipeWanted{}, 403, nil)
	assert.Contains(t, steward.ask("PUT", at+"recipe", api.RecipeWanted{}, 409, nil), "has prepared it meanwhile: Exposure +0.5 EV")
	var asset api.Asset
	coordinator.ask("GET", strings.TrimSuffix(at, "/"), nil, 200, &asset)
	assert.InDelta(t, 0.5, *asset.Recipe.Exposure, 1e-9)
	assert.True(t, *asset.Prepared)
	address := fmt.Sprintf("%s/media/look/%s/small?v=%s", server.URL, asset.Code, asset.Version)
	response, err := coordinator.client.Get(address)
	require.NoError(t, err)
	_ = response.Body.Close()
	assert.Equal(t, http.StatusOK, response.StatusCode, "what is prepared is shown")
	assert.Contains(t, coordinator.ask("PUT", fmt.Sprintf("assets/%d/recipe", drawing), api.RecipeWanted{Recipe: api.Recipe{
		Exposure: &exposure}}, 422, nil), "vector")
	var history []api.EarlierRecipe
	reviewer.ask("GET", at+"recipe", nil, 200, &history)
	require.Len(t, history, 1)
	assert.Equal(t, []string{"Exposure +0.5 EV"}, history[0].Words)

	var proposal api.Proposal
	for _, what := range []string{"enhance", "horizon", "noise", "grey", "eye", "eyes", "right", "left", "mirror"} {
		coordinator.ask("POST", at+"recipe/propose", api.ProposalWanted{What: api.ProposalWantedWhat(what), X: &exposure, Y: &exposure}, 200,
			&proposal)
	}
	coordinator.ask("POST", at+"recipe/propose", api.ProposalWanted{What: "proportion"}, 422, nil)
	reviewer.ask("POST", at+"recipe/propose", api.ProposalWanted{What: "enhance"}, 403, nil)

	version := 9
	newer := api.LookWanted{Name: "Tomorrow", Version: &version, Groups: []api.RecipePart{"brightness"},
		Values: api.Adjustments{Exposure: &exposure}}
	assert.Contains(t, coordinator.ask("POST", "looks", newer, 422, nil), "newer version")
	newer.Version = nil
	coordinator.ask("POST", "looks", newer, 200, &done)
	look := *done.ID
	reviewer.ask("GET", "looks", nil, 403, nil)
	selection := api.Selection{Ids: &[]int64{picture, drawing}}
	coordinator.ask("POST", "recipes", api.RecipeChange{Selection: selection, Look: &look, Strength: &strength}, 200, &done)
	assert.Equal(t, "Put the look “Tomorrow” on 1 item; 1 stays as it is", done.Said)
	reviewer.ask("POST", "recipes", api.RecipeChange{Selection: selection, Look: &look}, 403, nil)
	coordinator.ask("GET", strings.TrimSuffix(at, "/"), nil, 200, &asset)
	assert.InDelta(t, 50, asset.Recipe.Look.Strength, 1e-9)
	coordinator.ask("PUT", at+"focal", api.FocalPoint{X: &exposure, Y: &exposure}, 200, nil)
	reviewer.ask("PUT", at+"focal", api.FocalPoint{}, 403, nil)
	coordinator.ask("DELETE", fmt.Sprintf("looks/%d", look), nil, 200, nil)
	coordinator.ask("DELETE", fmt.Sprintf("looks/%d", look), nil, 404, nil)
}
