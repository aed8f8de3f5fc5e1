// Command standins serves the simulated outside world: three social services, a mail server, and a website with an editor. It is in no
// release.
package main

import (
	"context"
	"errors"
	"net/http"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/alecthomas/kong"
	"github.com/emersion/go-smtp"

	"brightsatchel/internal/settings"
	"brightsatchel/standins/beanpole"
	"brightsatchel/standins/longtable"
	"brightsatchel/standins/postbox"
	"brightsatchel/standins/website"
	"brightsatchel/standins/windward"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	var at settings.StandIns
	command := kong.Parse(&at, kong.Name("standins"), settings.Explained, kong.Description("Serves the simulated outside world."))
	command.FatalIfErrorf(serve(ctx, at))
}

// serve serves until ctx ends: each part under an address, and so an origin, of its own.
func serve(ctx context.Context, at settings.StandIns) error {
	failed := make(chan error, 3)
	box := postbox.New()
	letters := box.Server(at.Postbox)
	context.AfterFunc(ctx, func() { _ = letters.Close() })
	go func() { failed <- letters.ListenAndServe() }()
	services := http.NewServeMux()
	services.Handle("/windward/", http.StripPrefix("/windward", windward.New("/windward")))
	services.Handle("/longtable/", http.StripPrefix("/longtable", longtable.New("/longtable")))
	services.Handle("/beanpole/", http.StripPrefix("/beanpole", beanpole.New("/beanpole")))
	services.Handle("/postbox/", http.StripPrefix("/postbox", box))
	for address, handler := range map[string]http.Handler{at.StandIns: services, at.Website: website.New()} {
		server := &http.Server{Addr: address, Handler: handler, ReadHeaderTimeout: 10 * time.Second}
		context.AfterFunc(ctx, func() { _ = server.Close() })
		go func() { failed <- server.ListenAndServe() }()
	}
	if err := <-failed; !errors.Is(err, http.ErrServerClosed) && !errors.Is(err, smtp.ErrServerClosed) {
		return err
	}
	return nil
}
