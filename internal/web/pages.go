package web

import (
	"context"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/fault"
	front "brightsatchel/web"
)

// addPages serves the built front end. A page that has its address in the front end gets index.html; a file that is
// missing is a plain 404, never a page.
func (s *Server) addPages() {
	files := front.Files()
	page := func(name string) func(*gin.Context) error {
		return func(c *gin.Context) error {
			c.Header("Cache-Control", "no-cache")
			return sendPage(c, files, name)
		}
	}
	for _, at := range []string{"/", "/sign-in", "/join/:token", "/pick/:site", "/b/:brand", "/b/:brand/*place"} {
		s.route(http.MethodGet, at, public, page("index.html"))
	}
	s.route(http.MethodGet, "/g/:code", public, s.guestPage)
	s.route(http.MethodGet, "/assets/*file", public, func(c *gin.Context) error {
		c.Header("Cache-Control", "public, max-age=31536000, immutable") // names carry a hash of the content
		return sendPage(c, files, "assets"+path.Clean("/"+c.Param("file")))
	})
	s.route(http.MethodGet, "/favicon.svg", public, page("favicon.svg"))
	s.route(http.MethodGet, "/healthz", public, func(c *gin.Context) error { // the process lives
		c.String(http.StatusOK, "ok\n")
		return nil
	})
	s.route(http.MethodGet, "/readyz", public, s.ready)
	s.engine.NoRoute(func(c *gin.Context) { fail(c, fault.NotFoundf("There is nothing under this address.")) })
}

// sendPage sends a file of the front end, compressed beforehand where the browser takes that.
func sendPage(c *gin.Context, files fs.FS, name string) error {
	for _, packed := range []struct{ ending, encoding string }{{".br", "br"}, {".gz", "gzip"}} {
		if !strings.Contains(c.GetHeader("Accept-Encoding"), packed.encoding) {
			continue
		}
		if data, err := fs.ReadFile(files, name+packed.ending); err == nil {
			c.Header("Content-Encoding", packed.encoding)
			c.Header("Vary", "Accept-Encoding")
			c.Data(http.StatusOK, mime.TypeByExtension(path.Ext(name)), data)
			return nil
		}
	}
	data, err := fs.ReadFile(files, name)
	if err != nil {
		c.Writer.Header().Del("Cache-Control")
		return fault.NotFoundf("There is nothing under this address.")
	}
	c.Data(http.StatusOK, mime.TypeByExtension(path.Ext(name)), data)
	return nil
}

// ready says whether this server can answer: its database does.
func (s *Server) ready(c *gin.Context) error {
	ctx, cancel := context.WithTimeout(c, 2*time.Second)
	defer cancel()
	if err := s.house.DB.PingContext(ctx); err != nil {
		c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		return nil
	}
	c.String(http.StatusOK, "ready\n")
	return nil
}
