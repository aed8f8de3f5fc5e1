package outlets

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/sending/once"
	standin "brightsatchel/standins/windward"
)

var ctx = context.Background()

// connect reaches a service over HTTP as a social page.
func connect(t *testing.T, service http.Handler, token string) Outlet {
	t.Helper()
	site := httptest.NewServer(service)
	t.Cleanup(site.Close)
	to, err := (&Connections{Allowed: []string{site.Listener.Addr().String()}}).Connect("windward", site.URL+"/page", token)
	require.NoError(t, err)
	return to
}

func TestASocialPageIsReadWhole(t *testing.T) {
	to := connect(t, http.StripPrefix("/page", standin.New("")), standin.Token)
	albums, err := to.Albums(ctx)
	require.NoError(t, err)
	require.Len(t, albums, 3)
	ids := map[string]bool{}
	own := 0
	for _, album := range albums {
		media, err := to.Media(ctx, album.ID)
		require.NoError(t, err)
		assert.Len(t, media, album.Count, "all pages of the list")
		for _, m := range media {
			assert.False(t, ids[m.ID], "nothing twice")
			ids[m.ID] = true
			if m.Own {
				own++
			}
		}
		file, err := to.Fetch(ctx, media[0].ID)
		require.NoError(t, err)
		data, err := io.ReadAll(file)
		require.NoError(t, err)
		require.NoError(t, file.Close())
		assert.EqualValues(t, media[0].Bytes, len(data))
	}
	assert.Less(t, own, len(ids), "others post there too")
}

func TestWhatAnOutletCanAnswerWrongly(t *testing.T) {
	down := standin.New("")
	down.SetDown(true)
	cases := []struct {
		name    string
		service http.Handler
		token   string
		want    error
	}{
		{"a token that is not accepted", http.StripPrefix("/page", standin.New("")), "wrong", ErrRefused},
		{"a service that is away", down, standin.Token, ErrAway},
		{"no page at the address", standin.New(""), standin.Token, ErrGone},
		{"something else than a list", http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
			_,
				_ = io.WriteString(w, "<html>hello</html>")
		}), "", ErrAway},
		{"a redirect", http.RedirectHandler("http://127.0.0.1:1/elsewhere", http.StatusFound), "secret", ErrAway},
	}
	for _, c := range cases {
		to := connect(t, c.service, c.token)
		_, err := to.Albums(ctx)
		require.ErrorIs(t, err, c.want, c.name)
		_, err = to.Fetch(ctx, "m0-0")
		if c.name != "something else than a list" {
			require.ErrorIs(t, err, c.want, c.name)
		}
	}
	to := connect(t, http.StripPrefix("/page", standin.New("")), standin.Token)
	_, err := to.Media(ctx, "no such album")
	require.ErrorIs(t, err, ErrGone)
	_, err = to.Fetch(ctx, "../albums")
	require.ErrorIs(t, err, ErrGone, "an id is an id and no path")
}

func TestAListThatNeverEndsEnds(t *testing.T) {
	asked := 0
	to := connect(t, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		asked++
		_, _ = fmt.Fprintf(w, `{"items":[{"id":"a"}],"next":"%d"}`, asked)
	}), "")
	media, err := to.Media(ctx, "a")
	require.NoError(t, err)
	assert.Len(t, media, pageLimit)
	assert.Equal(t, pageLimit, asked)
}

func TestAnAnswerThatDoesNotEndIsNotRead(t *testing.T) {
	to := connect(t, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		block := bytes.Repeat([]byte(" "), 1<<20)
		for range 64 {
			if _, err := w.Write(block); err != nil {
				return
			}
		}
	}), "")
	_, err := to.Who(ctx)
	require.ErrorIs(t, err, ErrAway)
}

// TestAFileGoesNowhereElse, wherever the service says that it is to be put: the token goes to the service alone.
func TestAFileGoesNowhereElse(t *testing.T) {
	reached := false
	elsewhere := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { reached = true }))
	t.Cleanup(elsewhere.Close)
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		_, _ = fmt.Fprintf(w, `{"data":{"id":"up1","put":"%s/bytes"}}`, elsewhere.URL)
	}))
	t.Cleanup(site.Close)
	c := Connections{Allowed: []string{site.Listener.Addr().String(), elsewhere.Listener.Addr().String()}}
	to, err := c.Connect("beanpole", site.URL, "secret")
	require.NoError(t, err)
	picture := func(context.Context, int) (File, error) {
		return File{Body: io.NopCloser(strings.NewReader("picture")), Bytes: 7, MediaType: "image/jpeg"}, nil
	}
	o := to.(Poster).Do(ctx, once.Step{Do: once.Upload}, once.New(1, time.Now()), "key", Content{Open: picture})
	assert.Equal(t, once.No, o.Kind)
	assert.Contains(t, o.Why, "at another address")
	assert.False(t, reached)
}

func TestAddressesAndKinds(t *testing.T) {
	for _, wrong := range []string{"", "page", "ftp://page.example", "file:///etc/passwd", "http://", "://"} {
		_, err := (&Connections{}).Connect("windward", wrong, "")
		require.Error(t, err, wrong)
	}
	_, err := (&Connections{}).Connect("pigeon", "https://page.example", "")
	require.Error(t, err)
}
