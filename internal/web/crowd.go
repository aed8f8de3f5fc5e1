package web

import (
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/fault"
)

// Bounds of what one client, which is an address, has at a time. An office, or a shopping street of screens, may be behind one.
const (
	mostConnections = 1000 // straight to the server
	mostByProxy     = 20_000
	mostRequests    = 300 // that are being answered
	mostStreams     = 400 // that wait for news: open windows and screens
)

// crowd counts what each has at a time, and lets nobody have more than so much.
type crowd struct {
	most int
	mu   sync.Mutex
	of   map[string]int
}

func newCrowd(most int) *crowd { return &crowd{most: most, of: map[string]int{}} }

// enter counts one more of somebody, unless that were too many.
func (c *crowd) enter(who string) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.of[who] >= c.most {
		return false
	}
	c.of[who]++
	return true
}

// leave counts one less.
func (c *crowd) leave(who string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.of[who]--; c.of[who] <= 0 {
		delete(c.of, who)
	}
}

// waitsForNews says whether a request is one that is answered when there is something to tell.
func waitsForNews(c *gin.Context) bool {
	path := c.FullPath()
	return c.Request.Method == http.MethodGet && (path == eventsPath || path == screenPath)
}

// crowded lets a client, also one behind a proxy that is trusted, have only so many requests at a time. Those that wait for news are
// counted by themselves, so that they leave room for the others.
func (s *Server) crowded(c *gin.Context) {
	among := s.requests
	if waitsForNews(c) {
		among = s.streams
	}
	who := callerOf(c)
	if !among.enter(who) {
		fail(c, &fault.TooMany{Text: "Very many windows are open where you are. What you see goes on; try again in a few seconds.",
			After: 5 * time.Second})
		return
	}
	defer among.leave(who)
	c.Next()
}
