package web

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/screens"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/screenstore"
	"brightsatchel/internal/store/storetest"
)

// wayThere is one way to bytes of an item, with what each gets by it, in the order of askers: o its original, p something made from it, - a
// refusal. Both of one route may be asked for, hence several lines for it.
type wayThere struct{ route, ask, gets string }

// askers are those who ask, in the order of wayThere.gets: stewards, coordinators, a contributor in the folder granted to them, one
// elsewhere, reviewers, an associate who may look at the folder, one who may contribute to it, a coordinator of another brand, nobody.
var askers = []string{"steward", "coordinator", "granted", "contributor", "reviewer", "looks", "contributes", "neighbour", "nobody"}

var waysThere = []wayThere{
	{"GET /media/:brand/:code/:size", "/media/ways/{photo}/original", "ooo---o--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{photo}/large", "ppppppp--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{photo}/out-{size}", "pp-------"},
	{"GET /media/:brand/:code/:size", "/media/ways/{document}/original", "ooo---o--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{document}/page-1", "ppppppp--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{film}/original", "ooo---o--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{film}/film", "ooopppo--"},
	{"GET /media/:brand/:code/:size", "/media/ways/{moving}/film", "ooopppo--"},
	{"GET /downloads/:brand/:code", "/downloads/ways/{download}", "-p-------"}, // only who ordered it
	{"GET /embedded/:brand/:asset/:version/:name", "/embedded/ways/{photo}/{version}/640.jpg", "pp-------"},
	{"GET /e/:code/:asset/:version/:name", "/e/{embed}/{photo}/{version}/640.jpg", "ppppppppp"},
	{"GET /e/:code/:asset/:version/:name", "/e/{embed}/{photo}/{version}/original", "---------"},
	{"GET /e/:code/:asset/:version/:name", "/e/{embed}/{secret}/{version}/640.jpg", "---------"},
	{"GET /p/:code/:name", "/p/{address}/medium.jpg", "ppppppppp"},
	{"GET /p/:code/:name", "/p/{address}/original", "---------"},
	{"GET /p/:code/:name", "/p/{secret}/medium.jpg", "---------"},
	{"GET /s/:code/:asset/:version/:name", "/s/{screen}/{photo}/{version}/640.webp", "ppppppppp"},
	{"GET /s/:code/:asset/:version/:name", "/s/{screen}/{photo}/{version}/original", "---------"},
	{"GET /s/:code/:asset/:version/:name", "/s/{screen}/{secret}/{version}/640.webp", "---------"},
	{"GET /g/:code/media/:asset/:size", "/g/{gallery}/media/{photo}/large", "ppppppppp"},
	{"GET /g/:code/media/:asset/:size", "/g/{gallery}/media/{photo}/original", "---------"},
	{"GET /g/:code/media/:asset/:size", "/g/{gallery}/media/{secret}/large", "---------"},
	{"GET /g/:code/media/:asset/:size", "/g/{shut}/media/{photo}/large", "---------"},
	{"GET /g/:code/take/:asset", "/g/{gallery}/take/{photo}?size={size}", "ppppppppp"},
	{"GET /g/:code/take/:asset", "/g/{gallery}/take/{photo}?size=0", "---------"},
	{"GET /g/:code/all.zip", "/g/{gallery}/all.zip?size={size}", "ppppppppp"},
	{"GET /g/:code/all.zip", "/g/{gallery}/all.zip?size=0", "---------"},
	{"GET /g/:code/all.zip", "/g/{shut}/all.zip?size={size}", "---------"},
	{"POST /api/brands/:brand/assets/:id/frame", "/api/brands/ways/assets/{id}/frame", "ppp---p--"},
	{"POST /api/brands/:brand/assets/:id/tone", "/api/brands/ways/assets/{id}/tone", "ppp---p--"},
	{"POST /api/brands/:brand/assets/:id/base-map", "/api/brands/ways/assets/{id}/base-map", "ppp---p--"},
	{"GET /dav/*path", "/dav/Library/Shoots/photo.jpg", "ooo---o--"},
	{"HEAD /dav/*path", "/dav/Library/Shoots/photo.jpg", "ppp---p--"},
	{"GET /dav/*path", "/dav/Albums/Shown/photo.jpg", "ooo------"},
	{"COPY /dav/*path", "/dav/Library/Shoots/photo.jpg", "ppp---p--"},
}

// withoutBytes are the routes by which nobody gets bytes of items, and why.
var withoutBytes = map[string]string{
	"POST /api/brands/:brand/albums/:id/cover":                "takes a file",
	"POST /api/brands/:brand/tables":                          "takes a table",
	"POST /api/brands/:brand/uploads":                         "takes a file",
	"HEAD /api/brands/:brand/uploads/:code":                   "says how much of a file is here",
	"PATCH /api/brands/:brand/uploads/:code":                  "takes a file",
	"PUT /g/:code/add/:file":                                  "takes a file",
	"GET /api/brands/:brand/events":                           "tells of changes",
	"GET /api/brands/:brand/outlets/:id/media/:media/picture": "what is at an outlet and is no item",
	"GET /calendar/:file":                                     "moments and words",
	"GET /e/:code":                                            "addresses and words",
	"GET /e/:code/feed.json":                                  "addresses and words",
	"GET /e/:code/feed.xml":                                   "addresses and words",
	"GET /oembed":                                             "addresses and words",
	"GET /embed.js":                                           "a script",
	"GET /g/:code":                                            "the page of a gallery",
	"GET /g/:code/plain":                                      "addresses and words",
	"POST /g/:code/plain":                                     "takes a password",
	"GET /l/:whose":                                           "addresses and words",
	"GET /plain.css":                                          "looks",
	"POST /heard/:code":                                       "hears from a service",
	"GET /u/:code":                                            "ends letters",
	"POST /u/:code":                                           "ends letters",
	"GET /connected":                                          "comes back from a service",
	"GET /join/:token":                                        "the front end",
	"GET /pick/:site":                                         "the front end",
	"GET /assets/*file":                                       "the front end",
	"GET /favicon.svg":                                        "the front end",
	"GET /screen":                                             "the front end",
	"GET /screen/keeper.js":                                   "the front end",
	"GET /healthz":                                            "is the process there",
	"GET /readyz":                                             "is the database there",
}

// waysHouse is a house with items in a folder that are shown everywhere, but for one that is shown nowhere, and what stands for the
// placeholders of the ways.
func waysHouse(t *testing.T) (s *Server, h *house.House, originals map[string][]byte, names *strings.Replacer) {
	t.Helper()
	ctx := context.Background()
	s, h = newServer(t)
	require.NoError(t, h.Work(ctx))
	people := storetest.Brand(t, h.DB, "ways")
	v := people[access.Coordinator]
	folder, err := h.Filing.Create(ctx, v, 0, "Shoots")
	require.NoError(t, err)
	v = storetest.See(t, h.DB, v.Person, "ways")
	originals = map[string][]byte{"photo.jpg": mediatest.JPEG(t, 900, 600, 10), "secret.jpg": mediatest.JPEG(t, 800, 600, 90),
		"document.pdf": mediatest.PDF(2), "film.mp4": mediatest.Film(t, "libx264", "mp4", 1), "moving.gif": mediatest.Animation(t, 3)}
	files := []bringin.Dropped{}
	for name, data := range originals {
		files = append(files, bringin.Dropped{Name: name, Bytes: int64(len(data))})
	}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{Folder: folder.ID}, files, 0)
	require.NoError(t, err)
	for _, f := range batch.Files {
		require.NoError(t, h.BringIn.Receive(ctx, f.Code, bytes.NewReader(originals[f.Name])))
	}
	ids, codes := map[string]int64{}, map[string]string{}
	for _, f := range housetest.Settled(t, h, v, batch.ID).Files {
		require.Equal(t, "added", f.State, f.Why)
		ids[f.Name], codes[f.Name] = f.Asset.Int64, f.AssetCode.String
	}
	photo := query.Selection{IDs: []int64{ids["photo.jpg"]}}
	album, err := h.Gathering.Create(ctx, v, 0, "Shown", &photo, nil)
	require.NoError(t, err)
	var size int64
	require.NoError(
		t,
		storetest.SQL(h.DB).Get(&size, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern)
		values ($1, 'Web', 400, 400, 'inside', 'jpeg', 80, 'strip_private', '{name}') returning id`, v.Brand),
	)
	embed, err := h.Embedding.CreateEmbed(ctx, v, embedding.EmbedChange{Sources: []assetstore.Place{{Album: album.ID}}})
	require.NoError(t, err)
	yes := true
	_, err = h.Embedding.ChangeEmbed(ctx, v, embed.ID, embedding.EmbedChange{Live: &yes})
	require.NoError(t, err)
	embeds, err := h.Embedding.Embeds(ctx, v)
	require.NoError(t, err)
	gallery := func(open bool) string {
		made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, hosting.GalleryChange{
			Chapters: []gallerystore.Chapter{{Title: "All", Place: assetstore.Place{Album: album.ID}}}})
		require.NoError(t, err)
		_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &open})
		require.NoError(t, err)
		g, err := gallerystore.GalleryByID(ctx, h.DB, v, made.ID)
		require.NoError(t, err)
		return g.Code
	}
	addresses, _, err := h.Embedding.MakePublic(ctx, v, photo)
	require.NoError(t, err)
	taken, err := h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: photo, OutputSizes: []int64{size}})
	require.NoError(t, err)
	var download, screen, version string
	require.NoError(t, storetest.SQL(h.DB).Get(&download, `select code from download where id = $1`, taken.ID))
	one := screenstore.Screen{Brand: v.Brand, Person: sql.NullInt64{Int64: v.Person, Valid: true}, Name: "Shop",
		Album: sql.NullInt64{Int64: album.ID, Valid: true}}
	one.Settings.Settings = screens.Usual("Europe/London")
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		for who, g := range map[access.Role]access.Grant{access.Contributor: {Folder: folder.ID, Level: access.LevelContribute},
			access.Associate: {Folder: folder.ID, Level: access.LevelLook}} {
			if err := peoplestore.AddGrant(ctx, tx, v.Brand, people[who].Person, g); err != nil {
				return err
			}
		}
		_, err := screenstore.AddScreen(ctx, tx, one, []byte("some sum"))
		return err
	}))
	require.NoError(t, storetest.SQL(h.DB).Get(&screen, `select code from screen`))
	require.NoError(t, storetest.SQL(h.DB).Get(&version, `select v.code from version v join asset a on a.version_id = v.id where a.id = $1`,
		photo.IDs[0]))
	return s, h, originals, strings.NewReplacer("{photo}", codes["photo.jpg"], "{secret}", codes["secret.jpg"], "{film}", codes["film.mp4"],
		"{document}", codes["document.pdf"], "{moving}", codes["moving.gif"], "{size}", fmt.Sprint(size), "{version}", version,
		"{id}", fmt.Sprint(photo.IDs[0]), "{embed}", embeds[0].Code, "{gallery}", gallery(true), "{shut}", gallery(false),
		"{address}", addresses[0].Code, "{download}", download, "{screen}", screen)
}

// TestEveryWayToBytes asks for bytes by every route outside of the contract as everybody, and fails for a route that says of none.
func TestEveryWayToBytes(t *testing.T) {
	ctx := context.Background()
	s, h, originals, names := waysHouse(t)
	server := httptest.NewServer(s.Handler())
	defer server.Close()
	told := map[string]bool{}
	for _, w := range waysThere {
		told[w.route] = true
		require.Contains(t, s.rules, w.route)
		require.Len(t, w.gets, len(askers), w.ask)
	}
	for route := range s.rules {
		_, none := withoutBytes[route]
		path := route[strings.Index(route, " ")+1:]
		if strings.HasPrefix(path, "/dav") { // the other methods change something, or list it
			continue
		}
		if rule := s.rules[route]; rule.public && !strings.Contains(path, ":") && !strings.Contains(path, "*") {
			none = true // the same for everybody: pages of the front end
		}
		if strings.HasPrefix(path, "/b/") {
			none = true
		}
		assert.True(t, told[route] != none, "%s: say what of items is had by it, and by whom", route)
	}

	others := storetest.Brand(t, h.DB, "waysbeside")
	var brand int64
	require.NoError(t, storetest.SQL(h.DB).Get(&brand, `select id from brand where code = 'ways'`))
	person := map[string]int64{"neighbour": others[access.Coordinator].Person}
	email := map[string]string{"neighbour": "coordinator@waysbeside.example"}
	addAs := func(who string, role access.Role, level access.Level) {
		require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
			if person[who], err = peoplestore.AddPerson(ctx, tx, brand, who+"@ways.example", who, "x", role); err != nil || level == "" {
				return err
			}
			var folder int64
			if err := tx.GetContext(ctx, &folder, `select id from folder where brand_id = $1`, brand); err != nil {
				return err
			}
			return peoplestore.AddGrant(ctx, tx, brand, person[who], access.Grant{Folder: folder, Level: level})
		}))
		email[who] = who + "@ways.example"
	}
	addAs("granted", access.Contributor, access.LevelContribute)
	addAs("looks", access.Associate, access.LevelLook)
	addAs("contributes", access.Associate, access.LevelContribute)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error { // the contributor of the brand is one elsewhere
		_, err := tx.ExecContext(ctx, `delete from access_grant where person_id = (select id from person where email =
			'contributor@ways.example')`)
		return err
	}))
	clients, passwords := map[string]*http.Client{"nobody": server.Client()}, map[string]string{}
	for _, who := range askers[:len(askers)-1] {
		if person[who] == 0 {
			email[who] = who + "@ways.example"
			var id int64
			require.NoError(t, storetest.SQL(h.DB).Get(&id, `select id from person where email = $1`, email[who]))
			person[who] = id
		}
		clients[who] = clientOf(t, h, server, person[who], email[who])
		at := map[bool]string{true: "waysbeside", false: "ways"}[who == "neighbour"]
		password, err := h.People.MakeDrivePassword(ctx, storetest.See(t, h.DB, person[who], at), "a test", 0)
		require.NoError(t, err)
		passwords[who] = password
	}
	isOriginal := func(body []byte) bool {
		for _, data := range originals {
			if bytes.Contains(body, data) { // also inside of a ZIP, which packs no pictures
				return true
			}
		}
		return false
	}
	copies := 0
	ask := func(w wayThere, who string) (int, []byte) {
		method, _, _ := strings.Cut(w.route, " ")
		var body io.Reader
		if method == http.MethodPost {
			body = strings.NewReader(`{"recipe": {}, "width": 300, "height": 300}`)
		}
		r, err := http.NewRequest(method, server.URL+names.Replace(w.ask), body)
		require.NoError(t, err)
		if strings.HasPrefix(w.ask, "/dav") && passwords[who] != "" {
			r.SetBasicAuth(email[who], passwords[who])
		}
		copies++
		r.Header.Set("Destination", fmt.Sprintf("%s/dav/Library/Shoots/copy %d.jpg", server.URL, copies))
		client := clients[who]
		if strings.HasPrefix(w.ask, "/dav") {
			client = server.Client()
		}
		answer, err := client.Do(r)
		require.NoError(t, err)
		defer func() { _ = answer.Body.Close() }()
		data, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return answer.StatusCode, data
	}
	for _, w := range waysThere {
		for i, who := range askers {
			var status int
			var data []byte
			require.Eventually(t, func() bool { // a film is made first
				status, data = ask(w, who)
				return status != http.StatusServiceUnavailable
			}, 60*time.Second, 50*time.Millisecond, "%s as %s", w.ask, who)
			got := "p"
			switch {
			case status >= 400:
				got = "-"
			case isOriginal(data):
				got = "o"
			}
			assert.Equal(t, string(w.gets[i]), got, "%s %s as %s: %d", w.route, w.ask, who, status)
			if got == "-" {
				assert.False(t, isOriginal(data), w.ask)
				assert.Less(t, status, 500, w.ask)
			}
		}
	}
}
