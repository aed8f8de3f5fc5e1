package web

import (
	"errors"
	"log/slog"
	"net/http"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/media"
)

// errSignedOut is returned where somebody must be signed in and is not.
var errSignedOut = errors.New("You are signed out. Sign in again; nothing that was sent is lost.")

// problemOf turns an error into problem details (RFC 9457). What is not the person's doing is logged and worded plainly.
func problemOf(err error) api.Problem {
	var invalid *fault.Invalid
	var missing *fault.NotFound
	var forbidden *fault.Forbidden
	var conflict *fault.Conflict
	var many *fault.TooMany
	var refused *media.Refused
	var tooLarge *http.MaxBytesError
	switch {
	case errors.Is(err, errSignedOut):
		return problem(http.StatusUnauthorized, "Signed out", err.Error())
	case errors.As(err, &invalid):
		p := problem(http.StatusUnprocessableEntity, "That cannot be used", invalid.Text)
		p.Field = &invalid.Field
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
		return problem(http.StatusTooManyRequests, "Too many attempts", many.Text)
	case errors.As(err, &tooLarge):
		return problem(http.StatusRequestEntityTooLarge, "Too much at once", "The request is larger than 8 MB.")
	}
	if p, ok := contractProblem(err); ok {
		return p
	}
	slog.Error("a request failed", "error", err)
	return problem(http.StatusInternalServerError, "Something went wrong here", "The server could not do that. Nothing was changed; try again.")
}

// contractProblem words what the contract's validation found, naming the field.
func contractProblem(err error) (api.Problem, bool) {
	var request *openapi3filter.RequestError
	if !errors.As(err, &request) {
		return api.Problem{}, false
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
	}
	return p, true
}

func problem(status int, title, detail string) api.Problem {
	return api.Problem{Status: status, Title: title, Detail: some(detail)}
}

func some(text string) *string {
	if text == "" {
		return nil
	}
	return &text
}

func fail(c *gin.Context, err error) {
	p := problemOf(err)
	c.Abort()
	c.Header("Content-Type", "application/problem+json")
	c.JSON(p.Status, p)
}
