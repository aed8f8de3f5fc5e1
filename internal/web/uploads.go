package web

import (
	"errors"
	"io"
	"net/http"
	"path"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/tus/tusd/v2/pkg/filelocker"
	"github.com/tus/tusd/v2/pkg/filestore"
	tus "github.com/tus/tusd/v2/pkg/handler"
	"golang.org/x/exp/slog" // tusd takes this one

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/fault"
)

// addUploads takes the bytes of files by the tus protocol (1.0), resumable at the byte. An upload has the code of its
// file in the intake as its name, so that it is found again after a reload, and only by the person whose intake it is.
func (s *Server) addUploads() error {
	dir := s.house.BringIn.Uploads
	composer := tus.NewStoreComposer()
	filestore.New(dir).UseIn(composer)
	filelocker.New(dir).UseIn(composer)
	handler, err := tus.NewUnroutedHandler(tus.Config{
		StoreComposer:           composer,
		BasePath:                "/uploads/",
		MaxSize:                 bringin.MaxFile,
		DisableDownload:         true,
		DisableTermination:      true,
		RespectForwardedHeaders: true,
		Logger:                  slog.New(slog.NewTextHandler(io.Discard, nil)),
		PreUploadCreateCallback: nameAfterFile,
		PreFinishResponseCallback: func(hook tus.HookEvent) (tus.HTTPResponse, error) {
			return tus.HTTPResponse{}, s.house.BringIn.Arrived(hook.Context, hook.Upload.ID)
		},
	})
	if err != nil {
		return err
	}
	// tus is served under each brand, while tusd knows one base path only and wants it stripped.
	base := "/api/brands/:brand/uploads"
	serve := func(h http.HandlerFunc) func(*gin.Context) error {
		return func(c *gin.Context) error {
			code := c.Param("code")
			if code == "" {
				code = metadataCode(c.GetHeader("Upload-Metadata"))
			}
			f, err := s.house.BringIn.Uploadable(c, viewerOf(c), code)
			if err != nil {
				return err
			}
			if f.State != "waiting" && c.Request.Method != http.MethodHead {
				c.Status(http.StatusGone) // cancelled, or all of it is here
				return nil
			}
			if c.Request.Method == http.MethodPost && c.GetHeader("Upload-Length") != strconv.FormatInt(f.Bytes, 10) {
				return fault.Invalidf("file", "“%s” is not as large as was said before. Choose it again.", f.Name)
			}
			if err := s.house.BringIn.DropHalfMade(code); err != nil {
				return err
			}
			brand := c.Param("brand")
			request := c.Request.Clone(c)
			request.URL.Path = "/" + c.Param("code")
			handler.Middleware(h).ServeHTTP(&locationWriter{c.Writer, "/api/brands/" + brand + "/uploads/"}, request)
			return nil
		}
	}
	s.route(http.MethodPost, base, signedIn, serve(handler.PostFile))
	s.route(http.MethodHead, base+"/:code", signedIn, serve(handler.HeadFile))
	s.route(http.MethodPatch, base+"/:code", signedIn, serve(handler.PatchFile))
	return nil
}

func nameAfterFile(hook tus.HookEvent) (tus.HTTPResponse, tus.FileInfoChanges, error) {
	code := hook.Upload.MetaData["code"]
	if code == "" || strings.ContainsAny(code, `/\.`) {
		return tus.HTTPResponse{}, tus.FileInfoChanges{}, errors.New("the upload names no file of an intake")
	}
	return tus.HTTPResponse{}, tus.FileInfoChanges{ID: code}, nil
}

func metadataCode(header string) string { return tus.ParseMetadataHeader(header)["code"] }

// locationWriter rewrites the address that tusd gives a new upload to the one under the brand.
type locationWriter struct {
	gin.ResponseWriter
	base string
}

func (w *locationWriter) WriteHeader(status int) {
	if at := w.Header().Get("Location"); at != "" {
		w.Header().Set("Location", w.base+path.Base(at))
	}
	w.ResponseWriter.WriteHeader(status)
}

// Unwrap lets tusd set deadlines on the connection.
func (w *locationWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }
