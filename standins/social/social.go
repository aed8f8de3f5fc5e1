// Package social is a simulated social service: a page with albums, some of them with pictures that others posted. It is
// reached over HTTP like a real one, and knows nothing of the application.
package social

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"
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

// Service is the page. Down makes it answer 503 to everything, as a service that is away.
type Service struct {
	albums []string
	media  map[string][]*Media
	under  string // the path under which it is reached
	mu     sync.Mutex
	down   bool

	posts   []*Post
	uploads map[string]*Posted
	n       int
	weather Weather
}

// pageSize is how many entries a list answers at a time.
const pageSize = 3

// New fills the page with made-up pictures. Under is the path under which it is reached, such as /social.
func New(under string) *Service {
	s := &Service{under: under, uploads: map[string]*Posted{},
		albums: []string{"Harbour open day", "Kites of the week", "Posted by visitors"}, media: map[string][]*Media{}}
	captions := []string{"Wind from the sea, and everybody came.", "The long tail", "Before the rain", "Two of a kind", "Up, and up"}
	for a, album := range s.albums {
		for n := range 5 {
			by, own := "Tansyloft Kites", true
			if a == 2 || n == 4 {
				by, own = []string{"Marla P.", "kite.otto", "Brenn & sons"}[(a+n)%3], false
			}
			content := Draw(a*5 + n)
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

// Draw makes a JPEG of a kite in the sky; every number makes another one.
func Draw(n int) []byte {
	const width, height = 1080, 720
	m := image.NewRGBA(image.Rect(0, 0, width, height))
	cx, cy, size := 260+n*139%560, 180+n*97%300, 90+n*23%120
	sail := color.RGBA{R: uint8(120 + n*53%130), G: uint8(40 + n*31%150), B: uint8(30 + n*71%190), A: 255}
	for y := range height {
		for x := range width {
			c := color.RGBA{R: uint8(150 + y*90/height - n*3), G: uint8(190 + y*50/height), B: uint8(225 - n*4), A: 255}
			if hill := height - 90 - (x*x/(4000+n*300))%60; y > hill {
				c = color.RGBA{R: uint8(60 + n*5), G: 100, B: 70, A: 255}
			}
			if dx, dy := abs(x-cx), y-cy; dx*3/2+abs(dy) < size {
				c = sail
				if (x-cx)*dy > 0 {
					c.R, c.G = c.R/2+100, c.G/2+90
				}
			}
			m.SetRGBA(x, y, c)
		}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, m, &jpeg.Options{Quality: 84}); err != nil {
		panic(err) // of a picture that was just made
	}
	return out.Bytes()
}

func abs(n int) int { return max(n, -n) }

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
	if r.Header.Get("Authorization") != "Bearer "+Token {
		http.Error(w, "who are you?", http.StatusUnauthorized)
		return
	}
	if s.posting(w, r, parts) {
		return
	}
	switch {
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
