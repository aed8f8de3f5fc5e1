// Package website is a made-up website with an editor: pages that show live pictures of somebody's library, and pictures picked from it.
// It is reached over HTTP like a real one, and knows nothing of the application but what its editors paste.
package website

import (
	"embed"
	"html/template"
	"net/http"
	"strings"
	"sync"
)

//go:embed page.html edit.html editor.js site.css
var files embed.FS

var pages = template.Must(template.ParseFS(files, "page.html", "edit.html"))

// Site is the website. Its page is kept in memory.
type Site struct {
	mu     sync.Mutex
	title  string
	text   string
	blocks []string
	picker string
}

// New makes the website with a page of a few words.
func New() *Site {
	return &Site{title: "Pennick Moor Fliers",
		text: "We meet on the moor every second Sunday, when the wind allows it. Bring a kite, or borrow one."}
}

// The site belongs to its editors: what they paste is part of the page, as in any such editor.
func (s *Site) html() []template.HTML {
	out := make([]template.HTML, len(s.blocks))
	for i, b := range s.blocks {
		out[i] = template.HTML(b) //nolint:gosec // see above
	}
	return out
}

// ServeHTTP answers with the page, its editor, and what they need.
func (s *Site) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	s.mu.Lock()
	defer s.mu.Unlock()
	switch {
	case r.URL.Path == "/" || r.URL.Path == "/edit":
		name := "page.html"
		if r.URL.Path == "/edit" {
			name = "edit.html"
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = pages.ExecuteTemplate(w, name, map[string]any{"Title": s.title, "Text": s.text, "Blocks": s.html(), "Picker": s.picker})
	case r.URL.Path == "/save" && r.Method == http.MethodPost:
		r.Body = http.MaxBytesReader(w, r.Body, 1<<20)
		if err := r.ParseForm(); err != nil {
			http.Error(w, "that is too much", http.StatusBadRequest)
			return
		}
		s.title, s.text, s.picker = r.PostForm.Get("title"), r.PostForm.Get("text"), strings.TrimSpace(r.PostForm.Get("picker"))
		s.blocks = nil
		for _, b := range r.PostForm["block"] {
			if strings.TrimSpace(b) != "" {
				s.blocks = append(s.blocks, b)
			}
		}
		http.Redirect(w, r, "/", http.StatusSeeOther)
	case r.URL.Path == "/editor.js" || r.URL.Path == "/site.css":
		http.ServeFileFS(w, r, files, r.URL.Path[1:])
	default:
		http.NotFound(w, r)
	}
}
