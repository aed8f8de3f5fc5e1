package web

import (
	"context"
	"fmt"
	"io"
	"mime"
	"net/http"
	"path"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/sendout"
	"brightsatchel/internal/store"
)

// addGuests hands out the pictures of galleries to people without an account.
func (s *Server) addGuests() {
	s.route(http.MethodGet, "/g/:code/media/:asset/:size", public, s.guestMedia)
	s.route(http.MethodGet, "/g/:code/all.zip", public, s.guestArchive)
}

// unlockedKey is where a guest's session remembers that the password was given.
func unlockedKey(code string) string { return "unlocked " + code }

func (s *Server) visit(ctx context.Context, code string) (sendout.GuestView, error) {
	return s.house.SendOut.Visit(ctx, code, func(g store.Gallery) bool {
		// the stored form of the password is compared, so that a new password locks everybody out again
		return s.sessions.GetString(ctx, unlockedKey(code)) == g.PasswordHash
	})
}

func (s *Server) guestMedia(c *gin.Context) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	size := c.Param("size")
	name, key, err := s.house.SendOut.ForGuest(c, view, c.Param("asset"), size)
	if err != nil {
		return err
	}
	mediaType := mime.TypeByExtension(path.Ext(name))
	if size == "download" {
		return s.send(c, key, mediaType, name, "private, no-store")
	}
	return s.send(c, key, mediaType, "", keepForGuests)
}

// quickGuestKey is the key of a preview for a guest of an open gallery, if it is one that guests may have.
func (s *Server) quickGuestKey(r *http.Request, gallery, code, version, size string) (string, bool) {
	view, err := s.known.visits.get(gallery, holdFor, func() (sendout.GuestView, error) {
		return s.house.SendOut.Visit(r.Context(), gallery, func(store.Gallery) bool { return true })
	})
	if err != nil || view.State != "open" || view.PasswordHash != "" && s.givenBy(r, gallery) != view.PasswordHash {
		return "", false
	}
	box, known := media.PreviewBox(size)
	if may := view.Allowance(); !known || may.Largest > 0 && max(box.Width, box.Height) > may.Largest {
		return "", false
	}
	asked := false
	d, err := s.known.delivered.get(gallery+" "+code+" "+version, time.Hour, func() (store.Delivered, error) {
		asked = true
		return ofVersion(version)(store.DeliveredInGallery(r.Context(), s.house.DB, view.Gallery, code))
	})
	if err != nil {
		return "", false
	}
	shown, known := s.house.Index.Shown(view.Brand, view.Album, d.ID)
	if !asked && (!known || !shown && d.ID != view.CoverID.Int64) {
		return "", false
	}
	return blob.Picture(d.SHA256, size, d.Recipe.Hash()), true
}

// givenBy is the stored form of the password that a guest gave for a gallery, remembered for a moment.
func (s *Server) givenBy(r *http.Request, gallery string) string {
	cookie, err := r.Cookie(s.sessions.Cookie.Name)
	if err != nil {
		return ""
	}
	given, err := s.known.unlocked.get(cookie.Value+" "+gallery, holdFor, func() (string, error) {
		ctx, err := s.sessions.Load(r.Context(), cookie.Value)
		if err != nil {
			return "", err
		}
		return s.sessions.GetString(ctx, unlockedKey(gallery)), nil
	})
	if err != nil {
		return ""
	}
	return given
}

func (s *Server) guestArchive(c *gin.Context) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	if view.State != "open" || !view.Downloads {
		return fault.Forbiddenf("The pictures of this gallery are not for downloading.")
	}
	return s.streamZIP(c, outputs.CleanName(view.Title)+".zip", func(w io.Writer) error { return s.house.SendOut.ZipForGuest(c, view, w) })
}

func (h *handler) ViewGallery(ctx context.Context, r api.ViewGalleryRequestObject) (api.ViewGalleryResponseObject, error) {
	view, err := h.visit(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	out := api.GuestGallery{Title: view.Title, State: api.GuestGalleryState(view.State), BrandName: view.BrandName,
		Pictures: []api.GuestPicture{}}
	if view.State == "closed" {
		out.Title = ""
	}
	if view.State != "open" {
		return api.ViewGallery200JSONResponse(out), nil
	}
	out.Message, out.Downloads = view.Message, view.Downloads
	out.SizeName = some(sizeInWords(view.Size))
	out.Cover, out.Ends = nullString(view.CoverCode), nullString(view.Ends)
	pictures, err := h.house.SendOut.Pictures(ctx, view)
	if err != nil {
		return nil, err
	}
	for _, a := range pictures {
		out.Pictures = append(out.Pictures, api.GuestPicture{
			Code: a.Code, Version: a.Version, Kind: api.Kind(a.Kind), Title: a.Title, Alt: a.Alt,
			Width: a.Width, Height: a.Height, Seconds: nullFloat(a.Seconds), Tint: a.Tint, Caption: a.Description,
			FocalX: a.FocalX, FocalY: a.FocalY,
		})
	}
	return api.ViewGallery200JSONResponse(out), nil
}

func sizeInWords(size outputs.Size) string {
	return fmt.Sprintf("%s, up to %d pixels", size.Name, max(size.Width, size.Height))
}

func (h *handler) UnlockGallery(ctx context.Context, r api.UnlockGalleryRequestObject) (api.UnlockGalleryResponseObject, error) {
	g, err := store.GalleryByCode(ctx, h.house.DB, r.Code)
	if err != nil {
		return nil, err
	}
	given, err := h.house.SendOut.Unlock(ctx, g, r.Body.Password, callerOf(ctx.(*gin.Context)))
	if err != nil {
		return nil, err
	}
	if given {
		h.sessions.Put(ctx, unlockedKey(r.Code), g.PasswordHash)
	}
	return api.UnlockGallery204Response{}, nil
}
