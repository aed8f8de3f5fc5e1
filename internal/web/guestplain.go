package web

import (
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/galleries"
	"brightsatchel/internal/core/wording"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store/gallerystore"
	"brightsatchel/internal/store/peoplestore"
)

var plainPages = template.Must(template.ParseFS(embedFiles, "guestplain.html"))

// plainPolicy is for pages without any script.
const plainPolicy = "default-src 'none'; img-src 'self'; style-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

// mostOnPage is how many pictures a page without script shows.
const mostOnPage = 200

// addPlainPages serves galleries to browsers without script, and the list of those for everyone.
func (s *Server) addPlainPages() {
	s.route(http.MethodGet, "/plain.css", public, func(c *gin.Context) error {
		c.Header("Cache-Control", "public, max-age=300")
		style, err := embedFiles.ReadFile("plain.css")
		c.Data(http.StatusOK, "text/css; charset=utf-8", style)
		return err
	})
	s.route(http.MethodGet, "/g/:code/plain", public, func(c *gin.Context) error { return s.plainGallery(c, "") })
	s.route(http.MethodPost, "/g/:code/plain", public, s.plainUnlock)
	s.route(http.MethodGet, "/l/:whose", public, s.listedGalleries)
}

// plainUnlock takes the password from a form.
func (s *Server) plainUnlock(c *gin.Context) error {
	g, err := gallerystore.GalleryByCode(c, s.house.DB, c.Param("code"))
	if err != nil {
		return err
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, 4<<10)
	given, err := s.house.Hosting.Unlock(c, g, c.PostForm("password"), s.callerFor(c, passwords.Gallery(g.Code)))
	if err != nil {
		return s.plainGallery(c, err.Error())
	}
	if given {
		s.sessions.Put(c, unlockedKey(g.Code), g.PasswordHash)
		s.remember(c, passwords.Gallery(g.Code))
	}
	c.Redirect(http.StatusSeeOther, g.At()+"/plain")
	return nil
}

func plainHead(c *gin.Context) {
	c.Header("Content-Security-Policy", plainPolicy)
	c.Header("Content-Type", "text/html; charset=utf-8")
	c.Header("Cache-Control", "no-cache")
}

type plainPicture struct {
	Title, Alt, Small, Big string
	Width, Height          int
}

type plainPart struct {
	Title, Words string
	Pictures     []plainPicture
}

func (s *Server) plainGallery(c *gin.Context, problem string) error {
	view, err := s.visit(c, c.Param("code"))
	if err != nil {
		return err
	}
	plainHead(c)
	with := map[string]any{"Brand": view.BrandName, "Title": view.Title, "State": view.State, "Problem": problem, "Pages": 1,
		"Listed": view.Audience == galleries.Everyone}
	if view.State == galleries.Closed || view.State == galleries.Uninvited {
		with["Title"] = "This gallery is closed"
		if view.State == galleries.Uninvited {
			with["Title"] = "This gallery is for guests"
		}
	}
	if view.State != galleries.Open {
		return plainPages.ExecuteTemplate(c.Writer, "gallery", with)
	}
	s.opened(c, &view)
	shown, err := s.shownIn(c, &view)
	if err != nil {
		return err
	}
	pages := max(1, (len(shown.Pictures)+mostOnPage-1)/mostOnPage)
	page, _ := strconv.Atoi(c.Query("page"))
	page = min(max(1, page), pages)
	from, to := (page-1)*mostOnPage, min(page*mostOnPage, len(shown.Pictures))
	var parts []plainPart
	at := 0
	for _, chapter := range shown.Chapters {
		part := plainPart{Title: chapter.Title, Words: chapter.Words}
		for i := max(from, at); i < min(to, at+chapter.Pictures); i++ {
			a := shown.Pictures[i]
			under := view.At() + "/media/" + a.Code + "/"
			picture := plainPicture{Title: a.Title, Alt: altOf(a), Small: under + "small?v=" + a.Version, Big: under + "large?v=" + a.Version,
				Width: a.Width, Height: a.Height}
			if a.Kind == "clip" {
				picture.Big = under + "film?v=" + a.Version
			}
			part.Pictures = append(part.Pictures, picture)
		}
		if at += chapter.Pictures; len(part.Pictures) > 0 {
			parts = append(parts, part)
		}
	}
	with["Message"], with["Parts"], with["Page"], with["Pages"] = view.Message, parts, page, pages
	if page > 1 {
		with["Before"] = page - 1
	}
	if page < pages {
		with["Next"] = page + 1
	}
	return plainPages.ExecuteTemplate(c.Writer, "gallery", with)
}

// listedGalleries lists the galleries of a brand that are for everyone.
func (s *Server) listedGalleries(c *gin.Context) error {
	brand, err := peoplestore.BrandByCode(c, s.house.DB, strings.ToLower(c.Param("whose")))
	if err != nil {
		return err
	}
	type listed struct{ Title, At, Picture, Pictures string }
	with := map[string]any{"Title": "Galleries", "Listed": true}
	var all []listed
	if brand != nil {
		found, err := s.house.Hosting.Listed(c, brand.ID)
		if err != nil {
			return err
		}
		for _, g := range found {
			one := listed{Title: g.Title, At: g.At(), Pictures: wording.Count(g.Items, "picture", "pictures")}
			if g.CoverCode.Valid {
				one.Picture = fmt.Sprintf("%s/media/%s/small?v=%s", g.At(), g.CoverCode.String, g.CoverVersion.String)
			}
			all = append(all, one)
		}
		if len(found) > 0 {
			with["Title"] = "Galleries of " + brand.Name
		}
	}
	with["Galleries"] = all
	plainHead(c)
	return plainPages.ExecuteTemplate(c.Writer, "listed", with)
}
