// Package e2e uses the application as people do: a real server with the demo brand, a real browser, real files.
package e2e

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"brightsatchel/demo"
	"brightsatchel/internal/house"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/web"
	"brightsatchel/standins/social"
)

// site is the address of the server under test, and database is behind it; browser is the context that tabs are opened from.
var (
	site     string
	database *store.DB
	browser  context.Context
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(run(m))
}

func run(m *testing.M) int {
	ctx := context.Background()
	site = os.Getenv("SATCHEL_E2E_SITE") // a server that runs already, for trying things out
	if site == "" {
		end, err := startSite(ctx)
		if err != nil {
			fmt.Fprintln(os.Stderr, "e2e:", err)
			return 1
		}
		defer end()
	}
	end, err := startBrowser(ctx)
	if err != nil {
		fmt.Fprintln(os.Stderr, "e2e: the browser does not start:", err)
		return 1
	}
	defer end()
	return m.Run()
}

func startSite(ctx context.Context) (func(), error) {
	address, removeDatabase, err := storetest.Address(ctx, "e2e")
	if err != nil {
		return nil, err
	}
	data, err := os.MkdirTemp("", "satchel-e2e-")
	if err != nil {
		return nil, err
	}
	if os.Getenv("SATCHEL_DEMO") == "" {
		_ = os.Setenv("SATCHEL_DEMO", "../demo")
	}
	// what lies outside: a folder on the server, and the stand-in for a social service
	disk := filepath.Join(data, "server-folders")
	outside := httptest.NewServer(http.StripPrefix("/social", social.New()))
	_ = os.Setenv("SATCHEL_STANDINS", outside.Listener.Addr().String())
	h, err := house.Open(ctx, house.Config{Database: address, Data: data, Workers: 2, ServerFolders: []string{disk},
		Outlets: []string{outside.Listener.Addr().String()}})
	if err != nil {
		return nil, err
	}
	database = h.DB
	if err := demo.Load(ctx, h); err != nil { // it leaves the workers of this process running
		return nil, err
	}
	// What is found out in the background draws tiles anew; people drag when that has come to rest.
	for waiting := 1; waiting > 0; time.Sleep(100 * time.Millisecond) {
		if err := h.DB.Get(&waiting, `select count(*) from asset where looked_into is null and kind <> 'file'`); err != nil {
			return nil, err
		}
	}
	server, err := web.New(ctx, h, web.Options{})
	if err != nil {
		return nil, err
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	site = "http://" + listener.Addr().String()
	serving := web.NewHTTPServer(server.Handler())
	go func() { _ = serving.Serve(listener) }()
	return func() {
		server.Close()
		_ = serving.Close()
		ending, cancel := context.WithTimeout(ctx, 5*time.Second)
		defer cancel()
		h.Close(ending)
		outside.Close()
		removeDatabase()
		_ = os.RemoveAll(data)
	}, nil
}

func startBrowser(ctx context.Context) (func(), error) {
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(1280, 800),
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-domain-reliability", true), chromedp.Flag("no-pings", true),
		chromedp.Flag("host-resolver-rules", "MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost"),
	)
	for _, name := range []string{"chromium-headless-shell", "chromium"} {
		if path, err := exec.LookPath(name); err == nil {
			options = append(options, chromedp.ExecPath(path))
			break
		}
	}
	allocator, endAllocator := chromedp.NewExecAllocator(ctx, options...)
	var end context.CancelFunc
	browser, end = chromedp.NewContext(allocator)
	if err := chromedp.Do(browser); err != nil {
		return nil, err
	}
	return func() { end(); endAllocator() }, nil
}
