// Package signin is how people let an application into their account at a simulated service: OAuth 2.0 with an authorization code and PKCE
// (RFC 6749, RFC 7636), access tokens that end, and refresh tokens that are good for once.
package signin

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"html/template"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"
)

// Client is the id that applications are registered under.
const Client = "media-library"

// Account is who somebody is at the service.
type Account struct{ ID, Name string }

// Server lets applications in. Lives is how long an access token is good.
type Server struct {
	Name     string
	Accounts []Account
	Lives    time.Duration
	// Fixed is a token that is always good, for the first account; "" is none.
	Fixed string

	mu     sync.Mutex
	codes  map[string]*grant
	access map[string]*grant
	renew  map[string]*grant
}

// grant is what one sign-in gave.
type grant struct {
	account   Account
	challenge string
	back      string
	ends      time.Time // of the code, or of the access token
	ended     bool
	spent     map[string]bool
}

func token() string { return rand.Text() }

// Account says who calls, and whether the service knows.
func (s *Server) Account(r *http.Request) (Account, bool) {
	given, found := strings.CutPrefix(r.Header.Get("Authorization"), "Bearer ")
	if !found {
		return Account{}, false
	}
	if s.Fixed != "" && given == s.Fixed {
		return s.Accounts[0], true
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	g := s.access[given]
	if g == nil || g.ended || time.Now().After(g.ends) {
		return Account{}, false
	}
	return g.account, true
}

// Forget makes all access tokens end; with all, nothing can be renewed either.
func (s *Server) Forget(all bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.access = map[string]*grant{}
	if all {
		s.renew = map[string]*grant{}
	}
}

var page = template.Must(template.New("authorize").Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{{.Name}}: let an application in</title>
<style>body{font:16px system-ui;max-width:460px;margin:4rem auto;padding:0 1rem}
button{font:inherit;padding:.5rem 1rem;margin:.25rem 0;display:block;width:100%}</style>
<h1>{{.Name}}</h1><p>An application asks to see what is on your pages, and to post there. Who are you?</p>
<form method="post">{{range .Accounts}}<button name="account" value="{{.ID}}">Let it in as {{.Name}}</button>{{end}}
<button name="account" value="">Do not let it in</button></form></html>`))

// Authorize shows the page on which somebody lets the application in, and sends them back to it.
func (s *Server) Authorize(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	back, err := url.Parse(q.Get("redirect_uri"))
	if err != nil || back.Host == "" || q.Get("client_id") != Client || q.Get("response_type") != "code" ||
		q.Get("code_challenge_method") != "S256" || q.Get("code_challenge") == "" {
		http.Error(w, "that application is not known here", http.StatusBadRequest)
		return
	}
	if r.Method != http.MethodPost {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = page.Execute(w, s)
		return
	}
	answer := url.Values{"state": {q.Get("state")}}
	answer.Set("error", "access_denied")
	for _, a := range s.Accounts {
		if a.ID == r.FormValue("account") {
			code := token()
			s.mu.Lock()
			if s.codes == nil {
				s.codes = map[string]*grant{}
			}
			s.codes[code] = &grant{account: a, challenge: q.Get("code_challenge"), back: q.Get("redirect_uri"), ends: time.Now().Add(time.Minute)}
			s.mu.Unlock()
			answer.Del("error")
			answer.Set("code", code)
		}
	}
	back.RawQuery = answer.Encode()
	http.Redirect(w, r, back.String(), http.StatusSeeOther)
}

// Token gives an access token for a code or for a refresh token, each good for once: one that comes twice ends all that it gave.
func (s *Server) Token(w http.ResponseWriter, r *http.Request) {
	s.mu.Lock()
	defer s.mu.Unlock()
	var g *grant
	switch r.FormValue("grant_type") {
	case "authorization_code":
		code := r.FormValue("code")
		g = s.codes[code]
		delete(s.codes, code)
		sum := sha256.Sum256([]byte(r.FormValue("code_verifier")))
		if g != nil && (time.Now().After(g.ends) || g.back != r.FormValue("redirect_uri") ||
			base64.RawURLEncoding.EncodeToString(sum[:]) != g.challenge) {
			g = nil
		}
	case "refresh_token":
		given := r.FormValue("refresh_token")
		g = s.renew[given]
		if g != nil && g.spent[given] {
			g.ended = true
		}
		if g != nil && g.ended {
			g = nil
		}
		if g != nil {
			g.spent[given] = true
		}
	}
	w.Header().Set("Content-Type", "application/json")
	if g == nil {
		w.WriteHeader(http.StatusBadRequest)
		_ = json.NewEncoder(w).Encode(map[string]string{"error": "invalid_grant"})
		return
	}
	if s.access == nil {
		s.access = map[string]*grant{}
	}
	if s.renew == nil {
		s.renew = map[string]*grant{}
	}
	if g.spent == nil {
		g.spent = map[string]bool{}
	}
	lives := s.Lives
	if lives == 0 {
		lives = time.Hour
	}
	g.ends = time.Now().Add(lives)
	access, renew := token(), token()
	s.access[access], s.renew[renew] = g, g
	_ = json.NewEncoder(w).Encode(map[string]any{"access_token": access, "token_type": "Bearer", "expires_in": int(lives.Seconds()),
		"refresh_token": renew})
}
