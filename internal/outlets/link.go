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
	"time"

	"brightsatchel/internal/core/sending/once"
)

// tokens gives the access token of an account. Stale is one that was refused: then another one is got, if there is a way.
type tokens interface {
	token(ctx context.Context, stale string) (string, error)
}

// fixed is a token that was given by hand: there is no other.
type fixed string

func (f fixed) token(_ context.Context, stale string) (string, error) {
	if stale != "" {
		return "", ErrRefused
	}
	return string(f), nil
}

// link is the way to a service: its address, who we are there, and the client that reaches nothing but what outlets may be.
type link struct {
	address *url.URL
	tokens  tokens
	client  *http.Client
}

const (
	answerLimit = 8 << 20 // bytes of one answer
	pageLimit   = 200     // pages of one list
	said        = 1 << 20 // bytes of an answer to a call that changes something
	patience    = 30 * time.Second
)

// call is one that changes something.
type call struct {
	method  string
	at      *url.URL
	body    io.Reader
	bytes   int64 // of the body
	headers map[string]string
}

// form is how a service words its answers. Each function is given the status and the body.
type form struct {
	id        func(body []byte) string                                   // of what was made, "" where none is said
	signedOut func(status int, body []byte) bool                         // it does not know the token
	unknown   func(status int, body []byte) bool                         // it does not know what was named in the call
	refusal   func(status int, body []byte) (words string, clearly bool) // it says no, and why
}

// make makes a call that changes something, once: the client would repeat one on a connection that was closed meanwhile, so it is given
// nothing to repeat it with. Only what the service says clearly counts: everything else is lost, and what became of it has to be found out.
func (l link) make(ctx context.Context, c call, f form) once.Outcome {
	token, err := l.tokens.token(ctx, "")
	if err != nil {
		return notCalled(err)
	}
	request, err := http.NewRequestWithContext(ctx, c.method, c.at.String(), c.body)
	if err != nil {
		return once.Outcome{Kind: once.No, Why: "Its address is not understood."}
	}
	request.GetBody = nil
	if c.body != nil {
		request.ContentLength = c.bytes
	}
	request.Header.Set("Authorization", "Bearer "+token)
	for name, value := range c.headers {
		request.Header.Set(name, value)
	}
	answer, err := l.client.Do(request)
	if err != nil {
		return once.Outcome{Kind: once.Lost, Why: "It did not answer."}
	}
	defer func() { _ = answer.Body.Close() }()
	body, err := io.ReadAll(io.LimitReader(answer.Body, said+1))
	if err != nil || len(body) > said {
		return once.Outcome{Kind: once.Lost, Why: "Its answer was broken off."}
	}
	status := answer.StatusCode
	if status == http.StatusTooManyRequests {
		return once.Outcome{Kind: once.Later, After: retryAfter(answer.Header)}
	}
	if f.signedOut(status, body) { // it did nothing, so it can be asked again with another token
		if _, err := l.tokens.token(ctx, token); err != nil {
			return notCalled(err)
		}
		return once.Outcome{Kind: once.Later, After: time.Second}
	}
	if f.unknown(status, body) {
		return once.Outcome{Kind: once.Unknown, Why: "It does not know what was brought to it any more."}
	}
	if words, clearly := f.refusal(status, body); clearly {
		return once.Outcome{Kind: once.No, Why: "It says: " + shortened(words)}
	}
	if status >= 200 && status < 300 {
		if id := f.id(body); id != "" {
			return once.Outcome{Kind: once.Done, ID: id}
		}
		return once.Outcome{Kind: once.Lost, Why: "Its answer says nothing."}
	}
	return once.Outcome{Kind: once.Lost, Why: "It answered " + answer.Status + "."}
}

// notCalled is what comes of a call for which there was no token.
func notCalled(err error) once.Outcome {
	if errors.Is(err, ErrRefused) {
		return once.Outcome{Kind: once.No, Why: "It does not accept our access any more. Connect it again, then try again."}
	}
	return once.Outcome{Kind: once.Later, After: 15 * time.Second, Why: "It gives no access now."}
}

// signedOut is how most services say that they do not know a token (RFC 6750 section 3.1).
func signedOut(status int, _ []byte) bool {
	return status == http.StatusUnauthorized || status == http.StatusForbidden
}

// get asks for something and changes nothing. A token that is refused is renewed once. The caller closes the body.
func (l link) get(ctx context.Context, at *url.URL) (*http.Response, error) {
	return l.ask(ctx, func(token string) (*http.Request, error) {
		request, err := http.NewRequestWithContext(ctx, http.MethodGet, at.String(), nil)
		if err == nil {
			request.Header.Set("Authorization", "Bearer "+token)
		}
		return request, err
	})
}

// ask makes a request that changes nothing, with a token; and once more with another one where that is refused.
func (l link) ask(ctx context.Context, request func(token string) (*http.Request, error)) (*http.Response, error) {
	token, err := l.tokens.token(ctx, "")
	for tries := 0; err == nil; tries++ {
		var r *http.Request
		if r, err = request(token); err != nil {
			return nil, err
		}
		answer, failed := l.client.Do(r)
		switch {
		case errors.Is(failed, ErrForbiddenAddress):
			return nil, failed
		case failed != nil:
			return nil, fmt.Errorf("%w: %w", ErrAway, failed)
		case answer.StatusCode == http.StatusOK:
			return answer, nil
		}
		_ = answer.Body.Close()
		switch answer.StatusCode {
		case http.StatusUnauthorized, http.StatusForbidden:
			if tries > 0 {
				return nil, ErrRefused
			}
			token, err = l.tokens.token(ctx, token)
		case http.StatusNotFound, http.StatusGone:
			return nil, ErrGone
		default:
			return nil, fmt.Errorf("%w: %s", ErrAway, answer.Status)
		}
	}
	return nil, err
}

// read asks for JSON, of at most answerLimit bytes, and reads it into a value.
func (l link) read(ctx context.Context, at *url.URL, into any) error {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	answer, err := l.get(ctx, at)
	if err != nil {
		return err
	}
	return decode(answer, into)
}

func decode(answer *http.Response, into any) error {
	defer func() { _ = answer.Body.Close() }()
	body, err := io.ReadAll(io.LimitReader(answer.Body, answerLimit+1))
	if err == nil && len(body) > answerLimit {
		err = errors.New("its answer does not end")
	}
	if err == nil {
		err = json.Unmarshal(body, into)
	}
	if err != nil {
		return fmt.Errorf("%w: %w", ErrAway, err)
	}
	return nil
}

// inJSON is a call with a JSON body.
func (l link) inJSON(method string, at *url.URL, value any) (call, error) {
	body, err := json.Marshal(value)
	return call{method, at, bytes.NewReader(body), int64(len(body)), map[string]string{"Content-Type": "application/json"}}, err
}

func (l link) to(path ...string) *url.URL {
	for i, part := range path {
		path[i] = url.PathEscape(part)
	}
	return l.address.JoinPath(path...)
}
