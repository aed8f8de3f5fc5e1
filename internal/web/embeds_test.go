package web

import (
	"bytes"
	"context"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"image"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/api"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/sendout/embedding"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/storetest"
)

// hostile is a title that would be a script where it is not taken for text.
const hostile = `</script><script>alert("&")</script><img src=x onerror=alert(1)>`

// outside asks a server as somebody's page does.
type outside struct {
	t      *testing.T
	server *httptest.Server
}

func (o outside) get(path string, headers ...string) (*http.Response, string) {
	o.t.Helper()
	r, err := http.NewRequest(http.MethodGet, o.server.URL+path, nil)
	require.NoError(o.t, err)
	for i := 0; i+1 < len(headers); i += 2 {
		r.Header.Set(headers[i], headers[i+1])
	}
	answer, err := o.server.Client().Do(r)
	require.NoError(o.t, err)
	defer func() { _ = answer.Body.Close() }()
	body, err := io.ReadAll(answer.Body)
	require.NoError(o.t, err)
	return answer, string(body)
}

// published is a house with two pictures of which the first is in a live embed.
func published(t *testing.T, brand string) (h *house.House, v *access.Viewer, o outside, ids []int64, e embedstore.Embed) {
	t.Helper()
	s, h := newServer(t)
	ctx := context.Background()
	require.NoError(t, h.Work(ctx))
	v = storetest.Brand(t, h.DB, brand)[access.Coordinator]
	data := [][]byte{mediatest.JPEG(t, 900, 600, 10), mediatest.JPEG(t, 700, 500, 90)}
	batch, err := h.BringIn.Begin(ctx, v, bringin.Target{}, []bringin.Dropped{{Name: "one.jpg", Bytes: int64(len(data[0]))},
		{Name: "two.jpg", Bytes: int64(len(data[1]))}}, 0)
	require.NoError(t, err)
	for i, f := range batch.Files {
		require.NoError(t, h.BringIn.Receive(ctx, f.Code, bytes.NewReader(data[i])))
	}
	for _, f := range housetest.Settled(t, h, v, batch.ID).Files {
		ids = append(ids, f.Asset.Int64)
	}
	_, err = storetest.SQL(h.DB).Exec(`update asset set title = $2, alt = $2 where id = $1`, ids[0], hostile)
	require.NoError(t, err)
	album, err := h.Gathering.Create(ctx, v, 0, "Shown", &query.Selection{IDs: ids[:1]}, nil)
	require.NoError(t, err)
	d, err := h.Embedding.CreateEmbed(ctx, v, embedding.EmbedChange{Sources: []assetstore.Place{{Album: album.ID}}})
	require.NoError(t, err)
	live, name := true, hostile
	_, err = h.Embedding.ChangeEmbed(ctx, v, d.ID, embedding.EmbedChange{Live: &live, Name: &name})
	require.NoError(t, err)
	all, err := h.Embedding.Embeds(ctx, v)
	require.NoError(t, err)
	server := httptest.NewServer(s.Handler())
	t.Cleanup(server.Close)
	return h, v, outside{t, server}, ids, all[0]
}

// shows asks what an embed shows.
func (o outside) shows(code string) api.Embedded {
	o.t.Helper()
	answer, body := o.get("/api/public/embeds/" + code)
	require.Equal(o.t, http.StatusOK, answer.StatusCode, body)
	var shown api.Embedded
	require.NoError(o.t, json.Unmarshal([]byte(body), &shown))
	return shown
}

func TestAnEmbedForAnyPage(t *testing.T) {
	h, v, o, ids, e := published(t, "pages")
	answer, body := o.get("/api/public/embeds/" + e.Code)
	assert.Equal(t, "*", answer.Header.Get("Access-Control-Allow-Origin"))
	assert.Empty(t, answer.Header.Values("Set-Cookie"))
	assert.NotContains(t, body, "<script", "JSON that stands in a page stays text")
	p := o.shows(e.Code).Pictures[0]
	assert.Equal(t, hostile, p.Title)
	assert.Equal(t, []int{320, 640}, p.Widths)
	at := strings.TrimPrefix(strings.TrimSuffix(p.Picture, "{width}.{format}"), o.server.URL)
	for _, name := range []string{"320.jpg", "640.webp", "640.avif", "640.webp"} { // the last one without asking the database
		answer, body := o.get(at + name)
		require.Equal(t, http.StatusOK, answer.StatusCode, name)
		assert.Equal(t, "image/"+strings.Replace(name[4:], "jpg", "jpeg", 1), answer.Header.Get("Content-Type"))
		assert.Contains(t, answer.Header.Get("Cache-Control"), "immutable")
		assert.Equal(t, "cross-origin", answer.Header.Get("Cross-Origin-Resource-Policy"))
		if strings.HasSuffix(name, "jpg") {
			size, _, err := image.DecodeConfig(strings.NewReader(body))
			require.NoError(t, err)
			assert.Equal(t, 320, size.Width)
		}
	}
	// no address gives an original, another size or another item
	two, err := assetstore.AssetByID(context.Background(), h.DB, v, ids[1])
	require.NoError(t, err)
	for _, path := range []string{at + "960.jpg", at + "original", at + "large", at + "0.jpg", at + "640.png", at + "film.mp4", at + "-1.webp",
		"/e/" + e.Code + "/" + two.Code + "/" + two.Version + "/320.jpg", "/e/nosuchcode/" + two.Code + "/" + two.Version + "/320.jpg",
		"/media/pages/" + two.Code + "/small", "/embedded/pages/" + two.Code + "/" + two.Version + "/320.jpg", "/p/" + two.Code + "/small.jpg",
		"/p/" + e.Code + "/small.jpg"} {
		answer, _ := o.get(path)
		assert.Contains(t, []int{http.StatusNotFound, http.StatusUnauthorized}, answer.StatusCode, path)
	}
	// the page, its feeds and oEmbed hold the same, as text
	answer, page := o.get("/e/" + e.Code)
	assert.NotContains(t, page, "<script>alert")
	assert.NotContains(t, page, "<img src=x")
	assert.Contains(t, answer.Header.Get("Content-Security-Policy"), "frame-ancestors *")
	assert.Contains(t, page, at+"320.avif 320w, ")
	_, feed := o.get("/e/" + e.Code + "/feed.xml")
	require.NoError(t, xml.Unmarshal([]byte(feed), new(rss)))
	assert.Contains(t, feed, `<media:content url="`+o.server.URL+at+`640.jpg"`)
	_, feed = o.get("/e/" + e.Code + "/feed.json")
	var items struct{ Items []struct{ Image string } }
	require.NoError(t, json.Unmarshal([]byte(feed), &items))
	assert.Equal(t, o.server.URL+at+"640.jpg", items.Items[0].Image)
	_, rich := o.get("/oembed?maxwidth=400&url=" + o.server.URL + "/e/" + e.Code)
	var embed struct {
		HTML  string
		Width int
	}
	require.NoError(t, json.Unmarshal([]byte(rich), &embed))
	assert.Equal(t, 400, embed.Width)
	assert.NotContains(t, embed.HTML, "<script")
	for _, other := range []string{"https://elsewhere.example/e/" + e.Code, o.server.URL + "/b/pages", ""} {
		answer, _ := o.get("/oembed?url=" + other)
		assert.Equal(t, http.StatusNotFound, answer.StatusCode, other)
	}
	// off: nothing of it is there any more
	off := false
	_, err = h.Embedding.ChangeEmbed(context.Background(), v, e.ID, embedding.EmbedChange{Live: &off})
	require.NoError(t, err)
	paths := []string{"/e/" + e.Code, at + "640.webp", "/api/public/embeds/" + e.Code, "/e/" + e.Code + "/feed.xml",
		"/oembed?url=" + o.server.URL + "/e/" + e.Code}
	for _, path := range paths {
		assert.Eventually(t, func() bool {
			answer, _ := o.get(path)
			return answer.StatusCode == http.StatusNotFound
		}, 20*time.Second, 50*time.Millisecond, path)
	}
}

func TestAFloodOfVisitors(t *testing.T) {
	h, v, o, _, e := published(t, "flood")
	var all sync.WaitGroup
	codes := make([]int, 256)
	for i := range codes {
		all.Go(func() {
			answer, _ := o.get(fmt.Sprintf("/api/public/embeds/%s?at=https://a.example/%d?who=me", e.Code, i), "Origin", "https://a.example")
			codes[i] = answer.StatusCode
		})
	}
	all.Wait()
	for _, code := range codes {
		assert.Equal(t, http.StatusOK, code)
	}
	o.get("/api/public/embeds/"+e.Code+"?at=https://b.example/", "Origin", "https://c.example") // it says that it is another one
	seen, err := h.Embedding.EmbedSeen(context.Background(), v, e.ID)
	require.NoError(t, err)
	assert.NotEmpty(t, seen)
	assert.LessOrEqual(t, len(seen), mostFresh, "somebody makes them up")
	for _, s := range seen {
		assert.True(t, strings.HasPrefix(s.Page, "https://a.example/"), s.Page)
		assert.NotContains(t, s.Page, "?", "nothing of a visitor")
	}
}

func TestAPublicAddressOverHTTP(t *testing.T) {
	h, v, o, ids, _ := published(t, "public")
	ctx := context.Background()
	made, _, err := h.Embedding.MakePublic(ctx, v, query.Selection{IDs: ids[:1]})
	require.NoError(t, err)
	at := "/p/" + made[0].Code + "/"
	width := func(name string) int {
		answer, body := o.get(at+name, "Referer", "https://www.example.org/kites?secret=1")
		require.Equal(t, http.StatusOK, answer.StatusCode, name)
		size, _, err := image.DecodeConfig(strings.NewReader(body))
		require.NoError(t, err)
		return size.Width
	}
	assert.Equal(t, 640, width("small.jpg"))
	assert.Equal(t, 640, width("large.jpg"), "never enlarged, and never missing")
	assert.Equal(t, 320, width("320.jpg"))
	for _, name := range []string{"original", "small", "small.png", "700.jpg", "huge.jpg", "film.mp4"} {
		answer, _ := o.get(at + name)
		assert.Equal(t, http.StatusNotFound, answer.StatusCode, name)
	}
	seen, err := h.Embedding.AddressSeen(ctx, v, made[0].ID)
	require.NoError(t, err)
	require.Len(t, seen, 1)
	assert.Equal(t, "https://www.example.org/kites", seen[0].Page)
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: ids[:1]})
	require.NoError(t, err)
	assert.Eventually(t, func() bool {
		answer, _ := o.get(at + "small.jpg")
		return answer.StatusCode == http.StatusNotFound
	}, 20*time.Second, 50*time.Millisecond)
}

// TestAPublicAddressInASizeOfOnesOwn is there once that size is offered, in the best format that the asker takes, and stays when the
// size is renamed or retired.
func TestAPublicAddressInASizeOfOnesOwn(t *testing.T) {
	h, v, o, ids, _ := published(t, "own_sizes")
	ctx := context.Background()
	made, _, err := h.Embedding.MakePublic(ctx, v, query.Selection{IDs: ids[:1]})
	require.NoError(t, err)
	steward := *v
	steward.Role = access.Steward
	size := outputs.Size{Name: "For our shop", Width: 100, Height: 100, Fit: outputs.Fill, Format: outputs.Best, Quality: 80,
		Metadata: outputs.StripAll, Pattern: "{name}"}
	added, err := h.TakeAlong.AddSize(ctx, &steward, size)
	require.NoError(t, err)
	at := "/p/" + made[0].Code + "/for-our-shop"
	answer, _ := o.get(at)
	assert.Equal(t, http.StatusNotFound, answer.StatusCode, "it is not offered yet")
	size.ID, size.Name = added.ID, "For the new shop"
	_, err = h.TakeAlong.ChangeSize(ctx, &steward, downloadstore.OutputSize{Size: size, Public: true})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		answer, _ = o.get(at)
		return answer.StatusCode == http.StatusOK
	}, 20*time.Second, 20*time.Millisecond)
	assert.Equal(t, "image/jpeg", answer.Header.Get("Content-Type"))
	tags := map[string]bool{answer.Header.Get("Etag"): true}
	for accept, kind := range map[string]string{"image/avif,image/webp,*/*": "image/avif", "image/webp,*/*": "image/webp"} {
		answer, body := o.get(at, "Accept", accept)
		assert.Equal(t, kind, answer.Header.Get("Content-Type"))
		assert.Contains(t, answer.Header.Values("Vary"), "Accept")
		assert.False(t, tags[answer.Header.Get("Etag")], "each has a mark of its own")
		tags[answer.Header.Get("Etag")] = true
		assert.NotEmpty(t, body)
	}
	_, err = h.TakeAlong.RetireSize(ctx, &steward, added.ID, true)
	require.NoError(t, err)
	answer, body := o.get(at)
	require.Equal(t, http.StatusOK, answer.StatusCode, "pages show it")
	picture, _, err := image.DecodeConfig(strings.NewReader(body))
	require.NoError(t, err)
	assert.Equal(t, []int{100, 100}, []int{picture.Width, picture.Height})
}

func TestWhoMayPick(t *testing.T) {
	h, v, o, _, _ := published(t, "picks")
	ctx := context.Background()
	people := map[access.Role]int{access.Coordinator: http.StatusOK, access.Reviewer: http.StatusForbidden,
		access.Contributor: http.StatusForbidden}
	d, err := h.Embedding.AddSite(ctx, v, "Ours", "https://www.example.org")
	require.NoError(t, err)
	site, err := embedstore.SiteByID(ctx, h.DB, v.Brand, d.ID)
	require.NoError(t, err)
	answer, _ := o.get("/api/sites/" + site.Code)
	assert.Equal(t, http.StatusUnauthorized, answer.StatusCode)
	for role, want := range people {
		email := string(role) + "@picks.example"
		var person int64
		require.NoError(t, storetest.SQL(h.DB).Get(&person, `select id from person where email = $1`, email))
		client := clientOf(t, h, o.server, person, email)
		answer, err := client.Get(o.server.URL + "/api/sites/" + site.Code)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		assert.Equal(t, want, answer.StatusCode, role)
	}
}
