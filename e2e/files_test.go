package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
)

// batch makes the files of the story: four JPEGs of which one lies on its side, a PNG with transparency, an MP4, and a
// text that claims to be a JPEG. It returns their paths in that order.
func batch(t *testing.T) []string {
	t.Helper()
	taken := func(day string, more ...string) []string {
		return append(more, "-Make=Ostrel", "-Model=M2", "-DateTimeOriginal=2026:11:"+day+" 09:30:00")
	}
	return files(t, []namedFile{
		{"harbour-1.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 40), taken("01")...)},
		{"harbour-2.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 90), taken("02")...)},
		{"harbour-3.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 140), taken("03")...)},
		{"harbour-turned.jpg", mediatest.Tagged(t, mediatest.JPEG(t, 900, 600, 190), taken("04", "-Orientation#=6")...)},
		{"gull-cut-out.png", mediatest.PNG(t)},
		{"harbour-walk.mp4", mediatest.Clip(t, 320, 240)},
		{"shopping-list.jpg", []byte("tea, string, more string\n")},
	})
}

type namedFile struct {
	name string
	data []byte
}

// files puts data into files and returns their paths.
func files(t *testing.T, list []namedFile) []string {
	t.Helper()
	dir := t.TempDir()
	paths := make([]string, len(list))
	for i, f := range list {
		paths[i] = filepath.Join(dir, f.name)
		require.NoError(t, os.WriteFile(paths[i], f.data, 0o600))
	}
	return paths
}
