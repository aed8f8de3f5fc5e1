package bench

import (
	"bytes"
	"context"
	"crypto/rand"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store/drivestore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/web"
	"brightsatchel/internal/web/drive"
)

// TestDrive reads and writes files over the drive, each time in turn with plain files over the same server, and lists folders of 10,000.
func TestDrive(t *testing.T) {
	measured(t)
	ctx := context.Background()
	h := housetest.New(t, "drive") // nothing is brought in meanwhile: that is measured by TestIntake
	v := storetest.Brand(t, h.DB, "drive")[access.Coordinator]
	v, err := h.People.Viewer(ctx, v.Person, v.BrandCode)
	require.NoError(t, err)
	password, err := h.People.MakeDrivePassword(ctx, v, "a bench", 0)
	require.NoError(t, err)
	dir := t.TempDir()
	plain := http.FileServer(http.Dir(dir))
	whole, err := web.New(ctx, h, web.Options{})
	require.NoError(t, err)
	t.Cleanup(whole.Close)
	ours := whole.Handler()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch {
		case strings.HasPrefix(r.URL.Path, drive.Prefix):
			ours.ServeHTTP(w, r)
		case r.Method == http.MethodPut:
			file, err := os.Create(filepath.Join(dir, filepath.Base(r.URL.Path)))
			require.NoError(t, err)
			_, err = io.Copy(file, r.Body)
			require.NoError(t, err)
			require.NoError(t, file.Close())
		default:
			plain.ServeHTTP(w, r)
		}
	}))
	t.Cleanup(server.Close)
	send := func(method, path string, data []byte) {
		request, err := http.NewRequest(method, server.URL+path, bytes.NewReader(data))
		require.NoError(t, err)
		request.SetBasicAuth(v.Email, password)
		answer, err := http.DefaultClient.Do(request)
		require.NoError(t, err)
		defer func() { _ = answer.Body.Close() }()
		_, err = io.Copy(io.Discard, answer.Body)
		require.NoError(t, err)
		require.Less(t, answer.StatusCode, 300, path)
	}
	const rounds, atOnce = 9, 4
	for size, n := range map[int]int{300 << 10: 120, 1 << 20: 60, 5 << 20: 12, 60 << 20: 4} { // a round takes long enough to be timed
		data := make([]byte, size)
		_, _ = rand.Read(data)
		each := func(method, path string, round int) float64 {
			if size > 10<<20 {
				round = 0 // the largest are saved over, for room; the others are new in every round
			}
			began := time.Now()
			var all sync.WaitGroup
			for w := range atOnce {
				all.Go(func() {
					for i := w; i < n; i += atOnce {
						body := data
						if method == http.MethodGet {
							body = nil
						}
						send(method, fmt.Sprintf("%s%d-%d-%d.jpg", path, size, round, i), body)
					}
				})
			}
			all.Wait()
			return time.Since(began).Seconds()
		}
		for _, method := range []string{http.MethodPut, http.MethodGet} {
			var ratios, ours []float64
			for round := range rounds {
				var drive, plain float64
				for turn := range 2 {
					if (round+turn)%2 == 0 {
						drive = each(method, "/dav/Library/", round)
					} else {
						plain = each(method, "/", round)
					}
				}
				ratios, ours = append(ratios, plain/drive), append(ours, drive/float64(n)*1000)
			}
			t.Logf("%s of files of %d kB, %d at once: %.1f ms for each, against plain files %.2f (wanted at least 0.5; "+
				"half of the rounds %.2f to %.2f)",
				method, size>>10, atOnce, median(ours), median(ratios), percentile(ratios, 25), percentile(ratios, 75))
		}
	}
	const many = 10_000
	waiting, err := h.Filing.Create(ctx, v, 0, "Waiting")
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`insert into drive_file (brand_id, person_id, folder_id, name, bytes)
		select $1, $2, $3, 'waits ' || i || '.jpg', 1000 from generate_series(1, $4::int) i`, v.Brand, v.Person,
		waiting.ID, many)
	require.NoError(t, err)
	done, err := h.Filing.Create(ctx, v, 0, "Ten thousand")
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`with made as (insert into asset (brand_id, folder_id, kind, file_name, media_type, bytes, width, height)
			select $1, $2, 'picture', 'IMG_' || i || '.jpg', 'image/jpeg', 1000, 10, 10 from generate_series(1, $3::int) i returning id, file_name),
		versions as (insert into version (brand_id, asset_id, file_name, media_type, bytes, sha256, metadata, kind, width, height)
			select $1, id, file_name, 'image/jpeg', 1000, sha256(file_name::bytea), '{}', 'picture', 10, 10 from made returning id, asset_id)
		select count(*) from versions`, v.Brand, done.ID, many)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).
		Exec(`update asset a set version_id = v.id from version v where v.asset_id = a.id and a.folder_id = $1`, done.ID)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`analyze`)
	require.NoError(t, err)
	for folder, what := range map[string]string{"Ten%20thousand": "items", "Waiting": "files that wait to be brought in"} {
		var took []float64
		for range 11 {
			began := time.Now()
			request, err := http.NewRequest("PROPFIND", server.URL+"/dav/Library/"+folder+"/", nil)
			require.NoError(t, err)
			request.SetBasicAuth(v.Email, password)
			request.Header.Set("Depth", "1")
			answer, err := http.DefaultClient.Do(request)
			require.NoError(t, err)
			text, err := io.ReadAll(answer.Body)
			require.NoError(t, err)
			require.NoError(t, answer.Body.Close())
			require.Equal(t, many+1, strings.Count(string(text), "<D:href>"))
			took = append(took, float64(time.Since(began).Milliseconds()))
		}
		t.Logf("a folder of %d %s listed: median %.0f ms, p95 %.0f ms (wanted under 1,000)", many, what, median(took), percentile(took, 95))
	}
	var took []float64
	for range 30 { // what is asked every two seconds
		began := time.Now()
		groups, err := drivestore.DriveGroupsReady(ctx, h.DB, 3*time.Second)
		require.NoError(t, err)
		require.LessOrEqual(t, len(groups), 2)
		took = append(took, float64(time.Since(began).Microseconds())/1000)
	}
	t.Logf("where some of %d files wait that can be taken: median %.1f ms, p95 %.1f ms (wanted 100)", many, median(took), percentile(took, 95))
}
