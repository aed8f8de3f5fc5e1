package e2e

import (
	"context"
	"encoding/base64"
	"fmt"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/house"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/web"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/postbox"
	"brightsatchel/standins/signin"
	"brightsatchel/standins/windward"
)

// A lane is a server with the demo brand, its database and a browser. Tests run side by side, each in a lane that it has for
// itself: the library is a fresh copy for each test, so that none depends on what another left; the browser goes from test to
// test.
type lane struct {
	site     string
	database *store.DB
	browser  context.Context
	number   int
}

// sideBySide is how many lanes there are. A browser test waits more than it works.
const sideBySide = 2

var (
	free      = make(chan *lane, sideBySide)
	taken     sync.Map        // from tests to their lanes
	letterBox = postbox.New() // where all letters end, whichever lane they come from
	loaded    house.Config    // the demo brand as it was loaded, which every test gets a copy of
)

// at is the lane of a test, from its first call to the end of the test. It waits until one is free.
func at(t *testing.T) *lane {
	t.Helper()
	if l, has := taken.Load(t); has {
		return l.(*lane)
	}
	t.Parallel()
	l := <-free
	taken.Store(t, l)
	t.Cleanup(func() {
		taken.Delete(t)
		free <- l
	})
	ctx := context.Background()
	copied := loaded
	address, remove, err := storetest.Copy(ctx, loaded.Database, l.number)
	require.NoError(t, err)
	t.Cleanup(remove)
	copied.Database, copied.Data = address, t.TempDir()
	require.NoError(t, os.CopyFS(copied.Data, os.DirFS(loaded.Data)))
	end, err := l.serve(ctx, copied)
	require.NoError(t, err)
	t.Cleanup(end)
	return l
}

// openLanes loads the demo brand once and starts the browser of every lane. What it returns ends all of them.
func openLanes(ctx context.Context) (end func(), err error) {
	var ends []func()
	end = func() {
		for i := range ends {
			ends[len(ends)-1-i]()
		}
	}
	later := func(f func()) { ends = append(ends, f) }
	data, err := os.MkdirTemp("", "satchel-e2e-")
	if err != nil {
		return end, err
	}
	later(func() { _ = os.RemoveAll(data) })
	// what lies outside: the stand-in for a social service, and a folder on the server
	smtp, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return end, err
	}
	mailServer := letterBox.Server("")
	go func() { _ = mailServer.Serve(smtp) }()
	later(func() { _ = mailServer.Close() })
	short = windward.New("/windward")
	services := http.NewServeMux()
	services.Handle("/windward/", http.StripPrefix("/windward", short))
	services.Handle("/longtable/", http.StripPrefix("/longtable", longtable.New("/longtable")))
	services.Handle("/beanpole/", http.StripPrefix("/beanpole", beanpole.New("/beanpole")))
	outside := httptest.NewServer(services)
	later(outside.Close)
	address, remove, err := storetest.Address(ctx, "e2e")
	if err != nil {
		return end, err
	}
	later(remove)
	loaded = house.Config{Database: address, Data: filepath.Join(data, "demo"), Workers: 2,
		ServerFolders: []string{filepath.Join(data, "server-folders")}, Outlets: []string{outside.Listener.Addr().String()},
		Keys: base64.StdEncoding.EncodeToString([]byte("the key of the lanes, 32 bytes..")), Services: servicesAt(outside.URL),
		Mail: mail.Config{Server: smtp.Addr().String(), From: "Bright Satchel <satchel@tansyloft.example>"}}
	if err := loadDemo(ctx, loaded, outside.Listener.Addr().String()); err != nil {
		return end, err
	}
	for n := 1; n <= sideBySide; n++ {
		l := &lane{number: n}
		ended, err := l.startBrowser(ctx)
		if err != nil {
			return end, fmt.Errorf("the browser does not start: %w", err)
		}
		later(ended)
		free <- l
	}
	return end, nil
}

// servicesAt are the simulated services at an address, as they are registered.
func servicesAt(address string) (out []outlets.Registered) {
	for _, kind := range []string{"windward", "longtable", "beanpole"} {
		out = append(out, outlets.Registered{Kind: kind, Address: address + "/" + kind, Client: signin.Client})
	}
	return out
}

// loadDemo loads the demo brand and waits until all is found out about its items: that draws tiles anew, and people drag when
// it has come to rest.
func loadDemo(ctx context.Context, config house.Config, services string) error {
	h, err := house.Open(ctx, config)
	if err != nil {
		return err
	}
	defer h.Close(ctx)
	// it leaves the workers of this process running
	if err := demo.Load(ctx, h, demo.From{Folder: "../demo", Services: services, Website: "127.0.0.1:8472"}); err != nil {
		return err
	}
	for waiting := 1; waiting > 0; time.Sleep(100 * time.Millisecond) {
		if err := storetest.SQL(h.DB).Get(&waiting, `select count(*) from asset where looked_into is null and kind <> 'file'`); err != nil {
			return err
		}
	}
	return nil
}

// serve starts the server of a lane.
func (l *lane) serve(ctx context.Context, config house.Config) (func(), error) {
	h, err := house.Open(ctx, config)
	if err != nil {
		return nil, err
	}
	l.database = h.DB
	if err := h.Work(ctx); err != nil {
		return nil, err
	}
	server, err := web.New(ctx, h, web.Options{})
	if err != nil {
		return nil, err
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	l.site = (&url.URL{Scheme: "http", Host: listener.Addr().String()}).String()
	h.Hosting.Origin, h.Posting.Origin, h.People.Origin, h.Posting.Outlets.Origin = l.site, l.site, l.site, l.site
	serving := web.NewHTTPServer(server.Handler())
	go func() { _ = serving.Serve(listener) }()
	return func() {
		server.Close()
		_ = serving.Close()
		ending, cancel := context.WithTimeout(ctx, 5*time.Second)
		defer cancel()
		h.Close(ending)
	}, nil
}

func (l *lane) startBrowser(ctx context.Context) (end func(), err error) {
	l.browser, end, err = openBrowser(ctx)
	return end, err
}

// openBrowser starts a browser.
func openBrowser(ctx context.Context) (context.Context, func(), error) {
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(1280, 800),
		// Pictures are painted by a graphics card, or here by a program that does the same.
		chromedp.Flag("use-angle", "swiftshader"), chromedp.Flag("enable-unsafe-swiftshader", true),
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
	browser, end := chromedp.NewContext(allocator)
	if err := chromedp.Do(browser); err != nil {
		return nil, nil, err
	}
	return browser, func() { end(); endAllocator() }, nil
}
