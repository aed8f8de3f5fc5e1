package web

import (
	"context"
	"log/slog"
	"net/http"
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/sendout/hosting"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/gallerystore"

	front "brightsatchel/web"
)

// unlockedKey is where a guest's session remembers that the password was given, guestKey the sum of the link by which they came.
func unlockedKey(gallery string) string { return "unlocked " + gallery }
func guestKey(gallery string) string    { return "guest " + gallery }

// visit reads a gallery for whoever asks.
func (s *Server) visit(ctx context.Context, code string) (hosting.GuestView, error) {
	var guest gallerystore.Guest
	view, err := s.house.Hosting.Visit(ctx, code, func(g gallerystore.Gallery) (caller galleries.Caller) {
		caller, guest = s.callerIn(ctx, g)
		return caller
	})
	view.Guest = guest
	return view, err
}

// callerIn is what somebody has who asks for a gallery: the password as it is now, or a link of their own that was not taken back.
func (s *Server) callerIn(ctx context.Context, g gallerystore.Gallery) (galleries.Caller, gallerystore.Guest) {
	// the stored form of the password is compared, so that a new password locks everybody out again
	out := galleries.Caller{Password: s.sessions.GetString(ctx, unlockedKey(g.Code)) == g.PasswordHash}
	sum := s.sessions.GetString(ctx, guestKey(g.Code))
	if sum == "" {
		return out, gallerystore.Guest{}
	}
	guest, err := gallerystore.GuestByLink(ctx, s.house.DB, g.ID, []byte(sum))
	if err != nil {
		return out, gallerystore.Guest{}
	}
	out.Invitation = guest.Invited.Valid
	return out, guest
}

// heldBy is callerIn for a request whose session was not read, believed for a moment.
func (s *Server) heldBy(r *http.Request, g gallerystore.Gallery) galleries.Caller {
	cookie, err := r.Cookie(s.sessions.Cookie.Name)
	if err != nil {
		return galleries.Caller{}
	}
	caller, err := s.known.unlocked.get(cookie.Value+" "+g.Code+" "+g.PasswordHash, holdFor, func() (galleries.Caller, error) {
		ctx, err := s.sessions.Load(r.Context(), cookie.Value)
		if err != nil {
			return galleries.Caller{}, err
		}
		caller, _ := s.callerIn(ctx, g)
		return caller, nil
	})
	if err != nil {
		return galleries.Caller{}
	}
	return caller
}

// guestPage serves the page of a gallery. Whoever comes by a link of their own is remembered, and the link is out of sight then.
func (s *Server) guestPage(c *gin.Context) error {
	own := c.Query("as")
	if _, plain := c.GetQuery("plain"); plain { // a browser without script sends itself here
		c.Redirect(http.StatusSeeOther, "/g/"+url.PathEscape(c.Param("code"))+"/plain")
		return nil
	}
	if own == "" {
		c.Header("Cache-Control", "no-cache")
		if !s.forEveryone(c, c.Param("code")) {
			c.Header("X-Robots-Tag", "noindex")
		}
		return sendPage(c, front.Files(), "gallery.html")
	}
	g, err := gallerystore.GalleryByCode(c, s.house.DB, c.Param("code"))
	if err != nil {
		return err
	}
	if guest, err := gallerystore.GuestByLink(c, s.house.DB, g.ID, hosting.LinkSum(own)); err == nil {
		s.sessions.Put(c, guestKey(g.Code), string(guest.Sum))
	}
	c.Header("Referrer-Policy", "no-referrer")
	c.Redirect(http.StatusSeeOther, g.At())
	return nil
}

// ifLetIn is a gallery as somebody sees it who may see all of it, believed for a moment. Who asks has yet to show that they may.
func (s *Server) ifLetIn(ctx context.Context, code string) (hosting.GuestView, error) {
	return s.known.visits.get(code, holdFor, func() (hosting.GuestView, error) {
		return s.house.Hosting.Visit(ctx, code, func(gallerystore.Gallery) galleries.Caller {
			return galleries.Caller{Password: true, Invitation: true}
		})
	})
}

// forEveryone says whether a gallery is open to everyone, so that search engines may list it.
func (s *Server) forEveryone(ctx context.Context, code string) bool {
	view, err := s.ifLetIn(ctx, code)
	return err == nil && view.Audience == galleries.Everyone && view.State == galleries.Open
}

// opened writes down that a gallery was opened, once an hour for each who looks. Of those who are not known nothing is kept.
func (s *Server) opened(c *gin.Context, view *hosting.GuestView) {
	if view.State != galleries.Open {
		return
	}
	who := "from " + callerOf(c)
	if view.Guest.ID != 0 {
		who = "guest " + strconv.FormatInt(view.Guest.ID, 10)
	}
	s.openings.saw(view.Code+" "+who, func() error {
		if view.Guest.ID != 0 {
			if err := gallerystore.SawGuest(c, s.house.DB, view.Guest.ID); err != nil {
				return err
			}
		}
		return gallerystore.Happened(c, s.house.DB, view.Gallery, view.Guest.ID, "opened", 0, "")
	})
}

// took writes down that a guest takes files along.
func (s *Server) took(c *gin.Context, view *hosting.GuestView, files int, what string) {
	if err := gallerystore.Happened(c, s.house.DB, view.Gallery, view.Guest.ID, "took", files, what); err != nil {
		slog.Error("writing down what was taken along", "gallery", view.ID, "error", err)
	}
}

// inList are the pictures of a gallery that a guest put into a list.
func (s *Server) inList(c *gin.Context, view *hosting.GuestView, shown *hosting.Shown, list string) ([]assetstore.Asset, string, error) {
	id, err := strconv.ParseInt(list, 10, 64)
	if err != nil || view.Guest.ID == 0 {
		return nil, "", fault.NotFoundf("There is no such list.")
	}
	t, err := s.house.Hosting.TalkFor(c, view, view.Guest.ID)
	if err != nil {
		return nil, "", err
	}
	var out []assetstore.Asset
	for _, m := range t.Marks {
		if a, there := shown.Picture(m.Code); there && m.List == id && m.Guest == view.Guest.ID {
			out = append(out, a)
		}
	}
	for _, l := range t.Lists {
		if l.ID == id {
			return out, view.Title + ", " + l.Name, nil
		}
	}
	return nil, "", fault.NotFoundf("There is no such list.")
}
