package web

import (
	"bytes"
	"errors"
	"io"
	"mime"
	"net/http"
	"os"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
)

// addDelivery hands out the bytes of media to people who are signed in.
func (s *Server) addDelivery() {
	s.route(http.MethodGet, "/media/:brand/:code/:size", signedIn, s.deliver)
	s.route(http.MethodGet, "/downloads/:brand/:code", may(access.Download), s.deliverArchive)
}

// deliverQuickly sends previews that are there to people and guests who are known, without asking the database, and says
// whether it did. Everything else, and everything that goes wrong, is left to the routes.
func (s *Server) deliverQuickly(w http.ResponseWriter, r *http.Request) bool {
	if r.Method != http.MethodGet && r.Method != http.MethodHead {
		return false
	}
	parts := strings.Split(r.URL.Path, "/")
	if len(parts) == 6 && parts[1] == "e" {
		return s.deliverToPage(w, r, parts[2], parts[3], parts[4], parts[5])
	}
	version, versioned := strings.CutPrefix(r.URL.RawQuery, "v=")
	if !versioned || len(parts) < 5 || !slices.Contains(media.PreviewNames, parts[len(parts)-1]) {
		return false
	}
	var key string
	cache, found, measured := forGood, false, quickly
	switch {
	case len(parts) == 5 && parts[1] == "media":
		key, found = s.quickKey(r, parts[2], parts[3], version, parts[4])
	case len(parts) == 6 && parts[1] == "g" && parts[3] == "media":
		key, found = s.quickGuestKey(r, parts[2], parts[4], version, parts[5])
		cache, measured = forGuests, quicklyToGuests
	}
	if !found {
		return false
	}
	data, file, err := s.house.Blobs.Quickly(key)
	if err != nil {
		return false
	}
	began := time.Now()
	h := w.Header()
	previewHeaders.into(h)
	h["Cache-Control"], h["Etag"] = cache, []string{`"` + version + `"`} // the address says all that makes a preview what it is
	serveQuickly(w, r, data, file)
	measured.Observe(time.Since(began).Seconds())
	return true
}

// deliverToPage is deliverQuickly for pictures of embeds.
func (s *Server) deliverToPage(w http.ResponseWriter, r *http.Request, embed, asset, version, name string) bool {
	key, found := s.quickEmbedKey(r, embed, asset, version, name)
	if !found {
		return false
	}
	data, file, err := s.house.Blobs.Quickly(key)
	if err != nil {
		return false
	}
	h := w.Header()
	pageHeaders[path.Ext(name)].into(h)
	h["Etag"] = []string{`"` + version + `"`}
	serveQuickly(w, r, data, file)
	return true
}

// quickKey is the key of a preview for somebody who is signed in.
func (s *Server) quickKey(r *http.Request, brand, code, version, size string) (string, bool) {
	person, err := s.personOf(r)
	if err != nil || person == 0 {
		return "", false
	}
	v, err := s.known.viewer(r.Context(), person, brand)
	if err != nil {
		return "", false
	}
	asked := false
	d, err := s.known.delivered.get(code+" "+version, time.Hour, func() (assetstore.Delivered, error) {
		asked = true
		return ofVersion(version)(assetstore.DeliveredByCode(r.Context(), s.house.DB, v.Viewer, code))
	})
	if err != nil {
		return "", false
	}
	if sees, known := s.house.Index.Sees(v.Viewer, v.look, d.ID); known && !sees || !known && !asked {
		return "", false
	}
	return blob.Picture(d.SHA256, size, d.Recipe.Hash()), true
}

// ofVersion refuses what was found when it is not of the version that was asked for.
func ofVersion(version string) func(assetstore.Delivered, error) (assetstore.Delivered, error) {
	return func(d assetstore.Delivered, err error) (assetstore.Delivered, error) {
		if err == nil && d.Version != version {
			err = errOtherVersion
		}
		return d, err
	}
}

var errOtherVersion = errors.New("the item has another version now")

// personOf is the person of a session, remembered for a moment; 0 is nobody.
func (s *Server) personOf(r *http.Request) (int64, error) {
	cookie, err := r.Cookie(s.sessions.Cookie.Name)
	if err != nil {
		return 0, nil
	}
	return s.known.people.get(cookie.Value, holdFor, func() (int64, error) {
		ctx, err := s.sessions.Load(r.Context(), cookie.Value)
		if err != nil {
			return 0, err
		}
		return s.sessions.GetInt64(ctx, "person"), nil
	})
}

// deliver sends a preview, the film of a clip, or the original. The address of a preview names the version, so that
// browsers may keep it for good.
func (s *Server) deliver(c *gin.Context) error {
	v := viewerOf(c)
	if code, own := strings.CutPrefix(c.Param("code"), albumstore.OwnCoverPrefix); own {
		return s.sendOwnCover(c, v, code, c.Param("size"))
	}
	asset, err := assetstore.AssetByCode(c, s.house.DB, v, c.Param("code"))
	if err != nil {
		return err
	}
	may := v.Allowance(asset.Folder.Int64)
	size := c.Param("size")
	switch {
	case size == "strip" && asset.Kind == "clip":
		return s.send(c, renditions.Strip(asset), "image/webp", "", keepForGood)
	case size == "whole-strip" && asset.Kind == "clip":
		return s.send(c, renditions.WholeStrip(asset), "image/webp", "", keepForGood)
	case size == "film" && asset.Kind == "clip":
		key, err := s.house.Renditions.Film(c, v.Brand, asset, may)
		if err != nil {
			return err
		}
		if key != "" {
			return s.send(c, key, "video/mp4", "", keepForGood)
		}
		return s.sendOriginal(c, asset, strings.Replace(asset.MediaType, "quicktime", "mp4", 1), "", keepForGood)
	case size == "film" && asset.Kind == "animation" && may.Original:
		return s.sendOriginal(c, asset, asset.MediaType, "", keepForGood)
	case size == "film" && asset.Kind == "animation": // the moving picture is the original; who may not have that sees it still
		size = media.PreviewNames[1]
	case strings.HasPrefix(size, "page-") && asset.Kind == "document":
		page, err := strconv.Atoi(size[len("page-"):])
		if err != nil || page < 1 || int64(page) > max(1, asset.Pages.Int64) {
			return fault.NotFoundf("There is no such page.")
		}
		key, err := s.house.Renditions.Page(c, asset, page-1)
		if err != nil {
			return err
		}
		return s.send(c, key, "image/webp", "", keepForGood)
	case strings.HasPrefix(size, "out-"):
		return s.sendOutput(c, v, asset, size[len("out-"):])
	case size == "original":
		if !may.Original {
			return fault.Forbiddenf("You may look at this item, and not take its original.")
		}
		return s.sendOriginal(c, asset, asset.MediaType, asset.FileName, "private, no-store")
	}
	key, err := s.house.Renditions.Preview(c, asset, size, may)
	if err != nil {
		return err
	}
	return s.send(c, key, "image/webp", "", keepForGood)
}

// sendOutput sends what an output size makes of an item, as somebody looks at it before it goes out.
func (s *Server) sendOutput(c *gin.Context, v *access.Viewer, asset assetstore.Asset, output string) error {
	id, err := strconv.ParseInt(output, 10, 64)
	if err != nil || !v.May(access.Download).Folder(asset.Folder.Int64) {
		return fault.NotFoundf("There is no such size.")
	}
	size, err := downloadstore.OutputSizeByID(c, s.house.DB, v.Brand, id)
	if err != nil {
		return err
	}
	made, err := s.house.Renditions.Ensure(c, v.Brand, asset, size.Size)
	if err != nil {
		return err
	}
	return s.send(c, made.Blob, mime.TypeByExtension(path.Ext(made.Blob)), "", "private, no-store")
}

// What is the same for all previews is written once: it would take longer than finding them.
var (
	previewHeaders = func() fixedHeaders {
		h := http.Header{}
		plainHeaders(h)
		mediaHeaders(h, "image/webp", "", "")
		return fixedHeaders(h)
	}()
	pageHeaders = func() map[string]fixedHeaders {
		out := map[string]fixedHeaders{}
		for _, format := range embeds.Formats {
			h := http.Header{}
			plainHeaders(h)
			forAnyPage(h)
			mediaHeaders(h, mime.TypeByExtension("."+format), "", keepPicture)
			out["."+format] = fixedHeaders(h)
		}
		return out
	}()
	forGood, forGuests = []string{keepForGood}, []string{keepForGuests}
)

// fixedHeaders are headers that nobody changes.
type fixedHeaders http.Header

func (f fixedHeaders) into(h http.Header) {
	for name, values := range f {
		h[name] = values
	}
}

const (
	keepForGood   = "private, max-age=31536000, immutable"
	keepForGuests = "private, max-age=600"
)

func (s *Server) deliverArchive(c *gin.Context) error {
	download, err := s.house.TakeAlong.Archive(c, viewerOf(c), c.Param("code"))
	if err != nil {
		return err
	}
	return s.streamZIP(c, download.Name, func(w io.Writer) error { return s.house.TakeAlong.WriteZIP(c.Request.Context(), download, w) })
}

// send sends what is stored under a key.
func (s *Server) send(c *gin.Context, key, mediaType, saveAs, cache string) error {
	file, err := s.house.Blobs.OpenFile(key)
	if err == nil {
		sendFile(directly(c.Writer), c.Request, file, mediaType, saveAs, cache)
		return nil
	}
	if !errors.Is(err, blob.ErrMissing) {
		return err
	}
	stored, err := s.house.Blobs.Open(c, key) // it may be stored elsewhere
	return sendFound(c, stored, err, mediaType, saveAs, cache)
}

func (s *Server) sendOriginal(c *gin.Context, a assetstore.Asset, mediaType, saveAs, cache string) error {
	file, err := s.house.Blobs.OpenSource(c, renditions.Original(a))
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

// sendReader sends bytes with ranges.
func sendReader(c *gin.Context, file blob.Reader, mediaType, saveAs, cache string) error {
	if local, is := blob.AsFile(file); is {
		sendFile(directly(c.Writer), c.Request, local, mediaType, saveAs, cache)
		return nil
	}
	defer func() { _ = file.Close() }()
	defer patiently(c.Writer, file.Size())()
	mediaHeaders(c.Writer.Header(), mediaType, saveAs, cache)
	http.ServeContent(c.Writer, c.Request, path.Base(saveAs), file.ModTime(), file)
	return nil
}

// sendFile sends a file with ranges. Where the writer is the server's own, the system copies it straight to the connection.
func sendFile(w http.ResponseWriter, r *http.Request, file *os.File, mediaType, saveAs, cache string) {
	info, err := file.Stat()
	if err != nil {
		_ = file.Close()
		writeProblem(w, internalProblem())
		return
	}
	mediaHeaders(w.Header(), mediaType, saveAs, cache)
	serveFile(w, r, file, info.ModTime())
}

// serveQuickly sends bytes, or a file, whose headers are set and tell it apart.
func serveQuickly(w http.ResponseWriter, r *http.Request, data []byte, file *os.File) {
	if file != nil {
		serveFile(w, r, file, time.Time{})
		return
	}
	defer patiently(w, int64(len(data)))()
	for _, name := range conditions {
		if r.Header[name] != nil || r.Method != http.MethodGet {
			http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(data))
			return
		}
	}
	h := w.Header()
	h["Accept-Ranges"], h["Content-Length"] = inBytes, []string{strconv.Itoa(len(data))}
	_, _ = w.Write(data)
}

// conditions are the headers by which less than all, or nothing, is asked for (RFC 9110, sections 13 and 14).
var (
	conditions = []string{"Range", "If-None-Match", "If-Match", "If-Modified-Since", "If-Unmodified-Since", "If-Range"}
	inBytes    = []string{"bytes"}
)

// serveFile sends a file whose headers are set. Without a time, they hold what tells it apart.
func serveFile(w http.ResponseWriter, r *http.Request, file *os.File, changed time.Time) {
	defer func() { _ = file.Close() }()
	size, err := file.Seek(0, io.SeekEnd)
	if err != nil {
		writeProblem(w, internalProblem())
		return
	}
	defer patiently(w, size)()
	http.ServeContent(w, r, "", changed, file)
}

// slowest is how slow a connection may be that something is sent through, in bytes a second.
const slowest = 20_000

// patiently gives an answer of a size the time that a slow connection needs, and returns what ends that.
func patiently(w http.ResponseWriter, size int64) func() {
	control := http.NewResponseController(w)
	_ = control.SetWriteDeadline(time.Now().Add(time.Minute + time.Duration(size/slowest)*time.Second))
	return func() { _ = control.SetWriteDeadline(time.Time{}) }
}

// direct answers through what wraps the server's writer, and sends bytes past it, so that the system copies them from the file.
type direct struct {
	gin.ResponseWriter
	server http.ResponseWriter
}

func directly(w gin.ResponseWriter) direct {
	var server http.ResponseWriter = w
	for {
		inner, wraps := server.(interface{ Unwrap() http.ResponseWriter })
		if !wraps {
			return direct{w, server}
		}
		server = inner.Unwrap()
	}
}

// WriteHeader lets everybody on the way know that the answer has begun.
func (d direct) WriteHeader(status int) {
	d.ResponseWriter.WriteHeader(status)
	d.WriteHeaderNow()
}

// ReadFrom is called when the header has been written.
func (d direct) ReadFrom(r io.Reader) (int64, error) { return io.Copy(d.server, r) }

// Unwrap lets time limits be set.
func (d direct) Unwrap() http.ResponseWriter { return d.server }

// mediaHeaders: nothing that was uploaded can act in our name: no sniffing, and a policy that takes away scripts, forms and
// our origin. With saveAs it is to be saved and not shown.
func mediaHeaders(h http.Header, mediaType, saveAs, cache string) {
	h.Set("Content-Type", mediaType)
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	h.Set("Cache-Control", cache)
	if saveAs != "" {
		h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": saveAs}))
	}
}
