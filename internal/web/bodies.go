package web

import (
	"io"
	"net/http"
	"time"
)

// patience is how long is waited for the body of a request. All routes have the same: how much a body may hold is for each route.
type patience struct {
	begin  time.Duration // for the first of it, and for each further step of a slow connection
	stall  time.Duration // when nothing of it arrives any more
	unread time.Duration // for what nobody read, once it was answered
}

var usualPatience = patience{begin: 30 * time.Second, stall: 60 * time.Second, unread: 2 * time.Second}

// until is until when the next part of a body is waited for, of which so many bytes came since a moment: it has to arrive at no less
// than the slowest rate (bytes a second), and something of it all the time.
func (p patience) until(began, now time.Time, arrived int64) time.Time {
	byRate := began.Add(p.begin + time.Duration(float64(arrived)/slowest*float64(time.Second)))
	if stalled := now.Add(p.stall); stalled.Before(byRate) {
		return stalled
	}
	return byRate
}

// body is the body of a request that ends with an error when it does not arrive.
type body struct {
	io.ReadCloser
	patience
	control *http.ResponseController
	began   time.Time // of reading
	set     time.Time // when the deadline was set last: each costs a call of the system
	arrived int64
	whole   bool
}

// Read implements io.Reader.
func (b *body) Read(into []byte) (int, error) {
	now := time.Now()
	if b.began.IsZero() {
		b.began = now
	}
	if now.Sub(b.set) > b.begin/16 {
		_ = b.control.SetReadDeadline(b.until(b.began, now, b.arrived))
		b.set = now
	}
	n, err := b.ReadCloser.Read(into)
	b.arrived += int64(n)
	if err == io.EOF { //nolint:errorlint // as readers say it
		b.whole = true
		_ = b.control.SetReadDeadline(time.Time{}) // what takes the handler longer is no fault of whoever sent it
	}
	return n, err
}

// patient lets a request have its body for as long as it keeps arriving, however little of it the route reads. What is only asked for has
// none: a connection is not held by what nobody reads.
func (p patience) patient(w http.ResponseWriter, r *http.Request, next http.HandlerFunc) {
	if r.Body == nil || r.Body == http.NoBody || r.ContentLength == 0 {
		next(w, r)
		return
	}
	control := http.NewResponseController(w)
	if r.Method == http.MethodGet || r.Method == http.MethodHead {
		_ = control.SetReadDeadline(time.Now())
		w.Header().Set("Connection", "close")
		writeProblem(w, problem(http.StatusBadRequest, "Not understood", "A request that only asks for something must not have a body."))
		return
	}
	_ = control.SetReadDeadline(time.Now().Add(p.begin))
	b := &body{ReadCloser: r.Body, patience: p, control: control}
	r.Body = b
	next(w, r)
	if !b.whole {
		_ = control.SetReadDeadline(time.Now().Add(p.unread))
	}
}
