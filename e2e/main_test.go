// Package e2e uses the application as people do: real servers with the demo brand, real browsers, real files.
package e2e

import (
	"context"
	"fmt"
	"os"
	"testing"

	"brightsatchel/internal/media/pictures"
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(run(m))
}

func run(m *testing.M) int {
	end, err := openLanes(context.Background())
	defer end()
	if err != nil {
		fmt.Fprintln(os.Stderr, "e2e:", err)
		return 1
	}
	return m.Run()
}
