package posting_test

import (
	"bytes"
	"fmt"
	"image"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"sync"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/calendar"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/windward"
)

// paged is a house that is connected to a page of the simulated social service.
func paged(t *testing.T, name string) (*house.House, map[access.Role]*access.Viewer, []int64, *windward.Service, poststore.Page) {
	t.Helper()
	h, people, ids, _ := sendouttest.Stocked(t, name)
	service := windward.New("")
	server := httptest.NewServer(service)
	t.Cleanup(server.Close)
	at, err := url.Parse(server.URL)
	require.NoError(t, err)
	h.Posting.Outlets.Allowed = []string{at.Host}
	v := people[access.Coordinator]
	_, err = h.Posting.ConnectOutlet(ctx, people[access.Steward], poststore.Outlet{Kind: "windward", Name: "Windward", Address: server.URL},
		windward.Token)
	require.NoError(t, err)
	pages, err := h.Posting.RefreshPages(ctx, v)
	require.NoError(t, err)
	require.Len(t, pages, 2)
	return h, people, ids, service, pages[1]
}

// to is a dispatch of items to one page.
func to(page poststore.Page, caption string, ids ...int64) posting.Dispatching {
	return posting.Dispatching{Selection: query.Selection{IDs: ids}, Caption: caption,
		Pages: []posting.WantedPost{{Page: page.ID, Mends: map[int64]sending.Mend{}}}}
}

// settled waits until all posts of the house are over, and gives them, the newest first.
func settled(t *testing.T, h *house.House, v *access.Viewer) (all []poststore.DispatchPost) {
	t.Helper()
	require.Eventually(t, func() bool {
		found, err := h.Posting.Dispatches(ctx, v, 0)
		require.NoError(t, err)
		all = nil
		for _, d := range found {
			all = append(all, d.Posts...)
		}
		for _, p := range all {
			if !p.Post.Phase.Over() {
				return false
			}
		}
		return true
	}, 2*time.Minute, 50*time.Millisecond)
	return all
}

// TestADispatchGoesOut as it was checked: what does not fit is mended, alternative texts go along, and where it is shown is known; then
// it is taken back.
func TestADispatchGoesOut(t *testing.T) {
	h, people, ids, service, page := paged(t, "dispatch")
	v := people[access.Coordinator]
	require.NoError(t, exec(h, `update asset set alt = 'A kite' where id = $1`, ids[0]))
	require.Eventually(t, func() bool { // what is still looked into is said to be
		var open int
		require.NoError(t, storetest.SQL(h.DB).Get(&open, `select count(*) from asset where looked_into is null`))
		return open == 0
	}, time.Minute, 20*time.Millisecond)
	wanted := to(page, "Wind from the sea", ids...) // 400, 300 and 120 × 200
	checks, _, _, err := h.Posting.CheckDispatch(ctx, v, wanted)
	require.NoError(t, err)
	var said []string
	for _, f := range checks[0].Findings {
		said = append(said, fmt.Sprint(f.Piece, " ", f.What))
	}
	assert.Equal(t, []string{"0 too_wide", "0 too_small", "1 too_small", "1 near_copy", "2 too_narrow", "2 too_small", "2 near_copy"}, said)
	_, err = h.Posting.Go(ctx, v, wanted)
	require.ErrorContains(t, err, "“Tansyloft Kites on Windward” does not take it like this")
	assert.Empty(t, service.Posts(""))

	wide := sendouttest.Bring(t, h, v, 1600, 600)
	require.NoError(t, exec(h, `update asset set alt = 'A very wide kite' where id = $1`, wide))
	wanted = to(page, "Wind from the sea 🪁", wide)
	wanted.Pages[0].Mends[wide] = sending.Mend{Way: sending.Crop}
	_, err = h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	posts := settled(t, h, v)
	require.Equal(t, once.Out, posts[0].Post.Phase, posts[0].Post.Why)
	out := service.Posts("")
	require.Len(t, out, 1)
	assert.Equal(t, "Wind from the sea 🪁", out[0].Text)
	require.Len(t, out[0].Pictures, 1)
	assert.Equal(t, "A very wide kite", out[0].Pictures[0].Alt)
	assert.Equal(t, []int{1146, 600}, []int{out[0].Pictures[0].Width, out[0].Pictures[0].Height}, "cut to 1.91:1")
	assert.Contains(t, posts[0].Address, "/feed/windward#"+out[0].ID)
	shown, err := poststore.PlacedAt(ctx, h.DB, wide)
	require.NoError(t, err)
	require.Len(t, shown, 1)
	assert.Equal(t, posts[0].Address, shown[0].Path)

	_, err = h.Posting.ChangePost(ctx, v, posts[0].ID, "withdraw")
	require.NoError(t, err)
	assert.Empty(t, service.Posts(""))
	shown, err = poststore.PlacedAt(ctx, h.DB, wide)
	require.NoError(t, err)
	assert.Empty(t, shown)
	_, err = h.Posting.ChangePost(ctx, v, posts[0].ID, "withdraw")
	require.ErrorContains(t, err, "not out there")
}

func exec(h *house.House, statement string, args ...any) error {
	_, err := storetest.SQL(h.DB).Exec(statement, args...)
	return err
}

// TestBadDaysOfAService end as they should: what took effect is found and not sent again, what did not is sent, what is refused is said.
func TestBadDaysOfAService(t *testing.T) {
	h, people, _, service, page := paged(t, "bad_days")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 800, 800)
	for _, day := range []struct {
		mode  string
		calls int
		phase once.Phase
		why   string
	}{
		{"lost", 1, once.Out, ""}, {"lost", 2, once.Out, ""}, {"error", 2, once.Out, ""}, {"away", 2, once.Out, ""}, {"busy", 2, once.Out, ""},
		{"html", 1, once.Out, ""}, {"half", 2, once.Out, ""}, {"empty", 2, once.Out, ""},
		{"elsewhere", 2, once.Out, ""}, {"huge", 2, once.Out, ""}, {"no", 1, once.Refused, "It says: We do not want that."}, {"token", 1,
			once.Refused, "Connect it again"},
	} {
		before := len(service.Posts(""))
		service.Weather.Set(day.mode, day.calls)
		_, err := h.Posting.Go(ctx, v, to(page, fmt.Sprint("On a day of ", day.mode), id))
		require.NoError(t, err)
		p := settled(t, h, v)[0]
		assert.Equal(t, day.phase, p.Post.Phase, day.mode)
		assert.Contains(t, p.Post.Why, day.why)
		want := before
		if day.phase == once.Out {
			want++
		}
		assert.Len(t, service.Posts(""), want, day.mode)
		if day.phase == once.Refused { // and once more, when the day is better
			_, err = h.Posting.ChangePost(ctx, v, p.ID, "again")
			require.NoError(t, err)
			assert.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
			assert.Len(t, service.Posts(""), want+1)
		}
	}
}

// TestManyWorkersSendEachPostOnce carries posts on from eight sides at once while the service has every kind of bad day.
func TestManyWorkersSendEachPostOnce(t *testing.T) {
	h, people, _, service, page := paged(t, "many_workers")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 800, 800)
	const many = 12
	service.Weather.Set("away", 3)
	for n := range many {
		_, err := h.Posting.Go(ctx, v, to(page, fmt.Sprint("Number ", n), id))
		require.NoError(t, err)
	}
	var posts []int64
	require.NoError(t, storetest.SQL(h.DB).Select(&posts, `select id from dispatch_post`))
	stop := make(chan struct{})
	var group sync.WaitGroup
	for range 8 {
		group.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
					_ = h.Posting.CarryOn(ctx, posts[rand.IntN(len(posts))])
					time.Sleep(time.Duration(rand.IntN(40)) * time.Millisecond)
				}
			}
		})
	}
	for range 25 {
		service.Weather.Set([]string{"lost", "error", "away", "busy", "html"}[rand.IntN(5)], 2) // none that refuses
		time.Sleep(100 * time.Millisecond)
	}
	service.Weather.Set("fine", 0)
	all := settled(t, h, v)
	close(stop)
	group.Wait()
	require.Len(t, all, many)
	times := map[string]int{}
	for _, p := range service.Posts("") {
		times[p.Text]++
	}
	for _, p := range all {
		assert.Equal(t, once.Out, p.Post.Phase, p.Post.Why)
		assert.Equal(t, 1, times[p.Caption], p.Caption)
	}
}

// TestWhatIsPlannedCanBeCancelled, and what should not go out any more at its moment is not sent.
func TestWhatIsPlannedCanBeCancelled(t *testing.T) {
	h, people, _, service, page := paged(t, "planned")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 800, 800)
	wanted := to(page, "Tomorrow", id)
	wanted.At = atWall(t, page, 24*time.Hour)
	_, err := h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	wanted.At = atWall(t, page, -time.Hour)
	_, err = h.Posting.Go(ctx, v, wanted)
	require.ErrorContains(t, err, "is over in Europe/London")
	found, err := h.Posting.Dispatches(ctx, v, 0)
	require.NoError(t, err)
	require.Len(t, found, 1)
	require.NoError(t, h.Posting.CarryOn(ctx, found[0].Posts[0].ID))
	assert.Empty(t, service.Posts(""))
	_, err = h.Posting.ChangePost(ctx, v, found[0].Posts[0].ID, "cancel")
	require.NoError(t, err)
	_, err = h.Posting.ChangePost(ctx, v, found[0].Posts[0].ID, "again")
	require.ErrorContains(t, err, "cancelled by now")

	wanted.At = atWall(t, page, 24*time.Hour)
	require.NoError(t, exec(h, `update page set ways = jsonb_set(ways, '{Timeout}', '20000000000')`))
	_, err = h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	require.NoError(t, exec(h, `update asset set rights_until = '2020-01-01' where id = $1`, id))
	require.NoError(t, exec(h, `update dispatch_post set post = jsonb_set(post, '{Due}', to_jsonb(now())), wake_at = now()
		where phase = 'planned'`))
	p := settled(t, h, v)[0]
	assert.Equal(t, once.Refused, p.Post.Phase)
	assert.Contains(t, p.Post.Why, "should not go out any more")
}

// atWall is what clocks of a page show so much later.
func atWall(t *testing.T, page poststore.Page, later time.Duration) string {
	t.Helper()
	zone, err := calendar.Zone(page.Zone)
	require.NoError(t, err)
	return time.Now().Add(later).In(zone).Format(calendar.WallForm)
}

// TestPicturesForAPageAreNoLargerThanItTakes, whatever they were.
func TestPicturesForAPageAreNoLargerThanItTakes(t *testing.T) {
	h, people, _, service, page := paged(t, "sizes_of_pages")
	v := people[access.Coordinator]
	id := sendouttest.Bring(t, h, v, 3000, 2600)
	_, err := h.Posting.Go(ctx, v, to(page, "", id))
	require.NoError(t, err)
	require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	request := httptest.NewRequest(http.MethodGet, "/pictures/"+service.Posts("")[0].Pictures[0].ID, nil)
	answer := httptest.NewRecorder()
	service.ServeHTTP(answer, request)
	config, format, err := image.DecodeConfig(bytes.NewReader(answer.Body.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, "jpeg", format)
	assert.Equal(t, 2048, config.Width)
	assert.LessOrEqual(t, answer.Body.Len(), 1_000_000)
}
