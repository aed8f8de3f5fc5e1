package web

import (
	"context"
	"fmt"
	"mime"
	"net/http"
	"net/url"
	"path"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/embedstore"
	"brightsatchel/internal/store/facestore"
)

// keepAddress is how long others may keep what is under a public address: it stays the same when the item gets another version.
const keepAddress = "public, max-age=300, stale-while-revalidate=86400"

func (s *Server) addPublicMedia() {
	s.route(http.MethodGet, "/p/:code/:name", public, s.publicMedia)
}

// addressed is what is under a public address now.
type addressed struct {
	embedstore.PublicAddress
	asset assetstore.Asset
}

// publicItem is what is under a public address, believed for a moment. What should not go out any more is not there.
func (s *Server) publicItem(ctx context.Context, code string) (addressed, error) {
	return s.known.addresses.get(code, holdFor, func() (addressed, error) {
		p, a, err := embedstore.LiveAddress(ctx, s.house.DB, code)
		if err != nil {
			return addressed{}, err
		}
		leaving, err := facestore.Leaving(ctx, s.house.DB, p.Brand, []int64{a.ID})
		if err == nil && slices.ContainsFunc(sending.Check(leaving[a.ID], time.Now()), sending.Hinders) {
			err = fault.NotFoundf("There is nothing under this address.")
		}
		return addressed{p, a}, err
	})
}

// publicMedia sends an item under its public address, such as medium.jpg, 640.avif or film.mp4, or web-1200 in a size of the brand's own.
func (s *Server) publicMedia(c *gin.Context) error {
	forAnyPage(c.Writer.Header())
	p, err := s.publicItem(c, c.Param("code"))
	if err != nil {
		return err
	}
	if page := pageThatAsks(c.GetHeader("Referer"), s.originOf(c)); page != "" {
		s.sightings.saw(p.Code+" "+page, func() error { return embedstore.SawAddress(c, s.house.DB, p.Brand, p.ID, page) })
	}
	name := c.Param("name")
	if !strings.Contains(name, ".") {
		return s.publicSize(c, &p, name)
	}
	c.Header("Etag", `"`+p.asset.Version+`"`)
	if name == "film.mp4" {
		key, err := s.house.Embedding.FilmForPage(c, p.Brand, p.asset)
		if err != nil {
			return err
		}
		return s.send(c, key, "video/mp4", "", keepAddress)
	}
	size, ending, _ := strings.Cut(name, ".")
	asked, known := embeds.Width(size)
	if !known {
		return fault.NotFoundf("There is no such size.")
	}
	if p.asset.Kind == "clip" {
		ending = "webp"
	}
	key, err := s.house.Embedding.ForPage(c, p.Brand, p.asset, embeds.Widest(p.asset.Width, asked), ending)
	if err != nil {
		return err
	}
	return s.send(c, key, mime.TypeByExtension(path.Ext(key)), "", keepAddress)
}

// publicSize sends an item under its public address in one of the brand's own output sizes.
func (s *Server) publicSize(c *gin.Context, p *addressed, address string) error {
	size, err := s.known.sizes.get(fmt.Sprint(p.Brand, " ", address), holdFor, func() (outputs.Size, error) {
		return downloadstore.PublicSize(c, s.house.DB, p.Brand, address)
	})
	if err != nil {
		return err
	}
	key, err := s.house.Embedding.InSize(c, p.Brand, p.asset, size.For(c.GetHeader("Accept")))
	if err != nil {
		return err
	}
	c.Header("Etag", `"`+path.Base(key)+`"`)
	if size.Format == outputs.Best {
		c.Header("Vary", "Accept")
	}
	return s.send(c, key, mime.TypeByExtension(path.Ext(key)), "", keepAddress)
}

// isPage says whether an address that a stranger says of a page can be one: it is shown to people, who press it.
func isPage(at *url.URL) bool {
	return (at.Scheme == "http" || at.Scheme == "https") && at.Host != "" && at.User == nil
}

// pageThatAsks is the page that a request came from, without its query, where it is one of another site.
func pageThatAsks(referer, home string) string {
	at, err := url.Parse(referer)
	if err != nil || !isPage(at) || len(referer) > mostOfPage || at.Scheme+"://"+at.Host == home {
		return ""
	}
	return at.Scheme + "://" + at.Host + at.EscapedPath()
}
