package restart

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/e2e/processtest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/windward"
)

// badDays are those after which it can be found out what became of a call.
var badDays = []string{"fine", "lost", "late", "error", "half", "away", "busy", "html", "empty"}

// TestAKilledServerSendsNothingTwice kills the server over and over while it sends posts to three services that have every kind of bad day.
// In the end each post is out there once. With SATCHEL_BENCH it does so a hundred times.
func TestAKilledServerSendsNothingTwice(t *testing.T) {
	kills, many := 6, 8
	if os.Getenv("SATCHEL_BENCH") != "" {
		kills, many = 100, 100
	}
	short, albums, tall := windward.New("/windward"), longtable.New("/longtable"), beanpole.New("/beanpole")
	services := http.NewServeMux()
	for path, handler := range map[string]http.Handler{"/windward": short, "/longtable": albums, "/beanpole": tall} {
		services.Handle(path+"/", http.StripPrefix(path, handler))
	}
	site := httptest.NewServer(services)
	t.Cleanup(site.Close)
	s := processtest.New(t, "SATCHEL_OUTLETS="+site.Listener.Addr().String())
	_, err := storetest.SQL(s.DB).Exec(`update membership set role = 'steward'
		where person_id = (select id from person where email = $1)`, processtest.Email) // who connects accounts
	require.NoError(t, err)
	for kind, token := range map[string]string{"windward": windward.Token, "longtable": longtable.Token, "beanpole": beanpole.Token} {
		post(s, "outlets", api.NewOutlet{Kind: kind, Name: kind, Address: site.URL + "/" + kind, Token: &token})
	}
	picture := bringOne(t, s, mediatest.JPEG(t, 800, 1000, 90))
	dispatchHeld(t, s, picture, many)

	bad := func() string { return badDays[rand.IntN(len(badDays))] }
	for range kills {
		short.Weather.Set(bad(), 3)
		albums.Weather.Set(bad(), 3)
		tall.Weather.Set(bad(), 3)
		time.Sleep(time.Duration(200+rand.IntN(900)) * time.Millisecond)
		s.Kill()
		s.Start()
	}
	short.Weather.Set("fine", 0)
	albums.Weather.Set("fine", 0)
	tall.Weather.Set("fine", 0)
	phases := map[string]int{}
	require.Eventually(t, func() bool {
		var open int
		phases = map[string]int{}
		rows := []struct {
			Phase string
			N     int
		}{}
		require.NoError(t, storetest.SQL(s.DB).Select(&rows, `select phase, count(*) as n from dispatch_post group by 1`))
		for _, r := range rows {
			phases[r.Phase] = r.N
			if !strings.Contains("out refused unsure cancelled", r.Phase) {
				open += r.N
			}
		}
		return open == 0
	}, 10*time.Minute, 200*time.Millisecond, "%v", phases)
	assert.Equal(t, map[string]int{"out": 3 * many}, phases)
	times := map[string]int{}
	for _, p := range short.Posts("windward") {
		times["short "+p.Text]++
	}
	for _, p := range albums.Posts("lt-1") {
		times["albums "+p.Words]++
	}
	for _, p := range tall.Posts("c1") {
		times["tall "+p.Text]++
	}
	for n := range many {
		for _, service := range []string{"short", "albums", "tall"} {
			assert.Equal(t, 1, times[fmt.Sprintf("%s Number %d", service, n)], "%s, number %d", service, n)
		}
	}
}

func post(s *processtest.Process, path string, body any) {
	text, err := json.Marshal(body)
	if err != nil {
		panic(err)
	}
	s.Send("POST", "/api/brands/restart/"+path, map[string]string{"Content-Type": "application/json"}, bytes.NewReader(text), nil)
}

// bringOne brings in one picture, and gives the id of its item.
func bringOne(t *testing.T, s *processtest.Process, picture []byte) int64 {
	t.Helper()
	body, err := json.Marshal(api.NewIntake{Files: []api.DroppedFile{{Name: "kite.jpg", Bytes: int64(len(picture))}}})
	require.NoError(t, err)
	var opened api.Intake
	s.Send("POST", "/api/brands/restart/intakes", map[string]string{"Content-Type": "application/json"}, bytes.NewReader(body), &opened)
	base := "/api/brands/restart/uploads"
	code := opened.Files[0].Code
	s.Send("POST", base, withTus(map[string]string{"Upload-Length": fmt.Sprint(len(picture)),
		"Upload-Metadata": "code " + base64.StdEncoding.EncodeToString([]byte(code))}), nil, nil)
	s.Send("PATCH", base+"/"+code, withTus(map[string]string{"Upload-Offset": "0", "Content-Type": "application/offset+octet-stream"}),
		bytes.NewReader(picture), nil)
	return *settled(t, s, opened.ID).Files[0].Asset
}

// dispatchHeld makes so many dispatches of an item to one page of each service, holds them until all are there, and lets them go. What the
// services take effect of late is short here, so that what became of a call is known soon.
func dispatchHeld(t *testing.T, s *processtest.Process, item int64, many int) {
	t.Helper()
	ctx := context.Background()
	_, err := s.DB.ExecContext(ctx, `update brand set second_go = true`)
	require.NoError(t, err)
	var pages []int64
	require.Eventually(t, func() bool {
		pages = nil
		err := storetest.SQL(s.DB).Select(&pages, `select id from page where remote_id in ('windward', 'lt-1', 'c1')`)
		return err == nil && len(pages) == 3
	}, time.Minute, 50*time.Millisecond)
	for n := range many {
		wanted := api.NewDispatch{Selection: api.Selection{Ids: &[]int64{item}}, Caption: fmt.Sprint("Number ", n)}
		for _, page := range pages {
			wanted.Pages = append(wanted.Pages, api.NewDispatchPost{Page: page})
		}
		post(s, "dispatches", wanted)
	}
	for _, statement := range []string{
		`update page set ways = ways || '{"Timeout": 3000000000, "Late": 3000000000, "Lag": 2000000000}'`,
		`update dispatch set waits = false`,
		`update dispatch_post set wake_at = now()`,
	} {
		_, err := s.DB.ExecContext(ctx, statement)
		require.NoError(t, err)
	}
	var made int
	require.NoError(t, storetest.SQL(s.DB).Get(&made, `select count(*) from dispatch_post`))
	require.Equal(t, 3*many, made)
}
