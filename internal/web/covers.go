package web

import (
	"errors"
	"io"
	"net/http"
	"os"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store/albumstore"
)

const (
	mostCover     = 40 << 20 // bytes
	coversAtOnce  = 2
	longestOfName = 300 // bytes
)

// addCovers takes files as covers of albums. The body is the file as it is, its name is in the address.
func (s *Server) addCovers() {
	places := make(chan struct{}, coversAtOnce)
	s.route(http.MethodPost, "/api/brands/:brand/albums/:id/cover", may(access.Gather), func(c *gin.Context) error {
		id, err := strconv.ParseInt(c.Param("id"), 10, 64)
		name := c.Query("name")
		if err != nil || name == "" || len(name) > longestOfName || !isText(name) {
			return fault.Invalidf("name", "The cover needs the name of its file.")
		}
		file, err := os.CreateTemp("", "satchel-work-")
		if err != nil {
			return err
		}
		defer func() { _ = os.Remove(file.Name()) }()
		_, err = io.Copy(file, http.MaxBytesReader(c.Writer, c.Request.Body, mostCover))
		err = errors.Join(err, file.Close())
		var large *http.MaxBytesError
		if errors.As(err, &large) {
			return fault.Invalidf("file", "“%s” has more than %d MB.", name, mostCover>>20)
		}
		if err != nil {
			return err
		}
		select { // once all of it is here: a slow connection holds up nobody else
		case places <- struct{}{}:
			defer func() { <-places }()
		case <-c.Request.Context().Done():
			return c.Request.Context().Err()
		}
		d, err := s.house.Gathering.OwnCover(c, viewerOf(c), id, name, file.Name())
		if err == nil {
			c.JSON(http.StatusOK, done(d))
		}
		return err
	})
}

// sendOwnCover sends a cover that is a file of its own.
func (s *Server) sendOwnCover(c *gin.Context, v *access.Viewer, code, size string) error {
	if !slices.Contains(media.PreviewNames, size) {
		return fault.NotFoundf("There is no such size.")
	}
	sum, err := albumstore.OwnCover(c, s.house.DB, v, code)
	if err != nil {
		return err
	}
	return s.send(c, blob.OwnCover(sum, size), "image/webp", "", keepForGood)
}
