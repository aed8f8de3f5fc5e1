package main

import (
	"fmt"
	"io"
	"strings"

	"github.com/alecthomas/kong"
)

// help is the command that says what the program can do.
type help struct {
	About string `arg:"" optional:"" enum:"config," default:"" help:"config: every setting with its default."`
}

// Run writes the help.
func (h *help) Run(app *kong.Kong) error {
	if h.About == "config" {
		return listSettings(app.Stdout, app.Model.Children)
	}
	_, err := app.Parse([]string{"--help"}) // which ends the program
	return err
}

// listSettings writes every setting of some commands once: its variable, its default and what it is for.
func listSettings(out io.Writer, of []*kong.Node) error {
	seen := map[string]bool{}
	for _, command := range of {
		for _, flag := range command.Flags {
			if len(flag.Envs) == 0 || seen[flag.Envs[0]] {
				continue
			}
			seen[flag.Envs[0]] = true
			var head strings.Builder
			head.WriteString(flag.Envs[0])
			switch {
			case flag.Required:
				head.WriteString("  (required)")
			case flag.HasDefault && flag.Default != "":
				head.WriteString("  (" + flag.Default + ")")
			}
			if _, err := fmt.Fprintf(out, "%s\n    %s\n", head.String(), flag.Help); err != nil {
				return err
			}
		}
	}
	return nil
}
