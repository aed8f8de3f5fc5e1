package web

import (
	"context"
	"fmt"
	"log/slog"
	"mime"
	"net/http"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/outputs"
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
	name, file, err := s.house.SendOut.ForGuest(c, view, c.Param("asset"), size)
	if err != nil {
		return err
	}
	mediaType := mime.TypeByExtension("." + extensionOf(name))
	if size == "download" {
		return sendReader(c, file, mediaType, name, "private, no-store")
	}
	return sendReader(c, file, mediaType, "", "private, max-age=600")
}

func extensionOf(name string) string {
	for i := len(name) - 1; i >= 0; i-- {
		if name[i] == '.' {
			return name[i+1:]
		}
	}
	return ""
}

func (s *Server) guestArchive(c *gin.Context) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	if view.State != "open" || !view.Downloads {
		return fault.Forbiddenf("This gallery is not open for taking pictures along.")
	}
	c.Header("Content-Type", "application/zip")
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": outputs.CleanName(view.Title) + ".zip"}))
	if err := s.house.SendOut.ZipForGuest(c, view, c.Writer); err != nil {
		slog.Error("a gallery's ZIP broke off", "gallery", view.ID, "error", err)
		panic(http.ErrAbortHandler) // headers are out: break the connection, so that nobody takes it for whole
	}
	return nil
}

func (h *handler) ViewGallery(ctx context.Context, r api.ViewGalleryRequestObject) (api.ViewGalleryResponseObject, error) {
	view, err := h.visit(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	out := api.GuestGallery{Title: view.Title, State: api.GuestGalleryState(view.State), BrandName: view.BrandName, Pictures: []api.GuestPicture{}}
	if view.State == "closed" {
		out.Title = ""
	}
	if view.State != "open" {
		return api.ViewGallery200JSONResponse(out), nil
	}
	out.Message, out.Downloads = view.Message, view.Downloads
	out.SizeName = some(sizeInWords(view.Size))
	out.Cover = nullString(view.CoverCode)
	for _, a := range view.Pictures {
		out.Pictures = append(out.Pictures, api.GuestPicture{
			Code: a.Code, Version: a.Version, Kind: api.Kind(a.Kind), Title: a.Title, Alt: a.Alt,
			Width: a.Width, Height: a.Height, Seconds: nullFloat(a.Seconds), Tint: a.Tint,
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
	if err := h.house.SendOut.Unlock(ctx, g, r.Body.Password, callerOf(ctx.(*gin.Context))); err != nil {
		return nil, err
	}
	h.sessions.Put(ctx, unlockedKey(r.Code), g.PasswordHash)
	return api.UnlockGallery204Response{}, nil
}
