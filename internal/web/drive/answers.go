package drive

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"os"

	"golang.org/x/net/webdav"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/fault"
)

// said is an answer with its status and its words.
type said struct {
	status int
	words  string
}

func (s *said) Error() string { return s.words }

// statusOf is the status and the words of an error.
func statusOf(err error) (int, string) {
	var (
		own       *said
		missing   *fault.NotFound
		forbidden *fault.Forbidden
		conflict  *fault.Conflict
		invalid   *fault.Invalid
		often     *fault.TooMany
		large     *http.MaxBytesError
	)
	switch {
	case errors.As(err, &own):
		return own.status, own.words
	case errors.As(err, &missing), errors.Is(err, os.ErrNotExist):
		return http.StatusNotFound, fault.Words(err)
	case errors.As(err, &forbidden):
		return http.StatusForbidden, forbidden.Text
	case errors.As(err, &conflict):
		return http.StatusConflict, conflict.Text
	case errors.As(err, &invalid):
		return statusOfField(invalid), fault.Words(err)
	case errors.As(err, &often):
		return http.StatusTooManyRequests, often.Text
	case errors.As(err, &large):
		return http.StatusRequestEntityTooLarge, "That is too long for a request of a drive."
	case errors.Is(err, webdav.ErrLocked), errors.Is(err, webdav.ErrConfirmationFailed):
		return webdav.StatusLocked, wordsOf[webdav.StatusLocked]
	}
	return http.StatusInternalServerError, "Something went wrong on the server. Nothing was changed."
}

// statusOfField is the status of what is wrong with a file that is copied onto the drive.
func statusOfField(f *fault.Invalid) int {
	switch f.Field {
	case "size":
		return http.StatusRequestEntityTooLarge
	case "room":
		return http.StatusInsufficientStorage
	case "part":
		return http.StatusBadRequest
	}
	return http.StatusForbidden
}

// problem is how a drive is told what is wrong (RFC 4918, section 8.7): some show the words in it.
type problem struct {
	XMLName xml.Name `xml:"DAV: error"`
	Words   string   `xml:"DAV: responsedescription"`
}

// answer answers with an error.
func answer(w http.ResponseWriter, err error) {
	status, words := statusOf(err)
	if status == http.StatusInternalServerError {
		slog.Error("the drive could not answer", "error", err)
	}
	if status == http.StatusUnauthorized {
		w.Header().Set("WWW-Authenticate", `Basic realm="Bright Satchel", charset="UTF-8"`)
	}
	body, err := xml.Marshal(problem{Words: words})
	if err != nil {
		status = http.StatusInternalServerError
	}
	w.Header().Set("Content-Type", "application/xml; charset=utf-8")
	w.WriteHeader(status)
	_, _ = w.Write(append([]byte(xml.Header), body...))
}

// wordsOf are the words of what the protocol package answers with a status alone.
var wordsOf = map[int]string{
	webdav.StatusLocked:           "It is open in another program, here or at somebody else’s. Close it there first.",
	http.StatusConflict:           "The folder that it goes into is not there.",
	http.StatusPreconditionFailed: "It has changed in the meantime. Nothing was changed now.",
}

// worded puts words and the right status to what the protocol package answers, where the tree knows what was wrong.
type worded struct {
	http.ResponseWriter
	tree  *tree
	locks *locks
	done  bool
}

// WriteHeader implements http.ResponseWriter.
func (w *worded) WriteHeader(status int) {
	err := w.tree.err
	if words, known := wordsOf[status]; known && err == nil {
		err = &said{status, words}
	}
	switch {
	case status >= 400 && err != nil:
		answer(w.ResponseWriter, err)
		w.done = true
	case status == http.StatusCreated && w.tree.over:
		w.ResponseWriter.WriteHeader(http.StatusNoContent)
		w.done = true
	default:
		w.ResponseWriter.WriteHeader(status)
	}
}

// Write implements http.ResponseWriter.
func (w *worded) Write(b []byte) (int, error) {
	if w.done {
		return len(b), nil
	}
	if w.locks.shared && w.locks.lasting {
		if _, err := w.ResponseWriter.Write(bytes.Replace(b, exclusive, []byte("<D:shared/>"), 1)); err != nil {
			return 0, err
		}
		return len(b), nil
	}
	return w.ResponseWriter.Write(b)
}

// piece is how much of a file the system sends before it is asked again whether it gets through, in bytes.
const piece = 1 << 20

// ReadFrom implements io.ReaderFrom: a file of this machine is sent by the system itself, piece by piece, so that whoever takes nothing
// of it is let go as elsewhere.
func (w *worded) ReadFrom(from io.Reader) (sent int64, err error) {
	rest, is := from.(*io.LimitedReader)
	onto, sends := w.ResponseWriter.(io.ReaderFrom)
	local := (*os.File)(nil)
	if is && sends && !w.done {
		if f, is := rest.R.(*file); is {
			local, _ = blob.AsFile(f.bytes)
		}
	}
	if local == nil {
		return io.Copy(struct{ io.Writer }{w}, from)
	}
	for rest.N > 0 {
		w.tree.waits()
		next := &io.LimitedReader{R: local, N: min(rest.N, piece)}
		n, err := onto.ReadFrom(next)
		sent, rest.N = sent+n, rest.N-n
		if err != nil || n == 0 {
			return sent, err
		}
	}
	return sent, nil
}
