package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/house"
	"brightsatchel/internal/settings"
	"brightsatchel/internal/web"
)

// serve is the command that serves the web application.
type serve struct {
	settings.House
	settings.Server
}

// Run serves until ctx ends.
func (s *serve) Run(ctx context.Context) error {
	return s.In(ctx, func(h *house.House) error { return s.serve(ctx, h) })
}

func (s *serve) serve(ctx context.Context, h *house.House) error {
	if s.Work {
		if err := h.Work(context.WithoutCancel(ctx)); err != nil {
			return err
		}
	}
	site, err := web.New(ctx, h, web.Options{Proxies: s.Proxies, Origin: strings.TrimSuffix(s.Origin, "/"), HTTPS: s.HTTPS})
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", s.Address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", s.Address, err)
	}
	bounded, err := web.Bounded(listener, s.Proxies)
	if err != nil {
		return err
	}
	server := web.NewHTTPServer(site.Handler())
	failed := make(chan error, 2)
	go func() { failed <- server.Serve(bounded) }()
	measures, err := s.serveMeasures(h, failed)
	if err != nil {
		return err
	}
	defer func() { _ = measures.Close() }()
	slog.Info("serving", "address", "http://"+s.Address)
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	site.Close()
	ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	if err := server.Shutdown(ending); err != nil {
		return server.Close()
	}
	return nil
}

// serveMeasures serves metrics and profiles on an address of their own.
func (s *serve) serveMeasures(h *house.House, failed chan<- error) (*http.Server, error) {
	server := web.NewHTTPServer(web.Measures(h))
	if s.Measures == "no" {
		return server, nil
	}
	listener, err := listenFrom(s.Measures)
	if err != nil {
		return nil, fmt.Errorf("cannot listen on %s for metrics (SATCHEL_MEASURES): %w", s.Measures, err)
	}
	slog.Info("measures", "address", "http://"+listener.Addr().String()+"/metrics")
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			failed <- err
		}
	}()
	return server, nil
}

// listenFrom listens on an address; on one that ends with "+" or, where another program has that, the next port that is free.
func listenFrom(address string) (net.Listener, error) {
	first, upward := strings.CutSuffix(address, "+")
	listener, err := net.Listen("tcp", first)
	if err == nil || !upward {
		return listener, err
	}
	host, port, splitErr := net.SplitHostPort(first)
	if splitErr != nil {
		return nil, splitErr
	}
	n, splitErr := strconv.Atoi(port)
	for next := n + 1; splitErr == nil && err != nil && next <= n+100; next++ {
		listener, err = net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(next)))
	}
	return listener, errors.Join(err, splitErr)
}
