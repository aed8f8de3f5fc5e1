// Package web is the way in from outside: sign-in, the routes of the contract, live events, uploads, the bytes of media,
// and the pages that guests see. It decides nothing about the work itself.
package web

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"sync"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/alexedwards/scs/v2"
	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/house"
)

// Server answers HTTP.
type Server struct {
	house    *house.House
	engine   *gin.Engine
	sessions *scs.SessionManager
	contract routers.Router
	rules    map[string]rule // routes outside of the contract, by "METHOD path"
	events   *events
	cleanup  *postgresstore.PostgresStore
	ended    sync.Once
}

const bodyLimit = 8 << 20 // bytes of a request of the contract

// New builds the server; it listens for changes in the database until ctx ends.
func New(ctx context.Context, h *house.House) (*Server, error) {
	document, err := openapi3.NewLoader().LoadFromData(api.Contract)
	if err != nil {
		return nil, fmt.Errorf("the contract: %w", err)
	}
	contract, err := gorillamux.NewRouter(document)
	if err != nil {
		return nil, fmt.Errorf("the contract: %w", err)
	}
	gin.SetMode(gin.ReleaseMode)
	s := &Server{house: h, engine: gin.New(), sessions: scs.New(), contract: contract, rules: map[string]rule{}, events: newEvents()}
	s.engine.ContextWithFallback = true
	s.engine.Use(recovery, headers)
	s.cleanup = postgresstore.New(h.DB.DB.DB)
	s.sessions.Store = s.cleanup
	s.sessions.Lifetime = 14 * 24 * time.Hour // no idle time: it would set a cookie with every picture and keep browsers from caching any
	s.sessions.Cookie.Name = "satchel"
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = os.Getenv("SATCHEL_HTTPS") != "" // plain HTTP on one's own machine would drop a secure cookie

	s.addContract()
	s.addEvents()
	if err := s.addUploads(); err != nil {
		return nil, err
	}
	s.addDelivery()
	s.addOutletPictures()
	s.addGuests()
	s.addPages()
	go s.events.listen(ctx, h.DB)
	go h.Index.Follow(ctx)
	return s, nil
}

// Handler is what to serve: everything, behind sessions and the protection against requests forged by other sites.
func (s *Server) Handler() http.Handler {
	return http.NewCrossOriginProtection().Handler(s.sessions.LoadAndSave(s.engine))
}

// Close ends open event streams and the cleaning of old sessions. Calling it again does nothing.
func (s *Server) Close() {
	s.ended.Do(func() {
		close(s.events.closed)
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
		ErrorHandler: func(c *gin.Context, err error, _ int) { fail(c, err) },
	})
}

// validate checks a request against the contract: required fields, lengths, enumerations, bounds.
func (s *Server) validate(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, bodyLimit)
	route, params, err := s.contract.FindRoute(c.Request)
	if err == nil {
		err = openapi3filter.ValidateRequest(c, &openapi3filter.RequestValidationInput{
			Request: c.Request, PathParams: params, Route: route,
			Options: &openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
		})
	}
	if err != nil {
		fail(c, err)
	}
}

// headers sets what every answer carries. Scripts come from files only; style attributes are set by the interface parts
// at run time, hence inline styles.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; media-src 'self' blob:; "+
		"font-src 'self'; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	c.Next()
}

func recovery(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			if r == http.ErrAbortHandler {
				panic(r)
			}
			fail(c, fmt.Errorf("panic: %v", r))
		}
	}()
	c.Next()
}
