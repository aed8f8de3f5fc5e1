package beanpole

import (
	"html/template"
	"net/http"
	"strings"
)

func isClip(m Media) bool { return strings.HasPrefix(m.Type, "video/") }

var watched = template.Must(template.New("watch").Funcs(template.FuncMap{"clip": isClip}).
	Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{{.Channel.Title}}</title>
<style>body{font:15px ui-monospace,monospace;max-width:420px;margin:1rem auto;padding:0 1rem;
background:#191c22;color:#e9e6da}a{color:inherit}
article{border-left:6px solid #7d5;padding:0 0 1rem 1rem;margin:2rem 0}img,video{width:100%;height:auto}</style>
<h1>{{.Channel.Title}}</h1><p>{{if .Channel.Advertising}}Media of an advertising account. Nobody sees them on the channel.
{{else}}What everybody
sees on this simulated service.{{end}} <a href="{{.Under}}/weather">Its bad days</a></p>
{{range .Posts}}<article id="{{.Post}}">{{range .Media}}{{if clip .}}<video src="{{$.Under}}/file/{{.ID}}" controls></video>{{else}}<img
src="{{$.Under}}/file/{{.ID}}" alt="{{.Alt}}">{{end}}{{end}}<p>{{.Text}}</p></article>{{else}}<p>Nothing yet.</p>{{end}}</html>`))

// watch serves what a visitor sees of a channel.
func (s *Service) watch(w http.ResponseWriter, id string) {
	of := s.channels[0]
	for _, c := range s.channels {
		if c.ID == id {
			of = c
		}
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = watched.Execute(w, map[string]any{"Channel": of, "Posts": s.Posts(of.ID), "Under": s.under})
}

// file serves a picture or clip that was published.
func (s *Service) file(w http.ResponseWriter, r *http.Request, id string) {
	for _, p := range s.Posts("") {
		for _, m := range p.Media {
			if m.ID == id {
				w.Header().Set("Content-Type", m.Type)
				_, _ = w.Write(m.content)
				return
			}
		}
	}
	http.NotFound(w, r)
}
