package replacing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/geometry"
)

func TestWhatWillBeDifferent(t *testing.T) {
	photo := File{Kind: "picture", MediaType: "image/jpeg", Size: geometry.Size{Width: 1200, Height: 800}}
	for name, c := range map[string]struct {
		is   File
		want []string
	}{
		"the same file": {File{Same: true}, []string{Nothing}},
		"other bytes":   {photo, nil},
		"square": {File{Kind: "picture", MediaType: "image/png", Size: geometry.Size{Width: 900, Height: 900}}, []string{
			"Other proportions: 3 : 2 becomes 1 : 1", "Smaller: 1200 × 800 becomes 900 × 900 pixels", "JPEG becomes PNG"}},
		"a clip": {File{Kind: "clip", MediaType: "video/mp4", Size: geometry.Size{Width: 1920, Height: 1280}, Seconds: 4}, []string{
			"A picture becomes a clip", "Larger: 1200 × 800 becomes 1920 × 1280 pixels", "JPEG becomes MP4"}},
		"no picture": {File{Kind: "file", MediaType: "application/zip"}, []string{
			"A picture becomes a file that cannot be shown here", "JPEG becomes ZIP"}},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, Differences(photo, c.is)) })
	}
	assert.Equal(t, []string{"4.0 seconds become 9.5"}, Differences(File{Kind: "clip", Seconds: 4}, File{Kind: "clip", Seconds: 9.5}))
	assert.Equal(t, []string{"SVG becomes PNG"}, Differences(File{MediaType: "image/svg+xml"}, File{MediaType: "image/png"}))
}

func TestProportionsInWords(t *testing.T) {
	assert.Equal(t, "16 : 9", proportion(geometry.Size{Width: 1920, Height: 1080}))
	assert.Equal(t, "4 : 5", proportion(geometry.Size{Width: 1080, Height: 1350}))
	assert.Equal(t, "150.00 : 1", proportion(geometry.Size{Width: 30000, Height: 200}))
}

// TestScaledFilesHaveTheSameProportions: making a file larger or smaller says nothing of proportions, turning one that is no square does.
func TestScaledFilesHaveTheSameProportions(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := geometry.Size{Width: rapid.IntRange(200, 9000).Draw(t, "width"), Height: rapid.IntRange(200, 9000).Draw(t, "height")}
		n := rapid.IntRange(2, 9).Draw(t, "times")
		larger := geometry.Size{Width: s.Width * n, Height: s.Height * n}
		assert.False(t, OtherProportions(File{Size: s}, File{Size: larger}))
		turned := geometry.Size{Width: s.Height, Height: s.Width}
		if r := float64(s.Width) / float64(s.Height); r > 1.01 || r < 0.99 {
			assert.True(t, OtherProportions(File{Size: s}, File{Size: turned}))
		}
	})
}
