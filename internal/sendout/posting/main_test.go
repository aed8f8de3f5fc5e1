package posting_test

import (
	"context"
	"os"
	"testing"

	"brightsatchel/internal/media/pictures"
)

var ctx = context.Background()

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}
