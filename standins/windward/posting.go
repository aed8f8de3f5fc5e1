package windward

import (
	"bytes"
	"encoding/json"
	"fmt"
	"html/template"
	"image"
	_ "image/jpeg" // what is taken
	_ "image/png"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"brightsatchel/standins/signin"
	"brightsatchel/standins/weather"
)

// Post is what somebody posted through the application.
type Post struct {
	ID       string    `json:"id"`
	Key      string    `json:"key"`
	Page     string    `json:"page"`
	Text     string    `json:"text"`
	Posted   time.Time `json:"posted"`
	Pictures []Posted  `json:"pictures"`
}

// Posted is a picture of a post.
type Posted struct {
	ID      string `json:"id"`
	Alt     string `json:"alt"`
	Width   int    `json:"width"`
	Height  int    `json:"height"`
	content []byte
}

// What the page takes.
const (
	mostPictures = 4
	mostText     = 280 // UTF-16 units
	mostAlt      = 400
	mostSide     = 2048
	mostBytes    = 1_000_000
	narrowest    = 0.8
	widest       = 1.91
	keysLive     = time.Hour
)

// Page is where posts go.
type Page struct {
	ID, Name, Account, Zone string
	Public                  bool
	Followers               int
}

// pages are those of all accounts.
var pages = []Page{
	{"windward", "Tansyloft Kites on Windward", "a1", "Europe/London", true, 4180},
	{"windward-club", "Kite club on Windward", "a1", "Europe/London", false, 410},
	{"windward-workshop", "Tansyloft Workshop on Windward", "a2", "Europe/Berlin", true, 96},
}

// Posts lists what is out there on a page, or on all for "", the newest first.
func (s *Service) Posts(page string) (out []Post) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range slices.Backward(s.posts) {
		if page == "" || p.Page == page {
			out = append(out, *p)
		}
	}
	return out
}

// change answers a call that changes something, in the weather as it is: do says what it does and answers.
func (s *Service) change(w http.ResponseWriter, do func(mode string) (status int, said any)) {
	s.Weather.Change(w, func(mode string) (int, []byte) {
		s.mu.Lock()
		defer s.mu.Unlock()
		status, said := do(mode)
		body, err := json.Marshal(said)
		if err != nil {
			panic(err) // of what was just made
		}
		return status, body
	}, func(words string) { answer(w, http.StatusUnprocessableEntity, map[string]string{"error": words}) })
}

func answer(w http.ResponseWriter, status int, said any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(said)
}

func refusal(words string, args ...any) (int, any) {
	return http.StatusUnprocessableEntity, map[string]string{"error": fmt.Sprintf(words, args...)}
}

// list says what the pages of an account are and take.
func (s *Service) list(w http.ResponseWriter, r *http.Request, account signin.Account) {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	list := []any{}
	for _, p := range pages {
		if p.Account != account.ID {
			continue
		}
		list = append(list, map[string]any{"id": p.ID, "name": p.Name, "public": p.Public, "followers": p.Followers, "zone": p.Zone,
			"picture": "m0-0", "url": scheme + "://" + r.Host + s.under + "/feed/" + p.ID, "keysLiveSeconds": int(keysLive.Seconds()),
			"listLagSeconds": 0,
			"limits": map[string]any{"formats": []string{"jpeg", "png"}, "mostPictures": mostPictures, "mostBytes": mostBytes, "leastSide": 320,
				"mostSide": mostSide, "narrowest": narrowest, "widest": widest, "caption": s.mostText(), "captionIn": "utf16", "hashtags": 10,
				"alt": mostAlt, "altIn": "utf16", "withdraws": true}})
	}
	page(w, r, list)
}

// SetMostText changes how long a text may be, as services do from one day to the next; 0 is as before.
func (s *Service) SetMostText(units int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.text = units
}

func (s *Service) mostText() int {
	if s.text > 0 {
		return s.text
	}
	return mostText
}

// upload takes the file of a picture, which nobody sees yet.
func (s *Service) upload(w http.ResponseWriter, r *http.Request) {
	content, err := io.ReadAll(http.MaxBytesReader(w, r.Body, 40<<20))
	if err != nil {
		return
	}
	s.change(w, func(string) (int, any) {
		config, _, err := image.DecodeConfig(bytes.NewReader(content))
		ratio := float64(config.Width) / float64(max(1, config.Height))
		switch {
		case err != nil:
			return refusal("That is no picture.")
		case len(content) > mostBytes:
			return refusal("A picture has at most %d bytes here.", mostBytes)
		case max(config.Width, config.Height) > mostSide || ratio < narrowest || ratio > widest:
			return refusal("A picture of %d × %d is not taken here.", config.Width, config.Height)
		}
		s.n++
		id := "u" + strconv.Itoa(s.n)
		s.uploads[id] = &Posted{ID: id, Width: config.Width, Height: config.Height, content: content}
		return http.StatusCreated, map[string]string{"id": id}
	})
}

// post publishes one; the same key gives the same post for an hour.
func (s *Service) post(w http.ResponseWriter, r *http.Request, account signin.Account) {
	var asked struct {
		Page     string `json:"page"`
		Text     string `json:"text"`
		Pictures []struct {
			Upload string `json:"upload"`
			Alt    string `json:"alt"`
		} `json:"pictures"`
	}
	if json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<20)).Decode(&asked) != nil {
		answer(w, http.StatusBadRequest, map[string]string{"error": "That is not understood."})
		return
	}
	key := r.Header.Get("Idempotency-Key")
	s.change(w, func(mode string) (int, any) {
		for _, p := range s.posts {
			if key != "" && p.Key == key && time.Since(p.Posted) < keysLive {
				return http.StatusOK, map[string]string{"id": p.ID}
			}
		}
		switch {
		case len(asked.Pictures) == 0 || len(asked.Pictures) > mostPictures:
			return refusal("A post has 1 to %d pictures here.", mostPictures)
		case !slices.ContainsFunc(pages, func(p Page) bool { return p.ID == asked.Page && p.Account == account.ID }):
			return refusal("There is no page %q.", asked.Page)
		case units(asked.Text) > s.mostText():
			return refusal("A text has at most %d signs here.", s.mostText())
		}
		made := &Post{Key: key, Page: asked.Page, Text: asked.Text, Posted: time.Now().UTC()}
		for _, p := range asked.Pictures {
			from := s.uploads[p.Upload]
			if from == nil || units(p.Alt) > mostAlt {
				return refusal("There is no picture %q.", p.Upload)
			}
			shown := *from
			shown.Alt = p.Alt
			if content, size := weather.Shown(from.content, mode); size.X > 0 {
				shown.content, shown.Width, shown.Height = content, size.X, size.Y
			}
			made.Pictures = append(made.Pictures, shown)
		}
		s.n++
		made.ID = "p" + strconv.Itoa(s.n)
		s.posts = append(s.posts, made)
		return http.StatusCreated, map[string]string{"id": made.ID}
	})
}

func units(text string) (n int) {
	for _, r := range text {
		n += 1 + max(0, utf8.RuneLen(r)-3)
	}
	return n
}

// withdraw takes a post back.
func (s *Service) withdraw(w http.ResponseWriter, id string) {
	s.change(w, func(string) (int, any) {
		for i, p := range s.posts {
			if p.ID == id {
				s.posts = append(s.posts[:i], s.posts[i+1:]...)
				return http.StatusOK, map[string]string{"id": id}
			}
		}
		return http.StatusNotFound, map[string]string{"error": "There is no such post."}
	})
}

var feed = template.Must(template.New("feed").Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{{.Page.Name}}</title>
<style>body{font:16px system-ui;max-width:640px;margin:2rem auto;padding:0 1rem;background:#eef2ee;color:#1d2b28}
article{background:#fff;border-radius:4px;padding:1rem;margin:1rem 0}img{width:100%;height:auto;margin-top:.5rem}</style>
<h1>{{.Page.Name}}</h1><p>What {{if .Page.Public}}everybody sees{{else}}its members see{{end}} of the page on this simulated service.
<a href="{{.Under}}/weather">Its bad days</a></p>
{{range .Posts}}<article id="{{.ID}}"><p>{{.Text}}</p><small>{{.Posted.Format "2 January 2006, 15:04:05"}}</small>
{{range .Pictures}}<img src="{{$.Under}}/pictures/{{.ID}}" width="{{.Width}}" height="{{.Height}}" alt="{{.Alt}}">{{end}}</article>
{{else}}<p>Nothing was posted yet.</p>{{end}}</html>`))

// outside answers what needs no token: what a visitor sees, signing in, and the bad days. It says whether it did.
func (s *Service) outside(w http.ResponseWriter, r *http.Request, parts []string) bool {
	switch {
	case parts[0] == "feed" && len(parts) <= 2:
		of := pages[0]
		for _, p := range pages {
			if len(parts) == 2 && p.ID == parts[1] {
				of = p
			}
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = feed.Execute(w, map[string]any{"Posts": s.Posts(of.ID), "Under": s.under, "Page": of})
	case parts[0] == "pictures" && len(parts) == 2:
		if shown := s.picture(parts[1]); shown != nil {
			w.Header().Set("Content-Type", http.DetectContentType(shown.content))
			_, _ = w.Write(shown.content)
			return true
		}
		http.NotFound(w, r)
	case len(parts) == 1 && parts[0] == "weather":
		s.Weather.Page(w, r, "Windward", s.under+"/feed", []string{"forget all access tokens", "throw the application out"},
			func(which string) { s.SignIn.Forget(which != "forget all access tokens") })
	case len(parts) == 1 && parts[0] == "authorize":
		s.SignIn.Authorize(w, r)
	case len(parts) == 1 && parts[0] == "token" && r.Method == http.MethodPost:
		s.SignIn.Token(w, r)
	default:
		return false
	}
	return true
}

// picture finds a picture that was posted.
func (s *Service) picture(id string) *Posted {
	for _, p := range s.Posts("") {
		for _, shown := range p.Pictures {
			if shown.ID == id {
				return &shown
			}
		}
	}
	return nil
}

// posting answers what belongs to posts, for whoever has the token. It says whether it did.
func (s *Service) posting(w http.ResponseWriter, r *http.Request, account signin.Account, parts []string) bool {
	switch what := r.Method + " " + strings.Join(parts[:1], ""); {
	case what == "GET pages" && len(parts) == 1:
		s.list(w, r, account)
	case what == "POST uploads" && len(parts) == 1:
		s.upload(w, r)
	case what == "POST posts" && len(parts) == 1:
		s.post(w, r, account)
	case what == "GET posts" && len(parts) == 1:
		list := []any{}
		for _, p := range s.Posts(r.URL.Query().Get("page")) {
			list = append(list, p)
		}
		page(w, r, list)
	case what == "GET posts" && len(parts) == 2:
		for _, p := range s.Posts("") {
			if p.ID == parts[1] {
				answer(w, http.StatusOK, p)
				return true
			}
		}
		answer(w, http.StatusNotFound, map[string]string{"error": "There is no such post."})
	case what == "DELETE posts" && len(parts) == 2:
		s.withdraw(w, parts[1])
	default:
		return false
	}
	return true
}

// Edit changes the text of a post, as somebody does who signs in there.
func (s *Service) Edit(id, text string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range s.posts {
		if p.ID == id {
			p.Text = text
		}
	}
}

// Remove takes a post away, as somebody does who signs in there.
func (s *Service) Remove(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.posts = slices.DeleteFunc(s.posts, func(p *Post) bool { return p.ID == id })
}
