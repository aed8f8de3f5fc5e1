package web

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/store"
)

// events tells open screens what changed in their brand, so that they load again what they show.
type events struct {
	mu     sync.Mutex
	open   map[*stream]bool
	closed chan struct{}
}

// stream is one open screen. Changes that come faster than they can be sent are folded together.
type stream struct {
	brand   int64  // 0 is any
	session string // the token that it was opened with
	ended   bool   // the session is over
	rights  bool   // what the person may do may have changed
	pending map[topics.Topic]bool
	wake    chan struct{}
}

func newEvents() *events {
	return &events{open: map[*stream]bool{}, closed: make(chan struct{})}
}

// listen tells open screens, and also, of what changed in the database until ctx ends.
func (e *events) listen(ctx context.Context, db *store.DB, also func(brand int64, topic topics.Topic)) {
	told := func(brand int64, topic topics.Topic) {
		also(brand, topic)
		e.changed(brand, topic)
	}
	db.Listen(ctx, told, func() { told(0, topics.Everything) })
}

// changed wakes the screens of a brand; brand 0 means all.
func (e *events) changed(brand int64, topic topics.Topic) {
	e.mu.Lock()
	defer e.mu.Unlock()
	for s := range e.open {
		if brand != 0 && s.brand != 0 && s.brand != brand {
			continue
		}
		s.pending[topic] = true
		s.rights = s.rights || topic == topics.Grants || topic == topics.Members || topic == topics.Everything
		select {
		case s.wake <- struct{}{}:
		default:
		}
	}
}

// end ends the streams of a session.
func (e *events) end(session string) {
	e.mu.Lock()
	defer e.mu.Unlock()
	for s := range e.open {
		if s.session == session {
			s.ended = true
			select {
			case s.wake <- struct{}{}:
			default:
			}
		}
	}
}

// add opens a stream.
func (e *events) add(s *stream) {
	e.mu.Lock()
	defer e.mu.Unlock()
	e.open[s] = true
}

// drop closes a stream.
func (e *events) drop(s *stream) {
	e.mu.Lock()
	defer e.mu.Unlock()
	delete(e.open, s)
}

// notOnScreens are topics that change often and of which no screen shows anything.
var notOnScreens = []topics.Topic{topics.ScreensSeen, topics.Intakes, topics.IntakeFiles, topics.Trail, topics.Downloads,
	topics.DownloadItems, topics.GuestMarks, topics.GalleryEvents, topics.Letters}

// concerns empties what there is to tell a screen, which is of a brand from now on, and says whether any of it can change what it shows.
func (e *events) concerns(s *stream, brand int64) bool {
	e.mu.Lock()
	defer e.mu.Unlock()
	s.brand = brand
	concerns := false
	for topic := range s.pending {
		concerns = concerns || !slices.Contains(notOnScreens, topic)
	}
	clear(s.pending)
	return concerns
}

// take empties what there is to tell a stream, and says whether its session is over or its rights are to be looked at.
func (e *events) take(s *stream) (changed []topics.Topic, ended, rights bool) {
	e.mu.Lock()
	defer e.mu.Unlock()
	changed, ended, rights = slices.Sorted(maps.Keys(s.pending)), s.ended, s.rights
	clear(s.pending)
	s.rights = false
	return changed, ended, rights
}

const (
	eventsPath = "/api/brands/:brand/events"
	screenPath = "/api/public/screen" // where a screen asks for what it is to show

	foldFor   = 60 * time.Millisecond // several changes within this time are told as one
	heartbeat = 20 * time.Second
)

func (s *Server) addEvents() {
	s.route(http.MethodGet, eventsPath, signedIn, s.stream)
}

func (s *Server) stream(c *gin.Context) error {
	e := s.events
	viewer := viewerOf(c)
	st := &stream{brand: viewer.Brand, session: s.sessions.Token(c), pending: map[topics.Topic]bool{}, wake: make(chan struct{}, 1)}
	e.add(st)
	defer e.drop(st)
	control := http.NewResponseController(c.Writer)
	_ = control.SetWriteDeadline(time.Time{})
	c.Header("Content-Type", "text/event-stream")
	c.Header("Cache-Control", "no-store")
	c.Status(http.StatusOK)
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	send := func(text string) error {
		if _, err := fmt.Fprint(c.Writer, text); err != nil {
			return err
		}
		return control.Flush()
	}
	if send("event: ready\ndata: {}\n\n") != nil {
		return nil
	}
	for {
		select {
		case <-c.Request.Context().Done():
			return nil
		case <-e.closed:
			return nil
		case <-beat.C:
			if !s.stillIn(c, viewer) {
				return nil
			}
			if send(": still here\n\n") != nil {
				return nil
			}
		case <-st.wake:
			time.Sleep(foldFor)
			changed, ended, rights := e.take(st)
			if ended || rights && !s.stillIn(c, viewer) {
				return nil // the browser asks anew, and gets what it may have now
			}
			if len(changed) == 0 { // it was woken twice and has told everything
				continue
			}
			text, err := json.Marshal(changed)
			if err != nil || send("event: changed\ndata: "+string(text)+"\n\n") != nil {
				return nil
			}
		}
	}
}

// stillIn says whether the session of a stream goes on, and its person may do in the brand what they could when it began.
func (s *Server) stillIn(c *gin.Context, was *access.Viewer) bool {
	ctx, err := s.sessions.Load(c.Request.Context(), s.sessions.Token(c))
	if err != nil {
		return s.house.DB.PingContext(c) != nil // without the database nobody can tell
	}
	if s.sessions.GetInt64(ctx, "person") != was.Person {
		return false
	}
	now, err := s.house.People.Viewer(c, was.Person, was.BrandCode)
	return err == nil && now.Role == was.Role && slices.Equal(now.Grants, was.Grants)
}
