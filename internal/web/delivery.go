package web

import (
	"errors"
	"mime"
	"net/http"
	"path"
	"slices"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/store"
)

// addDelivery hands out the bytes of media to people who are signed in.
func (s *Server) addDelivery() {
	s.route(http.MethodGet, "/media/:brand/:code/:size", signedIn, s.deliver)
	s.route(http.MethodGet, "/downloads/:brand/:code", may(access.Download), s.deliverArchive)
}

// deliver sends a preview, the film of a clip, or the original. The address of a preview names the version, so that
// browsers may keep it for good.
func (s *Server) deliver(c *gin.Context) error {
	v := viewerOf(c)
	asset, err := store.AssetByCode(c, s.house.DB, v, c.Param("code"))
	if err != nil {
		return err
	}
	size := c.Param("size")
	switch {
	case slices.Contains(media.PreviewNames, size):
		return s.send(c, blob.Preview(asset.SHA256, size), "image/webp", "", keepForGood)
	case size == "film" && asset.Kind == "clip":
		return s.send(c, blob.Original(asset.SHA256), asset.MediaType, "", keepForGood)
	case size == "original":
		if !v.May(access.Download).Folder(asset.Folder.Int64) {
			return fault.Forbiddenf("You may look at this item, and not take its original.")
		}
		return s.send(c, blob.Original(asset.SHA256), asset.MediaType, asset.FileName, "private, no-store")
	}
	return fault.NotFoundf("There is no such size.")
}

const keepForGood = "private, max-age=31536000, immutable"

func (s *Server) deliverArchive(c *gin.Context) error {
	download, file, err := s.house.SendOut.Archive(c, viewerOf(c), c.Param("code"))
	if err != nil {
		return err
	}
	return sendReader(c, file, "application/zip", download.Name, "private, no-store")
}

func (s *Server) send(c *gin.Context, key, mediaType, saveAs, cache string) error {
	file, err := s.house.Blobs.Open(c, key)
	if errors.Is(err, blob.ErrMissing) {
		return fault.NotFoundf("The file is missing from the storage.")
	}
	if err != nil {
		return err
	}
	return sendReader(c, file, mediaType, saveAs, cache)
}

// sendReader sends bytes with ranges. Nothing that was uploaded can act in our name: no sniffing, and a policy that
// takes away scripts, forms and our origin. With saveAs it is to be saved and not shown.
func sendReader(c *gin.Context, file blob.Reader, mediaType, saveAs, cache string) error {
	defer func() { _ = file.Close() }()
	h := c.Writer.Header()
	h.Set("Content-Type", mediaType)
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	h.Set("Cache-Control", cache)
	if saveAs != "" {
		h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": saveAs}))
	}
	http.ServeContent(c.Writer, c.Request, path.Base(saveAs), file.ModTime(), file)
	return nil
}
