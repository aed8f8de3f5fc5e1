// Package windward is a simulated social service for short posts: few pictures in strict proportions, texts counted in UTF-16 units, posts
// that can be sent again with the same key. Its first page has albums, some of them with pictures that others posted. It is reached over
// HTTP like a real one, and knows nothing of the application.
package windward

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"brightsatchel/standins/drawn"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/weather"
)

// Token is what the service asks for.
const Token = "windward-demo-token"

// Media is a picture on the page.
type Media struct {
	ID        string    `json:"id"`
	Album     string    `json:"album"`
	FileName  string    `json:"fileName"`
	Caption   string    `json:"caption"`
	MediaType string    `json:"mediaType"`
	Bytes     int64     `json:"bytes"`
	Posted    time.Time `json:"posted"`
	PostedBy  string    `json:"postedBy"`
	Own       bool      `json:"own"`
	content   []byte
}

// Service is the service. Down makes it answer 503 to everything, as one that is away.
type Service struct {
	SignIn  signin.Server
	Weather weather.Weather

	albums []string
	media  map[string][]*Media
	under  string // the path under which it is reached
	mu     sync.Mutex
	down   bool

	posts   []*Post
	uploads map[string]*Posted
	n       int
	text    int // most units of a text, where that was changed
}

// pageSize is how many entries a list answers at a time.
const pageSize = 3

// New fills the page with made-up pictures. Under is the path under which it is reached, such as /social.
func New(under string) *Service {
	s := &Service{under: under, uploads: map[string]*Posted{}, SignIn: signin.Server{Name: "Windward", Fixed: Token,
		Accounts: []signin.Account{{ID: "a1", Name: "Tansyloft Kites"}, {ID: "a2", Name: "Tansyloft Workshop"}}},
		albums: []string{"Harbour open day", "Kites of the week", "Posted by visitors"}, media: map[string][]*Media{}}
	captions := []string{"Wind from the sea, and everybody came.", "The long tail", "Before the rain", "Two of a kind", "Up, and up"}
	for a, album := range s.albums {
		for n := range 5 {
			by, own := "Tansyloft Kites", true
			if a == 2 || n == 4 {
				by, own = []string{"Marla P.", "kite.otto", "Brenn & sons"}[(a+n)%3], false
			}
			content := drawn.Kite(a*5 + n)
			s.media[album] = append(s.media[album], &Media{
				ID: fmt.Sprintf("m%d-%d", a, n), Album: album, FileName: fmt.Sprintf("post_%d%02d.jpg", 410+a, n),
				Caption:   captions[(a+n)%len(captions)],
				MediaType: "image/jpeg", Bytes: int64(len(content)), Posted: time.Date(2026, 9, 3+a*7+n, 10, 30, 0, 0, time.UTC),
				PostedBy: by, Own: own, content: content,
			})
		}
	}
	return s
}

// SetDown makes the service away or back.
func (s *Service) SetDown(down bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.down = down
}

// ServeHTTP answers as the service does: lists in pages of three, files as they are.
func (s *Service) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	s.mu.Lock()
	down := s.down
	s.mu.Unlock()
	if down {
		http.Error(w, "away for a while", http.StatusServiceUnavailable)
		return
	}
	parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	if s.outside(w, r, parts) {
		return
	}
	account, known := s.SignIn.Account(r)
	if !known {
		http.Error(w, "who are you?", http.StatusUnauthorized)
		return
	}
	if s.posting(w, r, account, parts) {
		return
	}
	switch {
	case len(parts) == 1 && parts[0] == "me":
		answer(w, http.StatusOK, account)
	case account.ID != "a1":
		page(w, r, []any{})
	case len(parts) == 1 && parts[0] == "albums":
		list := []any{}
		for i, title := range s.albums {
			list = append(list, map[string]any{"id": strconv.Itoa(i), "title": title, "count": len(s.media[title])})
		}
		page(w, r, list)
	case len(parts) == 3 && parts[0] == "albums" && parts[2] == "media":
		i, err := strconv.Atoi(parts[1])
		if err != nil || i < 0 || i >= len(s.albums) {
			http.NotFound(w, r)
			return
		}
		list := []any{}
		for _, m := range s.media[s.albums[i]] {
			list = append(list, m)
		}
		page(w, r, list)
	case len(parts) == 3 && parts[0] == "media" && parts[2] == "content":
		if p := s.picture(parts[1]); p != nil {
			w.Header().Set("Content-Type", http.DetectContentType(p.content))
			_, _ = w.Write(p.content)
			return
		}
		for _, album := range s.media {
			for _, m := range album {
				if m.ID == parts[1] {
					w.Header().Set("Content-Type", m.MediaType)
					_, _ = w.Write(m.content)
					return
				}
			}
		}
		http.NotFound(w, r)
	default:
		http.NotFound(w, r)
	}
}

func page(w http.ResponseWriter, r *http.Request, list []any) {
	from, _ := strconv.Atoi(r.URL.Query().Get("after"))
	from = min(max(from, 0), len(list))
	to := min(from+pageSize, len(list))
	next := ""
	if to < len(list) {
		next = strconv.Itoa(to)
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(map[string]any{"items": list[from:to], "next": next})
}
