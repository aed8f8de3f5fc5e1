package outlets

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/core/wording"
)

// Page is where posts go at an outlet, with who sees them and what it takes.
type Page struct {
	ID       string
	Name     string
	Address  string // for a visitor
	Audience string // who sees it, in words
	Limits   sending.Limits
	Ways     once.Ways
}

// File is a picture or clip on its way to an outlet.
type File struct {
	Body      io.ReadCloser
	Bytes     int64
	MediaType string
}

// Content is what a post shows.
type Content struct {
	Page    string // its id there
	Caption string
	Alts    []string // of each picture
	// Open opens the file of a picture, by its number.
	Open func(ctx context.Context, picture int) (File, error)
}

// Poster is an outlet that posts are sent to.
type Poster interface {
	// Pages lists where posts can go.
	Pages(ctx context.Context) ([]Page, error)
	// Do carries out a step of a post that was begun, and says what came of it. The key is that of once.Key.
	Do(ctx context.Context, s once.Step, p once.Post, key string, c Content) once.Outcome
	// Address is where a visitor sees a post.
	Address(page Page, remote string) string
	// Withdraw takes a post back. It says ErrGone of one that is not there any more.
	Withdraw(ctx context.Context, remote string) error
}

// said is what a service may say at most, in bytes.
const said = 1 << 20

// outcomeOf is what an answer to a call says. Only what the service says clearly counts: everything else is lost, and what became of it has
// to be found out. Into, when it is not nil, is filled with what a success says, and gives the id.
func outcomeOf(answer *http.Response, err error, id func(body []byte) string) once.Outcome {
	if err != nil {
		return once.Outcome{Kind: once.Lost, Why: "It did not answer."}
	}
	defer func() { _ = answer.Body.Close() }()
	body, err := io.ReadAll(io.LimitReader(answer.Body, said+1))
	if err != nil || len(body) > said {
		return once.Outcome{Kind: once.Lost, Why: "Its answer was broken off."}
	}
	switch code := answer.StatusCode; {
	case code >= 200 && code < 300:
		if got := id(body); got != "" {
			return once.Outcome{Kind: once.Done, ID: got}
		}
		return once.Outcome{Kind: once.Lost, Why: "Its answer says nothing."}
	case code == http.StatusTooManyRequests:
		return once.Outcome{Kind: once.Later, After: retryAfter(answer.Header)}
	case code == http.StatusUnauthorized || code == http.StatusForbidden:
		return once.Outcome{Kind: once.No, Why: "It does not accept our access any more. Connect it again, then try again."}
	case code >= 400 && code < 500:
		var problem struct {
			Error string `json:"error"`
		}
		if json.Unmarshal(body, &problem) != nil || problem.Error == "" {
			return once.Outcome{Kind: once.Lost, Why: "Its answer is not understood."} // of something between us and it, perhaps
		}
		return once.Outcome{Kind: once.No, Why: "It says: " + shortened(problem.Error)}
	}
	return once.Outcome{Kind: once.Lost, Why: "It answered " + answer.Status + "."}
}

func shortened(text string) string { return sending.Shortened(text, 300, sending.Signs) }

// retryAfter reads how long a service asks one to wait (RFC 9110 section 10.2.3), within a day.
func retryAfter(h http.Header) time.Duration {
	text := h.Get("Retry-After")
	after := 30 * time.Second
	if seconds, err := strconv.Atoi(text); err == nil {
		after = time.Duration(seconds) * time.Second
	} else if at, err := http.ParseTime(text); err == nil {
		after = time.Until(at)
	}
	return min(24*time.Hour, max(time.Second, after))
}

// The page of the social service, and how its posts are sent: pictures first, one by one; then the post, with a key.

func (s social) Pages(ctx context.Context) ([]Page, error) {
	answer, err := s.get(ctx, s.address.JoinPath("page"))
	if err != nil {
		return nil, err
	}
	defer func() { _ = answer.Body.Close() }()
	var page struct {
		ID        string         `json:"id"`
		Name      string         `json:"name"`
		URL       string         `json:"url"`
		Public    bool           `json:"public"`
		Followers int            `json:"followers"`
		Limits    sending.Limits `json:"limits"`
		Keys      int            `json:"keysLiveSeconds"`
		Lag       int            `json:"listLagSeconds"`
	}
	if err := json.NewDecoder(io.LimitReader(answer.Body, said)).Decode(&page); err != nil || page.ID == "" {
		return nil, fmt.Errorf("%w: %w", ErrAway, errors.Join(err, errors.New("its page is not understood")))
	}
	audience := wording.Count(page.Followers, "member", "members")
	if page.Public {
		audience = "everyone; " + wording.Count(page.Followers, "person follows it", "people follow it")
	}
	return []Page{{ID: page.ID, Name: shortened(page.Name), Address: page.URL, Audience: audience, Limits: page.Limits, Ways: once.Ways{
		Keys: time.Duration(page.Keys) * time.Second, LooksUp: true, Lag: time.Duration(page.Lag) * time.Second, Timeout: 20 * time.Second,
		Late: time.Minute}}}, nil
}

func (s social) Address(page Page, remote string) string { return page.Address + "#" + remote }

func (s social) Do(ctx context.Context, step once.Step, p once.Post, key string, c Content) once.Outcome {
	switch step.Do {
	case once.Upload:
		return s.upload(ctx, step.Item, c)
	case once.Place, once.PlaceAgain:
		type picture struct {
			Upload string `json:"upload"`
			Alt    string `json:"alt"`
		}
		post := struct {
			Text     string    `json:"text"`
			Pictures []picture `json:"pictures"`
		}{Text: c.Caption}
		for i, id := range p.Media {
			post.Pictures = append(post.Pictures, picture{id, c.Alts[i]})
		}
		body, err := json.Marshal(post)
		if err != nil {
			return once.Outcome{Kind: once.No, Why: err.Error()}
		}
		answer, err := s.send(ctx, http.MethodPost, s.address.JoinPath("posts"), bytes.NewReader(body), int64(len(body)),
			map[string]string{"Content-Type": "application/json", "Idempotency-Key": key})
		return outcomeOf(answer, err, idIn)
	case once.LookUp:
		return s.lookUp(ctx, key)
	}
	return once.Outcome{Kind: once.Lost}
}

func idIn(body []byte) string {
	var made struct {
		ID string `json:"id"`
	}
	_ = json.Unmarshal(body, &made)
	return made.ID
}

func (s social) upload(ctx context.Context, picture int, c Content) once.Outcome {
	file, err := c.Open(ctx, picture)
	if err != nil {
		return once.Outcome{Kind: once.No, Why: err.Error()}
	}
	defer func() { _ = file.Body.Close() }()
	answer, err := s.send(ctx, http.MethodPost, s.address.JoinPath("uploads"), file.Body, file.Bytes,
		map[string]string{"Content-Type": file.MediaType})
	return outcomeOf(answer, err, idIn)
}

// lookUp looks for the post that was made with a key among those of the page.
func (s social) lookUp(ctx context.Context, key string) once.Outcome {
	type post struct {
		ID  string `json:"id"`
		Key string `json:"key"`
	}
	found, err := pages[post](ctx, s, "posts")
	if err != nil {
		return once.Outcome{Kind: once.Lost, Why: "It does not say what is on its page."}
	}
	for _, p := range found {
		if p.Key == key {
			return once.Outcome{Kind: once.Done, ID: p.ID}
		}
	}
	return once.Outcome{Kind: once.Absent}
}

func (s social) Withdraw(ctx context.Context, remote string) error {
	answer, err := s.send(ctx, http.MethodDelete, s.address.JoinPath("posts", url.PathEscape(remote)), nil, 0, nil)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrAway, err)
	}
	_ = answer.Body.Close()
	switch answer.StatusCode {
	case http.StatusOK, http.StatusNoContent:
		return nil
	case http.StatusNotFound, http.StatusGone:
		return ErrGone
	case http.StatusUnauthorized, http.StatusForbidden:
		return ErrRefused
	}
	return fmt.Errorf("%w: %s", ErrAway, answer.Status)
}

// send makes a call that changes something, once: the client would repeat one on a connection that was closed meanwhile, so it is given
// nothing to repeat it with.
func (s social) send(ctx context.Context, method string, at *url.URL, body io.Reader, bytes int64, headers map[string]string) (
	*http.Response, error) {
	request, err := http.NewRequestWithContext(ctx, method, at.String(), body)
	if err != nil {
		return nil, err
	}
	request.GetBody = nil
	if body != nil {
		request.ContentLength = bytes
	}
	request.Header.Set("Authorization", "Bearer "+s.token)
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	return s.client.Do(request)
}
