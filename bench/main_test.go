// Package bench measures the claims about speed, each as a ratio or a cost within one run: see docs/performance.md.
package bench

import (
	"os"
	"slices"
	"testing"

	"brightsatchel/internal/media/pictures"
)

func TestMain(m *testing.M) {
	pictures.RunIfWorker()
	os.Exit(m.Run())
}

// measured skips a measurement unless bench/run asks for it.
func measured(t *testing.T) {
	t.Helper()
	if os.Getenv("SATCHEL_BENCH") == "" {
		t.Skip("measured by bench/run")
	}
}

func median(values []float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	return sorted[len(sorted)/2]
}

// percentile is the value that so many of a hundred do not exceed.
func percentile(values []float64, of int) float64 {
	sorted := slices.Sorted(slices.Values(values))
	return sorted[min(len(sorted)-1, len(sorted)*of/100)]
}
