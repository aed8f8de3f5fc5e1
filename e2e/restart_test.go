package e2e

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
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/api"
	"brightsatchel/demo"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// process is a server as it runs for people: a program of its own, that can be killed.
type process struct {
	t       *testing.T
	program string
	env     []string
	address string
	command *exec.Cmd
	client  *http.Client
	db      *store.DB
}

func (s *process) start() {
	s.t.Helper()
	s.command = exec.Command(s.program, "serve")
	s.command.Env, s.command.Stderr = s.env, os.Stderr
	require.NoError(s.t, s.command.Start())
	require.Eventually(s.t, func() bool {
		conn, err := net.Dial("tcp", s.address)
		if err == nil {
			_ = conn.Close()
		}
		return err == nil
	}, patience, 20*time.Millisecond)
}

func (s *process) kill() {
	s.t.Helper()
	require.NoError(s.t, s.command.Process.Kill())
	_ = s.command.Wait()
	s.client.CloseIdleConnections() // they lead nowhere any more
}

// send makes a request; what the server answers is decoded into answer unless that is nil.
func (s *process) send(method, path string, headers map[string]string, body io.Reader, answer any) *http.Response {
	s.t.Helper()
	request, err := http.NewRequest(method, "http://"+s.address+path, body)
	require.NoError(s.t, err)
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	response, err := s.client.Do(request)
	require.NoError(s.t, err)
	defer func() { _ = response.Body.Close() }()
	if answer != nil {
		require.NoError(s.t, json.NewDecoder(response.Body).Decode(answer), "%s %s: %d", method, path, response.StatusCode)
	}
	return response
}

func newProcess(t *testing.T) *process {
	t.Helper()
	ctx := context.Background()
	program := filepath.Join(t.TempDir(), "satchel")
	out, err := exec.Command("go", "build", "-o", program, "brightsatchel/cmd/satchel").CombinedOutput()
	require.NoError(t, err, "%s", out)
	address, remove, err := storetest.Address(ctx, "restart_"+t.Name())
	require.NoError(t, err)
	t.Cleanup(remove)
	db, err := store.Open(ctx, address)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	require.NoError(t, db.Migrate(ctx))
	person := storetest.Brand(t, db, "restart")[access.Coordinator].Person
	hash, err := passwords.Hash("correct horse")
	require.NoError(t, err)
	_, err = db.Exec(`update person set password_hash = $2 where id = $1`, person, hash)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := listener.Addr().String()
	require.NoError(t, listener.Close())
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	s := &process{t: t, program: program, address: at, client: &http.Client{Jar: jar}, db: db,
		env: append(os.Environ(), "SATCHEL_DATABASE="+address, "SATCHEL_DATA="+t.TempDir(), "SATCHEL_ADDRESS="+at, "SATCHEL_MEASURES=no")}
	s.start()
	t.Cleanup(func() { _ = s.command.Process.Kill() })
	asJSON := map[string]string{"Content-Type": "application/json"}
	response := s.send("POST", "/api/session", asJSON,
		bytes.NewReader([]byte(`{"email":"coordinator@restart.example","password":"correct horse"}`)), nil)
	require.Equal(t, http.StatusOK, response.StatusCode)
	return s
}

var tus = map[string]string{"Tus-Resumable": "1.0.0"}

func withTus(more map[string]string) map[string]string {
	maps.Copy(more, tus)
	return more
}

// TestAKilledServerLosesNothing kills the server in the middle of uploads and of the work on what has arrived.
func TestAKilledServerLosesNothing(t *testing.T) {
	s := newProcess(t)
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
	s.send("POST", "/api/brands/restart/intakes", map[string]string{"Content-Type": "application/json"}, bytes.NewReader(body), &opened)
	require.Len(t, opened.Files, n)

	base := "/api/brands/restart/uploads"
	for i, f := range opened.Files {
		response := s.send("POST", base, withTus(map[string]string{"Upload-Length": fmt.Sprint(len(data[i])),
			"Upload-Metadata": "code " + base64.StdEncoding.EncodeToString([]byte(f.Code))}), nil, nil)
		require.Equal(t, http.StatusCreated, response.StatusCode)
		half := data[i][:len(data[i])/2]
		s.send("PATCH", base+"/"+f.Code, withTus(map[string]string{"Upload-Offset": "0",
			"Content-Type": "application/offset+octet-stream"}), bytes.NewReader(half), nil)
		if i == 2 {
			s.kill() // in the middle of the third upload
			s.start()
		}
		response = s.send("HEAD", base+"/"+f.Code, withTus(map[string]string{}), nil, nil)
		offset := response.Header.Get("Upload-Offset")
		require.Equal(t, fmt.Sprint(len(half)), offset, "it goes on at the byte where it stopped")
		response = s.send("PATCH", base+"/"+f.Code, withTus(map[string]string{"Upload-Offset": offset,
			"Content-Type": "application/offset+octet-stream"}), bytes.NewReader(data[i][len(half):]), nil)
		require.Equal(t, http.StatusNoContent, response.StatusCode)
		if i == 5 || i == n-1 {
			s.kill() // while what has arrived is being looked at
			s.start()
		}
	}
	done := s.settled(opened.ID)
	assert.Equal(t, n, done.Added, "%+v", done)
	s.complete(done, data)
}

// settled waits until an intake has finished.
func (s *process) settled(id int64) api.Intake {
	s.t.Helper()
	var intake api.Intake
	require.Eventually(s.t, func() bool {
		intake = api.Intake{}
		s.send("GET", fmt.Sprintf("/api/brands/restart/intakes/%d", id), nil, nil, &intake)
		return intake.Finished != nil
	}, 90*time.Second, 50*time.Millisecond)
	return intake
}

// complete checks that every item that was added has all its bytes and its previews.
func (s *process) complete(intake api.Intake, data [][]byte) {
	t := s.t
	t.Helper()
	for i, f := range intake.Files {
		if f.State != "added" {
			continue
		}
		request, err := http.NewRequest(http.MethodGet, "http://"+s.address+"/media/restart/"+*f.AssetCode+"/original", nil)
		require.NoError(t, err)
		response, err := s.client.Do(request)
		require.NoError(t, err)
		got, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		assert.Equal(t, sha256.Sum256(data[i]), sha256.Sum256(got), "every byte is there")
		for _, size := range []string{"small", "medium", "large"} {
			assert.Equal(t, http.StatusOK, s.send("GET", "/media/restart/"+*f.AssetCode+"/"+size, nil, nil, nil).StatusCode)
		}
	}
}

// push sends the bytes of a file, however often the server is gone meanwhile, and goes on at the byte where it stopped.
func (s *process) push(ctx context.Context, code string, data []byte) error {
	base := "http://" + s.address + "/api/brands/restart/uploads"
	ask := func(method, path string, headers map[string]string, body []byte) (*http.Response, error) {
		request, err := http.NewRequestWithContext(ctx, method, base+path, bytes.NewReader(body))
		if err != nil {
			return nil, err
		}
		for name, value := range withTus(headers) {
			request.Header.Set(name, value)
		}
		response, err := s.client.Do(request)
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
			if err := s.db.GetContext(ctx, &files, `select count(*) from intake_file where code = $1 and state <> 'waiting'`,
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

// TestKilledAtRandomMoments kills the server and its workers thirty times during an intake of 200 files, of which every
// tenth repeats another one.
func TestKilledAtRandomMoments(t *testing.T) {
	s := newProcess(t)
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
	s.send("POST", "/api/brands/restart/intakes", map[string]string{"Content-Type": "application/json"}, bytes.NewReader(body), &opened)
	ctx, cancel := context.WithTimeout(context.Background(), 60*time.Second)
	defer cancel()
	var group errgroup.Group
	for lane := range 4 {
		group.Go(func() error {
			for i := lane; i < n; i += 4 {
				if err := s.push(ctx, opened.Files[i].Code, data[i]); err != nil {
					return err
				}
			}
			return nil
		})
	}
	random := rand.New(rand.NewPCG(3, uint64(time.Now().UnixNano())))
	for range kills {
		time.Sleep(time.Duration(random.IntN(250)) * time.Millisecond) // a moment that nothing chose
		s.kill()
		s.start()
	}
	require.NoError(t, group.Wait())
	done := s.settled(opened.ID)
	assert.Equal(t, []int{n, n * 9 / 10, n / 10, 0}, []int{done.Total, done.Added, done.Skipped, done.Refused},
		"every file has exactly one outcome")
	s.complete(done, data)
	var items, versions int
	require.NoError(t, s.db.Get(&items, `select count(*) from asset`))
	require.NoError(t, s.db.Get(&versions, `select count(distinct sha256) from version`))
	assert.Equal(t, []int{done.Added, done.Added}, []int{items, versions}, "nothing came twice")
}

// TestAServerThatIsKilledDuringAnUpload lets a browser go on at the byte where the server that comes back has it.
func TestAServerThatIsKilledDuringAnUpload(t *testing.T) {
	s := newProcess(t)
	p := newVisitor(t)
	p.do(chromedp.Navigate("http://" + s.address))
	p.fill("input[name=email]", "coordinator@restart.example")
	p.fill("input[name=password]", "correct horse")
	p.press("Enter")
	p.see("[data-board]")
	data := append(mediatest.Clip(t, 184, 120), make([]byte, 20<<20)...) // in pieces of 8 MB
	p.line(&network.Conditions{UploadThroughput: 6_000_000, DownloadThroughput: -1})
	p.dropFiles(css("main"), files(t, []namedFile{{"gusts.mp4", data}})...)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* MB/.test(document.querySelector('[data-file="gusts.mp4"]')?.innerText)`)
	s.kill()
	s.start()
	p.line()
	p.strap("1 = 1 added")
	var sum []byte
	require.NoError(t, s.db.Get(&sum, `select sha256 from version`))
	want := sha256.Sum256(data)
	assert.Equal(t, want[:], sum, "every byte is there, once")
}

// TestAnUploadSurvivesAReload reloads the page in the middle of an upload over a slow line.
func TestAnUploadSurvivesAReload(t *testing.T) {
	p := signIn(t, coordinator)
	// a clip with weight added at its end, where players do not look
	data := append(mediatest.Clip(t, 160, 120), bytes.Repeat([]byte{0, 0, 16, 0, 'f', 'r', 'e', 'e'}, 1)...)
	data = append(data, make([]byte, 3<<20)...)
	paths := files(t, []namedFile{{"slow-line.mp4", data}})
	p.line(&network.Conditions{UploadThroughput: 400_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("0 of 1")`)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* (k|M)B/.test(document.querySelector('[data-file="slow-line.mp4"]')?.innerText)`)
	p.line()
	p.do(chromedp.Reload())
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("1 = 1 ")`)
}

// TestASessionThatEndsDuringAnUpload asks to sign in again, and goes on from the byte where it stopped.
func TestASessionThatEndsDuringAnUpload(t *testing.T) {
	p := signIn(t, coordinator)
	paths := files(t, []namedFile{{"long-walk.mp4", append(mediatest.Clip(t, 200, 120), make([]byte, 24<<20)...)}}) // in pieces of 8 MB
	p.line(&network.Conditions{UploadThroughput: 6_000_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* MB/.test(document.querySelector('[data-file="long-walk.mp4"]')?.innerText)`)
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, network.ClearBrowserCookies, cdp.Empty{})
		return chromedp.Void{}, err
	})
	p.see("input[name=email]")
	p.seeText("You were signed out")
	p.line()
	p.press("Escape") // the list of files stood open
	p.fill("input[name=email]", coordinator)
	p.fill("input[name=password]", demo.Password)
	p.press("Enter")
	p.gone("input[name=email]")
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("1 = 1 added")`)
}
