package outputs_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
)

func TestTheBestIsWhatTheAskerNames(t *testing.T) {
	best := outputs.Size{Format: outputs.Best}
	for accept, want := range map[string]string{
		"image/avif,image/webp,*/*;q=0.8":        "avif",
		"text/html, image/webp , */*":            "webp",
		"image/webp;q=0.9, image/avif;q=0.5":     "avif", // taking it at all is enough
		"image/avif;q=0, image/webp":             "webp",
		"image/avif; q=0.000":                    "jpeg",
		"*/*":                                    "jpeg",
		"image/*":                                "jpeg",
		"":                                       "jpeg",
		"image/avifx,;;;,q=1":                    "jpeg",
		strings.Repeat("image/png,", 1000) + "x": "jpeg",
		"application/signed-exchange;v=b3;q=0.7,a/b": "jpeg",
	} {
		assert.Equal(t, want, best.For(accept).Format, accept)
		assert.Equal(t, "png", outputs.Size{Format: "png"}.For(accept).Format, "what was chosen stays")
	}
}

func TestClipsBecomeWhatTheSizeSays(t *testing.T) {
	clip := outputs.Source{Kind: "clip", Size: geometry.Size{Width: 1920, Height: 1081}}
	for format, want := range map[string]outputs.Plan{
		"":     {Size: geometry.Size{Width: 640, Height: 360}, Format: "mp4"},
		"mp4":  {Size: geometry.Size{Width: 640, Height: 360}, Format: "mp4"},
		"gif":  {Size: geometry.Size{Width: 640, Height: 360}, Format: "gif"},
		"webp": {Size: geometry.Size{Width: 640, Height: 360}, Format: "webp"},
	} {
		got, err := outputs.Make(clip, outputs.Size{Format: outputs.Best, ClipSide: 640, ClipFormat: format})
		require.NoError(t, err)
		assert.Equal(t, want, got, format)
	}
	size := outputs.Size{Name: "x", Fit: outputs.Inside, Format: "jpeg", Quality: 80, Metadata: outputs.StripAll, Pattern: "{name}"}
	for field, change := range map[string]func(*outputs.Size){
		"clipFormat": func(s *outputs.Size) { s.ClipFormat = "avi" },
		"clipSide":   func(s *outputs.Size) { s.ClipFormat = "gif" }, // without any bound
		"format":     func(s *outputs.Size) { s.Format = "bmp" },
	} {
		wrong := size
		change(&wrong)
		var invalid *fault.Invalid
		require.ErrorAs(t, wrong.Check(), &invalid, field)
		assert.Equal(t, field, invalid.Field)
	}
	size.ClipFormat, size.ClipSide = "webp", 1201
	assert.Error(t, size.Check())
	size.ClipSide, size.Width = 0, 1200
	assert.NoError(t, size.Check())
}

func TestAddressesOfSizes(t *testing.T) {
	none := func(string) bool { return false }
	for name, want := range map[string]string{"Web 1200": "web-1200", "Für die Presse, 3000": "fur-die-presse-3000", "  --A--  ": "a",
		"1280": "size-1280", "風": "feng", "Größe für Łódź": "grosse-fur-lodz", "Φως 2": "phos-2", "!?": "size", "Small": "small"} {
		assert.Equal(t, want, outputs.Address(name, none), name)
	}
	assert.Equal(t, "small-3", outputs.Address("Small", func(a string) bool { return a == "small" || a == "small-2" }))
	rapid.Check(t, func(t *rapid.T) {
		taken := map[string]bool{}
		for _, name := range rapid.SliceOfN(rapid.String(), 1, 6).Draw(t, "names") {
			a := outputs.Address(name, func(a string) bool { return taken[a] })
			assert.Regexp(t, `^[a-z0-9]+(-[a-z0-9]+)*$`, a)
			assert.False(t, taken[a], "no two have one address")
			assert.LessOrEqual(t, len(a), 50)
			taken[a] = true
		}
	})
}
