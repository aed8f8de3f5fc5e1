// Command satchel-demo loads the demo brand into a library, unless it is there. It is in no release.
package main

import (
	"context"
	"os"
	"os/signal"
	"syscall"

	"github.com/alecthomas/kong"

	"brightsatchel/demo"
	"brightsatchel/internal/house"
	"brightsatchel/internal/media/pictures"
	"brightsatchel/internal/settings"
)

type loading struct {
	settings.House
	settings.StandIns
	Demo string `env:"SATCHEL_DEMO" default:"demo" help:"Folder with the demo brand's files."`
}

func main() {
	pictures.RunIfWorker()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	var l loading
	command := kong.Parse(&l, kong.Name("satchel-demo"), settings.Explained, kong.Description("Loads the demo brand, unless it is there."))
	command.FatalIfErrorf(settings.Unknown(os.Environ()))
	command.FatalIfErrorf(l.load(ctx))
}

func (l *loading) load(ctx context.Context) error {
	return l.In(ctx, func(h *house.House) error {
		return demo.Load(ctx, h, demo.From{Folder: l.Demo, Services: l.StandIns.StandIns, Website: l.Website})
	})
}
