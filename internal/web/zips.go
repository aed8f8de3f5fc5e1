package web

import (
	"io"
	"log/slog"
	"mime"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// zipStall is how long somebody may take for one piece of a ZIP that is written while they fetch it.
const zipStall = 2 * time.Minute

// streamZIP sends a ZIP that is written meanwhile.
func (s *Server) streamZIP(c *gin.Context, name string, write func(w io.Writer) error) error {
	c.Header("Content-Type", "application/zip")
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	c.Header("Cache-Control", "private, no-store")
	control := http.NewResponseController(c.Writer)
	defer func() { _ = control.SetWriteDeadline(time.Time{}) }()
	if err := write(&patient{c.Writer, control}); err != nil {
		slog.Error("a ZIP broke off", append(about(c), "name", name, "error", err)...)
		panic(http.ErrAbortHandler) // headers are out: break the connection, so that nobody takes it for whole
	}
	return nil
}

// patient is a writer to somebody who may be slow, but takes every piece within some time.
type patient struct {
	gin.ResponseWriter
	control *http.ResponseController
}

func (s *patient) Write(p []byte) (int, error) {
	_ = s.control.SetWriteDeadline(time.Now().Add(zipStall))
	return s.ResponseWriter.Write(p)
}
