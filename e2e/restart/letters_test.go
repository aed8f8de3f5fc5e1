package restart

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/e2e/processtest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/postbox"
)

// TestAKilledServerWritesToNobodyTwice kills the server while it sends the invitations of a gallery. Everybody gets one letter, but for
// those of whom it cannot be known: they got one at most, and are named.
func TestAKilledServerWritesToNobodyTwice(t *testing.T) {
	box := postbox.New()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := box.Server("")
	go func() { _ = server.Serve(listener) }()
	t.Cleanup(func() { _ = server.Close() })
	s := processtest.New(t, "SATCHEL_SMTP="+listener.Addr().String(), "SATCHEL_MAIL_FROM=satchel@restart.example")
	picture := bringOne(t, s, mediatest.JPEG(t, 600, 400, 3))
	asJSON := map[string]string{"Content-Type": "application/json"}
	send := func(method, path string, body, answer any) {
		t.Helper()
		text, err := json.Marshal(body)
		require.NoError(t, err)
		response := s.Send(method, "/api/brands/restart/"+path, asJSON, bytes.NewReader(text), answer)
		require.Less(t, response.StatusCode, 300, path)
	}
	type object = map[string]any
	var album, gallery struct{ ID int64 }
	send("POST", "albums", object{"name": "For guests"}, &album)
	send("POST", fmt.Sprintf("albums/%d/items", album.ID), object{"ids": []int64{picture}}, nil)
	send("POST", "galleries", object{"kind": "client", "title": "For guests", "chapters": []any{object{"album": album.ID, "below": false}}},
		&gallery)
	send("PATCH", fmt.Sprintf("galleries/%d", gallery.ID), object{"open": true, "audience": "invited"}, nil)
	const many, kills = 150, 5
	var to []string
	for n := range many {
		to = append(to, fmt.Sprintf("guest%03d@guests.example", n))
	}
	var begun struct{ Letters int }
	send("POST", fmt.Sprintf("galleries/%d/letters", gallery.ID), api.Mailing{Kind: "invitation", To: new(strings.Join(to, "\n"))}, &begun)
	require.Equal(t, many, begun.Letters)

	ended := func() (n int) {
		require.NoError(t, storetest.SQL(s.DB).Get(&n, `select count(*) from letter where state not in ('waiting', 'sending')`))
		return n
	}
	for range kills {
		before := ended()
		require.Eventually(t, func() bool { return ended() > before || before == many }, 2*time.Minute, 5*time.Millisecond)
		time.Sleep(time.Duration(rand.IntN(60)) * time.Millisecond)
		s.Kill()
		s.Start()
	}
	require.Eventually(t, func() bool { return ended() == many }, 3*time.Minute, 50*time.Millisecond)
	got := map[string]int{}
	for _, l := range box.Letters() {
		got[l.To]++
	}
	var letters []struct {
		Email string `db:"to_email"`
		State string `db:"state"`
	}
	require.NoError(t, storetest.SQL(s.DB).Select(&letters, `select to_email, state from letter`))
	require.Len(t, letters, many)
	unsure := 0
	for _, l := range letters {
		switch l.State {
		case "sent":
			assert.Equal(t, 1, got[l.Email], l.Email)
		case "unsure":
			unsure++
			assert.LessOrEqual(t, got[l.Email], 1, l.Email)
		default:
			assert.Fail(t, "neither sent nor unsure", "%s is %s", l.Email, l.State)
		}
	}
	assert.LessOrEqual(t, unsure, 8*kills, "only those that were being handed over")
	t.Logf("%d letters, %d kills: %d of which it cannot be known", many, kills, unsure)
}
