package outlets

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/sending/once"
	tallStandin "brightsatchel/standins/beanpole"
	albumsStandin "brightsatchel/standins/longtable"
	"brightsatchel/standins/weather"
	standin "brightsatchel/standins/windward"
)

// at is a service that was reached, with a page of it and its weather.
type at struct {
	kind    string
	to      Poster
	page    string
	weather *weather.Weather
	posts   func() int
}

// everyService reaches all three, each at an address of its own.
func everyService(t *testing.T) []at {
	t.Helper()
	reach := func(kind, token string, service http.Handler) Poster {
		site := httptest.NewServer(service)
		t.Cleanup(site.Close)
		c := &Connections{Allowed: []string{site.Listener.Addr().String()}}
		to, err := c.Connect(kind, site.URL, token)
		require.NoError(t, err)
		return to.(Poster)
	}
	short, albums, tall := standin.New(""), albumsStandin.New(""), tallStandin.New("")
	tall.Takes = 10 * time.Millisecond
	return []at{
		{"windward", reach("windward", standin.Token, short), "windward", &short.Weather, func() int { return len(short.Posts("windward")) }},
		{"longtable", reach("longtable", albumsStandin.Token, albums), "lt-1", &albums.Weather, func() int { return len(albums.Posts("lt-1")) }},
		{"beanpole", reach("beanpole", tallStandin.Token, tall), "c1", &tall.Weather, func() int { return len(tall.Posts("c1")) }},
	}
}

// upright is a JPEG that all services take.
func upright(t *testing.T) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 400, 500))
	for i := range m.Pix {
		m.Pix[i] = uint8(i * 7)
	}
	m.Set(3, 3, color.Black)
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, m, nil))
	return out.Bytes()
}

// showing is a post of one picture.
func showing(t *testing.T, page, caption string) Content {
	picture := upright(t)
	return Content{Page: page, Caption: caption, Alts: []string{"A kite"}, Open: func(context.Context, int) (File, error) {
		return File{Name: "kite.jpg", Body: io.NopCloser(bytes.NewReader(picture)), Bytes: int64(len(picture)), MediaType: "image/jpeg"}, nil
	}}
}

// brought takes a post as far as that only the visible call is missing.
func brought(t *testing.T, s at, c Content) once.Post {
	t.Helper()
	p := once.New(1, time.Now())
	o := s.to.Do(ctx, once.Step{Do: once.Upload}, p, "key", c)
	require.Equal(t, once.Done, o.Kind, "%s: %s", s.kind, o.Why)
	p.Media[0] = o.ID
	if s.kind != "beanpole" {
		return p
	}
	o = s.to.Do(ctx, once.Step{Do: once.Contain}, p, "key", c)
	require.Equal(t, once.Done, o.Kind, o.Why)
	p.Container = o.ID
	require.Eventually(t, func() bool {
		return s.to.Do(ctx, once.Step{Do: once.Poll}, p, "key", c).Kind == once.Done
	}, 10*time.Second, 5*time.Millisecond)
	return p
}

// TestEachServiceTakesAPost from the first step to the last: it is seen as it was sent, under its address, and taken back where that can
// be.
func TestEachServiceTakesAPost(t *testing.T) {
	for _, s := range everyService(t) {
		who, err := s.to.Who(ctx)
		require.NoError(t, err, s.kind)
		assert.Equal(t, "Tansyloft Kites", who.Name, s.kind)
		pages, err := s.to.Pages(ctx)
		require.NoError(t, err, s.kind)
		require.NotEmpty(t, pages)
		var page Page
		for _, p := range pages {
			assert.NotEmpty(t, p.Name)
			assert.NotEmpty(t, p.Zone)
			assert.NotEmpty(t, p.Audience())
			assert.Positive(t, p.Ways.Timeout)
			if p.ID == s.page {
				page = p
			}
		}
		before := s.posts()
		c := showing(t, s.page, "Up, and up: 🪁")
		p := brought(t, s, c)
		assert.Equal(t, before, s.posts(), "nobody sees anything yet")
		o := s.to.Do(ctx, once.Step{Do: once.Place}, p, "key", c)
		require.Equal(t, once.Done, o.Kind, "%s: %s", s.kind, o.Why)
		assert.Equal(t, before+1, s.posts(), s.kind)
		assert.Contains(t, s.to.Address(page.Address, o.ID), o.ID)
		seen, err := s.to.See(ctx, s.page, o.ID)
		require.NoError(t, err, s.kind)
		assert.Equal(t, c.Caption, seen.Caption, s.kind)
		require.Len(t, seen.Pictures, 1, s.kind)
		file, err := s.to.Fetch(ctx, seen.Pictures[0])
		require.NoError(t, err, s.kind)
		data, err := io.ReadAll(file)
		require.NoError(t, err)
		require.NoError(t, file.Close())
		assert.Equal(t, upright(t), data, s.kind)
		_, err = s.to.See(ctx, s.page, "nothing")
		require.ErrorIs(t, err, ErrGone, s.kind)
		if s.kind == "beanpole" {
			require.ErrorIs(t, s.to.Withdraw(ctx, o.ID), ErrRefused)
			continue
		}
		require.NoError(t, s.to.Withdraw(ctx, o.ID), s.kind)
		assert.Equal(t, before, s.posts(), s.kind)
		require.ErrorIs(t, s.to.Withdraw(ctx, o.ID), ErrGone, s.kind)
	}
}

// TestWhatComesOfTheVisibleCall on every bad day of every service: only what is clear is taken for clear.
func TestWhatComesOfTheVisibleCall(t *testing.T) {
	want := map[string]once.Kind{"fine": once.Done, "lost": once.Lost, "late": once.Lost, "error": once.Lost, "half": once.Lost,
		"away": once.Lost, "busy": once.Later, "html": once.Lost, "empty": once.Lost, "huge": once.Lost, "elsewhere": once.Lost,
		"token": once.No, "no": once.No, "cut": once.Done, "coarse": once.Done}
	for _, s := range everyService(t) {
		for mode, kind := range want {
			c := showing(t, s.page, "On a day of "+mode)
			p := brought(t, s, c)
			s.weather.Set(mode, 1)
			o := s.to.Do(ctx, once.Step{Do: once.Place}, p, "key of "+mode, c)
			s.weather.Set("fine", 0)
			assert.Equal(t, kind, o.Kind, "%s on a day of %s: %s", s.kind, mode, o.Why)
			if kind == once.No {
				assert.NotEmpty(t, o.Why)
			}
		}
	}
}

// TestWhatBecameOfACall is found out by each service's own way: what took effect is found, and what did not is not.
func TestWhatBecameOfACall(t *testing.T) {
	for _, s := range everyService(t) {
		for mode, there := range map[string]bool{"lost": true, "error": true, "away": false, "html": false} {
			c := showing(t, s.page, "What became of "+mode)
			p := brought(t, s, c)
			s.weather.Set(mode, 1)
			s.to.Do(ctx, once.Step{Do: once.Place}, p, "key: "+mode, c)
			s.weather.Set("fine", 0)
			ask := once.Step{Do: once.LookUp}
			if s.kind == "beanpole" {
				ask.Do = once.AskContainer
			}
			if there {
				require.Eventually(t, func() bool { // a list may be late
					o := s.to.Do(ctx, ask, p, "key: "+mode, c)
					return o.Kind == once.Done && o.ID != ""
				}, 20*time.Second, 100*time.Millisecond, "%s after %s", s.kind, mode)
				continue
			}
			o := s.to.Do(ctx, ask, p, "key: "+mode, c)
			assert.Equal(t, once.Absent, o.Kind, "%s after %s: %s", s.kind, mode, o.Why)
		}
	}
}

// TestWhatAServiceRefusesIsSaidInItsWords, and what it does not know any more is brought anew.
func TestWhatAServiceRefusesIsSaidInItsWords(t *testing.T) {
	for _, s := range everyService(t) {
		c := showing(t, s.page, strings.Repeat("🪁", 2100))
		p := brought(t, s, showing(t, s.page, "")) // its container has other words, so that only the visible call is refused
		if s.kind == "beanpole" {
			o := s.to.Do(ctx, once.Step{Do: once.Contain}, p, "key", c)
			assert.Equal(t, once.No, o.Kind)
			assert.Contains(t, o.Why, "at most 500 characters")
		} else {
			o := s.to.Do(ctx, once.Step{Do: once.Place}, p, "key", c)
			assert.Equal(t, once.No, o.Kind, s.kind)
			assert.Contains(t, o.Why, "at most", s.kind)
		}
		c.Open = func(context.Context, int) (File, error) {
			return File{Name: "kite.jpg", Body: io.NopCloser(strings.NewReader("no picture")), Bytes: 10, MediaType: "image/jpeg"}, nil
		}
		o := s.to.Do(ctx, once.Step{Do: once.Upload}, once.New(1, time.Now()), "key", c)
		assert.Equal(t, once.No, o.Kind, s.kind)
		assert.Contains(t, o.Why, "no picture", s.kind)
		forgotten := once.New(1, time.Now())
		forgotten.Media[0], forgotten.Container = "nothing", "nothing"
		step := once.Step{Do: once.Place}
		if s.kind == "beanpole" {
			step.Do = once.Poll
		}
		o = s.to.Do(ctx, step, forgotten, "another key", showing(t, s.page, ""))
		assert.Contains(t, []once.Kind{once.Unknown, once.No}, o.Kind, "%s: %s", s.kind, o.Why)
	}
}

// TestAlbumsAreThoseOfPages, with all that is in them, and an album that is made twice is one.
func TestAlbumsAreThoseOfPages(t *testing.T) {
	for _, s := range everyService(t) {
		pages, err := s.to.Pages(ctx)
		require.NoError(t, err)
		known := map[string]bool{}
		for _, p := range pages {
			known[p.ID] = true
		}
		albums, err := s.to.Albums(ctx)
		require.NoError(t, err)
		require.NotEmpty(t, albums)
		for _, a := range albums {
			assert.True(t, known[a.Page], "%s: %s", s.kind, a.Page)
			media, err := s.to.Media(ctx, a.ID)
			require.NoError(t, err)
			assert.Len(t, media, a.Count, "%s: %s", s.kind, a.Title)
			for _, m := range media {
				assert.NotEmpty(t, m.ID)
				assert.NotEmpty(t, m.FileName)
			}
		}
		shelves, can := s.to.(Shelver)
		assert.Equal(t, s.kind == "longtable", can)
		if can {
			first, err := shelves.MakeAlbum(ctx, s.page, "New there")
			require.NoError(t, err)
			again, err := shelves.MakeAlbum(ctx, s.page, "New there")
			require.NoError(t, err)
			assert.Equal(t, first, again)
			_, err = shelves.MakeAlbum(ctx, "nowhere", "New there")
			require.ErrorIs(t, err, ErrRefused)
		}
	}
}
