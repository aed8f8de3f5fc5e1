package web

import (
	"context"
	"errors"
	"mime"
	"net/http"
	"net/url"
	"path"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/sendout/showing"
	"brightsatchel/internal/store/assetstore"
)

// How long others may keep what an embed shows: its list, so that a change is seen within a minute, and a picture under the address of
// its version.
const (
	keepList    = "public, max-age=15"
	keepPicture = "public, max-age=31536000, immutable"
)

// addEmbedMedia hands out the pictures of embeds, to anybody where the embed is live, and to those who make it before.
func (s *Server) addEmbedMedia() {
	s.route(http.MethodGet, "/e/:code/:asset/:version/:name", public, s.embedMedia)
	s.route(http.MethodGet, "/embedded/:brand/:asset/:version/:name", may(access.Galleries), s.embedMediaInside)
}

// liveEmbed is what a live embed shows, believed for a moment. Many who ask for the same at once have it found once.
func (s *Server) liveEmbed(ctx context.Context, code string) (*showing.Embedded, error) {
	return s.known.embeds.get(code, holdFor, func() (*showing.Embedded, error) {
		found, err, _ := s.known.finding.Do(code, func() (any, error) {
			e, err := s.house.Embedding.LiveEmbed(context.WithoutCancel(ctx), code)
			return &e, err
		})
		return found.(*showing.Embedded), err
	})
}

func (s *Server) embedMedia(c *gin.Context) error {
	forAnyPage(c.Writer.Header())
	e, err := s.liveEmbed(c, c.Param("code"))
	if err != nil {
		return err
	}
	a, shown := e.Picture(c.Param("asset"))
	if !shown {
		return fault.NotFoundf("That picture is not shown here.")
	}
	return s.sendForPage(c, e.Brand, a)
}

// embedMediaInside hands out the same to somebody who may make embeds, of anything that they may look at.
func (s *Server) embedMediaInside(c *gin.Context) error {
	v := viewerOf(c)
	a, err := assetstore.AssetByCode(c, s.house.DB, v, c.Param("asset"))
	if err != nil {
		return err
	}
	return s.sendForPage(c, v.Brand, a)
}

func (s *Server) sendForPage(c *gin.Context, brand int64, a assetstore.Asset) error {
	name := c.Param("name")
	cache := keepPicture
	if c.Param("version") != a.Version {
		cache = keepList // the page has an older list: it gets what there is now, under an address that is not for it
	}
	if name == "film.mp4" {
		key, err := s.house.Embedding.FilmForPage(c, brand, a)
		if err != nil {
			return err
		}
		return s.send(c, key, "video/mp4", "", cache)
	}
	key, err := s.pictureForPage(c, brand, a, name)
	if err != nil {
		return err
	}
	return s.send(c, key, mime.TypeByExtension(path.Ext(name)), "", cache)
}

// pictureForPage is the key of a picture by the last part of its address, such as 640.avif.
func (s *Server) pictureForPage(ctx context.Context, brand int64, a assetstore.Asset, name string) (string, error) {
	width, ending, _ := strings.Cut(name, ".")
	pixels, err := strconv.Atoi(width)
	if err != nil {
		return "", fault.NotFoundf("There is no such size.")
	}
	key, err := s.house.Embedding.ForPage(ctx, brand, a, pixels, ending)
	if err == nil {
		s.known.forPages.put(a.Code+" "+a.Version+" "+name, key, time.Now().Add(time.Hour))
	}
	return key, err
}

// quickEmbedKey is the key of a picture that a live embed shows and that was made before; believed for a moment.
func (s *Server) quickEmbedKey(r *http.Request, embed, asset, version, name string) (string, bool) {
	key, err := s.known.onPages.get(r.URL.Path, holdFor, func() (string, error) {
		e, err := s.liveEmbed(r.Context(), embed)
		if err != nil {
			return "", err
		}
		key, made := s.known.forPages.have(asset + " " + version + " " + name)
		if !made || !e.Shows(asset, version) {
			return "", errNotQuickly
		}
		return key, nil
	})
	return key, err == nil
}

// forAnyPage lets pages of any origin have what is public anyway.
func forAnyPage(h http.Header) {
	h.Set("Access-Control-Allow-Origin", "*")
	h.Set("Cross-Origin-Resource-Policy", "cross-origin")
}

// originOf is how people reach this server, as scheme and host.
func (s *Server) originOf(c *gin.Context) string {
	if s.origin != "" {
		return s.origin
	}
	scheme := "http"
	if c.Request.TLS != nil || s.https {
		scheme = "https"
	}
	return scheme + "://" + c.Request.Host
}

// pageOf is the page that shows an embed, without its query, if it is one of the origin that asks.
func pageOf(at, origin string) string {
	page, err := url.Parse(at)
	if err != nil || !isPage(page) || len(at) > mostOfPage || page.Scheme+"://"+page.Host != origin {
		return ""
	}
	return page.Scheme + "://" + page.Host + page.EscapedPath()
}

const mostOfPage = 500 // bytes

// sightings remembers which pages were seen lately, so that not every visit asks the database.
type sightings struct {
	known remembered[string, bool]
	mu    sync.Mutex
	since time.Time
	fresh int // how many were written in the minute that began at since
}

// mostFresh is how many pages are written down in a minute: more are somebody's who makes them up.
const mostFresh = 60

// saw has a sighting written down that was not within the last hour.
func (s *sightings) saw(what string, write func() error) {
	_, _ = s.known.get(what, time.Hour, func() (bool, error) {
		s.mu.Lock()
		if now := time.Now(); now.Sub(s.since) > time.Minute {
			s.since, s.fresh = now, 0
		}
		s.fresh++
		tooMany := s.fresh > mostFresh
		s.mu.Unlock()
		if tooMany {
			return false, errTooMany
		}
		return true, write()
	})
}

var errTooMany = errors.New("too many pages were seen in this minute")
