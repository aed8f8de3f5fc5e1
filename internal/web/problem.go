package web

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"math"
	"net"
	"net/http"
	"strconv"
	"syscall"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/gin-gonic/gin"
	"github.com/jackc/pgx/v5/pgconn"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// errSignedOut is returned where somebody must be signed in and is not.
var errSignedOut = errors.New("You are signed out. Sign in again; nothing that was sent is lost.")

// answer is problem details with when to try again, if that helps.
type answer struct {
	api.Problem
	after time.Duration
	ours  bool // it is our fault, and belongs in the log
}

// problemOf turns an error into problem details (RFC 9457). What is not the person's doing is worded plainly.
func problemOf(err error) answer {
	if p, ok := contractProblem(err); ok {
		return p
	}
	var invalid *fault.Invalid
	var missing *fault.NotFound
	var forbidden *fault.Forbidden
	var conflict *fault.Conflict
	var many *fault.TooMany
	var refused *media.Refused
	var tooLarge *http.MaxBytesError
	var slow net.Error
	switch {
	case errors.Is(err, errSignedOut):
		return problem(http.StatusUnauthorized, "Signed out", err.Error())
	case errors.As(err, &invalid):
		p := problem(http.StatusUnprocessableEntity, "That cannot be used", invalid.Text)
		p.Field = some(invalid.Field)
		return p
	case errors.As(err, &refused):
		return problem(http.StatusUnprocessableEntity, "That cannot be shown", refused.Why)
	case errors.As(err, &missing):
		return problem(http.StatusNotFound, "Not found", missing.Text)
	case errors.As(err, &forbidden):
		return problem(http.StatusForbidden, "Not allowed", forbidden.Text)
	case errors.As(err, &conflict):
		p := problem(http.StatusConflict, "Changed meanwhile", conflict.Text)
		p.Field, p.Mine, p.Theirs, p.By = some(conflict.Field), some(conflict.Mine), some(conflict.Theirs), some(conflict.By)
		return p
	case errors.As(err, &many):
		p := problem(http.StatusTooManyRequests, "Too many attempts", many.Text)
		p.after = max(time.Second, many.After)
		return p
	case errors.As(err, &tooLarge):
		return problem(http.StatusRequestEntityTooLarge, "Too much at once", "The request is larger than 8 MB.")
	case errors.Is(err, syscall.ENOSPC):
		p := problem(http.StatusInsufficientStorage, "The disk is full",
			"The disk of the server is full. What is here is safe; try again when there is room.")
		p.ours = true
		return p
	case errors.Is(err, renditions.ErrMaking):
		p := problem(http.StatusServiceUnavailable, "Not ready yet", "The film is still being made. It plays as soon as it is ready.")
		p.after = 5 * time.Second
		return p
	case errors.Is(err, pictures.ErrBusy):
		p := problem(http.StatusServiceUnavailable, "Busy just now",
			"Other pictures are being drawn at this moment. Try again in a few seconds.")
		p.after = 2 * time.Second
		return p
	case errors.Is(err, store.ErrBusy), store.Contended(err), store.Away(err):
		p := problem(http.StatusServiceUnavailable, "Too busy just now",
			"The server cannot reach its database at this moment. Nothing was changed; try again in a few seconds.")
		p.after, p.ours = 5*time.Second, true
		return p
	case errors.Is(err, context.DeadlineExceeded):
		p := problem(http.StatusServiceUnavailable, "Took too long",
			"The server was not done in time. Try again, or with fewer items at once.")
		p.after, p.ours = 5*time.Second, true
		return p
	case errors.As(err, &slow) && slow.Timeout():
		return problem(http.StatusRequestTimeout, "Too slow", "What was sent did not arrive in time. Try again.")
	case notText(err):
		return problem(http.StatusUnprocessableEntity, "That cannot be used", "It contains characters that are not valid text (UTF-8).")
	}
	return internalProblem()
}

func internalProblem() answer {
	p := problem(http.StatusInternalServerError, "Something went wrong here",
		"The server could not do that. Nothing was changed; try again.")
	p.ours = true
	return p
}

// notText says whether the database refused a text that is none: a NUL, or broken UTF-8.
func notText(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "22021" || pg.Code == "22P05")
}

// contractProblem words what the contract's validation found, naming the field.
func contractProblem(err error) (answer, bool) {
	var request *openapi3filter.RequestError
	if !errors.As(err, &request) {
		return answer{}, false
	}
	p := problem(http.StatusUnprocessableEntity, "That cannot be used", request.Reason)
	var schema *openapi3.SchemaError
	if errors.As(request.Err, &schema) {
		p.Detail = some(schema.Reason)
		if path := schema.JSONPointer(); len(path) > 0 {
			p.Field = &path[len(path)-1]
			p.Detail = some(*p.Field + ": " + schema.Reason)
		}
	} else if request.Parameter != nil {
		p.Field = &request.Parameter.Name
		p.Detail = some("That is not a value that “" + request.Parameter.Name + "” can have.")
	}
	return p, true
}

func problem(status int, title, detail string) answer {
	return answer{Problem: api.Problem{Status: status, Title: title, Detail: some(detail)}}
}

func some[T comparable](value T) *T {
	var nothing T
	if value == nothing {
		return nil
	}
	return &value
}

// fail answers with an error. What is our fault is logged, with the route and the id of the request.
func fail(c *gin.Context, err error) {
	p := problemOf(err)
	if p.ours && !errors.Is(c.Request.Context().Err(), context.Canceled) { // a caller who has gone is no fault
		slog.Error("a request failed", append(about(c), "status", p.Status, "error", err)...)
	}
	failWith(c, p)
}

func failWith(c *gin.Context, p answer) {
	c.Abort()
	writeProblem(c.Writer, p)
}

func writeProblem(w http.ResponseWriter, p answer) {
	text, err := json.Marshal(p.Problem)
	if err != nil {
		text = []byte("{}")
	}
	h := w.Header()
	h.Set("Content-Type", "application/problem+json")
	h.Set("Cache-Control", "no-store")
	if p.after > 0 {
		h.Set("Retry-After", strconv.Itoa(int(math.Ceil(p.after.Seconds()))))
	}
	w.WriteHeader(p.Status)
	_, _ = w.Write(text)
}
