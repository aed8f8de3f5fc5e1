package web

import (
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/house"
	"brightsatchel/internal/queue"
)

var (
	requests = prometheus.NewHistogramVec(prometheus.HistogramOpts{
		Name: "satchel_request_seconds", Help: "Requests by method, route and status, and how long they took.",
		Buckets: []float64{.002, .005, .01, .025, .05, .1, .25, .5, 1, 5, 30},
	}, []string{"method", "route", "status"})
	// what deliverQuickly sends: looked up once, since it takes less time than looking it up each time
	quickly         = requests.WithLabelValues("GET", "/media quickly", "200")
	quicklyToGuests = requests.WithLabelValues("GET", "/g quickly", "200")

	open = prometheus.NewGauge(prometheus.GaugeOpts{Name: "satchel_connections", Help: "Open connections to this server."})
)

// measure counts a request by its route, never by its address: what it is counted by is a closed set (see gated for methods).
func measure(c *gin.Context) {
	began := time.Now()
	c.Next()
	route := c.FullPath()
	if route == "" {
		route = "none"
	}
	requests.WithLabelValues(c.Request.Method, route, strconv.Itoa(c.Writer.Status())).Observe(time.Since(began).Seconds())
}

// Measures is what whoever runs the server looks at, on an address of its own: metrics for Prometheus and profiles.
func Measures(h *house.House) http.Handler {
	registry := prometheus.NewRegistry()
	registry.MustRegister(collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}), requests,
		open, queue.Outcomes, bringin.Leftovers)
	gauge := func(name, help string, value func() float64) {
		registry.MustRegister(prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: name, Help: help}, value))
	}
	gauge("satchel_index_lag_seconds", "How long ago the index of the least current brand took in changes, while there are some.",
		func() float64 { return h.Index.Lag().Seconds() })
	gauge("satchel_picture_workers_busy", "Picture workers that are at work.", func() float64 { return float64(h.Media.Pictures.Busy()) })
	gauge("satchel_pool_connections", "Connections to the database that are in use.",
		func() float64 { return float64(h.DB.Pool.Stat().AcquiredConns()) })
	gauge("satchel_pool_connections_most", "Connections to the database at most.",
		func() float64 { return float64(h.DB.Pool.Stat().MaxConns()) })
	gauge("satchel_pool_waited_seconds", "Time that was spent waiting for a connection, in all.",
		func() float64 { return h.DB.Pool.Stat().EmptyAcquireWaitTime().Seconds() })
	mux := http.NewServeMux()
	mux.Handle("/metrics", promhttp.HandlerFor(registry, promhttp.HandlerOpts{}))
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	return usualPatience.gated(mux.ServeHTTP)
}
