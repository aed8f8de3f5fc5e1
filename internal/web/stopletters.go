package web

import (
	"context"
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/store"
)

var stopPage = template.Must(template.New("stop").Parse(`<!doctype html>
<html lang="en-GB"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="robots" content="noindex"><title>Letters about {{.Title}}</title><link rel="stylesheet" href="/plain.css"></head><body><main>
<p>{{.Brand}}</p>{{if .Silent}}<h1>No more letters</h1><p>{{.Email}} gets no more letters about “{{.Title}}”. The link to the pictures still works.</p>
{{else}}<h1>No more letters?</h1><p>{{.Email}} will get no more letters about “{{.Title}}”. The link to the pictures goes on working.</p>
<form method="post"><button>Stop the letters</button></form>{{end}}</main></body></html>
`))

// addStopLetters lets guests end the letters about a gallery: with one click in their mail program (RFC 8058), or on a page. To look at
// the page ends nothing.
func (s *Server) addStopLetters() {
	s.route(http.MethodGet, "/u/:code", public, func(c *gin.Context) error {
		return s.stopLetters(c, s.house.DB.MayStop)
	})
	s.route(http.MethodPost, "/u/:code", public, func(c *gin.Context) error {
		return s.stopLetters(c, s.house.DB.StopLetters)
	})
}

func (s *Server) stopLetters(c *gin.Context, what func(ctx context.Context, code string) (store.Stopped, error)) error {
	stopped, err := what(c, c.Param("code"))
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "no-store")
	plainHead(c)
	return stopPage.Execute(c.Writer, stopped)
}
