// Package longtable is a simulated social service for albums of many pictures, with groups that several people contribute to. It is called
// by forms under names, answers 200 to nearly everything and says in the answer whether it went well; captions are counted in bytes, there
// are no alternative texts, nothing can be sent twice with one key, and its lists are a little late. It knows nothing of the application.
package longtable

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	_ "image/jpeg" // what is taken
	_ "image/png"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"brightsatchel/standins/drawn"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/weather"
)

// Place is a page of an account, or a group that several contribute to.
type Place struct {
	ID, Name, Account, Zone string
	Group                   bool
	Everyone                bool
	Members                 int
}

// Picture is a picture that was brought there, and of which post.
type Picture struct {
	ID      string `json:"id"`
	Name    string `json:"name"`
	Width   int    `json:"width"`
	Height  int    `json:"height"`
	content []byte
}

// Post is what somebody put on a place.
type Post struct {
	ID       string    `json:"id"`
	Place    string    `json:"place"`
	Album    string    `json:"album"`
	Words    string    `json:"words"`
	By       string    `json:"by"`
	Mine     bool      `json:"mine"`
	At       int64     `json:"at"` // seconds since 1970
	Pictures []Picture `json:"pictures"`
	made     time.Time
}

type album struct{ id, place, title string }

// What the service takes.
const (
	mostPictures = 30
	mostWords    = 2000 // bytes
	mostSide     = 4096
	mostBytes    = 3_000_000
	// late is how long a post is not in lists.
	late = time.Second
)

// Token is one that is always good, for the first account.
const Token = "longtable-demo-token"

// Service is the service. Calls is how many calls a second it takes of an account.
type Service struct {
	SignIn  signin.Server
	Weather weather.Weather
	Calls   int

	under    string
	mu       sync.Mutex
	places   []Place
	albums   []album
	posts    []*Post
	pictures map[string]*Picture
	n        int
	second   int64
	called   int
}

// New makes the service with made-up pictures. Under is the path under which it is reached.
func New(under string) *Service {
	s := &Service{under: under, Calls: 60, pictures: map[string]*Picture{}, SignIn: signin.Server{Name: "Longtable", Fixed: Token,
		Lives:    10 * time.Minute,
		Accounts: []signin.Account{{ID: "kites", Name: "Tansyloft Kites"}, {ID: "fieldfare", Name: "Fieldfare Studio"}}}}
	s.places = []Place{{"lt-1", "Tansyloft Kites on Longtable", "kites", "Europe/Berlin", false, true, 1260},
		{"lt-2", "Kite builders", "kites", "Europe/Berlin", true, false, 87},
		{"lt-3", "Fieldfare Studio on Longtable", "fieldfare", "Europe/London", false, true, 312}}
	for n, one := range []struct {
		place, title, by, words string
		mine                    bool
		pictures                int
	}{{"lt-1", "Beach days", "Tansyloft Kites", "Low tide, all day", true, 4},
		{"lt-1", "Workshop", "Tansyloft Kites", "Sewing the long tail", true, 3},
		{"lt-2", "What we built", "Marla P.", "My first one", false, 2},
		{"lt-2", "What we built", "Tansyloft Kites", "Ours, for once", true, 1}} {
		to := s.album(one.place, one.title)
		post := &Post{ID: fmt.Sprint("old", n), Place: one.place, Album: to, Words: one.words, By: one.by, Mine: one.mine,
			made: time.Date(2026, 8, 2+n*6, 9, 0, 0, 0, time.UTC)}
		post.At = post.made.Unix()
		for i := range one.pictures {
			p := &Picture{ID: fmt.Sprintf("o%d-%d", n, i), Name: fmt.Sprintf("day_%d%02d.jpg", n+1, i), Width: 1080, Height: 720,
				content: drawn.Kite(40 + n*7 + i)}
			s.pictures[p.ID] = p
			post.Pictures = append(post.Pictures, *p)
		}
		s.posts = append(s.posts, post)
	}
	return s
}

// album finds an album of a place by its title, or makes it.
func (s *Service) album(place, title string) string {
	for _, a := range s.albums {
		if a.place == place && a.title == title {
			return a.id
		}
	}
	s.n++
	s.albums = append(s.albums, album{"al" + strconv.Itoa(s.n), place, title})
	return s.albums[len(s.albums)-1].id
}

// Posts lists what is out there at a place, the newest first.
func (s *Service) Posts(place string) (out []Post) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range slices.Backward(s.posts) {
		if place == "" || p.Place == place {
			out = append(out, *p)
		}
	}
	return out
}

// ServeHTTP answers as the service does.
func (s *Service) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	switch {
	case parts[0] == "see":
		s.see(w, strings.Join(parts[1:], ""))
	case parts[0] == "picture" && len(parts) == 2:
		s.file(w, r, parts[1])
	case parts[0] == "weather":
		s.Weather.Page(w, r, "Longtable", s.under+"/see/lt-1", []string{"forget all access tokens", "throw the application out"},
			func(which string) { s.SignIn.Forget(which != "forget all access tokens") })
	case parts[0] == "authorize":
		s.SignIn.Authorize(w, r)
	case parts[0] == "token" && r.Method == http.MethodPost:
		s.SignIn.Token(w, r)
	case parts[0] == "call" && len(parts) == 2 && r.Method == http.MethodPost:
		account, known := s.SignIn.Account(r)
		if !known {
			say(w, no("sign_in", "Sign in again."))
			return
		}
		if !s.takes() {
			w.Header().Set("Retry-After", "1")
			w.WriteHeader(http.StatusTooManyRequests)
			_, _ = w.Write(no("slow_down", "Too many calls."))
			return
		}
		s.call(w, r, account, parts[1])
	default:
		http.NotFound(w, r)
	}
}

// takes counts a call, and says whether it is one too many in this second.
func (s *Service) takes() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if now := time.Now().Unix(); now != s.second {
		s.second, s.called = now, 0
	}
	s.called++
	return s.called <= s.Calls
}

func well(name string, value any) []byte {
	body, err := json.Marshal(map[string]any{"ok": true, name: value})
	if err != nil {
		panic(err) // of what was just made
	}
	return body
}

func no(code, message string) []byte {
	body, _ := json.Marshal(map[string]any{"ok": false, "code": code, "message": message})
	return body
}

func say(w http.ResponseWriter, body []byte) {
	w.Header().Set("Content-Type", "application/json")
	_, _ = w.Write(body)
}

// call answers a call by its name.
func (s *Service) call(w http.ResponseWriter, r *http.Request, account signin.Account, name string) {
	r.Body = http.MaxBytesReader(w, r.Body, 20<<20)
	changes := map[string]func(r *http.Request, account signin.Account, mode string) []byte{"pictures.put": s.put, "posts.make": s.make,
		"posts.drop": s.drop, "albums.make": s.makeAlbum}
	asks := map[string]func(r *http.Request, account signin.Account) []byte{"account.read": func(_ *http.Request, a signin.Account) []byte {
		return well("account", map[string]string{"id": a.ID, "name": a.Name})
	}, "places.list": s.listPlaces, "albums.list": s.listAlbums, "posts.list": s.listPosts, "posts.read": s.readPost}
	if change := changes[name]; change != nil {
		if name == "pictures.put" {
			if err := r.ParseMultipartForm(20 << 20); err != nil {
				say(w, no("not_understood", "No picture came."))
				return
			}
		} else if err := r.ParseForm(); err != nil {
			say(w, no("not_understood", "That is no form."))
			return
		}
		s.Weather.Change(w, func(mode string) (int, []byte) {
			s.mu.Lock()
			defer s.mu.Unlock()
			return http.StatusOK, change(r, account, mode)
		}, func(words string) { say(w, no("unwanted", words)) })
		return
	}
	if ask := asks[name]; ask != nil {
		s.mu.Lock()
		body := ask(r, account)
		s.mu.Unlock()
		say(w, body)
		return
	}
	say(w, no("unknown_call", "There is no such call."))
}

func (s *Service) listPlaces(r *http.Request, account signin.Account) []byte {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	list := []any{}
	for _, p := range s.places {
		if p.Account == account.ID {
			kind := map[bool]string{true: "group", false: "page"}[p.Group]
			list = append(list, map[string]any{"id": p.ID, "name": p.Name, "kind": kind, "everyone": p.Everyone, "members": p.Members,
				"zone": p.Zone, "picture": "o0-0", "see": scheme + "://" + r.Host + s.under + "/see/" + p.ID})
		}
	}
	return well("places", list)
}

func (s *Service) has(account signin.Account, place string) bool {
	return slices.ContainsFunc(s.places, func(p Place) bool { return p.ID == place && p.Account == account.ID })
}

func (s *Service) listAlbums(r *http.Request, account signin.Account) []byte {
	list := []any{}
	for _, a := range s.albums {
		if !s.has(account, a.place) || r.FormValue("place") != "" && a.place != r.FormValue("place") {
			continue
		}
		n := 0
		for _, p := range s.posts {
			if p.Album == a.id {
				n += len(p.Pictures)
			}
		}
		list = append(list, map[string]any{"id": a.id, "place": a.place, "title": a.title, "pictures": n})
	}
	return well("albums", list)
}

func (s *Service) makeAlbum(r *http.Request, account signin.Account, _ string) []byte {
	place, title := r.FormValue("place"), strings.TrimSpace(r.FormValue("title"))
	if !s.has(account, place) || title == "" || len(title) > 200 {
		return no("no_album", "An album has a place and a title of at most 200 bytes.")
	}
	return well("album", map[string]string{"id": s.album(place, title)})
}

// listPosts lists the posts of a place that are old enough, fifty at a time, before one.
func (s *Service) listPosts(r *http.Request, account signin.Account) []byte {
	list, found := []Post{}, r.FormValue("before") == ""
	for _, p := range slices.Backward(s.posts) {
		if p.ID == r.FormValue("before") {
			found = true
			continue
		}
		if found && s.has(account, p.Place) && (r.FormValue("place") == "" || r.FormValue("place") == p.Place) &&
			(r.FormValue("album") == "" || r.FormValue("album") == p.Album) && time.Since(p.made) > late && len(list) < 50 {
			list = append(list, *p)
		}
	}
	return well("posts", list)
}

func (s *Service) readPost(r *http.Request, account signin.Account) []byte {
	for _, p := range s.posts {
		if p.ID == r.FormValue("post") && s.has(account, p.Place) {
			return well("post", p)
		}
	}
	return no("gone", "There is no such post.")
}

// put takes a picture, which nobody sees yet.
func (s *Service) put(r *http.Request, _ signin.Account, _ string) []byte {
	file, about, err := r.FormFile("picture")
	if err != nil {
		return no("not_understood", "No picture came.")
	}
	defer func() { _ = file.Close() }()
	content, err := io.ReadAll(file)
	if err != nil {
		return no("not_understood", "Half a picture came.")
	}
	config, _, err := image.DecodeConfig(bytes.NewReader(content))
	switch {
	case err != nil:
		return no("no_picture", "That is no picture.")
	case len(content) > mostBytes || max(config.Width, config.Height) > mostSide:
		return no("too_large", fmt.Sprintf("A picture has at most %d pixels and %d bytes here.", mostSide, mostBytes))
	}
	s.n++
	p := &Picture{ID: "pi" + strconv.Itoa(s.n), Name: about.Filename, Width: config.Width, Height: config.Height, content: content}
	s.pictures[p.ID] = p
	return well("picture", map[string]string{"id": p.ID})
}

// make publishes a post.
func (s *Service) make(r *http.Request, account signin.Account, mode string) []byte {
	place, words := r.FormValue("place"), r.FormValue("words")
	ids := strings.FieldsFunc(r.FormValue("pictures"), func(r rune) bool { return r == ',' })
	to := r.FormValue("album")
	switch {
	case !s.has(account, place):
		return no("no_place", "There is no such place.")
	case len(ids) == 0 || len(ids) > mostPictures:
		return no("pictures", fmt.Sprintf("A post has 1 to %d pictures here.", mostPictures))
	case len(words) > mostWords:
		return no("words", fmt.Sprintf("The words have at most %d bytes here.", mostWords))
	case to != "" && !slices.ContainsFunc(s.albums, func(a album) bool { return a.id == to && a.place == place }):
		return no("no_album", "There is no such album.")
	}
	if to == "" {
		to = s.album(place, "On the wall")
	}
	s.n++
	made := &Post{ID: "po" + strconv.Itoa(s.n), Place: place, Album: to, Words: words, By: account.Name, Mine: true, made: time.Now()}
	made.At = made.made.Unix()
	for _, id := range ids {
		p := s.pictures[id]
		if p == nil {
			return no("no_picture", fmt.Sprintf("There is no picture %q.", id))
		}
		if content, size := weather.Shown(p.content, mode); size.X > 0 {
			p.content, p.Width, p.Height = content, size.X, size.Y
		}
		made.Pictures = append(made.Pictures, *p)
	}
	s.posts = append(s.posts, made)
	return well("post", map[string]string{"id": made.ID})
}

func (s *Service) drop(r *http.Request, account signin.Account, _ string) []byte {
	for i, p := range s.posts {
		if p.ID == r.FormValue("post") && s.has(account, p.Place) {
			s.posts = append(s.posts[:i], s.posts[i+1:]...)
			return well("post", map[string]string{"id": p.ID})
		}
	}
	return no("gone", "There is no such post.")
}
