// Package restart kills the program while files come in, and counts afterwards. It needs no browser, and runs beside those tests.
package restart

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/api"
	"brightsatchel/e2e/processtest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

var tus = map[string]string{"Tus-Resumable": "1.0.0"}

func withTus(more map[string]string) map[string]string {
	maps.Copy(more, tus)
	return more
}

// TestAKilledServerLosesNothing kills the server in the middle of uploads and of the work on what has arrived.
func TestAKilledServerLosesNothing(t *testing.T) {
	s := processtest.New(t)
	const n = 8
	data := make([][]byte, n)
	intake := api.NewIntake{}
	for i := range data {
		data[i] = mediatest.JPEG(t, 1500, 1000, uint8(20*i))
		intake.Files = append(intake.Files, api.DroppedFile{Name: fmt.Sprintf("shot %d.jpg", i), Bytes: int64(len(data[i]))})
	}
	body, err := json.Marshal(intake)
	require.NoError(t, err)
	var opened api.Intake
	s.Send("POST", "/api/brands/restart/intakes", map[string]string{"Content-Type": "application/json"}, bytes.NewReader(body), &opened)
	require.Len(t, opened.Files, n)

	base := "/api/brands/restart/uploads"
	for i, f := range opened.Files {
		response := s.Send("POST", base, withTus(map[string]string{"Upload-Length": fmt.Sprint(len(data[i])),
			"Upload-Metadata": "code " + base64.StdEncoding.EncodeToString([]byte(f.Code))}), nil, nil)
		require.Equal(t, http.StatusCreated, response.StatusCode)
		half := data[i][:len(data[i])/2]
		s.Send("PATCH", base+"/"+f.Code, withTus(map[string]string{"Upload-Offset": "0",
			"Content-Type": "application/offset+octet-stream"}), bytes.NewReader(half), nil)
		if i == 2 {
			s.Kill() // in the middle of the third upload
			s.Start()
		}
		response = s.Send("HEAD", base+"/"+f.Code, withTus(map[string]string{}), nil, nil)
		offset := response.Header.Get("Upload-Offset")
		require.Equal(t, fmt.Sprint(len(half)), offset, "it goes on at the byte where it stopped")
		response = s.Send("PATCH", base+"/"+f.Code, withTus(map[string]string{"Upload-Offset": offset,
			"Content-Type": "application/offset+octet-stream"}), bytes.NewReader(data[i][len(half):]), nil)
		require.Equal(t, http.StatusNoContent, response.StatusCode)
		if i == 5 || i == n-1 {
			s.Kill() // while what has arrived is being looked at
			s.Start()
		}
	}
	done := settled(t, s, opened.ID)
	assert.Equal(t, n, done.Added, "%+v", done)
	complete(t, s, done, data)
}

// settled waits until an intake has finished.
func settled(t *testing.T, s *processtest.Process, id int64) api.Intake {
	t.Helper()
	var intake api.Intake
	require.Eventually(t, func() bool {
		intake = api.Intake{}
		s.Send("GET", fmt.Sprintf("/api/brands/restart/intakes/%d", id), nil, nil, &intake)
		return intake.Finished != nil
	}, 5*time.Minute, 50*time.Millisecond)
	return intake
}

// complete checks that every item that was added has all its bytes and its previews.
func complete(t *testing.T, s *processtest.Process, intake api.Intake, data [][]byte) {
	t.Helper()
	for i, f := range intake.Files {
		if f.State != "added" {
			continue
		}
		request, err := http.NewRequest(http.MethodGet, "http://"+s.Address+"/media/restart/"+*f.AssetCode+"/original", nil)
		require.NoError(t, err)
		response, err := s.Client.Do(request)
		require.NoError(t, err)
		got, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		assert.Equal(t, sha256.Sum256(data[i]), sha256.Sum256(got), "every byte is there")
		for _, size := range []string{"small", "medium", "large"} {
			assert.Equal(t, http.StatusOK, s.Send("GET", "/media/restart/"+*f.AssetCode+"/"+size, nil, nil, nil).StatusCode)
		}
	}
}

// push sends the bytes of a file, however often the server is gone meanwhile, and goes on at the byte where it stopped.
func push(ctx context.Context, s *processtest.Process, code string, data []byte) error {
	base := "http://" + s.Address + "/api/brands/restart/uploads"
	ask := func(method, path string, headers map[string]string, body []byte) (*http.Response, error) {
		request, err := http.NewRequestWithContext(ctx, method, base+path, bytes.NewReader(body))
		if err != nil {
			return nil, err
		}
		for name, value := range withTus(headers) {
			request.Header.Set(name, value)
		}
		response, err := s.Client.Do(request)
		if err == nil {
			_ = response.Body.Close()
		}
		return response, err
	}
	for ctx.Err() == nil {
		response, err := ask("HEAD", "/"+code, map[string]string{}, nil)
		switch {
		case err != nil || response.StatusCode >= 500:
			time.Sleep(20 * time.Millisecond) // a client that waits a little before it asks again
		case response.StatusCode == http.StatusGone:
			return nil
		case response.StatusCode == http.StatusNotFound:
			var files int
			if err := s.DB.GetContext(ctx, &files, `select count(*) from intake_file where code = $1 and state <> 'waiting'`,
				code); err != nil || files > 0 {
				return err
			}
			_, _ = ask("POST", "", map[string]string{"Upload-Length": fmt.Sprint(len(data)), "Upload-Metadata": "code " +
				base64.StdEncoding.EncodeToString([]byte(code))}, nil)
		default:
			offset, err := strconv.Atoi(response.Header.Get("Upload-Offset"))
			if err != nil {
				return err
			}
			if offset == len(data) {
				return nil
			}
			_, _ = ask("PATCH", "/"+code, map[string]string{"Upload-Offset": fmt.Sprint(offset),
				"Content-Type": "application/offset+octet-stream"}, data[offset:])
		}
	}
	return ctx.Err()
}

// settledMoreThan waits until more files than before have their outcome, or all, and returns how many.
func settledMoreThan(t *testing.T, s *processtest.Process, before, all int) (now int) {
	t.Helper()
	require.Eventually(t, func() bool {
		err := storetest.SQL(s.DB).Get(&now, `select count(*) from intake_file where state in ('added', 'version', 'skipped', 'refused')`)
		return err == nil && (now > before || now == all)
	}, 2*time.Minute, 10*time.Millisecond)
	return now
}

// TestKilledAtRandomMoments kills the server and its workers thirty times during an intake of 200 files, of which every
// tenth repeats another one.
func TestKilledAtRandomMoments(t *testing.T) {
	s := processtest.New(t)
	const n, kills = 200, 30
	data := make([][]byte, n)
	intake := api.NewIntake{}
	for i := range data {
		shade := i
		if i%10 == 9 {
			shade = i - 4
		}
		data[i] = mediatest.JPEG(t, 640+shade, 480, uint8(shade))
		intake.Files = append(intake.Files, api.DroppedFile{Name: fmt.Sprintf("shot %03d.jpg", i), Bytes: int64(len(data[i]))})
	}
	body, err := json.Marshal(intake)
	require.NoError(t, err)
	var opened api.Intake
	s.Send("POST", "/api/brands/restart/intakes", map[string]string{"Content-Type": "application/json"}, bytes.NewReader(body), &opened)
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Minute)
	defer cancel()
	var group errgroup.Group
	for lane := range 4 {
		group.Go(func() error {
			for i := lane; i < n; i += 4 {
				if err := push(ctx, s, opened.Files[i].Code, data[i]); err != nil {
					return err
				}
			}
			return nil
		})
	}
	random := rand.New(rand.NewPCG(3, uint64(time.Now().UnixNano())))
	before := -1
	for range kills {
		before = settledMoreThan(t, s, before, n)                      // on a slow machine too, each kill comes upon other files
		time.Sleep(time.Duration(random.IntN(250)) * time.Millisecond) // a moment that nothing chose
		s.Kill()
		s.Start()
	}
	require.NoError(t, group.Wait())
	done := settled(t, s, opened.ID)
	var refused []string
	require.NoError(t, storetest.SQL(s.DB).Select(&refused, `select why from intake_file where state = 'refused'`))
	assert.Empty(t, refused)
	assert.Equal(t, []int{n, n * 9 / 10, n / 10, 0}, []int{done.Total, done.Added, done.Skipped, done.Refused},
		"every file has exactly one outcome")
	complete(t, s, done, data)
	var items, versions int
	require.NoError(t, storetest.SQL(s.DB).Get(&items, `select count(*) from asset`))
	require.NoError(t, storetest.SQL(s.DB).Get(&versions, `select count(distinct sha256) from version`))
	assert.Equal(t, []int{done.Added, done.Added}, []int{items, versions}, "nothing came twice")
}
