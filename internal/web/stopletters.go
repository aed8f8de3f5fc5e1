package web

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/gallerystore"
)

// addStopLetters lets guests end the letters about a gallery: with one click in their mail program (RFC 8058), or on a page. To look at
// the page ends nothing.
func (s *Server) addStopLetters() {
	s.route(http.MethodGet, "/u/:code", public, func(c *gin.Context) error {
		return s.stopLetters(c, func(ctx context.Context, link []byte) (gallerystore.Stopped, error) {
			return gallerystore.MayStop(ctx, s.house.DB, link)
		})
	})
	s.route(http.MethodPost, "/u/:code", public, func(c *gin.Context) error {
		return s.stopLetters(c, func(ctx context.Context, link []byte) (gallerystore.Stopped, error) {
			return gallerystore.StopLetters(ctx, s.house.DB, link)
		})
	})
}

func (s *Server) stopLetters(c *gin.Context, what func(ctx context.Context, link []byte) (gallerystore.Stopped, error)) error {
	stopped, err := what(c, hosting.LinkSum(c.Param("code")))
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "no-store")
	plainHead(c)
	return plainPages.ExecuteTemplate(c.Writer, "stop", stopped)
}
