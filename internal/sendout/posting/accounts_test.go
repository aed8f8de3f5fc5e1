package posting_test

import (
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/house"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/sealing"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/windward"
)

// world is the three simulated services at one address.
type world struct {
	short  *windward.Service
	albums *longtable.Service
	tall   *beanpole.Service
}

// around gives a house the three services, at which it is registered, and what they call it at.
func around(t *testing.T, h *house.House) *world {
	t.Helper()
	w := &world{windward.New("/windward"), longtable.New("/longtable"), beanpole.New("/beanpole")}
	services := http.NewServeMux()
	for path, handler := range map[string]http.Handler{"/windward/": w.short, "/longtable/": w.albums, "/beanpole/": w.tall} {
		services.Handle(path, http.StripPrefix(strings.TrimSuffix(path, "/"), handler))
	}
	site := httptest.NewServer(services)
	t.Cleanup(site.Close)
	us := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if err := h.Posting.Heard(r.Context(), strings.TrimPrefix(r.URL.Path, "/heard/"), r.Header, r.Body); err != nil {
			http.Error(w, err.Error(), http.StatusForbidden)
		}
	}))
	t.Cleanup(us.Close)
	c := h.Posting.Outlets
	c.Allowed, c.Origin = []string{site.Listener.Addr().String()}, us.URL
	c.Services = nil
	for _, kind := range []string{"windward", "longtable", "beanpole"} {
		c.Services = append(c.Services, outlets.Registered{Kind: kind, Address: site.URL + "/" + kind, Client: signin.Client})
	}
	return w
}

// letIn goes to a service as a person does, lets the server into an account, and gives what one comes back with.
func letIn(t *testing.T, h *house.House, v *access.Viewer, kind, account string) posting.Back {
	t.Helper()
	address, err := h.Posting.BeginConnecting(ctx, v, kind)
	require.NoError(t, err)
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	answer, err := client.PostForm(address, url.Values{"account": {account}})
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	back, err := url.Parse(answer.Header.Get("Location"))
	require.NoError(t, err)
	q := back.Query()
	return posting.Back{State: q.Get("state"), Code: q.Get("code"), Refusal: q.Get("error")}
}

func everyone(int64) error { return nil }

// connected connects the first account of each service, and gives the pages by their ids there.
func connected(t *testing.T, h *house.House, people map[access.Role]*access.Viewer) map[string]poststore.Page {
	t.Helper()
	steward := people[access.Steward]
	for kind, account := range map[string]string{"windward": "a1", "longtable": "kites", "beanpole": "7001"} {
		_, _, err := h.Posting.FinishConnecting(ctx, steward.Person, letIn(t, h, steward, kind, account), everyone)
		require.NoError(t, err)
	}
	found, err := h.Posting.Pages(ctx, steward)
	require.NoError(t, err)
	pages := map[string]poststore.Page{}
	for _, p := range found {
		pages[p.Remote] = p
	}
	require.Len(t, pages, 6)
	return pages
}

func TestAnAccountIsConnected(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "accounts")
	w := around(t, h)
	steward := people[access.Steward]
	pages := connected(t, h, people)
	assert.Equal(t, "410 members", pages["windward-club"].Audience)
	assert.Equal(t, "nobody but those who work with it", pages["ad1"].Audience)
	assert.Equal(t, "America/New_York", pages["c1"].Zone)
	assert.True(t, pages["lt-1"].Albums)

	back := letIn(t, h, steward, "windward", "a2") // a second account of a kind
	_, _, err := h.Posting.FinishConnecting(ctx, people[access.Coordinator].Person, back, everyone)
	require.ErrorContains(t, err, "too long, or came back twice", "the state is of one person")
	_, done, err := h.Posting.FinishConnecting(ctx, steward.Person, back, everyone)
	require.NoError(t, err)
	assert.Equal(t, "“Tansyloft Workshop on Windward” is connected", done.Said)
	_, _, err = h.Posting.FinishConnecting(ctx, steward.Person, back, everyone)
	require.ErrorContains(t, err, "came back twice")
	_, _, err = h.Posting.FinishConnecting(ctx, steward.Person, letIn(t, h, steward, "windward", "nobody"), everyone)
	require.ErrorContains(t, err, "did not let Bright Satchel in")
	back = letIn(t, h, steward, "windward", "a2")
	back.Code = "made-up"
	_, _, err = h.Posting.FinishConnecting(ctx, steward.Person, back, everyone)
	require.ErrorContains(t, err, "does not accept our access")

	// the same account again is the same outlet
	again, _, err := h.Posting.FinishConnecting(ctx, steward.Person, letIn(t, h, steward, "windward", "a2"), everyone)
	require.NoError(t, err)
	assert.Equal(t, steward.Brand, again)
	all, err := h.Posting.ConnectedOutlets(ctx, steward)
	require.NoError(t, err)
	require.Len(t, all, 4)

	// nothing of it can be read from the database
	var tokens, plain int
	require.NoError(t, storetest.SQL(h.DB).Get(&tokens, `select count(*) from outlet where secret is not null and token = ''`))
	require.NoError(t, storetest.SQL(h.DB).Get(&plain, `select count(*) from outlet where encode(secret, 'escape') like '%access%'`))
	assert.Equal(t, []int{4, 0}, []int{tokens, plain})

	// what the service forgot is got anew, once, however many ask
	w.short.SignIn.Forget(false)
	var asking sync.WaitGroup
	for range 12 {
		asking.Go(func() {
			_, to, err := h.Posting.Outlets.Open(ctx, steward.Brand, done.ID)
			if assert.NoError(t, err) {
				_, err = to.(outlets.Poster).Pages(ctx)
				assert.NoError(t, err)
			}
		})
	}
	asking.Wait()

	// what it does not give any more has to be connected again
	w.short.SignIn.Forget(true)
	_, err = h.Posting.RefreshPages(ctx, steward)
	require.NoError(t, err)
	o, err := poststore.OutletByID(ctx, h.DB, steward.Brand, done.ID)
	require.NoError(t, err)
	assert.Equal(t, poststore.ConnectAgain, o.Standing)
	assert.Contains(t, o.Trouble, "Connect it again")
	_, _, err = h.Posting.FinishConnecting(ctx, steward.Person, letIn(t, h, steward, "windward", "a2"), everyone)
	require.NoError(t, err)
	o, err = poststore.OutletByID(ctx, h.DB, steward.Brand, done.ID)
	require.NoError(t, err)
	assert.Equal(t, poststore.Connected, o.Standing)
	assert.Empty(t, o.Trouble)
}

// TestKeysAreChanged while accounts stay connected; a token that was kept as it was is sealed.
func TestKeysAreChanged(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "keys")
	around(t, h)
	connected(t, h, people)
	c := h.Posting.Outlets
	_, err := storetest.SQL(h.DB).Exec(`insert into outlet (brand_id, kind, name, address, token)
		values ($1, 'windward', 'Old', 'http://old.example', 'plain')`, people[access.Steward].Brand)
	require.NoError(t, err)
	next, err := sealing.FromFile(t.TempDir() + "/keys")
	require.NoError(t, err)
	c.Keys = append(next, c.Keys...)
	require.NoError(t, c.SealAnew(ctx))
	c.Keys = next // the old one is gone
	var rows []struct {
		ID     int64
		Kind   string
		Token  string
		Secret []byte
	}
	require.NoError(t, storetest.SQL(h.DB).Select(&rows, `select id, kind, token, secret from outlet order by id`))
	require.Len(t, rows, 4)
	for _, o := range rows {
		secret, current, err := c.Unseal(o.ID, o.Secret)
		require.NoError(t, err)
		assert.True(t, current)
		assert.NotEmpty(t, secret.Access)
		assert.Empty(t, o.Token)
		assert.Equal(t, o.Kind == "beanpole", secret.Hook != "", "only Beanpole calls")
	}
}

// TestADispatchToThreeServices, each with its own ways, goes out once on each, also on a bad day of each.
func TestADispatchToThreeServices(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "three_services")
	w := around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	tall, broad := sendouttest.Bring(t, h, v, 1600, 2000), sendouttest.Bring(t, h, v, 1700, 2300)
	all := posting.Dispatching{Selection: query.Selection{IDs: []int64{tall, broad}}, Caption: "Up, and up"}
	for _, remote := range []string{"windward", "lt-1", "c1"} {
		all.Pages = append(all.Pages, posting.WantedPost{Page: pages[remote].ID, Mends: map[int64]sending.Mend{}})
	}
	all.Pages[0].Mends[broad] = sending.Mend{Way: sending.Crop} // 1700 × 2300 is taller than 4:5
	for day, mode := range []string{"fine", "lost", "error", "half", "late", "token"} {
		w.short.Weather.Set(mode, 2)
		w.albums.Weather.Set(mode, 2)
		w.tall.Weather.Set(mode, 2)
		_, err := h.Posting.Go(ctx, v, all)
		require.NoError(t, err)
		for _, p := range settled(t, h, v)[:3] {
			require.Equal(t, once.Out, p.Post.Phase, "%s on %s: %s", p.PageName, mode, p.Post.Why)
		}
		assert.Len(t, w.short.Posts("windward"), day+1, mode)
		assert.Len(t, w.albums.Posts("lt-1"), 2+day+1, mode)
		assert.Len(t, w.tall.Posts("c1"), 2+day+1, mode)
	}
	shown := w.tall.Posts("c1")[0]
	require.Len(t, shown.Media, 2)
	assert.Equal(t, 1080, shown.Media[0].Width, "as wide as is taken there")
	_, err := h.Posting.Go(ctx, v, posting.Dispatching{Selection: query.Selection{IDs: []int64{tall}},
		Pages: []posting.WantedPost{{Page: pages["ad1"].ID, Mends: map[int64]sending.Mend{}}}})
	require.NoError(t, err)
	require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	assert.Len(t, w.tall.Posts("ad1"), 2)
}

// TestCallsOfAnOutlet are believed when they are signed, and change nothing but when a post is looked at.
func TestCallsOfAnOutlet(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "calls")
	w := around(t, h)
	w.tall.Takes = 400 * time.Millisecond
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	_, err := h.Posting.Go(ctx, v, posting.Dispatching{Selection: query.Selection{IDs: []int64{sendouttest.Bring(t, h, v, 1600, 2000)}},
		Pages: []posting.WantedPost{{Page: pages["c1"].ID, Mends: map[int64]sending.Mend{}}}})
	require.NoError(t, err)
	require.Equal(t, once.Out, settled(t, h, v)[0].Post.Phase)
	var code string
	require.NoError(t, storetest.SQL(h.DB).Get(&code, `select code from outlet where kind = 'beanpole'`))
	for _, forged := range []http.Header{{}, {"Beanpole-Signature": {"00"}}, {"Beanpole-Signature": {strings.Repeat("ab", 32)}}} {
		err := h.Posting.Heard(ctx, code, forged, strings.NewReader(`{"draft":"dr1"}`))
		require.ErrorContains(t, err, "not signed")
	}
	require.ErrorContains(t, h.Posting.Heard(ctx, code, http.Header{}, strings.NewReader(strings.Repeat("x", 1<<17))), "not understood")
	require.ErrorContains(t, h.Posting.Heard(ctx, "nobody", http.Header{}, strings.NewReader("")), "not connected")
	assert.Len(t, w.tall.Posts("c1"), 3)
}
