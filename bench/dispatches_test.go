package bench

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/house"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
	"brightsatchel/internal/store/renditionstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/longtable"
)

// connectTo gives a house accounts at a simulated service for albums that takes any number of calls, and gives their pages.
func connectTo(t *testing.T, h *house.House, v *access.Viewer, accounts int) (service *longtable.Service, pages []poststore.Page) {
	t.Helper()
	ctx := context.Background()
	service = longtable.New("")
	service.Calls = 1 << 30
	site := httptest.NewServer(service)
	t.Cleanup(site.Close)
	h.Posting.Outlets.Allowed = []string{site.Listener.Addr().String()}
	var err error
	for n := range accounts {
		require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
			id, err := poststore.AddOutlet(ctx, tx, poststore.Outlet{Brand: v.Brand, Kind: "longtable", Name: fmt.Sprint("Account ", n),
				Address: site.URL, Account: fmt.Sprint(n)})
			if err != nil {
				return err
			}
			sealed, err := h.Posting.Outlets.Seal(id, outlets.Secret{Access: longtable.Token})
			if err != nil {
				return err
			}
			return poststore.SaveSecret(ctx, tx, id, sealed)
		}))
	}
	pages, err = h.Posting.RefreshPages(ctx, v)
	require.NoError(t, err)
	require.Len(t, pages, 2*accounts)
	return service, pages
}

// dispatched are the posts that were sent in the course of years: so many dispatches of a year to three pages each, and so many placements.
const (
	dispatchesInYear = 5000
	placements       = 200_000
)

// sentBefore fills in what was sent and is planned: 5,000 dispatches of a year with three posts each, and 200,000 placements.
func (d *desk) sentBefore(pages []poststore.Page) {
	for _, statement := range []string{
		`insert into dispatch (brand_id, items, due_at, created_at) select $1, 13, now() + make_interval(mins => (n - $2::int / 2) * 105), now()
			from generate_series(1, $2::int) n where $3::bigint[] is not null and $4::int > 0`,
		`insert into dispatch_post (brand_id, dispatch_id, page_id, page_name, caption, post, due_at, wall, zone, address)
			select $1, x.id, p.id, p.name, 'Number ' || x.id,
			jsonb_build_object('Phase', case when x.due_at < now() then 'out' else 'planned' end, 'Media', array_fill(''::text, array[13]),
				'Remote', x.id::text, 'Due', x.due_at), x.due_at, to_char(x.due_at, 'YYYY-MM-DD"T"HH24:MI'), 'Europe/Berlin', 'https://x.example'
			from dispatch x join page p on p.id = any($3::bigint[]) where x.brand_id = $1 and $2::int > 0 and $4::int > 0`,
		`insert into dispatch_item (post_id, brand_id, position, asset_id) select p.id, $1, k - 1, 1 + (p.id * 13 + k * 7919) % $4::int
			from dispatch_post p, generate_series(1, 13) k where p.brand_id = $1 and $2::int > 0 and $3::bigint[] is not null`,
		`insert into placement (brand_id, asset_id, post_id, page_id) select distinct $1::bigint, i.asset_id, i.post_id, p.page_id
			from dispatch_item i join dispatch_post p on p.id = i.post_id where $2::int > 0 and $3::bigint[] is not null and $4::int > 0`,
		`analyze dispatch`, `analyze dispatch_post`, `analyze dispatch_item`, `vacuum analyze placement`,
	} {
		ids := []int64{pages[0].ID, pages[1].ID, pages[2].ID}
		args := []any{1, dispatchesInYear, ids, d.items}
		if strings.Contains(statement, "analyze") {
			args = nil
		}
		_, err := storetest.SQL(d.h.DB).Exec(statement, args...)
		require.NoError(d.t, err, statement)
	}
	var n int
	require.NoError(d.t, storetest.SQL(d.h.DB).Get(&n, `select count(*) from placement`))
	require.Greater(d.t, n, placements*9/10)
}

// TestDispatches asks for what sending to pages asks for, in a small library and a large one, in which 200,000 placements are known.
func TestDispatches(t *testing.T) {
	measured(t)
	took := map[int]map[string][]float64{}
	for _, items := range []int{smallLibrary, largeLibrary} {
		d := deskIn(t, fmt.Sprint("bench_dispatches_", items), items)
		v, err := peoplestore.LoadViewer(context.Background(), d.h.DB, d.person, "bench")
		require.NoError(t, err)
		_, pages := connectTo(t, d.h, v, 2)
		d.sentBefore(pages)
		d.pileUp(pages)
		for i := range 20 + warm {
			d.dispatch(warmed(i), i, pages)
		}
		took[items] = d.took
	}
	compared(t, took[smallLibrary], took[largeLibrary])
}

// dispatch asks for what the screens of dispatches ask for.
func (d *desk) dispatch(name func(string) string, i int, pages []poststore.Page) {
	const brand = "/api/brands/bench"
	var page sheetPage
	d.ask("", http.MethodPost, fmt.Sprintf("%s/sheet?most=1000&from=%d", brand, 300*i), object{"place": "everything"}, &page)
	wanted := func(n int) object {
		var to []any
		for _, p := range pages[:3] {
			to = append(to, object{"page": p.ID, "mends": []any{object{"item": 0, "mend": "split"}}})
		}
		return object{"selection": object{"ids": page.IDs[:n]}, "caption": "{title} {tags}", "pages": to}
	}
	d.ask(name("the check of 500 items for 3 pages"), http.MethodPost, brand+"/dispatches/check", wanted(500), nil)
	d.ask(name("the check of 5 items for 3 pages"), http.MethodPost, brand+"/dispatches/check", wanted(5), nil)
	d.ask(name("pages"), http.MethodGet, brand+"/pages", nil, nil)
	d.ask(name("outlets"), http.MethodGet, brand+"/outlets", nil, nil)
	d.ask(name("50 dispatches"), http.MethodGet, brand+"/dispatches", nil, nil)
	now := time.Now().UTC()
	span := func(back, ahead int) string {
		return fmt.Sprintf("%s/calendar?from=%s&to=%s", brand, now.AddDate(0, 0, -back).Format(time.RFC3339),
			now.AddDate(0, 0, ahead).Format(time.RFC3339))
	}
	d.ask(name("a month of the calendar"), http.MethodGet, span(15, 15), nil, nil)
	year := strings.Replace(span(182, 183), "/calendar?", "/calendar-days?", 1)
	d.ask(name("a year of the calendar, 5,000 dispatches"), http.MethodGet, year, nil, nil)
	d.ask(name("the card of an item that is on pages"), http.MethodGet, fmt.Sprintf("%s/assets/%d", brand, page.IDs[i]), nil, nil)
	d.ask(name("how many of 1,000 items are on pages"), http.MethodPost, brand+"/placements", object{"ids": page.IDs}, nil)
	d.ask(name("what is on pages, and where items came from"), http.MethodGet, brand+"/placements", nil, nil)
	d.ask(name("what feeds pages"), http.MethodGet, brand+"/page-feeds", nil, nil)
	for _, list := range []string{"rehearsals", "dispatch-drafts", "screens", "parking/rehearsal", "drive-passwords"} {
		d.ask(name(list), http.MethodGet, brand+"/"+list, nil, nil)
	}
	d.ask(name("one rehearsal of 12 variants and 1,000 remarks"), http.MethodGet, fmt.Sprintf("%s/rehearsals/%d", brand, 1+i), nil, nil)
	d.onScreen(name("what a screen is told, of an album of 300"))
	var folder string
	require.NoError(
		d.t,
		storetest.SQL(d.h.DB).Get(&folder, `select name from folder where parent_id is null order by id offset $1 % (select count(*) from
		folder where parent_id is null) limit 1`, i),
	)
	d.drive(name("a folder of the drive"), "/Library/"+url.PathEscape(folder))
	d.placed(name("where 1,000 items are on pages"), page.IDs)
	d.placed(name("where one item is on pages"), page.IDs[:1])
}

// placed asks where items are shown on pages, as the card and the bin do.
func (d *desk) placed(name string, ids []int64) {
	began := time.Now()
	_, err := assetstore.PlacementsOf(context.Background(), d.h.DB, ids)
	require.NoError(d.t, err)
	if name != "" {
		d.took[name] = append(d.took[name], time.Since(began).Seconds()*1000)
	}
}

// TestSendingFiveHundred sends 500 pictures of 24 megapixels to three pages, against making the same files and bringing them to the same
// service one after the other, with as many at once.
func TestSendingFiveHundred(t *testing.T) {
	measured(t)
	ctx := context.Background()
	h, v, _, ids, _ := shot(t, "bench_sending", alongs)
	_, pages := connectTo(t, h, v, 2)
	wanted := posting.Dispatching{Selection: query.Selection{IDs: ids}, Caption: "Five hundred"}
	for _, p := range pages[:3] {
		wanted.Pages = append(wanted.Pages, posting.WantedPost{Page: p.ID, Split: true})
	}
	began := time.Now()
	_, err := h.Posting.Go(ctx, v, wanted)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		var open int
		require.NoError(t, storetest.SQL(h.DB).Get(&open,
			`select count(*) from dispatch_post where phase not in ('out', 'refused', 'unsure', 'cancelled')`))
		return open == 0
	}, 30*time.Minute, 100*time.Millisecond)
	sent := time.Since(began)
	var out int
	require.NoError(t, storetest.SQL(h.DB).Get(&out, `select count(*) from dispatch_post where phase = 'out'`))
	require.Equal(t, 3*((len(ids)+29)/30), out)

	alone := sendAlone(t, h, v, pages[0], ids)
	t.Logf("%d pictures to 3 pages: %.1f s; making and bringing them alone: %.1f s; ratio %.2f", len(ids), sent.Seconds(), alone.Seconds(),
		alone.Seconds()/sent.Seconds())
}

// sendAlone makes the files of items for a page anew, and brings each to the service three times, and says how long both took.
func sendAlone(t *testing.T, h *house.House, v *access.Viewer, page poststore.Page, ids []int64) time.Duration {
	t.Helper()
	ctx := context.Background()
	_, err := storetest.SQL(h.DB).Exec(`delete from rendition`)
	require.NoError(t, err)
	assets, err := assetstore.AssetsIn(ctx, h.DB, v.Brand, ids)
	require.NoError(t, err)
	_, to, err := h.Posting.Outlets.Open(ctx, v.Brand, page.Outlet)
	require.NoError(t, err)
	began := time.Now()
	together, all := errgroup.WithContext(ctx)
	together.SetLimit(h.Config.Workers)
	for _, a := range assets {
		together.Go(func() error {
			limits := page.Limits.Limits
			limits.MostBytes-- // another file than the one that is there
			made, err := h.Renditions.Ensure(all, v.Brand, a, limits.Size(sending.Piece{Kind: a.Kind}, ""))
			for range 3 {
				if err == nil {
					err = bringTo(all, h, to.(outlets.Poster), made)
				}
			}
			return err
		})
	}
	require.NoError(t, together.Wait())
	return time.Since(began)
}

// bringTo brings a file to a service, and does nothing else.
func bringTo(ctx context.Context, h *house.House, to outlets.Poster, made renditionstore.Rendition) error {
	open := func(ctx context.Context, _ int) (outlets.File, error) {
		file, err := h.Blobs.Open(ctx, made.Blob)
		return outlets.File{Name: "kite.jpg", Body: file, Bytes: made.Bytes, MediaType: "image/jpeg"}, err
	}
	o := to.Do(ctx, once.Step{Do: once.Upload}, once.New(1, time.Now()), "", outlets.Content{Open: open})
	if o.Kind != once.Done {
		return errors.New(o.Why)
	}
	return nil
}

// pileUp fills in what piles up besides: 2,000 rehearsals, of which those asked for are as full as can be, 500 drafts, 300 screens.
func (d *desk) pileUp(pages []poststore.Page) {
	for _, statement := range []string{
		`insert into rehearsal (brand_id, name, places) select 1, 'Idea ' || n, '{feed,tall,wide,strip,card}' from generate_series(1, 2000) n`,
		`insert into rehearsal_variant (brand_id, rehearsal_id, position, name, assets, caption)
			select 1, r.id, k, 'V' || k, array(select 1 + (r.id * 31 + k * 20 + j) % 10000 from generate_series(1, 20) j), repeat('words ', 100)
			from rehearsal r, generate_series(1, 12) k where r.id <= 40 or k = 1`,
		`insert into rehearsal_remark (brand_id, rehearsal_id, words) select 1, 1 + n % 40, 'Rather the other one'
			from generate_series(1, 40000) n`,
		`insert into thing_folder (brand_id, kind, name) select 1, 'rehearsal', 'Folder ' || n from generate_series(1, 200) n`,
		`insert into thing_place (brand_id, kind, thing_id, folder_id) select 1, 'rehearsal', n, 1 + n % 200 from generate_series(1, 1900) n`,
		fmt.Sprintf(`insert into dispatch_draft (brand_id, name, assets, pages, body) select 1, 'Draft ' || n,
			array(select 1 + (n + j) %% 10000 from generate_series(1, 50) j), array[%d]::bigint[], '{"Caption": "Words"}'
			from generate_series(1, 500) n`, pages[0].ID),
		`insert into album (brand_id, name) values (1, 'In the shop')`,
		`insert into album_item (brand_id, album_id, asset_id, position) select 1, (select max(id) from album), id, lpad(id::text, 9, '0')
			from (select id from asset where kind = 'picture' and binned_at is null order by id limit 300) a`,
		fmt.Sprintf(`insert into screen (brand_id, person_id, token_sum, name, album_id, settings) select 1, %d, sha256(('screen ' || n)::bytea),
			'Screen ' || n, (select max(id) from album), '{"seconds": 12, "transition": "fade", "captions": "title", "order": "album",
			"fit": "fill", "zone": "UTC"}' from generate_series(1, 300) n`, d.person),
		`analyze rehearsal_remark`, `analyze rehearsal_variant`,
	} {
		_, err := storetest.SQL(d.h.DB).Exec(statement)
		require.NoError(d.t, err, statement)
	}
	d.openDrive()
}

// openDrive makes a password for the drive.
func (d *desk) openDrive() {
	v, err := peoplestore.LoadViewer(context.Background(), d.h.DB, d.person, "bench")
	require.NoError(d.t, err)
	d.password, err = d.h.People.MakeDrivePassword(context.Background(), v, "a bench", 0)
	require.NoError(d.t, err)
	d.email = v.Email
}

// onScreen asks what a screen asks for, whose token is 1.
func (d *desk) onScreen(name string) {
	request, err := http.NewRequest(http.MethodGet, d.address+"/api/public/screen", nil)
	require.NoError(d.t, err)
	request.Header.Set("Authorization", "Bearer 1")
	d.timed(name, request, http.StatusOK)
}

// drive lists a folder of the drive.
func (d *desk) drive(name, path string) {
	request, err := http.NewRequest("PROPFIND", d.address+"/dav"+path, nil)
	require.NoError(d.t, err)
	request.SetBasicAuth(d.email, d.password)
	request.Header.Set("Depth", "1")
	d.timed(name, request, http.StatusMultiStatus)
}

// timed makes a request, reads the answer, and notes how long that took.
func (d *desk) timed(name string, request *http.Request, want int) {
	began := time.Now()
	answer, err := http.DefaultClient.Do(request)
	require.NoError(d.t, err)
	got, err := io.ReadAll(answer.Body)
	require.NoError(d.t, err)
	require.NoError(d.t, answer.Body.Close())
	require.Equal(d.t, want, answer.StatusCode, "%s: %.300s", request.URL, got)
	if name != "" {
		d.took[name] = append(d.took[name], time.Since(began).Seconds()*1000)
	}
}
