package web

import (
	"errors"
	"mime"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/clips"
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
	original := blob.Source{Sum: asset.SHA256, Root: asset.LeftRoot.String, Path: asset.LeftAt.String}
	switch {
	case slices.Contains(media.PreviewNames, size):
		return s.send(c, blob.Preview(asset.SHA256, size, asset.Turn), "image/webp", keepForGood)
	case size == "strip" && asset.Kind == "clip":
		return s.send(c, blob.Preview(asset.SHA256, "strip", 0), "image/webp", keepForGood)
	case size == "film" && asset.Kind == "clip":
		if !clips.Playable(asset.Codec) && asset.Codec != "" {
			return s.send(c, blob.Film(asset.SHA256), "video/mp4", keepForGood)
		}
		return s.sendOriginal(c, original, strings.Replace(asset.MediaType, "quicktime", "mp4", 1), "", keepForGood)
	case size == "film" && asset.Kind == "animation":
		return s.sendOriginal(c, original, asset.MediaType, "", keepForGood)
	case strings.HasPrefix(size, "page-") && asset.Kind == "document":
		page, err := strconv.Atoi(size[len("page-"):])
		if err != nil || page < 1 || int64(page) > max(1, asset.Pages.Int64) {
			return fault.NotFoundf("There is no such page.")
		}
		key, err := s.house.Finding.Page(c, asset, page-1)
		if err != nil {
			return err
		}
		return s.send(c, key, "image/webp", keepForGood)
	case size == "original":
		if !v.May(access.Download).Folder(asset.Folder.Int64) {
			return fault.Forbiddenf("You may look at this item, and not take its original.")
		}
		return s.sendOriginal(c, original, asset.MediaType, asset.FileName, "private, no-store")
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

func (s *Server) send(c *gin.Context, key, mediaType, cache string) error {
	file, err := s.house.Blobs.Open(c, key)
	return sendFound(c, file, err, mediaType, "", cache)
}

func (s *Server) sendOriginal(c *gin.Context, original blob.Source, mediaType, saveAs, cache string) error {
	file, err := s.house.Blobs.OpenSource(c, original)
	return sendFound(c, file, err, mediaType, saveAs, cache)
}

func sendFound(c *gin.Context, file blob.Reader, err error, mediaType, saveAs, cache string) error {
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
