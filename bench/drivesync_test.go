package bench

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

const (
	synced      = 10_000
	syncFolders = 50
	atOnceSync  = 4
)

// TestDriveSync puts 10,000 files in 50 folders on the drive as a program that syncs does, asks for all of it again as the next run does,
// and renames some; beside it, writing the same bytes to the same paths of a plain file server would say little: what is measured is how
// long people wait, and how long until all of it is in the library.
func TestDriveSync(t *testing.T) {
	measured(t)
	d := deskIn(t, "bench_sync", smallLibrary)
	d.openDrive()
	do := func(method, path string, body []byte, head map[string]string) int {
		path = strings.ReplaceAll(path, " ", "%20")
		request, err := http.NewRequest(method, d.address+"/dav"+path, bytes.NewReader(body))
		require.NoError(t, err)
		request.SetBasicAuth(d.email, d.password)
		for key, value := range head {
			request.Header.Set(key, value)
		}
		answer, err := http.DefaultClient.Do(request)
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, answer.Body)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer.StatusCode
	}
	picture := mediatest.JPEG(t, 320, 240, 1)
	path := func(n int) string { return fmt.Sprintf("/Library/Synced %02d/IMG_%05d.jpg", n%syncFolders, n) }
	began := time.Now()
	for folder := range syncFolders {
		require.Equal(t, http.StatusCreated, do("MKCOL", fmt.Sprintf("/Library/Synced %02d/", folder), nil, nil))
	}
	var mu sync.Mutex
	var put []float64
	each(synced, func(n int) {
		sent := time.Now()
		status := do(http.MethodPut, path(n), append(bytes.Clone(picture), fmt.Sprintf("%d", n)...), nil) // no two are the same
		mu.Lock()
		defer mu.Unlock()
		put = append(put, time.Since(sent).Seconds()*1000)
		require.Equal(t, http.StatusCreated, status, path(n))
	})
	t.Logf("%d files written in %.0f s: median %.1f p95 %.1f ms each", synced, time.Since(began).Seconds(), median(put), percentile(put, 95))
	var waits int
	for waits = 1; waits > 0 && time.Since(began) < 2*time.Hour; time.Sleep(time.Second) {
		require.NoError(t, storetest.SQL(d.h.DB).Get(&waits, `select $1 - count(*) from asset where file_name like 'IMG_%' and source = 'drive'`,
			synced))
	}
	t.Logf("all of them in the library after %.0f s", time.Since(began).Seconds())
	again := time.Now()
	for folder := range syncFolders {
		d.drive("a folder of 200 listed", fmt.Sprintf("/Library/Synced%%20%02d/", folder))
	}
	t.Logf("the next run asks what is there: %.1f s in all, median %.1f p95 %.1f ms a folder", time.Since(again).Seconds(),
		median(d.took["a folder of 200 listed"]), percentile(d.took["a folder of 200 listed"], 95))
	var moved []float64
	for n := range 200 {
		sent := time.Now()
		to := fmt.Sprintf("%s/dav/Library/Synced%%2000/moved%d.jpg", d.address, n)
		status := do("MOVE", path(n), nil, map[string]string{"Destination": to})
		require.Equal(t, http.StatusCreated, status)
		moved = append(moved, time.Since(sent).Seconds()*1000)
	}
	t.Logf("200 renamed: median %.1f p95 %.1f ms each", median(moved), percentile(moved, 95))
}

// each does something for every number below n, some at once.
func each(n int, do func(n int)) {
	var all sync.WaitGroup
	for w := range atOnceSync {
		all.Go(func() {
			for i := w; i < n; i += atOnceSync {
				do(i)
			}
		})
	}
	all.Wait()
}
