// Command satchel is Bright Satchel: the web application and its background work.
package main

import (
	"context"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/alecthomas/kong"

	"brightsatchel/internal/house"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/settings"
)

// commands are what the program can do.
type commands struct {
	Serve serve `cmd:"" help:"The web application, with background work unless --no-work."`
	Work  work  `cmd:"" help:"Background work only, beside one or more servers."`
	Help  help  `cmd:"" help:"What the program can do; “help config” lists every setting."`
}

func main() {
	pictures.RunIfWorker()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	command := kong.Parse(&commands{}, kong.Name("satchel"), settings.Explained, kong.BindTo(ctx, (*context.Context)(nil)),
		kong.Description("Bright Satchel keeps a brand's web media. Every setting is a flag and a variable of the environment."))
	command.FatalIfErrorf(settings.Unknown(os.Environ()))
	command.FatalIfErrorf(command.Run())
}

// in opens the house, does something in it, and closes it.
func in(ctx context.Context, s *settings.House, do func(*house.House) error) error {
	config, err := s.Open()
	if err != nil {
		return err
	}
	h, err := house.Open(ctx, config)
	if err != nil {
		return err
	}
	defer func() {
		ending, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		h.Close(ending)
	}()
	return do(h)
}

// work is the command that does background work only.
type work struct {
	settings.House
}

// Run works until ctx ends.
func (w *work) Run(ctx context.Context) error {
	return in(ctx, &w.House, func(h *house.House) error {
		if err := h.Work(ctx); err != nil {
			return err
		}
		<-ctx.Done()
		return nil
	})
}
