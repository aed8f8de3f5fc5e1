package bench

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/media/pictures"
)

const (
	shots   = 20
	rounds  = 5
	atATime = 2 // workers here, processes of vipsthumbnail there
)

// TestPicturesPerSecond makes 1200-pixel JPEGs of 24-megapixel ones, in our workers and in vipsthumbnail, in turn.
func TestPicturesPerSecond(t *testing.T) {
	measured(t)
	originals := largePictures(t)
	pool := pictures.NewPool(atATime)
	defer pool.Close()
	ours(t, pool, originals) // starts the workers
	var ratios, speed []float64
	for range rounds {
		theirs := vipsthumbnail(t, originals)
		mine := ours(t, pool, originals)
		ratios = append(ratios, theirs.Seconds()/mine.Seconds())
		speed = append(speed, shots/mine.Seconds())
	}
	t.Logf("pictures a second: %.1f; against vipsthumbnail: %.2f (wanted at least 0.9), rounds %.2f", median(speed), median(ratios), ratios)
	t.Logf("peak memory of a worker: %d MB", peak(t)/1024)
}

// largePictures makes JPEGs of 6000 × 4000 pixels from a demo picture, each a little different.
func largePictures(t *testing.T) []string {
	t.Helper()
	dir := t.TempDir()
	source := filepath.Join(os.Getenv("SATCHEL_DEMO"), "media/spring-meet-hallow-down/OST_0412.JPG")
	var out []string
	for i := range shots {
		path := filepath.Join(dir, fmt.Sprintf("shot-%02d.jpg", i))
		large := filepath.Join(dir, "large.v")
		run(t, "vips", "resize", source, large, "3.75")
		run(t, "vips", "linear", large, filepath.Join(dir, "brighter.v"), "1", strconv.Itoa(i), "--uchar")
		run(t, "vips", "extract_area", filepath.Join(dir, "brighter.v"), path+"[Q=90]", "0", "0", "6000", "4000")
		out = append(out, path)
	}
	return out
}

func run(t *testing.T, name string, args ...string) {
	t.Helper()
	out, err := exec.Command(name, args...).CombinedOutput()
	require.NoError(t, err, "%s", out)
}

func ours(t *testing.T, pool *pictures.Pool, originals []string) time.Duration {
	t.Helper()
	dir := t.TempDir()
	size := geometry.Fit(geometry.Size{Width: 6000, Height: 4000}, geometry.Size{Width: 1200, Height: 1200})
	began := time.Now()
	var group sync.WaitGroup
	for i, path := range originals {
		group.Go(func() {
			_, err := pool.Do(context.Background(), pictures.Request{Path: path, MediaType: "image/jpeg", Outputs: []pictures.Output{
				{Path: filepath.Join(dir, fmt.Sprintf("%d.jpg", i)), Width: size.Width, Height: size.Height, Format: "jpeg", Quality: 82},
			}})
			if err != nil {
				t.Error(err)
			}
		})
	}
	group.Wait()
	return time.Since(began)
}

// vipsthumbnail makes the same with as many processes at a time as we have workers, each over its share of the files.
func vipsthumbnail(t *testing.T, originals []string) time.Duration {
	t.Helper()
	dir := t.TempDir()
	began := time.Now()
	var group sync.WaitGroup
	share := len(originals) / atATime
	for i := range atATime {
		group.Go(func() {
			args := append([]string{"--size", "1200x1200", "--export-profile", "srgb", "-o", dir +
				"/%s.jpg[Q=82,optimize_coding,strip]"}, originals[i*share:(i+1)*share]...)
			command := exec.Command("vipsthumbnail", args...)
			command.Env = append(os.Environ(), "VIPS_CONCURRENCY=1")
			if out, err := command.CombinedOutput(); err != nil {
				t.Errorf("%s", out)
			}
		})
	}
	group.Wait()
	return time.Since(began)
}

// peak is the most memory that a worker of this process ever held, in kilobytes.
func peak(t *testing.T) int {
	t.Helper()
	out, err := exec.Command("pgrep", "-P", strconv.Itoa(os.Getpid())).Output()
	require.NoError(t, err)
	most := 0
	for pid := range strings.FieldsSeq(string(out)) {
		status, err := os.ReadFile("/proc/" + pid + "/status")
		if err != nil {
			continue // it has ended: pgrep itself
		}
		for line := range strings.Lines(string(status)) {
			if fields := strings.Fields(line); len(fields) > 1 && fields[0] == "VmHWM:" {
				kilobytes, err := strconv.Atoi(fields[1])
				require.NoError(t, err)
				most = max(most, kilobytes)
			}
		}
	}
	return most
}
