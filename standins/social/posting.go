package social

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
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// Post is what somebody posted through the application.
type Post struct {
	ID       string    `json:"id"`
	Key      string    `json:"key"`
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

// Weather is how the service is for so many of the calls that change something: "fine"; "lost" takes effect and never answers; "error"
// takes effect and answers 500; "away" answers 503 and does nothing; "busy" answers
// 429; "html" answers with a page; "token" does not know the
// token; "no" refuses.
type Weather struct {
	Mode  string
	Calls int
}

// Weathers are the modes that Weather can have.
var Weathers = []string{"fine", "lost", "error", "away", "busy", "html", "token", "no"}

// SetWeather changes how the service is.
func (s *Service) SetWeather(w Weather) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.weather = w
}

// Posts lists what is out there, the newest first.
func (s *Service) Posts() []Post {
	s.mu.Lock()
	defer s.mu.Unlock()
	out := make([]Post, len(s.posts))
	for i, p := range s.posts {
		out[len(s.posts)-1-i] = *p
	}
	return out
}

// now is the weather for one call that changes something.
func (s *Service) now() string {
	if s.weather.Calls <= 0 || s.weather.Mode == "fine" {
		return "fine"
	}
	s.weather.Calls--
	return s.weather.Mode
}

// change answers a call that changes something, in the weather as it is: do says what it does and answers.
func (s *Service) change(w http.ResponseWriter, do func() (status int, said any)) {
	s.mu.Lock()
	mode := s.now()
	status, said := http.StatusServiceUnavailable, any(nil)
	switch mode {
	case "fine", "lost", "error":
		status, said = do()
	}
	s.mu.Unlock()
	switch mode {
	case "lost":
		panic(http.ErrAbortHandler) // the line is cut
	case "error":
		http.Error(w, "something went wrong here", http.StatusInternalServerError)
	case "away":
		http.Error(w, "away for a while", http.StatusServiceUnavailable)
	case "busy":
		w.Header().Set("Retry-After", "1")
		http.Error(w, "too many", http.StatusTooManyRequests)
	case "html":
		w.Header().Set("Content-Type", "text/html")
		_, _ = w.Write([]byte("<!doctype html><title>Sign in to the wifi</title>"))
	case "token":
		http.Error(w, "who are you?", http.StatusUnauthorized)
	case "no":
		answer(w, http.StatusUnprocessableEntity, map[string]string{"error": "We do not want that."})
	default:
		answer(w, status, said)
	}
}

func answer(w http.ResponseWriter, status int, said any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(said)
}

func refusal(words string, args ...any) (int, any) {
	return http.StatusUnprocessableEntity, map[string]string{"error": fmt.Sprintf(words, args...)}
}

// page says what the page is and takes.
func (s *Service) page(w http.ResponseWriter, r *http.Request) {
	scheme := "http"
	if r.TLS != nil {
		scheme = "https"
	}
	answer(w, http.StatusOK, map[string]any{"id": "windward", "name": "Tansyloft Kites on Windward", "public": true, "followers": 4180,
		"url": scheme + "://" + r.Host + s.under + "/feed", "keysLiveSeconds": int(keysLive.Seconds()), "listLagSeconds": 0,
		"limits": map[string]any{"formats": []string{"jpeg", "png"}, "mostPictures": mostPictures, "mostBytes": mostBytes, "leastSide": 320,
			"mostSide": mostSide, "narrowest": narrowest, "widest": widest, "caption": mostText, "captionIn": "utf16", "hashtags": 10,
			"alt": mostAlt, "altIn": "utf16", "withdraws": true}})
}

// upload takes the file of a picture, which nobody sees yet.
func (s *Service) upload(w http.ResponseWriter, r *http.Request) {
	content, err := io.ReadAll(http.MaxBytesReader(w, r.Body, 40<<20))
	if err != nil {
		return
	}
	s.change(w, func() (int, any) {
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
func (s *Service) post(w http.ResponseWriter, r *http.Request) {
	var asked struct {
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
	s.change(w, func() (int, any) {
		for _, p := range s.posts {
			if key != "" && p.Key == key && time.Since(p.Posted) < keysLive {
				return http.StatusOK, map[string]string{"id": p.ID}
			}
		}
		switch {
		case len(asked.Pictures) == 0 || len(asked.Pictures) > mostPictures:
			return refusal("A post has 1 to %d pictures here.", mostPictures)
		case units(asked.Text) > mostText:
			return refusal("A text has at most %d signs here.", mostText)
		}
		made := &Post{Key: key, Text: asked.Text, Posted: time.Now().UTC()}
		for _, p := range asked.Pictures {
			from := s.uploads[p.Upload]
			if from == nil || units(p.Alt) > mostAlt {
				return refusal("There is no picture %q.", p.Upload)
			}
			shown := *from
			shown.Alt = p.Alt
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
	s.change(w, func() (int, any) {
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
<meta name="viewport" content="width=device-width"><title>Tansyloft Kites on Windward</title>
<style>body{font:16px system-ui;max-width:640px;margin:2rem auto;padding:0 1rem;background:#eef2ee;color:#1d2b28}
article{background:#fff;border-radius:4px;padding:1rem;margin:1rem 0}img{width:100%;height:auto;margin-top:.5rem}</style>
<h1>Tansyloft Kites</h1><p>What everybody sees of the page on this simulated service. <a href="{{.Under}}/weather">Its bad days</a></p>
{{range .Posts}}<article id="{{.ID}}"><p>{{.Text}}</p><small>{{.Posted.Format "2 January 2006, 15:04:05"}}</small>
{{range .Pictures}}<img src="{{$.Under}}/feed/{{.ID}}" width="{{.Width}}" height="{{.Height}}" alt="{{.Alt}}">{{end}}</article>
{{else}}<p>Nothing was posted yet.</p>{{end}}</html>`))

var weather = template.Must(template.New("weather").Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>Bad days of Windward</title>
<style>body{font:16px system-ui;max-width:640px;margin:2rem auto;padding:0 1rem}button{font:inherit;padding:.4rem .8rem}</style>
<h1>Bad days</h1><p>Now: {{.Is.Mode}}{{if .Is.Calls}}, for {{.Is.Calls}} more calls{{end}}.</p><form method="post">
<p><label>For so many calls that change something: <input name="calls" value="1" size="3" inputmode="numeric"></label></p>
{{range .All}}<button name="mode" value="{{.}}">{{.}}</button> {{end}}</form>
<p><a href="{{.Under}}/feed">What is out there</a></p></html>`))

// outside answers what needs no token: what a visitor sees, and the bad days. It says whether it did.
func (s *Service) outside(w http.ResponseWriter, r *http.Request, parts []string) bool {
	switch {
	case len(parts) == 1 && parts[0] == "feed":
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = feed.Execute(w, map[string]any{"Posts": s.Posts(), "Under": s.under})
	case len(parts) == 2 && parts[0] == "feed":
		for _, p := range s.Posts() {
			for _, shown := range p.Pictures {
				if shown.ID == parts[1] {
					w.Header().Set("Content-Type", http.DetectContentType(shown.content))
					_, _ = w.Write(shown.content)
					return true
				}
			}
		}
		http.NotFound(w, r)
	case len(parts) == 1 && parts[0] == "weather":
		if r.Method == http.MethodPost {
			calls, _ := strconv.Atoi(r.FormValue("calls"))
			s.SetWeather(Weather{Mode: r.FormValue("mode"), Calls: min(max(calls, 0), 10_000)})
		}
		s.mu.Lock()
		is := s.weather
		s.mu.Unlock()
		if is.Calls == 0 {
			is.Mode = "fine"
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = weather.Execute(w, map[string]any{"Is": is, "All": Weathers, "Under": s.under})
	default:
		return false
	}
	return true
}

// posting answers what belongs to posts, for whoever has the token. It says whether it did.
func (s *Service) posting(w http.ResponseWriter, r *http.Request, parts []string) bool {
	switch what := r.Method + " " + strings.Join(parts[:1], ""); {
	case what == "GET page" && len(parts) == 1:
		s.page(w, r)
	case what == "POST uploads" && len(parts) == 1:
		s.upload(w, r)
	case what == "POST posts" && len(parts) == 1:
		s.post(w, r)
	case what == "GET posts" && len(parts) == 1:
		list := []any{}
		for _, p := range s.Posts() {
			list = append(list, p)
		}
		page(w, r, list)
	case what == "DELETE posts" && len(parts) == 2:
		s.withdraw(w, parts[1])
	default:
		return false
	}
	return true
}
