package bench

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"os"
	"path/filepath"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// TestPicturesWhileDrawingsAreSlow measures how long a picture takes to its previews while ten drawings that take for ever
// are tried.
func TestPicturesWhileDrawingsAreSlow(t *testing.T) {
	measured(t)
	h := housetest.New(t, "bench_slow")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(context.Background()))
	dir := t.TempDir()
	var hostile []string
	for i := range 10 {
		hostile = append(hostile, filepath.Join(dir, fmt.Sprintf("slow %d.svg", i)))
		drawing := fmt.Appendf(mediatest.SlowDrawing(), "<!-- %d -->", i)
		require.NoError(t, os.WriteFile(hostile[i], drawing, 0o600))
	}
	honest := demoFiles(t, 42)
	var alone, beside []float64
	one := func(path string) float64 {
		batch := announceAll(t, h, v, []string{path})
		send(t, h, batch.Files[0].Code, path)
		began := time.Now()
		housetest.Settled(t, h, v, batch.ID)
		return time.Since(began).Seconds()
	}
	for i, path := range honest[:12] {
		if took := one(path); i >= 2 { // the first ones start the workers
			alone = append(alone, took)
		}
	}
	batch := announceAll(t, h, v, hostile)
	for i, f := range batch.Files {
		send(t, h, f.Code, hostile[i])
	}
	for _, path := range honest[12:] {
		beside = append(beside, one(path))
	}
	trying, err := h.BringIn.Load(context.Background(), v, batch.ID)
	require.NoError(t, err)
	t.Logf("a picture to its previews: alone median %.2f s, p95 %.2f s; while ten slow drawings are tried median %.2f s, p95 %.2f s "+
		"(wanted under 2 s); %d of the ten had ended", median(alone), percentile(alone, 95), median(beside), percentile(beside, 95),
		trying.Sums.Refused+trying.Sums.Added)
}

// TestDeskDuringAFloodOfSignIns asks for a sheet while 64 at once try passwords.
func TestDeskDuringAFloodOfSignIns(t *testing.T) {
	measured(t)
	h := housetest.New(t, "bench_flood")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	storetest.Library(t, h.DB, v.Brand, v.Person, smallLibrary)
	require.NoError(t, h.Index.Load(context.Background(), v.Brand))
	d := &desk{t: t, h: h, took: map[string][]float64{}}
	d.signIn(v.Person)
	open := func(name string) {
		for range 200 {
			d.ask(name, http.MethodPost, "/api/brands/bench/sheet?most=2000", map[string]any{"place": "everything"}, nil)
		}
	}
	open("warm")
	open("alone")
	flood, stop := context.WithCancel(context.Background())
	var tried, refused atomic.Int64
	var group sync.WaitGroup
	for i := range 64 {
		group.Go(func() {
			for flood.Err() == nil {
				body := fmt.Sprintf(`{"email":"guess%d@bench.example","password":"wrong %d"}`, i, tried.Load())
				response, err := http.Post(d.address+"/api/session", "application/json", strings.NewReader(body))
				if err != nil {
					continue
				}
				tried.Add(1)
				if response.StatusCode == http.StatusTooManyRequests {
					refused.Add(1)
				}
				_ = response.Body.Close()
			}
		})
	}
	open("flood")
	stop()
	group.Wait()
	t.Logf("first page of Everything: alone median %.1f ms, p95 %.1f ms; while 64 at once try passwords (%d tried, %d turned away) "+
		"median %.1f ms, p95 %.1f ms", median(d.took["alone"]), percentile(d.took["alone"], 95), tried.Load(), refused.Load(),
		median(d.took["flood"]), percentile(d.took["flood"], 95))
}
