package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/letters"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/storetest"
)

// guestOf asks a server as a guest does who keeps cookies.
type guestOf struct {
	outside
	client *http.Client
}

func (o outside) guest() guestOf {
	o.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(o.t, err)
	return guestOf{o, &http.Client{Jar: jar}}
}

func (g guestOf) ask(method, path string, body any) (status int, said string) {
	g.t.Helper()
	var from io.Reader
	switch b := body.(type) {
	case nil:
	case []byte:
		from = bytes.NewReader(b)
	default:
		text, err := json.Marshal(body)
		require.NoError(g.t, err)
		from = bytes.NewReader(text)
	}
	r, err := http.NewRequest(method, g.server.URL+path, from)
	require.NoError(g.t, err)
	if from != nil {
		r.Header.Set("Content-Type", "application/json")
	}
	answer, err := g.client.Do(r)
	require.NoError(g.t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(g.t, err)
	return answer.StatusCode, string(text)
}

// shownToGuests is a house with an open gallery of the first of two pictures, at one output size.
func shownToGuests(t *testing.T, brand string, change hosting.GalleryChange) (*house.House, *access.Viewer, outside, []assetstore.Asset,
	gallerystore.Gallery) {
	t.Helper()
	ctx := context.Background()
	h, v, o, ids, _ := published(t, brand)
	album, err := h.Gathering.Create(ctx, v, 0, "For guests", &query.Selection{IDs: ids[:1]}, nil)
	require.NoError(t, err)
	var size int64
	require.NoError(
		t,
		storetest.SQL(h.DB).Get(&size, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern)
		values ($1, 'Web', 400, 400, 'inside', 'jpeg', 80, 'strip_private', '{name}') returning id`, v.Brand),
	)
	change.Chapters = []gallerystore.Chapter{{Title: hostile, Place: assetstore.Place{Album: album.ID}}}
	made, err := h.Hosting.CreateGallery(ctx, v, galleries.Client, change)
	require.NoError(t, err)
	yes := true
	_, err = h.Hosting.ChangeGallery(ctx, v, made.ID, hosting.GalleryChange{Open: &yes})
	require.NoError(t, err)
	g, err := gallerystore.GalleryByID(ctx, h.DB, v, made.ID)
	require.NoError(t, err)
	assets, err := assetstore.AssetsIn(ctx, h.DB, v.Brand, ids)
	require.NoError(t, err)
	return h, v, o, assets, g
}

// TestAGuestGetsNothingElse tries every address of a gallery with codes of the gallery and with neighbours of them.
func TestAGuestGetsNothingElse(t *testing.T) {
	h, v, o, assets, g := shownToGuests(t, "guests", hosting.GalleryChange{})
	guest := o.guest()
	shown, hidden := assets[0], assets[1]
	size := g.Settings.Sizes[0]
	var other int64
	require.NoError(
		t,
		storetest.SQL(h.DB).Get(&other, `insert into output_size (brand_id, name, width, height, fit, format, quality, metadata, pattern)
		values ($1, 'Large', 4000, 4000, 'inside', 'jpeg', 80, 'keep', '{name}') returning id`, v.Brand),
	)
	for _, fine := range []string{
		fmt.Sprintf("/g/%s/media/%s/large?v=%s", g.Code, shown.Code, shown.Version),
		fmt.Sprintf("/g/%s/take/%s?size=%d", g.Code, shown.Code, size), fmt.Sprintf("/g/%s/all.zip?size=%d", g.Code, size),
		fmt.Sprintf("/g/%s/all.zip?size=%d&chapter=1", g.Code, size), "/g/" + g.Code + "/plain",
	} {
		status, _ := guest.ask(http.MethodGet, fine, nil)
		assert.Equal(t, http.StatusOK, status, fine)
	}
	closedOne := strings.Replace(g.Code, g.Code[:1], "Z", 1)
	for _, wrong := range []string{
		"/g/%[1]s/media/%[3]s/small?v=%[4]s", "/g/%[1]s/media/%[2]s/original", "/g/%[1]s/media/%[2]s/film",
		"/g/%[1]s/media/%[2]s/..%%2foriginal",
		"/g/%[1]s/take/%[2]s?size=0", "/g/%[1]s/take/%[2]s?size=%[5]d", "/g/%[1]s/take/%[3]s?size=%[6]d",
		"/g/%[1]s/take/%[2]s", "/g/%[1]s/all.zip",
		"/g/%[1]s/all.zip?size=0", "/g/%[1]s/all.zip?size=%[5]d", "/g/%[1]s/all.zip?size=%[6]d&chapter=2", "/g/%[1]s/all.zip?size=%[6]d&list=1",
		"/g/%[7]s/media/%[2]s/small", "/api/public/galleries/%[7]s", "/g/%[1]s/add/x", "/media/guests/%[2]s/small",
		"/e/%[1]s", "/p/%[2]s/medium.jpg",
	} {
		path := fmt.Sprintf(wrong, g.Code, shown.Code, hidden.Code, hidden.Version, other, size, closedOne)
		require.NotContains(t, path, "%!")
		status, body := guest.ask(http.MethodGet, path, nil)
		assert.GreaterOrEqual(t, status, 400, "%s: %.60s", path, body)
	}
	_, body := guest.ask(http.MethodGet, "/api/public/galleries/"+g.Code, nil)
	assert.NotContains(t, body, hidden.Code)
	assert.NotContains(t, body, shown.FileName)
	answer, _ := o.get("/g/" + g.Code)
	assert.Equal(t, "noindex", answer.Header.Get("X-Robots-Tag"))
	everyone := galleries.Everyone
	_, err := h.Hosting.ChangeGallery(context.Background(), v, g.ID, hosting.GalleryChange{Audience: &everyone})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		answer, _ := o.get("/g/" + g.Code)
		return answer.Header.Get("X-Robots-Tag") == ""
	}, 3*time.Second, 20*time.Millisecond, "what is for everyone may be listed")
	_, page := guest.ask(http.MethodGet, "/g/"+g.Code+"/plain", nil)
	assert.NotContains(t, page, "<script")
	assert.NotContains(t, page, "<img src=x", "titles stay text")
	assert.Contains(t, page, "&lt;script&gt;")
	status, _ := guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/marks", object{"list": 1, "picture": shown.Code, "marked": true})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "nobody marks without a name")
	status, _ = guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/me", object{"name": strings.Repeat("x", 81)})
	require.Equal(t, http.StatusUnprocessableEntity, status, "names have an end")
	status, _ = guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/me", object{"name": "<b>Tove"})
	require.Equal(t, http.StatusNoContent, status)
	for _, wrong := range []object{{"list": 4711, "picture": shown.Code, "marked": true},
		{"list": 1, "picture": hidden.Code, "marked": true}} {
		status, _ = guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/marks", wrong)
		assert.Equal(t, http.StatusNotFound, status)
	}
	status, _ = guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/remarks", object{"picture": hidden.Code, "words": "x"})
	assert.Equal(t, http.StatusNotFound, status)
	status, _ = guest.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/contributions",
		object{"agreed": true, "files": []object{{"name": "a.jpg", "bytes": 3}}})
	assert.Equal(t, http.StatusForbidden, status, "unless that is allowed")
	for range 25 {
		status, _ = o.guest().ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/me", object{"name": "Many"})
	}
	assert.Equal(t, http.StatusTooManyRequests, status, "somebody who gives names all day")
}

// TestALinkTakenBackEndsAtOnce also for pictures that were made before and that others were shown a moment ago.
func TestALinkTakenBackEndsAtOnce(t *testing.T) {
	ctx := context.Background()
	h, v, o, assets, g := shownToGuests(t, "links", hosting.GalleryChange{})
	invited := galleries.Invited
	_, err := h.Hosting.ChangeGallery(ctx, v, g.ID, hosting.GalleryChange{Audience: &invited})
	require.NoError(t, err)
	var codes []string
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		for _, email := range []string{"maren@example.org", "tove@example.org"} {
			link := gallerystore.Link{Sum: hosting.LinkSum("own of " + email)}
			if _, err := gallerystore.InviteGuest(ctx, tx, v.Brand, g.ID, letters.Address{Email: email}, link); err != nil {
				return err
			}
			codes = append(codes, url.QueryEscape("own of "+email))
		}
		return nil
	}))
	picture := fmt.Sprintf("/g/%s/media/%s/small?v=%s", g.Code, assets[0].Code, assets[0].Version)
	maren, tove, stranger := o.guest(), o.guest(), o.guest()
	for _, u := range []guestOf{maren, tove} {
		status, _ := u.ask(http.MethodGet, picture, nil)
		assert.Equal(t, http.StatusForbidden, status)
	}
	for i, u := range []guestOf{maren, tove} {
		status, _ := u.ask(http.MethodGet, "/g/"+g.Code+"?as="+codes[i], nil)
		require.Equal(t, http.StatusOK, status)
		for range 3 { // made, and then quickly
			status, _ = u.ask(http.MethodGet, picture, nil)
			assert.Equal(t, http.StatusOK, status)
		}
	}
	status, _ := stranger.ask(http.MethodGet, picture, nil)
	assert.Equal(t, http.StatusForbidden, status)
	_, _ = stranger.ask(http.MethodGet, "/g/"+g.Code+"?as=guessed", nil)
	status, said := stranger.ask(http.MethodGet, "/api/public/galleries/"+g.Code, nil)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, said, `"state":"uninvited"`)
	assert.NotContains(t, said, "For guests", "its title is not told")

	in, err := h.Hosting.LookInside(ctx, v, g.ID)
	require.NoError(t, err)
	_, err = h.Hosting.Withdraw(ctx, v, g.ID, in.Guests[0].ID)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		status, _ := maren.ask(http.MethodGet, picture, nil)
		return status == http.StatusForbidden
	}, 3*time.Second, 20*time.Millisecond)
	status, _ = tove.ask(http.MethodGet, picture, nil)
	assert.Equal(t, http.StatusOK, status, "the others stay")
	no := false
	_, err = h.Hosting.ChangeGallery(ctx, v, g.ID, hosting.GalleryChange{Open: &no})
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		status, _ := tove.ask(http.MethodGet, picture, nil)
		return status == http.StatusForbidden
	}, 3*time.Second, 20*time.Millisecond)
}

// TestLookingEndsNoLetters: only who presses, or their mail program, does.
func TestLookingEndsNoLetters(t *testing.T) {
	ctx := context.Background()
	h, v, o, _, g := shownToGuests(t, "stops", hosting.GalleryChange{})
	var u gallerystore.Guest
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		u, err = gallerystore.InviteGuest(ctx, tx, v.Brand, g.ID, letters.Address{Email: "maren@example.org"},
			gallerystore.Link{Sum: hosting.LinkSum("marens")})
		return err
	}))
	silent := func() (is bool) {
		require.NoError(t, storetest.SQL(h.DB).Get(&is, `select silent from guest where id = $1`, u.ID))
		return is
	}
	guest := o.guest()
	status, said := guest.ask(http.MethodGet, "/u/marens", nil)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, said, "Stop the letters")
	assert.False(t, silent())
	status, said = guest.ask(http.MethodPost, "/u/marens", []byte("List-Unsubscribe=One-Click"))
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, said, "gets no more letters")
	assert.True(t, silent())
	status, _ = guest.ask(http.MethodPost, "/u/nobody", nil)
	assert.Equal(t, http.StatusNotFound, status)
}

// TestWhatGuestsAddIsBoundedAndTheirs announces too much, sends what was not announced, in the name of others, and after it was allowed.
func TestWhatGuestsAddIsBoundedAndTheirs(t *testing.T) {
	ctx := context.Background()
	h, v, o, _, g := shownToGuests(t, "adding", hosting.GalleryChange{})
	var folder int64
	require.NoError(t, storetest.SQL(h.DB).Get(&folder, `insert into folder (brand_id, name) values ($1, 'From guests') returning id`,
		v.Brand))
	v, err := peoplestore.LoadViewer(ctx, h.DB, v.Person, "adding")
	require.NoError(t, err)
	_, err = h.Hosting.ChangeGallery(ctx, v, g.ID, hosting.GalleryChange{TakesInto: &folder})
	require.NoError(t, err)
	maren, tove := o.guest(), o.guest()
	for name, u := range map[string]guestOf{"Maren": maren, "Tove": tove} {
		status, _ := u.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/me", object{"name": name})
		require.Equal(t, http.StatusNoContent, status)
	}
	announce := func(u guestOf, files ...object) (int, string) {
		return u.ask(http.MethodPost, "/api/public/galleries/"+g.Code+"/contributions", object{"agreed": true, "files": files})
	}
	many := make([]object, 200)
	for i := range many {
		many[i] = object{"name": fmt.Sprint(i, ".jpg"), "bytes": 3}
	}
	status, _ := announce(maren, object{"name": "huge.jpg", "bytes": 200 << 20})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, said := announce(maren, object{"name": "a.jpg", "bytes": 3})
	require.Equal(t, http.StatusOK, status, said)
	var answer struct{ Files []struct{ Code string } }
	require.NoError(t, json.Unmarshal([]byte(said), &answer))
	file := "/g/" + g.Code + "/add/" + answer.Files[0].Code
	status, _ = tove.ask(http.MethodPut, file, []byte("abc"))
	assert.Equal(t, http.StatusNotFound, status, "what another guest announced")
	status, _ = maren.ask(http.MethodPut, file, []byte("abcd"))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "more than was said")
	status, _ = maren.ask(http.MethodPut, file, []byte("abc"))
	assert.Equal(t, http.StatusNoContent, status)
	status, _ = maren.ask(http.MethodPut, file, []byte("abc"))
	assert.Equal(t, http.StatusNotFound, status, "once")
	status, said = announce(maren, many...)
	assert.Equal(t, http.StatusUnprocessableEntity, status, said)
	assert.Contains(t, said, "200 files of each guest")
	var open int
	require.NoError(t, storetest.SQL(h.DB).Get(&open, `select count(*) from intake_file where state = 'waiting'`))
	assert.Zero(t, open, "what was too much is not waited for")
	status, said = announce(tove, object{"name": "never.jpg", "bytes": 3})
	require.Equal(t, http.StatusOK, status, said)
	require.NoError(t, h.BringIn.ClearLeftovers(ctx, time.Now().Add(25*time.Hour)))
	require.NoError(t, storetest.SQL(h.DB).Get(&open, `select count(*) from intake where finished_at is null`))
	assert.Zero(t, open, "nor what a guest never sent, after a day")
	none := int64(0)
	_, err = h.Hosting.ChangeGallery(ctx, v, g.ID, hosting.GalleryChange{TakesInto: &none})
	require.NoError(t, err)
	status, _ = announce(tove, object{"name": "a.jpg", "bytes": 3})
	assert.Equal(t, http.StatusForbidden, status)
}
