// Package processtest runs the server as it runs for people: as a program of its own, that can be killed.
package processtest

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// patience is how long a test waits for something: long enough for a machine four times slower.
const patience = 2 * time.Minute

// Process is a server of its own, with a database and a folder of its own, and the client of a coordinator who is signed in.
type Process struct {
	t       *testing.T
	program string
	env     []string
	Address string
	command *exec.Cmd
	Client  *http.Client
	DB      *store.DB
}

// Start starts the program and waits until it listens.
func (s *Process) Start() {
	s.t.Helper()
	s.command = exec.Command(s.program, "serve")
	s.command.Env, s.command.Stderr = s.env, os.Stderr
	require.NoError(s.t, s.command.Start())
	require.Eventually(s.t, func() bool {
		conn, err := net.Dial("tcp", s.Address)
		if err == nil {
			_ = conn.Close()
		}
		return err == nil
	}, patience, 20*time.Millisecond)
}

// Kill ends the program without a warning.
func (s *Process) Kill() {
	s.t.Helper()
	require.NoError(s.t, s.command.Process.Kill())
	_ = s.command.Wait()
	s.Client.CloseIdleConnections() // they lead nowhere any more
}

// dying is how long what only asks is asked again: its connection may have met the reset of a process that was just killed.
const dying = 30 * time.Second

// Send makes a request; what the server answers is decoded into answer unless that is nil.
func (s *Process) Send(method, path string, headers map[string]string, body io.Reader, answer any) *http.Response {
	s.t.Helper()
	request, err := http.NewRequest(method, "http://"+s.Address+path, body)
	require.NoError(s.t, err)
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	response, err := s.Client.Do(request)
	for began := time.Now(); err != nil && (method == http.MethodGet || method == http.MethodHead) && time.Since(began) < dying; {
		time.Sleep(100 * time.Millisecond)
		response, err = s.Client.Do(request)
	}
	require.NoError(s.t, err)
	defer func() { _ = response.Body.Close() }()
	if answer != nil {
		require.NoError(s.t, json.NewDecoder(response.Body).Decode(answer), "%s %s: %d", method, path, response.StatusCode)
	}
	return response
}

// Email and Password sign in the coordinator of the brand "restart", the only one there is.
const (
	Email    = "coordinator@restart.example"
	Password = "correct horse"
)

// built builds the program, once for all tests of a package.
var built = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "satchel-program-")
	if err != nil {
		return "", err
	}
	program := filepath.Join(dir, "satchel")
	out, err := exec.Command("go", "build", "-o", program, "brightsatchel/cmd/satchel").CombinedOutput()
	if err != nil {
		return "", fmt.Errorf("%w: %s", err, out)
	}
	return program, nil
})

// foreign is what of an environment is not about this product: the settings of the tests are none of the program's.
func foreign(environment []string) []string {
	return slices.DeleteFunc(environment, func(one string) bool { return strings.HasPrefix(one, "SATCHEL_") })
}

// New builds the program, starts it on a free port with some more of an environment, and signs in.
func New(t *testing.T, more ...string) *Process {
	t.Helper()
	ctx := context.Background()
	program, err := built()
	require.NoError(t, err)
	address, remove, err := storetest.Address(ctx, "restart_"+t.Name())
	require.NoError(t, err)
	t.Cleanup(remove)
	db, err := store.Open(ctx, address)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	require.NoError(t, db.Migrate(ctx))
	person := storetest.Brand(t, db, "restart")[access.Coordinator].Person
	hash, err := passwords.Hash(Password)
	require.NoError(t, err)
	_, err = storetest.SQL(db).Exec(`update person set password_hash = $2 where id = $1`, person, hash)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := listener.Addr().String()
	require.NoError(t, listener.Close())
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	s := &Process{t: t, program: program, Address: at, Client: &http.Client{Jar: jar}, DB: db,
		env: append(foreign(os.Environ()), "SATCHEL_DATABASE="+address, "SATCHEL_DATA="+t.TempDir(), "SATCHEL_ADDRESS="+at,
			"SATCHEL_MEASURES=no")}
	s.env = append(s.env, more...)
	s.Start()
	t.Cleanup(func() { _ = s.command.Process.Kill() })
	asJSON := map[string]string{"Content-Type": "application/json"}
	response := s.Send("POST", "/api/session", asJSON,
		bytes.NewReader([]byte(`{"email":"`+Email+`","password":"`+Password+`"}`)), nil)
	require.Equal(t, http.StatusOK, response.StatusCode)
	return s
}
