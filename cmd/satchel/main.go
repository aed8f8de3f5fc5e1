// Command satchel is Bright Satchel: the server, its workers, and the loading of the demo brand.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/emersion/go-smtp"

	"brightsatchel/demo"
	"brightsatchel/internal/house"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/outlets"
	"brightsatchel/internal/web"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/postbox"
	"brightsatchel/standins/website"
	"brightsatchel/standins/windward"
)

const usage = `usage: satchel serve | work | demo | standins

  serve   the web application, with background work unless SATCHEL_WORK=no
  work    background work only, beside one or more servers
  demo    load the demo brand, unless it is there
  standins  the simulated outside world: three social services, a mail server, and a website with an editor

SATCHEL_DATABASE  PostgreSQL address            (required)
SATCHEL_DATA      folder for media and uploads  (.data/satchel)
SATCHEL_ADDRESS   address to listen on          (127.0.0.1:8460)
SATCHEL_SERVER_FOLDERS  folders on this machine, with colons between them, inside of which
                  stewards can allow folders to bring in from
SATCHEL_STANDINS  address of the stand-ins      (127.0.0.1:8470)
SATCHEL_WEBSITE   address of the website among them (127.0.0.1:8472)
SATCHEL_PROXIES   addresses or networks (CIDR), with commas between them, of proxies in front of the server
                  whose forwarded address of a caller is believed
SATCHEL_OUTLETS   addresses (host:port), with commas between them, on this machine or in private networks
                  where outlets may be
SATCHEL_SERVICES  file that says at which services the server is registered: a list in JSON of kind, address,
                  client and secret
SATCHEL_KEYS      keys, each 32 bytes in base64, with commas between them, that seal the tokens of accounts;
                  the first one seals, all open (the file keys in SATCHEL_DATA)
SATCHEL_ORIGIN    how people reach this server, for links in letters (http:// and SATCHEL_ADDRESS)
SATCHEL_SMTP      mail server (host:port) that takes letters; without one none are sent
SATCHEL_SMTP_USER, SATCHEL_SMTP_PASSWORD  where it asks for them
SATCHEL_MAIL_FROM address that letters are from (satchel@localhost)
SATCHEL_POSTBOX   address of the made-up mail server among the stand-ins (127.0.0.1:8474)
SATCHEL_HTTPS     yes, where people reach the server by HTTPS: then browsers send its cookie over nothing else
SATCHEL_MEASURES  address for metrics and profiles, or "no"  (127.0.0.1:8461); with + behind it, the next free port
`

func main() {
	pictures.RunIfWorker()
	if len(os.Args) != 2 {
		fmt.Fprint(os.Stderr, usage)
		os.Exit(2)
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	commands := map[string]func(context.Context, *house.House) error{"serve": serve, "work": work, "demo": demo.Load}
	if os.Args[1] == "standins" {
		if err := standIn(ctx); err != nil {
			fmt.Fprintln(os.Stderr, "satchel:", err)
			os.Exit(1)
		}
		return
	}
	command, known := commands[os.Args[1]]
	if !known {
		fmt.Fprint(os.Stderr, usage)
		os.Exit(2)
	}
	if err := run(ctx, command); err != nil {
		fmt.Fprintln(os.Stderr, "satchel:", err)
		os.Exit(1)
	}
}

func run(ctx context.Context, command func(context.Context, *house.House) error) error {
	data, err := filepath.Abs(env("SATCHEL_DATA", ".data/satchel"))
	if err != nil {
		return err
	}
	database := os.Getenv("SATCHEL_DATABASE")
	if database == "" {
		return errors.New("SATCHEL_DATABASE is not set; ./start sets it")
	}
	services, err := registered()
	if err != nil {
		return err
	}
	h, err := house.Open(ctx, house.Config{
		Services: services, Keys: os.Getenv("SATCHEL_KEYS"),
		Database: database, Data: data, Workers: runtime.NumCPU(),
		ServerFolders: filepath.SplitList(os.Getenv("SATCHEL_SERVER_FOLDERS")), Outlets: listed("SATCHEL_OUTLETS"),
		Origin: strings.TrimSuffix(env("SATCHEL_ORIGIN", "http://"+env("SATCHEL_ADDRESS", "127.0.0.1:8460")), "/"),
		Mail: mail.Config{Server: os.Getenv("SATCHEL_SMTP"), From: env("SATCHEL_MAIL_FROM", "satchel@localhost"),
			User: os.Getenv("SATCHEL_SMTP_USER"), Password: os.Getenv("SATCHEL_SMTP_PASSWORD")},
	})
	if err != nil {
		return err
	}
	defer func() {
		ending, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		h.Close(ending)
	}()
	return command(ctx, h)
}

func env(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

// registered reads at which services the server is registered.
func registered() (out []outlets.Registered, err error) {
	file := os.Getenv("SATCHEL_SERVICES")
	if file == "" {
		return nil, nil
	}
	text, err := os.ReadFile(file)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	if err != nil {
		return nil, fmt.Errorf("SATCHEL_SERVICES: %w", err)
	}
	return out, nil
}

// listed is an environment variable that holds a list with commas.
func listed(name string) []string {
	return strings.FieldsFunc(os.Getenv(name), func(r rune) bool { return r == ',' || r == ' ' })
}

func work(ctx context.Context, h *house.House) error {
	if err := h.Work(ctx); err != nil {
		return err
	}
	<-ctx.Done()
	return nil
}

func serve(ctx context.Context, h *house.House) error {
	if os.Getenv("SATCHEL_WORK") != "no" {
		if err := h.Work(context.WithoutCancel(ctx)); err != nil {
			return err
		}
	}
	site, err := web.New(ctx, h, web.Options{Proxies: listed("SATCHEL_PROXIES"),
		Origin: strings.TrimSuffix(os.Getenv("SATCHEL_ORIGIN"), "/")})
	if err != nil {
		return err
	}
	address := env("SATCHEL_ADDRESS", "127.0.0.1:8460")
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", address, err)
	}
	bounded, err := web.Bounded(listener, listed("SATCHEL_PROXIES"))
	if err != nil {
		return err
	}
	server := web.NewHTTPServer(site.Handler())
	failed := make(chan error, 2)
	go func() { failed <- server.Serve(bounded) }()
	measures, err := serveMeasures(h, failed)
	if err != nil {
		return err
	}
	defer func() { _ = measures.Close() }()
	slog.Info("serving", "address", "http://"+address)
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	site.Close()
	ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	if err := server.Shutdown(ending); err != nil {
		return server.Close()
	}
	return nil
}

// listenFrom listens on an address; on one that ends with "+" or, where another program has that, the next port that is free.
func listenFrom(address string) (net.Listener, error) {
	first, upward := strings.CutSuffix(address, "+")
	listener, err := net.Listen("tcp", first)
	if err == nil || !upward {
		return listener, err
	}
	host, port, splitErr := net.SplitHostPort(first)
	if splitErr != nil {
		return nil, splitErr
	}
	n, splitErr := strconv.Atoi(port)
	for next := n + 1; splitErr == nil && err != nil && next <= n+100; next++ {
		listener, err = net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(next)))
	}
	return listener, errors.Join(err, splitErr)
}

// serveMeasures serves metrics and profiles on an address of their own.
func serveMeasures(h *house.House, failed chan<- error) (*http.Server, error) {
	server := web.NewHTTPServer(web.Measures(h))
	address := env("SATCHEL_MEASURES", "127.0.0.1:8461")
	if address == "no" {
		return server, nil
	}
	listener, err := listenFrom(address)
	if err != nil {
		return nil, fmt.Errorf("cannot listen on %s for metrics (SATCHEL_MEASURES): %w", address, err)
	}
	slog.Info("measures", "address", "http://"+listener.Addr().String()+"/metrics")
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			failed <- err
		}
	}()
	return server, nil
}

// standIn serves the simulated outside world until ctx ends: each part under an address, and so an origin, of its own.
func standIn(ctx context.Context) error {
	failed := make(chan error, 3)
	box := postbox.New()
	letters := box.Server(env("SATCHEL_POSTBOX", "127.0.0.1:8474"))
	context.AfterFunc(ctx, func() { _ = letters.Close() })
	go func() { failed <- letters.ListenAndServe() }()
	services := http.NewServeMux()
	services.Handle("/windward/", http.StripPrefix("/windward", windward.New("/windward")))
	services.Handle("/longtable/", http.StripPrefix("/longtable", longtable.New("/longtable")))
	services.Handle("/beanpole/", http.StripPrefix("/beanpole", beanpole.New("/beanpole")))
	services.Handle("/postbox/", http.StripPrefix("/postbox", box))
	for address, handler := range map[string]http.Handler{
		env("SATCHEL_STANDINS", "127.0.0.1:8470"): services,
		env("SATCHEL_WEBSITE", "127.0.0.1:8472"):  website.New(),
	} {
		server := &http.Server{Addr: address, Handler: handler, ReadHeaderTimeout: 10 * time.Second}
		context.AfterFunc(ctx, func() { _ = server.Close() })
		go func() { failed <- server.ListenAndServe() }()
	}
	if err := <-failed; !errors.Is(err, http.ErrServerClosed) && !errors.Is(err, smtp.ErrServerClosed) {
		return err
	}
	return nil
}
