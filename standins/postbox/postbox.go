// Package postbox is a simulated mail server: it takes every letter, delivers none, and shows them on a page. Addresses that begin with
// "nobody" it does not know, at "full" it is always just full, "slow" takes its time, and "gone" hangs up when it has the letter.
package postbox

import (
	"bytes"
	_ "embed" // for the page
	"encoding/base64"
	"errors"
	"html/template"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
	"github.com/jhillyerd/enmime/v2"
)

// Letter is a letter that came in.
type Letter struct {
	Number  int
	To      string
	Came    time.Time
	Subject string
	Text    string
	HTML    string
	Headers map[string]string
	Raw     []byte
}

// most letters are kept, and mostBytes of each taken.
const (
	most      = 1000
	mostBytes = 5 << 20
)

// Box is the mail server.
type Box struct {
	mu      sync.Mutex
	letters []Letter
	number  int
	away    bool
}

// New returns an empty one.
func New() *Box { return &Box{} }

// Server takes letters at an address.
func (b *Box) Server(address string) *smtp.Server {
	server := smtp.NewServer(b)
	server.Addr, server.Domain = address, "postbox.example"
	server.MaxMessageBytes, server.MaxRecipients = mostBytes, 10
	server.ReadTimeout, server.WriteTimeout = time.Minute, time.Minute
	return server
}

// Letters are those that came in, the newest first.
func (b *Box) Letters() []Letter {
	b.mu.Lock()
	defer b.mu.Unlock()
	out := slices.Clone(b.letters)
	slices.Reverse(out)
	return out
}

// SetAway has it refuse everybody, as a server that is being repaired.
func (b *Box) SetAway(away bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.away = away
}

// NewSession implements smtp.Backend.
func (b *Box) NewSession(conn *smtp.Conn) (smtp.Session, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.away {
		return nil, &smtp.SMTPError{Code: 421, EnhancedCode: smtp.EnhancedCode{4, 3, 2}, Message: "The postbox is being painted"}
	}
	return &session{box: b, conn: conn}, nil
}

type session struct {
	box  *Box
	conn *smtp.Conn
	to   []string
}

func (*session) Mail(string, *smtp.MailOptions) error { return nil }

func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	switch {
	case strings.HasPrefix(to, "nobody"):
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "Nobody of that name lives here"}
	case strings.HasPrefix(to, "full"):
		return &smtp.SMTPError{Code: 452, EnhancedCode: smtp.EnhancedCode{4, 2, 2}, Message: "The letter box is full"}
	case strings.HasPrefix(to, "slow"):
		time.Sleep(2 * time.Second)
	}
	s.to = append(s.to, to)
	return nil
}

func (s *session) Data(r io.Reader) error {
	raw, err := io.ReadAll(io.LimitReader(r, mostBytes+1))
	if err != nil || len(raw) > mostBytes {
		return errors.Join(err, errors.New("that letter is too heavy"))
	}
	for _, to := range s.to {
		if err := s.box.put(to, raw); err != nil {
			return &smtp.SMTPError{Code: 554, EnhancedCode: smtp.EnhancedCode{5, 6, 0}, Message: "That is no letter"}
		}
		if strings.HasPrefix(to, "gone") {
			return errors.Join(s.conn.Close(), errors.New("hung up"))
		}
	}
	return nil
}

func (s *session) Reset()      { s.to = nil }
func (*session) Logout() error { return nil }

func (b *Box) put(to string, raw []byte) error {
	envelope, err := enmime.ReadEnvelope(bytes.NewReader(raw))
	if err != nil {
		return err
	}
	l := Letter{To: to, Came: time.Now(), Subject: envelope.GetHeader("Subject"), Text: envelope.Text, HTML: envelope.HTML,
		Headers: map[string]string{}, Raw: raw}
	for _, name := range envelope.GetHeaderKeys() {
		l.Headers[name] = envelope.GetHeader(name)
	}
	for _, part := range append(envelope.Inlines, envelope.OtherParts...) {
		id := strings.Trim(part.ContentID, "<>")
		if id != "" && strings.HasPrefix(part.ContentType, "image/") {
			l.HTML = strings.ReplaceAll(l.HTML, "cid:"+id, "data:"+part.ContentType+";base64,"+base64.StdEncoding.EncodeToString(part.Content))
		}
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.number++
	l.Number = b.number
	b.letters = append(b.letters[max(0, len(b.letters)-most+1):], l)
	return nil
}

//go:embed postbox.html
var pageHTML string

var page = template.Must(template.New("postbox").Parse(pageHTML))

// ServeHTTP shows what came in; letters by their number.
func (b *Box) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if r.Method == http.MethodPost {
		b.SetAway(r.FormValue("away") == "true")
		http.Redirect(w, r, r.URL.Path, http.StatusSeeOther)
		return
	}
	all := b.Letters()
	shown := map[string]any{"All": all, "Away": b.isAway()}
	if number, err := strconv.Atoi(strings.Trim(r.URL.Path, "/")); err == nil {
		at := slices.IndexFunc(all, func(l Letter) bool { return l.Number == number })
		if at < 0 {
			http.NotFound(w, r)
			return
		}
		shown["One"] = all[at]
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = page.Execute(w, shown)
}

func (b *Box) isAway() bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.away
}
