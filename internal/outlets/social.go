package outlets

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"time"
)

// social is a social page. Its service lists albums and media in pages of JSON, each naming the next one, and asks for
// a bearer token (RFC 6750).
type social struct {
	address *url.URL
	token   string
	client  *http.Client
}

const (
	answerLimit = 8 << 20 // bytes of one page of a list
	pageLimit   = 200     // pages of one list
)

func (s social) Albums(ctx context.Context) ([]Album, error) {
	type album struct {
		ID    string `json:"id"`
		Title string `json:"title"`
		Count int    `json:"count"`
	}
	found, err := pages[album](ctx, s, "albums")
	out := make([]Album, len(found))
	for i, a := range found {
		out[i] = Album(a)
	}
	return out, err
}

func (s social) Media(ctx context.Context, id string) ([]Media, error) {
	type media struct {
		ID        string    `json:"id"`
		Album     string    `json:"album"`
		FileName  string    `json:"fileName"`
		Caption   string    `json:"caption"`
		MediaType string    `json:"mediaType"`
		Bytes     int64     `json:"bytes"`
		Posted    time.Time `json:"posted"`
		PostedBy  string    `json:"postedBy"`
		Own       bool      `json:"own"`
	}
	found, err := pages[media](ctx, s, "albums", id, "media")
	out := make([]Media, len(found))
	for i, m := range found {
		out[i] = Media(m)
	}
	return out, err
}

func (s social) Fetch(ctx context.Context, id string) (io.ReadCloser, error) {
	answer, err := s.get(ctx, s.address.JoinPath("media", url.PathEscape(id), "content"))
	if err != nil {
		return nil, err
	}
	return answer.Body, nil
}

// pages asks for a list page by page.
func pages[T any](ctx context.Context, s social, path ...string) ([]T, error) {
	ctx, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	for i, part := range path {
		path[i] = url.PathEscape(part)
	}
	at := s.address.JoinPath(path...)
	out := []T{}
	for range pageLimit {
		var page struct {
			Items []T    `json:"items"`
			Next  string `json:"next"`
		}
		answer, err := s.get(ctx, at)
		if err != nil {
			return nil, err
		}
		err = json.NewDecoder(io.LimitReader(answer.Body, answerLimit)).Decode(&page)
		_ = answer.Body.Close()
		if err != nil {
			return nil, fmt.Errorf("%w: %w", ErrAway, err)
		}
		out = append(out, page.Items...)
		if page.Next == "" {
			return out, nil
		}
		at.RawQuery = url.Values{"after": {page.Next}}.Encode()
	}
	return out, nil
}

func (s social) get(ctx context.Context, at *url.URL) (*http.Response, error) {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, at.String(), nil)
	if err != nil {
		return nil, err
	}
	request.Header.Set("Authorization", "Bearer "+s.token)
	answer, err := s.client.Do(request)
	if errors.Is(err, ErrForbiddenAddress) {
		return nil, err
	}
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrAway, err)
	}
	switch answer.StatusCode {
	case http.StatusOK:
		return answer, nil
	case http.StatusUnauthorized, http.StatusForbidden:
		err = ErrRefused
	case http.StatusNotFound, http.StatusGone:
		err = ErrGone
	default:
		err = fmt.Errorf("%w: %s", ErrAway, answer.Status)
	}
	_ = answer.Body.Close()
	return nil, err
}
