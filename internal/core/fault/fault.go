// Package fault names the ways in which a request can be wrong. The text of each is for the person at the desk: what
// happened, to what, and what to do next. The HTTP side turns them into problem details.
package fault

import (
	"errors"
	"fmt"
	"time"
)

// Invalid is something that was sent and cannot be used; Field names the field or file.
type Invalid struct{ Field, Text string }

func (e *Invalid) Error() string { return e.Text }

// NotFound is something that is not there, or that the person may not know of.
type NotFound struct{ Text string }

func (e *NotFound) Error() string { return e.Text }

// Forbidden is something that the person may not do.
type Forbidden struct{ Text string }

func (e *Forbidden) Error() string { return e.Text }

// Conflict is a change to something that somebody else has changed since. Mine and Theirs hold both values where there
// are such, By is the other person's name.
type Conflict struct{ Text, Field, Mine, Theirs, By string }

func (e *Conflict) Error() string { return e.Text }

// TooMany is one attempt too many within a time.
type TooMany struct {
	Text  string
	After time.Duration // when to try again
}

func (e *TooMany) Error() string { return e.Text }

// Invalidf returns an Invalid for a field.
func Invalidf(field, format string, args ...any) error {
	return &Invalid{Field: field, Text: fmt.Sprintf(format, args...)}
}

// NotFoundf returns a NotFound.
func NotFoundf(format string, args ...any) error {
	return &NotFound{Text: fmt.Sprintf(format, args...)}
}

// Forbiddenf returns a Forbidden.
func Forbiddenf(format string, args ...any) error {
	return &Forbidden{Text: fmt.Sprintf(format, args...)}
}

// Words are the words of an error that somebody is to read; of one that is nobody's to read they say no more than that.
func Words(err error) string {
	var invalid *Invalid
	var missing *NotFound
	var forbidden *Forbidden
	var conflict *Conflict
	var many *TooMany
	if errors.As(err, &invalid) || errors.As(err, &missing) || errors.As(err, &forbidden) || errors.As(err, &conflict) || errors.As(err,
		&many) {
		return err.Error()
	}
	return "Something went wrong here."
}
