// Package web is the way in from outside: sign-in, the routes of the contract, live events, uploads, the bytes of media,
// and the pages that guests see. It decides nothing about the work itself.
package web

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/alexedwards/scs/v2"
	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/house"
	"brightsatchel/internal/web/drive"
)

// Server answers HTTP.
type Server struct {
	house        *house.House
	engine       *gin.Engine
	sessions     *scs.SessionManager
	contract     routers.Router
	rules        map[string]rule // routes outside of the contract, by "METHOD path"
	events       *events
	known        *known
	sightings    *sightings
	openings     *sightings // of galleries
	cleanup      *postgresstore.PostgresStore
	ended        sync.Once
	patience     patience
	origin       string
	https        bool
	requests     *crowd
	streams      *crowd // of what waits for news
	endListening context.CancelFunc
}

// Options are what whoever runs the server decides. Proxies are the addresses or networks (CIDR) of proxies whose forwarded
// address of a caller is believed. Origin is how people reach the server, as https://media.example; without one, addresses that are
// handed out repeat the host that was asked for. HTTPS says that people reach the server by that.
type Options struct {
	Proxies []string
	Origin  string
	HTTPS   bool
}

// New builds the server; it listens for changes in the database until ctx ends or it is closed.
func New(ctx context.Context, h *house.House, o Options) (*Server, error) {
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err != nil {
		return nil, fmt.Errorf("the contract: %w", err)
	}
	contract, err := gorillamux.NewRouter(document)
	if err != nil {
		return nil, fmt.Errorf("the contract: %w", err)
	}
	gin.SetMode(gin.ReleaseMode)
	s := &Server{house: h, engine: gin.New(), sessions: scs.New(), contract: contract, rules: map[string]rule{}, events: newEvents(),
		known: newKnown(h), sightings: &sightings{}, openings: &sightings{}, patience: usualPatience, origin: o.Origin, https: o.HTTPS,
		requests: newCrowd(mostRequests), streams: newCrowd(mostStreams)}
	s.engine.ContextWithFallback = true
	if err := s.engine.SetTrustedProxies(o.Proxies); err != nil {
		return nil, fmt.Errorf("the addresses of proxies: %w", err)
	}
	s.engine.Use(name, measure, recovery, headers, s.crowded, s.limit)
	s.cleanup = postgresstore.New(h.DB.Plain())
	s.sessions.Store = s.cleanup
	s.sessions.Lifetime = 14 * 24 * time.Hour // no idle time: it would set a cookie with every picture and keep browsers from caching any
	s.sessions.Cookie.Name = "satchel"
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = o.HTTPS // plain HTTP on one's own machine would drop a secure cookie
	s.sessions.ErrorFunc = noSession

	s.addContract()
	s.addEvents()
	if err := s.addUploads(); err != nil {
		return nil, err
	}
	s.addDelivery()
	s.addFrames()
	s.addTables()
	s.addCovers()
	s.addOutletPictures()
	s.addGuests()
	s.addContributions()
	s.addPlainPages()
	s.addStopLetters()
	s.addConnecting()
	s.addCalendar()
	s.addEmbedMedia()
	s.addEmbedPages()
	s.addPublicMedia()
	s.addDrive()
	s.addScreens()
	s.addPages()
	ctx, s.endListening = context.WithCancel(ctx)
	go s.events.listen(ctx, h.DB, s.known.forget)
	go h.Index.Follow(ctx)
	return s, nil
}

// Handler is what to serve: everything, behind sessions and the protection against requests forged by other sites. The bytes
// of media go past both, since they would hide the connection that files are sent through; they are only ever read.
func (s *Server) Handler() http.Handler {
	pages := http.NewCrossOriginProtection().Handler(s.sessions.LoadAndSave(s.engine))
	return s.patience.gated(func(w http.ResponseWriter, r *http.Request) {
		if s.deliverQuickly(w, r) {
			return
		}
		if sessionless(r.URL.Path) {
			s.engine.ServeHTTP(w, r)
			return
		}
		pages.ServeHTTP(w, r)
	})
}

// sessionless says whether what is under an address is the same for everybody: no session is read for it.
func sessionless(path string) bool {
	for _, under := range []string{"/assets/", "/e/", "/p/", "/s/", "/screen/", "/api/public/embeds/", "/api/public/screen",
		drive.Prefix + "/"} {
		if strings.HasPrefix(path, under) {
			return true
		}
	}
	return slices.Contains([]string{"/embed.js", "/oembed", "/favicon.svg", "/healthz", "/readyz", "/screen", drive.Prefix}, path)
}

// Close ends open event streams, listening, and the cleaning of old sessions. Calling it again does nothing.
func (s *Server) Close() {
	s.ended.Do(func() {
		close(s.events.closed)
		s.endListening()
		s.cleanup.StopCleanup()
	})
}

func (s *Server) addContract() {
	authorise := func(next api.StrictHandlerFunc, operation string) api.StrictHandlerFunc {
		return func(c *gin.Context, request any) (any, error) {
			r, known := operations[operation]
			if err := s.authorise(c, r, known); err != nil {
				return nil, err
			}
			return next(c, request)
		}
	}
	handlers := api.NewStrictHandlerWithOptions(&handler{s}, []api.StrictMiddlewareFunc{authorise}, api.StrictGinServerOptions{
		RequestErrorHandlerFunc:  fail,
		HandlerErrorFunc:         fail,
		ResponseErrorHandlerFunc: fail,
	})
	api.RegisterHandlersWithOptions(s.engine, handlers, api.GinServerOptions{
		Middlewares:  []api.MiddlewareFunc{s.validate},
		ErrorHandler: func(c *gin.Context, err error, _ int) { fail(c, wrongParameter(err)) },
	})
}

// headers sets what every answer carries. Scripts come from files only; style attributes are set by the interface parts
// at run time, hence inline styles.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: "+
		"blob:; media-src 'self' blob:; "+
		"font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
	plainHeaders(h)
	c.Next()
}

func plainHeaders(h http.Header) {
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
}
