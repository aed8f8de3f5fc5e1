// Package beanpole is a simulated social service for upright clips and pictures: files are brought in three steps, a draft is processed for
// a while before it can be published, and hooks are called when it is ready. Besides channels it has advertising accounts, with media of
// their own that nobody sees. Nothing that was published can be taken back from outside. It knows nothing of the application.
package beanpole

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
	"unicode/utf8"

	"brightsatchel/standins/drawn"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/weather"
)

// Channel is where posts go: one that people watch, or an advertising account.
type Channel struct {
	ID, Title, Account, Zone string
	Advertising              bool
	Subscribers              int
}

// Media is a picture or clip that was brought there.
type Media struct {
	ID      string `json:"id"`
	Type    string `json:"type"`
	Alt     string `json:"alt"`
	Width   int    `json:"width"`
	Height  int    `json:"height"`
	content []byte
	bytes   int
}

// Post is a draft, and what was published of it.
type Post struct {
	ID        string    `json:"id"`
	Post      string    `json:"post"` // its id once it is published
	Channel   string    `json:"channel"`
	State     string    `json:"state"` // processing, ready, published, failed
	Reason    string    `json:"reason,omitempty"`
	Text      string    `json:"text"`
	Media     []Media   `json:"media"`
	Published time.Time `json:"published"`
	ready     time.Time
}

// What the service takes.
const (
	mostText    = 500 // code points
	mostAlt     = 1000
	mostMedia   = 10
	mostPixels  = 1080 // of the width
	narrowest   = 9.0 / 16
	widest      = 0.8
	mostPicture = 5_000_000 // bytes
	mostClip    = 60_000_000
)

// Token is one that is always good, for the first account.
const Token = "beanpole-demo-token"

// Service is the service. Takes is how long a draft is processed.
type Service struct {
	SignIn  signin.Server
	Weather weather.Weather
	Takes   time.Duration

	under    string
	mu       sync.Mutex
	channels []Channel
	uploads  map[string]*Media
	posts    []*Post
	hooks    []hook
	n        int
}

// New makes the service with made-up pictures. Under is the path under which it is reached.
func New(under string) *Service {
	s := &Service{under: under, Takes: 1200 * time.Millisecond, uploads: map[string]*Media{},
		SignIn: signin.Server{Name: "Beanpole", Fixed: Token, Lives: 2 * time.Minute, Accounts: []signin.Account{{ID: "7001",
			Name: "Tansyloft Kites"},
			{ID: "7002", Name: "Tansyloft agency"}}},
		channels: []Channel{{"c1", "Tansyloft on Beanpole", "7001", "America/New_York", false, 9300},
			{"ad1", "Advertising: Tansyloft spring", "7001", "Europe/London", true, 0},
			{"c2", "Agency tests", "7002", "Europe/London", false, 12}}}
	for n, channel := range []string{"c1", "c1", "ad1"} {
		post := &Post{ID: fmt.Sprint("old", n), Post: fmt.Sprint("vid", n), Channel: channel, State: "published",
			Text: []string{"Higher", "And higher", "Spring, first try"}[n], Published: time.Date(2026, 10, 4+n*9, 15, 0, 0, 0, time.UTC)}
		for i := range 2 {
			m := Media{ID: fmt.Sprintf("om%d-%d", n, i), Type: "image/jpeg", Width: 1080, Height: 720, content: drawn.Kite(70 + n*3 + i)}
			post.Media = append(post.Media, m)
		}
		s.posts = append(s.posts, post)
	}
	return s
}

// Posts lists what was published on a channel, or on all for "", the newest first.
func (s *Service) Posts(channel string) (out []Post) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range slices.Backward(s.posts) {
		if p.State == "published" && (channel == "" || p.Channel == channel) {
			out = append(out, *p)
		}
	}
	return out
}

// ServeHTTP answers as the service does.
func (s *Service) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	switch {
	case parts[0] == "watch":
		s.watch(w, strings.Join(parts[1:], ""))
	case parts[0] == "file" && len(parts) == 2:
		s.file(w, r, parts[1])
	case parts[0] == "weather":
		s.Weather.Page(w, r, "Beanpole", s.under+"/watch/c1", []string{"forget all access tokens", "throw the application out",
			"call all hooks twice"}, func(which string) {
			if which == "call all hooks twice" {
				s.callHooks("repeated")
				s.callHooks("repeated")
				return
			}
			s.SignIn.Forget(which != "forget all access tokens")
		})
	case parts[0] == "oauth" && len(parts) == 2 && parts[1] == "authorize":
		s.SignIn.Authorize(w, r)
	case parts[0] == "oauth" && len(parts) == 2 && parts[1] == "token" && r.Method == http.MethodPost:
		s.SignIn.Token(w, r)
	case parts[0] == "v2":
		account, known := s.SignIn.Account(r)
		if !known {
			fault(w, http.StatusUnauthorized, "expired", "The access token is not good any more.")
			return
		}
		s.v2(w, r, account, parts[1:])
	default:
		http.NotFound(w, r)
	}
}

func data(value any) []byte {
	body, err := json.Marshal(map[string]any{"data": value})
	if err != nil {
		panic(err) // of what was just made
	}
	return body
}

func problem(code, detail string) []byte {
	body, _ := json.Marshal(map[string]any{"error": map[string]string{"code": code, "detail": detail}})
	return body
}

func fault(w http.ResponseWriter, status int, code, detail string) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_, _ = w.Write(problem(code, detail))
}

func say(w http.ResponseWriter, value any) {
	w.Header().Set("Content-Type", "application/json")
	_, _ = w.Write(data(value))
}

// v2 answers the calls of whoever has a token.
func (s *Service) v2(w http.ResponseWriter, r *http.Request, account signin.Account, parts []string) {
	r.Body = http.MaxBytesReader(w, r.Body, mostClip+1<<20)
	body, err := io.ReadAll(r.Body)
	if err != nil {
		return
	}
	what := r.Method + " " + parts[0]
	if len(parts) == 3 {
		what += " " + parts[2]
	}
	change := func(do func(mode string) (int, []byte)) {
		s.Weather.Change(w, func(mode string) (int, []byte) {
			s.mu.Lock()
			defer s.mu.Unlock()
			return do(mode)
		}, func(words string) { fault(w, http.StatusUnprocessableEntity, "unwanted", words) })
	}
	switch {
	case what == "GET account":
		say(w, map[string]string{"id": account.ID, "name": account.Name})
	case what == "GET channels" && len(parts) == 1:
		say(w, s.listChannels(r, account))
	case what == "GET channels posts":
		say(w, s.listPosts(parts[1], account, r.URL.Query().Get("cursor")))
	case what == "POST uploads" && len(parts) == 1:
		change(func(string) (int, []byte) { return s.announce(r, body) })
	case what == "PUT uploads bytes":
		change(func(string) (int, []byte) { return s.fill(parts[1], body) })
	case what == "POST uploads finish":
		change(func(string) (int, []byte) { return s.finish(parts[1]) })
	case what == "POST channels drafts":
		change(func(mode string) (int, []byte) { return s.draft(parts[1], account, body, mode) })
	case what == "GET drafts" && len(parts) == 2, what == "GET posts" && len(parts) == 2:
		s.read(w, parts[1], account)
	case what == "POST drafts publish":
		change(func(string) (int, []byte) { return s.publish(parts[1], account) })
	case what == "POST hooks" && len(parts) == 1:
		s.addHook(w, body)
	default:
		fault(w, http.StatusNotFound, "unknown", "There is nothing at that address.")
	}
}

func (s *Service) listChannels(r *http.Request, account signin.Account) any {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	list := []any{}
	for _, c := range s.channels {
		if c.Account == account.ID {
			list = append(list, map[string]any{"id": c.ID, "title": c.Title, "advertising": c.Advertising, "subscribers": c.Subscribers,
				"time_zone": c.Zone, "picture": "om0-0", "web": scheme + "://" + r.Host + s.under + "/watch/" + c.ID})
		}
	}
	return list
}

func (s *Service) owns(account signin.Account, channel string) bool {
	return slices.ContainsFunc(s.channels, func(c Channel) bool { return c.ID == channel && c.Account == account.ID })
}

func (s *Service) listPosts(channel string, account signin.Account, cursor string) any {
	from, _ := strconv.Atoi(cursor)
	list, next := []Post{}, ""
	for i, p := range s.Posts(channel) {
		if i < from || !s.owns(account, channel) {
			continue
		}
		if len(list) == 10 {
			next = strconv.Itoa(i)
			break
		}
		list = append(list, p)
	}
	return map[string]any{"posts": list, "next": next}
}

// announce says where the bytes of a file are to be put.
func (s *Service) announce(r *http.Request, body []byte) (int, []byte) {
	var asked struct {
		Bytes int    `json:"bytes"`
		Type  string `json:"type"`
	}
	if json.Unmarshal(body, &asked) != nil || asked.Bytes <= 0 {
		return http.StatusBadRequest, problem("not_understood", "Say how many bytes, and of which type.")
	}
	clip := strings.HasPrefix(asked.Type, "video/")
	if !clip && asked.Bytes > mostPicture || asked.Bytes > mostClip {
		return http.StatusUnprocessableEntity, problem("too_large", "That is too large here.")
	}
	s.n++
	m := &Media{ID: "up" + strconv.Itoa(s.n), Type: asked.Type, bytes: asked.Bytes}
	s.uploads[m.ID] = m
	return http.StatusCreated, data(map[string]string{"id": m.ID, "put": "http://" + r.Host + s.under + "/v2/uploads/" + m.ID + "/bytes"})
}

func (s *Service) fill(id string, body []byte) (int, []byte) {
	m := s.uploads[id]
	if m == nil || len(body) != m.bytes {
		return http.StatusConflict, problem("incomplete", "That is not what was announced.")
	}
	m.content = body
	return http.StatusOK, data(map[string]int{"bytes": len(body)})
}

func (s *Service) finish(id string) (int, []byte) {
	m := s.uploads[id]
	if m == nil || m.content == nil {
		return http.StatusConflict, problem("incomplete", "Nothing was put there.")
	}
	if strings.HasPrefix(m.Type, "video/") {
		if !bytes.Contains(m.content[:min(64, len(m.content))], []byte("ftyp")) {
			return http.StatusUnprocessableEntity, problem("unreadable", "That is no clip.")
		}
		return http.StatusOK, data(map[string]string{"id": id})
	}
	config, _, err := image.DecodeConfig(bytes.NewReader(m.content))
	if err != nil {
		return http.StatusUnprocessableEntity, problem("unreadable", "That is no picture.")
	}
	ratio := float64(config.Width) / float64(config.Height)
	if config.Width > mostPixels || ratio < narrowest-0.001 || ratio > widest+0.001 {
		return http.StatusUnprocessableEntity, problem("proportions",
			fmt.Sprintf("%d × %d is not upright enough, or too wide.", config.Width, config.Height))
	}
	m.Width, m.Height = config.Width, config.Height
	return http.StatusOK, data(map[string]string{"id": id})
}

// draft makes what is processed for a while, and can be published then.
func (s *Service) draft(channel string, account signin.Account, body []byte, mode string) (int, []byte) {
	var asked struct {
		Text  string `json:"text"`
		Media []struct {
			Upload string `json:"upload"`
			Alt    string `json:"alt"`
		} `json:"media"`
	}
	switch {
	case json.Unmarshal(body, &asked) != nil:
		return http.StatusBadRequest, problem("not_understood", "That is not understood.")
	case !s.owns(account, channel):
		return http.StatusNotFound, problem("no_channel", "There is no such channel.")
	case len(asked.Media) == 0 || len(asked.Media) > mostMedia:
		return http.StatusUnprocessableEntity, problem("media", fmt.Sprintf("A post has 1 to %d pictures or clips here.", mostMedia))
	case utf8.RuneCountInString(asked.Text) > mostText:
		return http.StatusUnprocessableEntity, problem("text", fmt.Sprintf("A text has at most %d characters here.", mostText))
	}
	s.n++
	p := &Post{ID: "dr" + strconv.Itoa(s.n), Channel: channel, State: "processing", Text: asked.Text, ready: time.Now().Add(s.Takes)}
	for _, one := range asked.Media {
		m := s.uploads[one.Upload]
		if m == nil || utf8.RuneCountInString(one.Alt) > mostAlt {
			return http.StatusUnprocessableEntity, problem("no_upload", fmt.Sprintf("There is no upload %q.", one.Upload))
		}
		shown := *m
		shown.Alt = one.Alt
		if !strings.HasPrefix(m.Type, "video/") {
			if content, size := weather.Shown(m.content, mode); size.X > 0 {
				shown.content, shown.Width, shown.Height = content, size.X, size.Y
			}
		}
		p.Media = append(p.Media, shown)
	}
	s.posts = append(s.posts, p)
	time.AfterFunc(s.Takes, func() { s.callHooks(p.ID) })
	return http.StatusCreated, data(map[string]string{"id": p.ID, "state": p.State})
}

// find gives a draft by its id, or by that of the post that it became.
func (s *Service) find(id string, account signin.Account) *Post {
	for _, p := range s.posts {
		if (p.ID == id || p.Post == id && id != "") && s.owns(account, p.Channel) {
			if p.State == "processing" && time.Now().After(p.ready) {
				p.State = "ready"
			}
			return p
		}
	}
	return nil
}

func (s *Service) read(w http.ResponseWriter, id string, account signin.Account) {
	s.mu.Lock()
	p := s.find(id, account)
	var said Post
	if p != nil {
		said = *p
	}
	s.mu.Unlock()
	if p == nil {
		fault(w, http.StatusNotFound, "gone", "There is no such draft.")
		return
	}
	say(w, said)
}

func (s *Service) publish(id string, account signin.Account) (int, []byte) {
	p := s.find(id, account)
	switch {
	case p == nil:
		return http.StatusNotFound, problem("gone", "There is no such draft.")
	case p.State == "published":
		return http.StatusConflict, problem("already", "That draft was published before.")
	case p.State != "ready":
		return http.StatusConflict, problem("not_ready", "That draft is being processed.")
	}
	s.n++
	p.State, p.Post, p.Published = "published", "vid"+strconv.Itoa(s.n), time.Now().UTC()
	return http.StatusOK, data(map[string]string{"post": p.Post})
}
