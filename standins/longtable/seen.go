package longtable

import (
	"html/template"
	"net/http"
)

var seen = template.Must(template.New("seen").Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{{.Place.Name}}</title>
<style>body{font:16px Georgia,serif;max-width:980px;margin:2rem auto;padding:0 1rem;background:#f3eee4;color:#2b2118}
section{border-top:3px double #b9a98c;padding:1rem 0}figure{margin:0 0 1rem}figure img{height:150px;margin:0 4px 4px 0}</style>
<h1>{{.Place.Name}}</h1><p>What {{if .Place.Everyone}}everybody sees{{else}}its {{.Place.Members}} members see{{end}}
on this simulated service.
<a href="{{.Under}}/weather">Its bad days</a></p>
{{range .Albums}}<section><h2>{{.Title}}</h2>{{range .Posts}}<figure id="{{.ID}}">
<figcaption>{{.Words}} <small>by {{.By}}</small></figcaption>
{{range .Pictures}}<img src="{{$.Under}}/picture/{{.ID}}" alt="">{{end}}</figure>{{end}}</section>{{end}}</html>`))

// see serves what a visitor sees of a place.
func (s *Service) see(w http.ResponseWriter, id string) {
	type shown struct {
		Title string
		Posts []Post
	}
	s.mu.Lock()
	of := s.places[0]
	for _, p := range s.places {
		if p.ID == id {
			of = p
		}
	}
	var albums []shown
	for _, a := range s.albums {
		if a.place != of.ID {
			continue
		}
		one := shown{Title: a.title}
		for _, p := range s.posts {
			if p.Album == a.id {
				one.Posts = append(one.Posts, *p)
			}
		}
		albums = append(albums, one)
	}
	s.mu.Unlock()
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = seen.Execute(w, map[string]any{"Place": of, "Albums": albums, "Under": s.under})
}

// file serves a picture to whoever has its address.
func (s *Service) file(w http.ResponseWriter, r *http.Request, id string) {
	s.mu.Lock()
	var content []byte
	if p := s.pictures[id]; p != nil {
		content = p.content
	}
	s.mu.Unlock()
	if content == nil {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", http.DetectContentType(content))
	_, _ = w.Write(content)
}
