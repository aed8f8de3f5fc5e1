package weather_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/standins/weather"
)

// TestEachKindOfDay does what it says: whether the call takes effect, and what comes back.
func TestEachKindOfDay(t *testing.T) {
	var w weather.Weather
	var done atomic.Int32
	server := httptest.NewServer(http.HandlerFunc(func(out http.ResponseWriter, _ *http.Request) {
		w.Change(out, func(string) (int, []byte) {
			done.Add(1)
			return http.StatusCreated, []byte(`{"id":"p1"}`)
		}, func(words string) { http.Error(out, words, http.StatusUnprocessableEntity) })
	}))
	t.Cleanup(server.Close)
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	for mode, want := range map[string]struct {
		effect int32
		status int // 0 is no answer at all
	}{
		"fine": {1, 201}, "lost": {1, 0}, "error": {1, 500}, "half": {1, 0}, "away": {0, 503}, "busy": {0, 429}, "html": {0, 200},
		"empty": {0, 200}, "elsewhere": {0, 307}, "token": {0, 401}, "no": {0, 422}, "cut": {1, 201}, "coarse": {1, 201},
	} {
		done.Store(0)
		w.Set(mode, 1)
		answer, err := client.Post(server.URL, "text/plain", strings.NewReader("do it"))
		if err == nil {
			_, err = io.ReadAll(answer.Body)
			_ = answer.Body.Close()
		}
		if want.status == 0 {
			require.Error(t, err, mode)
		} else {
			require.NoError(t, err, mode)
			assert.Equal(t, want.status, answer.StatusCode, mode)
		}
		assert.Equal(t, want.effect, done.Load(), mode)
		is, left := w.Is()
		assert.Equal(t, "fine", is, "for one call")
		assert.Zero(t, left)
	}
	done.Store(0)
	w.Set("late", 1)
	_, err := client.Post(server.URL, "text/plain", strings.NewReader("do it"))
	require.Error(t, err)
	assert.Zero(t, done.Load())
	require.Eventually(t, func() bool { return done.Load() == 1 }, 20*time.Second, 50*time.Millisecond, "it takes effect later")
}

func TestTheWeatherIsSetOnAPage(t *testing.T) {
	var w weather.Weather
	pressed := ""
	server := httptest.NewServer(http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
		w.Page(out, r, "Somewhere", "/there", []string{"forget all"}, func(which string) { pressed = which })
	}))
	t.Cleanup(server.Close)
	read := func(answer *http.Response, err error) string {
		require.NoError(t, err)
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return string(text)
	}
	assert.Contains(t, read(http.Get(server.URL)), "Now: fine")
	assert.Contains(t, read(http.PostForm(server.URL, url.Values{"mode": {"lost"}, "calls": {"3"}})), "Now: lost, for 3 more calls")
	read(http.PostForm(server.URL, url.Values{"also": {"forget all"}}))
	assert.Equal(t, "forget all", pressed)
	read(http.PostForm(server.URL, url.Values{"mode": {"lost"}, "calls": {"many"}}))
	mode, _ := w.Is()
	assert.Equal(t, "fine", mode)
	for _, m := range weather.Modes {
		assert.NotEmpty(t, m.Means, m.Name)
	}
}

func TestPicturesAreCutOrMadeCoarse(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 600, 300))
	for i := range m.Pix {
		m.Pix[i] = uint8(i * i)
	}
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, m, &jpeg.Options{Quality: 90}))
	shown, size := weather.Shown(picture.Bytes(), "fine")
	assert.Equal(t, picture.Bytes(), shown)
	assert.Equal(t, image.Pt(600, 300), size)
	shown, size = weather.Shown(picture.Bytes(), "cut")
	config, err := jpeg.DecodeConfig(bytes.NewReader(shown))
	require.NoError(t, err)
	assert.Equal(t, []int{400, 300}, []int{config.Width, config.Height})
	assert.Equal(t, image.Pt(400, 300), size)
	shown, size = weather.Shown(picture.Bytes(), "coarse")
	assert.Less(t, len(shown), picture.Len()/3)
	assert.Equal(t, image.Pt(600, 300), size)
	shown, size = weather.Shown([]byte("no picture"), "cut")
	assert.Equal(t, "no picture", string(shown))
	assert.Zero(t, size.X)
}
