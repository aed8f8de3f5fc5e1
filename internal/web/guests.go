package web

import (
	"context"
	"errors"
	"io"
	"mime"
	"net/http"
	"path"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"
)

// addGuests hands out the pictures of galleries to people without an account.
func (s *Server) addGuests() {
	s.route(http.MethodGet, "/g/:code/media/:asset/:size", public, s.guestMedia)
	s.route(http.MethodGet, "/g/:code/take/:asset", public, s.guestTakes)
	s.route(http.MethodGet, "/g/:code/all.zip", public, s.guestArchive)
}

// shownIn is what a gallery shows, believed for a moment. Many who ask for the same at once have it found once.
func (s *Server) shownIn(ctx context.Context, view *hosting.GuestView) (*hosting.Shown, error) {
	if view.State != galleries.Open { // whatever others were shown a moment ago
		return nil, fault.Forbiddenf("This gallery is not open to you.")
	}
	return s.known.galleries.get(view.Code, holdFor, func() (*hosting.Shown, error) {
		found, err, _ := s.known.finding.Do("gallery "+view.Code, func() (any, error) {
			return s.house.Hosting.ShownIn(context.WithoutCancel(ctx), view)
		})
		if err != nil {
			return nil, err
		}
		return found.(*hosting.Shown), nil
	})
}

// guestPicture is a picture of a gallery that a guest asks for.
func (s *Server) guestPicture(c *gin.Context) (view hosting.GuestView, a assetstore.Asset, err error) {
	if view, err = s.visit(c, c.Param("code")); err != nil {
		return view, a, err
	}
	shown, err := s.shownIn(c, &view)
	if err != nil {
		return view, a, err
	}
	a, there := shown.Picture(c.Param("asset"))
	if !there && c.Param("asset") == view.CoverCode.String {
		assets, err := assetstore.AssetsIn(c, s.house.DB, view.Brand, []int64{view.CoverID.Int64})
		if err == nil && len(assets) == 1 {
			return view, assets[0], nil
		}
	}
	if !there {
		return view, a, fault.NotFoundf("That picture is not in this gallery.")
	}
	return view, a, nil
}

func (s *Server) guestMedia(c *gin.Context) error {
	view, a, err := s.guestPicture(c)
	if err != nil {
		return err
	}
	name, key, err := s.house.Hosting.ForGuest(c, &view, a, c.Param("size"))
	if err != nil {
		return err
	}
	return s.send(c, key, mime.TypeByExtension(path.Ext(name)), "", keepForGuests)
}

// guestTakes hands out the file of one picture in a size that may be taken along; size 0 is the original.
func (s *Server) guestTakes(c *gin.Context) error {
	view, a, err := s.guestPicture(c)
	if err != nil {
		return err
	}
	size, err := takenSize(c)
	if err != nil {
		return err
	}
	s.took(c, &view, 1, a.Title)
	return s.house.Hosting.Give(c, &view, []assetstore.Asset{a}, size, c.GetHeader("Accept"), func(g hosting.Given) error {
		if g.Blob == "" {
			return s.sendOriginal(c, a, a.MediaType, g.Name, "private, no-store")
		}
		return s.send(c, g.Blob, mime.TypeByExtension(path.Ext(g.Name)), g.Name, "private, no-store")
	})
}

// takenSize is the output size that a guest asks for, 0 for the original.
func takenSize(c *gin.Context) (int64, error) {
	size, err := strconv.ParseInt(c.Query("size"), 10, 64)
	if err != nil {
		return 0, fault.Invalidf("size", "Choose a size to take along.")
	}
	return size, nil
}

// guestAsks is a preview that somebody asks for who has a session, or none.
type guestAsks struct{ session, gallery, code, version, size string }

var errNotQuickly = errors.New("that is not had, or not without asking further")

// quickGuestKey is the key of a preview for a guest of an open gallery, if it is one that guests may have; believed for a moment.
func (s *Server) quickGuestKey(r *http.Request, gallery, code, version, size string) (string, bool) {
	asks := guestAsks{gallery: gallery, code: code, version: version, size: size}
	if cookie, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
		asks.session = cookie.Value
	}
	key, err := s.known.forGuests.get(asks, holdFor, func() (string, error) {
		if key, may := s.findGuestKey(r, gallery, code, version, size); may {
			return key, nil
		}
		return "", errNotQuickly
	})
	return key, err == nil
}

func (s *Server) findGuestKey(r *http.Request, gallery, code, version, size string) (string, bool) {
	view, err := s.ifLetIn(r.Context(), gallery)
	if err != nil || view.State != galleries.Open {
		return "", false
	}
	today := time.Now().Format(time.DateOnly)
	gate := view.Gate()
	if gate.State(galleries.Caller{}, today) != galleries.Open && gate.State(s.heldBy(r, view.Gallery), today) != galleries.Open {
		return "", false
	}
	box, known := media.PreviewBox(size)
	if may := view.Allowance(); !known || !view.Settings.Mark.None() || may.Largest > 0 && max(box.Width, box.Height) > may.Largest {
		return "", false
	}
	shown, err := s.shownIn(r.Context(), &view)
	if err != nil {
		return "", false
	}
	a, there := shown.Picture(code)
	if !there || a.Version != version {
		return "", false
	}
	return blob.Picture(a.SHA256, size, a.Recipe.Hash()), true
}

// guestArchive hands out a gallery as a ZIP, or one chapter of it, in a size that may be taken along.
func (s *Server) guestArchive(c *gin.Context) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	size, err := takenSize(c)
	if err != nil {
		return err
	}
	shown, err := s.shownIn(c, &view)
	if err != nil {
		return err
	}
	name, pictures := view.Title, shown.Pictures
	if list, asked := c.GetQuery("list"); asked {
		if pictures, name, err = s.inList(c, &view, shown, list); err != nil {
			return err
		}
	}
	if number, asked := c.GetQuery("chapter"); asked {
		n, err := strconv.Atoi(number)
		if err != nil || n < 1 || n > len(shown.Chapters) {
			return fault.NotFoundf("There is no such chapter.")
		}
		pictures = shown.Of(n)
		name += ", " + shown.Chapters[n-1].Title
	}
	if !view.Settings.MayTake(size) {
		return fault.Forbiddenf("This gallery does not hand that out.")
	}
	s.took(c, &view, len(pictures), name)
	return s.streamZIP(c, outputs.CleanName(name)+".zip", func(w io.Writer) error {
		return s.house.Hosting.ZipForGuest(c, &view, pictures, size, w)
	})
}

func (h *handler) ViewGallery(ctx context.Context, r api.ViewGalleryRequestObject) (api.ViewGalleryResponseObject, error) {
	view, err := h.visit(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	h.opened(ctx.(*gin.Context), &view)
	out := api.GuestGallery{Title: view.Title, State: api.GuestGalleryState(view.State), BrandName: view.BrandName,
		Kind: api.GalleryKind(view.Kind), Accent: api.GalleryAccent(view.Settings.Accent),
		Lettering: api.GalleryLettering(view.Settings.Lettering), Chapters: []api.GuestChapter{}, Pictures: []api.GuestPicture{},
		Sizes: []api.GuestSize{}}
	if view.State == galleries.Closed || view.State == galleries.Uninvited {
		out.Title = ""
	}
	if view.State != galleries.Open {
		return api.ViewGallery200JSONResponse(out), nil
	}
	shown, err := h.shownIn(ctx, &view)
	if err != nil {
		return nil, err
	}
	out.Message, out.Takes = view.Message, view.TakesInto.Valid && view.TakesBy.Valid
	out.Cover, out.Ends = nullString(view.CoverCode), nullString(view.Ends)
	if view.Settings.Downloads {
		for _, size := range view.Sizes {
			out.Sizes = append(out.Sizes, api.GuestSize{ID: size.ID, Name: size.Name, Side: max(size.Width, size.Height)})
		}
		if view.Settings.Original {
			out.Sizes = append(out.Sizes, api.GuestSize{})
		}
	}
	out.Chapters = each(shown.Chapters, func(c hosting.ShownChapter) api.GuestChapter {
		return api.GuestChapter{Title: c.Title, Words: c.Words, Pictures: c.Pictures}
	})
	out.Pictures = each(shown.Pictures, guestPicture)
	if code := view.CoverCode.String; code != "" {
		if _, among := shown.Picture(code); !among {
			cover, err := assetstore.AssetsIn(ctx, h.house.DB, view.Brand, []int64{view.CoverID.Int64})
			if err != nil {
				return nil, err
			}
			if len(cover) == 1 {
				picture := guestPicture(cover[0])
				out.OwnCover = &picture
			}
		}
	}
	return api.ViewGallery200JSONResponse(out), nil
}

func guestPicture(a assetstore.Asset) api.GuestPicture {
	return api.GuestPicture{Code: a.Code, Version: a.Version, Kind: api.Kind(a.Kind), Title: a.Title, Alt: a.Alt, Width: a.Width,
		Height: a.Height, Seconds: nullFloat(a.Seconds), Tint: a.Tint, Caption: a.Description, FocalX: a.FocalX, FocalY: a.FocalY}
}

func (h *handler) UnlockGallery(ctx context.Context, r api.UnlockGalleryRequestObject) (api.UnlockGalleryResponseObject, error) {
	g, err := gallerystore.GalleryByCode(ctx, h.house.DB, r.Code)
	if err != nil {
		return nil, err
	}
	c := ctx.(*gin.Context)
	given, err := h.house.Hosting.Unlock(ctx, g, r.Body.Password, h.callerFor(c, passwords.Gallery(g.Code)))
	if err != nil {
		return nil, err
	}
	if given {
		h.sessions.Put(ctx, unlockedKey(g.Code), g.PasswordHash)
		h.remember(c, passwords.Gallery(g.Code))
	}
	return api.UnlockGallery204Response{}, nil
}
