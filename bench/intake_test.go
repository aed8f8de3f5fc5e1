package bench

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store/storetest"
)

const (
	arriving = 500
	fewer    = 50
	oneByOne = 40
)

// TestSustainedIntake brings 500 pictures of about 5 MB in, and does the same work, hashing, copying and making the
// previews, with command-line tools.
func TestSustainedIntake(t *testing.T) {
	measured(t)
	paths := cameraFiles(t, arriving)
	h := housetest.New(t, "bench_intake")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(context.Background()))
	_, small := takeIn(t, h, v, paths[:fewer])
	mine, large := takeIn(t, h, v, paths[fewer:])
	perFile := mine.Seconds() / float64(arriving-fewer)
	bound := byHand(t, paths[fewer:])
	t.Logf("intake: %.1f pictures a second; the same work by command-line tools: %.1f; ratio %.2f (wanted at least 0.7)",
		1/perFile, float64(arriving-fewer)/bound.Seconds(), bound.Seconds()/mine.Seconds())
	t.Logf("most memory of the server, Go heap: %d MB with %d files, %d MB with %d", small>>20, fewer, large>>20, arriving-fewer)
}

// TestTimeToAThumbnail measures, on an otherwise idle machine, from the last byte of a picture to its preview.
func TestTimeToAThumbnail(t *testing.T) {
	measured(t)
	paths := cameraFiles(t, oneByOne+2)
	h := housetest.New(t, "bench_thumbnail")
	v := storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(context.Background()))
	var took []float64
	for i, path := range paths {
		batch := announceAll(t, h, v, []string{path})
		send(t, h, batch.Files[0].Code, path)
		began := time.Now()
		housetest.Settled(t, h, v, batch.ID)
		if i >= 2 { // the first ones start the workers
			took = append(took, time.Since(began).Seconds())
		}
		waitUntilLooked(t, h, v)
	}
	t.Logf("last byte to thumbnail of a 5 MB picture: median %.2f s, p95 %.2f s (wanted under 1 s)", median(took), percentile(took, 95))
}

// cameraFiles makes JPEGs of 4500 × 3000 pixels and about 5 MB: one picture, each time with another note behind its end.
func cameraFiles(t *testing.T, n int) []string {
	t.Helper()
	dir := t.TempDir()
	source := filepath.Join(os.Getenv("SATCHEL_DEMO"), "media/spring-meet-hallow-down/OST_0412.JPG")
	run(t, "vips", "resize", source, filepath.Join(dir, "large.v"), "2.82")
	run(t, "vips", "gaussnoise", filepath.Join(dir, "noise.v"), "4512", "3008", "--sigma", "10", "--mean", "0")
	run(t, "vips", "extract_area", filepath.Join(dir, "large.v"), filepath.Join(dir, "a.v"), "0", "0", "4500", "3000")
	run(t, "vips", "extract_area", filepath.Join(dir, "noise.v"), filepath.Join(dir, "n.v"), "0", "0", "4500", "3000")
	run(t, "vips", "add", filepath.Join(dir, "a.v"), filepath.Join(dir, "n.v"), filepath.Join(dir, "sum.v"))
	run(t, "vips", "cast", filepath.Join(dir, "sum.v"), filepath.Join(dir, "shot.v"), "uchar")
	run(t, "vips", "copy", filepath.Join(dir, "shot.v"), filepath.Join(dir, "shot.jpg")+"[Q=89,strip]")
	data, err := os.ReadFile(filepath.Join(dir, "shot.jpg"))
	require.NoError(t, err)
	t.Logf("a picture has %.1f MB", float64(len(data))/1e6)
	return noted(t, dir, data, n)
}

// noted writes files of the same bytes, each with another note behind their end.
func noted(t *testing.T, dir string, data []byte, n int) []string {
	t.Helper()
	paths := make([]string, n)
	for i := range paths {
		paths[i] = filepath.Join(dir, fmt.Sprintf("shot-%03d.jpg", i))
		require.NoError(t, os.WriteFile(paths[i], append(data[:len(data):len(data)], fmt.Sprintf("note %d", i)...), 0o600))
	}
	return paths
}

func announceAll(t *testing.T, h *house.House, v *access.Viewer, paths []string) bringin.Batch {
	t.Helper()
	dropped := make([]bringin.Dropped, len(paths))
	for i, path := range paths {
		info, err := os.Stat(path)
		require.NoError(t, err)
		dropped[i] = bringin.Dropped{Name: filepath.Base(path), Bytes: info.Size()}
	}
	batch, err := h.BringIn.Begin(context.Background(), v, bringin.Target{}, dropped, 0)
	require.NoError(t, err)
	return batch
}

func send(t *testing.T, h *house.House, code, path string) {
	t.Helper()
	file, err := os.Open(path)
	require.NoError(t, err)
	defer func() { _ = file.Close() }()
	require.NoError(t, h.BringIn.Receive(context.Background(), code, file))
}

// takeIn brings files in and returns how long that took, and the most heap that was in use meanwhile, in bytes.
func takeIn(t *testing.T, h *house.House, v *access.Viewer, paths []string) (time.Duration, uint64) {
	t.Helper()
	stop, done := make(chan struct{}), make(chan uint64)
	go func() {
		var most uint64
		for {
			select {
			case <-stop:
				done <- most
				return
			case <-time.After(50 * time.Millisecond):
				var now runtime.MemStats
				runtime.ReadMemStats(&now)
				most = max(most, now.HeapInuse)
			}
		}
	}()
	runtime.GC()
	began := time.Now()
	batch := announceAll(t, h, v, paths)
	for i, f := range batch.Files {
		send(t, h, f.Code, paths[i])
	}
	require.Eventually(t, func() bool {
		loaded, err := h.BringIn.List(context.Background(), v)
		require.NoError(t, err)
		return loaded[0].Finished.Valid
	}, 20*time.Minute, 50*time.Millisecond)
	took := time.Since(began)
	loaded, err := h.BringIn.Load(context.Background(), v, batch.ID)
	require.NoError(t, err)
	require.Equal(t, len(paths), loaded.Sums.Added)
	close(stop)
	return took, <-done
}

func waitUntilLooked(t *testing.T, h *house.House, v *access.Viewer) {
	t.Helper()
	require.Eventually(t, func() bool {
		p, err := h.Looking.Progress(context.Background(), v)
		require.NoError(t, err)
		return p.Waiting == 0
	}, 30*time.Minute, 100*time.Millisecond)
}

// byHand hashes, copies and makes the three previews with command-line tools, two processes of each at a time over
// their share of the files, with nothing of a database or of metadata.
func byHand(t *testing.T, paths []string) time.Duration {
	t.Helper()
	dir := t.TempDir()
	began := time.Now()
	var group sync.WaitGroup
	share := (len(paths) + atATime - 1) / atATime
	for i := range atATime {
		part := paths[i*share : min(len(paths), (i+1)*share)]
		group.Go(func() {
			to := filepath.Join(dir, fmt.Sprint(i))
			if err := os.MkdirAll(to, 0o700); err != nil {
				t.Error(err)
				return
			}
			large := make([]string, len(part))
			for j, path := range part {
				large[j] = filepath.Join(to, strings.TrimSuffix(filepath.Base(path), ".jpg")+"-large.webp")
			}
			for _, step := range [][]string{
				append([]string{"sha256sum"}, part...),
				append(append([]string{"cp"}, part...), to),
				append([]string{"vipsthumbnail", "--size", "2000x2000", "--export-profile", "srgb", "-o", to +
					"/%s-large.webp[Q=80,effort=2,strip]"}, part...),
				append([]string{"vipsthumbnail", "--size", "1000x1000", "-o", to + "/%s-medium.webp[Q=78,effort=2,strip]"}, large...),
				append([]string{"vipsthumbnail", "--size", "900x400", "-o", to + "/%s-small.webp[Q=74,effort=2,strip]"}, large...),
			} {
				command := exec.Command(step[0], step[1:]...)
				command.Env = append(os.Environ(), "VIPS_CONCURRENCY=1")
				if out, err := command.CombinedOutput(); err != nil {
					t.Errorf("%s: %s", step[0], out)
				}
			}
		})
	}
	group.Wait()
	return time.Since(began)
}
