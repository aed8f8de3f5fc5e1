package web

import (
	"context"
	"io"
	"log/slog"
	"mime"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/sendout/posting"
	"brightsatchel/internal/store/peoplestore"
	"brightsatchel/internal/store/poststore"
)

func (h *handler) ListOutlets(ctx context.Context, _ api.ListOutletsRequestObject) (api.ListOutletsResponseObject, error) {
	found, err := h.house.Posting.ConnectedOutlets(ctx, viewerOf(ctx))
	return api.ListOutlets200JSONResponse(each(found, func(o poststore.Outlet) api.Outlet {
		return api.Outlet{ID: o.ID, Code: o.Code, Kind: o.Kind, Service: outlets.Name(o.Kind), Name: o.Name, Address: o.Address, Items: o.Items,
			Standing: api.OutletStanding(o.Standing), Trouble: o.Trouble, Copied: o.Copied, Asked: moment(o.Asked)}
	})), err
}

func (h *handler) ListOutletServices(_ context.Context, _ api.ListOutletServicesRequestObject) (
	api.ListOutletServicesResponseObject, error) {
	return api.ListOutletServices200JSONResponse(each(h.house.Posting.Outlets.Connectable(), func(c outlets.Connectable) api.OutletService {
		return api.OutletService(c)
	})), nil
}

func (h *handler) BeginConnecting(ctx context.Context, r api.BeginConnectingRequestObject) (api.BeginConnectingResponseObject, error) {
	address, err := h.house.Posting.BeginConnecting(ctx, viewerOf(ctx), r.Body.Kind)
	return api.BeginConnecting200JSONResponse{Address: address}, err
}

func (h *handler) ConnectOutlet(ctx context.Context, r api.ConnectOutletRequestObject) (api.ConnectOutletResponseObject, error) {
	d, err := h.house.Posting.ConnectOutlet(ctx, viewerOf(ctx),
		poststore.Outlet{Kind: r.Body.Kind, Name: r.Body.Name, Address: r.Body.Address}, value(r.Body.Token))
	return api.ConnectOutlet200JSONResponse{DoneJSONResponse: done(d)}, err
}

// addConnecting takes people back who let the server into an account, and calls of outlets that something is ready there.
func (s *Server) addConnecting() {
	s.route(http.MethodGet, outlets.BackPath, self, func(c *gin.Context) error {
		person := s.sessions.GetInt64(c.Request.Context(), "person")
		slug := ""
		_, done, err := s.house.Posting.FinishConnecting(c, person,
			posting.Back{State: c.Query("state"), Code: c.Query("code"), Refusal: c.Query("error")}, func(brand int64) (err error) {
				if slug, err = peoplestore.BrandCode(c, s.house.DB, brand); err != nil {
					return err
				}
				viewer, err := s.house.People.Viewer(c, person, slug)
				if err == nil && !viewer.Can(access.Settings) {
					err = fault.Forbiddenf("You may not do that here. Ask a steward if you need to.")
				}
				return err
			})
		if slug == "" && err != nil {
			return err
		}
		said := "connected=" + strconv.FormatInt(done.ID, 10)
		if err != nil {
			slog.Warn("an account was not connected", "error", err)
			said = "problem=" + value(problemOf(err).Field) // the page has the words: an address is no place for them
		}
		c.Redirect(http.StatusSeeOther, "/b/"+slug+"/outlets?"+said)
		return nil
	})
	s.route(http.MethodPost, "/heard/:code", public, func(c *gin.Context) error {
		if err := s.house.Posting.Heard(c, c.Param("code"), c.Request.Header, c.Request.Body); err != nil {
			return err
		}
		c.Status(http.StatusNoContent)
		return nil
	})
}

func (h *handler) DisconnectOutlet(ctx context.Context, r api.DisconnectOutletRequestObject) (api.DisconnectOutletResponseObject, error) {
	d, err := h.house.Posting.DisconnectOutlet(ctx, viewerOf(ctx), r.ID)
	return api.DisconnectOutlet200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) CopyOutlet(ctx context.Context, r api.CopyOutletRequestObject) (api.CopyOutletResponseObject, error) {
	d, err := h.house.BringIn.KeepCopy(ctx, viewerOf(ctx), r.ID, r.Body.On)
	return api.CopyOutlet200JSONResponse{DoneJSONResponse: done(d)}, err
}

func (h *handler) ListOutletAlbums(ctx context.Context, r api.ListOutletAlbumsRequestObject) (api.ListOutletAlbumsResponseObject, error) {
	albums, err := h.house.BringIn.OutletAlbums(ctx, viewerOf(ctx), r.ID)
	return api.ListOutletAlbums200JSONResponse(each(albums, func(a outlets.Album) api.OutletAlbum {
		return api.OutletAlbum{ID: a.ID, Page: a.Page, Title: a.Title, Count: a.Count}
	})), err
}

func (h *handler) ListOutletMedia(ctx context.Context, r api.ListOutletMediaRequestObject) (api.ListOutletMediaResponseObject, error) {
	media, err := h.house.BringIn.OutletMedia(ctx, viewerOf(ctx), r.ID, r.Album)
	return api.ListOutletMedia200JSONResponse(each(media, func(m bringin.OutletMedia) api.OutletMedia {
		out := api.OutletMedia{ID: m.ID, FileName: m.FileName, Caption: m.Caption, MediaType: m.MediaType, Bytes: m.Bytes,
			Posted: m.Posted, PostedBy: m.PostedBy, Own: m.Own}
		if m.Asset != 0 {
			out.Asset = &m.Asset
		}
		return out
	})), err
}

// addOutletPictures shows pictures of an outlet before they are taken over. They come through the server, which has the
// token, and as nothing but a picture.
func (s *Server) addOutletPictures() {
	s.route(http.MethodGet, "/api/brands/:brand/outlets/:id/media/:media/picture", inside(access.BringIn), func(c *gin.Context) error {
		id, err := strconv.ParseInt(c.Param("id"), 10, 64)
		if err != nil {
			return fault.NotFoundf("There is no such outlet.")
		}
		file, err := s.house.BringIn.FetchMedia(c, viewerOf(c), id, c.Param("media"))
		if err != nil {
			return err
		}
		defer func() { _ = file.Close() }()
		const shown = 20 << 20 // bytes
		data, err := io.ReadAll(io.LimitReader(file, shown))
		if err != nil {
			return err
		}
		mediaType := http.DetectContentType(data)
		if !strings.HasPrefix(mediaType, "image/") {
			return fault.NotFoundf("That is no picture that can be shown before it is brought in.")
		}
		h := c.Writer.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; sandbox")
		h.Set("Content-Disposition", mime.FormatMediaType("inline", nil))
		h.Set("Cache-Control", "private, max-age=3600")
		c.Data(http.StatusOK, mediaType, data)
		return nil
	})
}
