package web

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"runtime/debug"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/fault"
)

// Limits of a request of the contract.
const (
	bodyLimit   = 8 << 20 // bytes
	handlerTime = 60 * time.Second
)

const requestKey = "request"

// name gives a request an id, which stands in the answer and in every line that is logged about it.
func name(c *gin.Context) {
	id := rand.Text()[:12]
	c.Set(requestKey, id)
	c.Header("X-Request-Id", id)
	c.Next()
}

// about is what a line in the log says of the request that it is about.
func about(c *gin.Context) []any {
	return []any{"method", c.Request.Method, "route", c.FullPath(), "request", c.GetString(requestKey)}
}

// recovery answers a request whose handler panicked; the stack is in the log.
func recovery(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			if r == http.ErrAbortHandler {
				panic(r)
			}
			slog.Error("a request panicked", append(about(c), "panic", r, "stack", string(debug.Stack()))...)
			failWith(c, internalProblem())
		}
	}()
	c.Next()
}

// limit bounds a request of the contract in time and size. Uploads, events and the bytes of media have limits of their own.
func (s *Server) limit(c *gin.Context) {
	if _, outside := s.rules[c.Request.Method+" "+c.FullPath()]; outside {
		c.Next()
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), handlerTime)
	defer cancel()
	c.Request = c.Request.WithContext(ctx)
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, bodyLimit)
	c.Next()
}

// validate checks a request against the contract: required fields, lengths, enumerations, bounds; and that its texts are
// texts.
func (s *Server) validate(c *gin.Context) {
	err := readable(c.Request)
	if err == nil {
		route, params, routeErr := s.contract.FindRoute(c.Request)
		if err = routeErr; err == nil {
			err = openapi3filter.ValidateRequest(c, &openapi3filter.RequestValidationInput{
				Request: c.Request, PathParams: params, Route: route,
				Options: &openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
			})
		}
	}
	if err != nil {
		fail(c, err)
	}
}

// readable checks that everything in a request is UTF-8 (RFC 3629) and holds no NUL, which no database keeps.
func readable(r *http.Request) error {
	if !isText(r.URL.Path) {
		return fault.Invalidf("address", "The address contains characters that are not valid text (UTF-8).")
	}
	for key, values := range r.URL.Query() {
		if !isText(key) || !isText(strings.Join(values, "")) {
			return fault.Invalidf(strings.ToValidUTF8(strings.ReplaceAll(key, "\x00", ""), ""),
				"That contains characters that are not valid text (UTF-8).")
		}
	}
	if r.Body == nil || r.Body == http.NoBody {
		return nil
	}
	body, err := io.ReadAll(r.Body)
	if err != nil {
		return err
	}
	r.Body = io.NopCloser(bytes.NewReader(body))
	if !utf8.Valid(body) {
		return fault.Invalidf("body", "The request contains characters that are not valid text (UTF-8).")
	}
	if !bytes.Contains(body, []byte(`\u0000`)) {
		return nil
	}
	var value any
	if json.Unmarshal(body, &value) != nil {
		return nil // the validation says what is wrong with it
	}
	if field, found := nulIn("body", value); found {
		return fault.Invalidf(field, "That contains a character that no text has (NUL).")
	}
	return nil
}

func isText(text string) bool { return utf8.ValidString(text) && !strings.Contains(text, "\x00") }

// nulIn finds a text with a NUL in a JSON value, and the field that it is in.
func nulIn(field string, value any) (string, bool) {
	switch v := value.(type) {
	case string:
		return field, strings.Contains(v, "\x00")
	case []any:
		for _, entry := range v {
			if at, found := nulIn(field, entry); found {
				return at, true
			}
		}
	case map[string]any:
		for name, entry := range v {
			if strings.Contains(name, "\x00") {
				return field, true
			}
			if at, found := nulIn(name, entry); found {
				return at, true
			}
		}
	}
	return "", false
}

// wrongParameter words what the generated code says of a parameter that it cannot read, such as an id that is no number.
func wrongParameter(err error) error {
	text := strings.TrimPrefix(err.Error(), "Invalid format for parameter ")
	field, _, found := strings.Cut(text, ":")
	if !found || len(field) > 40 {
		return fault.Invalidf("address", "The address of the request is not understood.")
	}
	return fault.Invalidf(field, "That is not a value that %q can have.", field)
}

// noSession answers when the session cannot be read, which is so when the database does not answer.
func noSession(w http.ResponseWriter, r *http.Request, err error) {
	p := problemOf(err)
	if p.Status >= http.StatusInternalServerError && r.Context().Err() == nil {
		slog.Error("a session could not be read", "method", r.Method, "error", err)
	}
	writeProblem(w, p)
}
