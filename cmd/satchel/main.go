// Command satchel is Bright Satchel: the web application and its background work.
package main

import (
	"context"
	"os"
	"os/signal"
	"syscall"

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

// work is the command that does background work only.
type work struct {
	settings.House
}

// Run works until ctx ends.
func (w *work) Run(ctx context.Context) error {
	return w.In(ctx, func(h *house.House) error {
		if err := h.Work(ctx); err != nil {
			return err
		}
		<-ctx.Done()
		return nil
	})
}
