package metadata_test

import (
	"context"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/metadata"
)

// TestAStampSaysWhatSayingSays, whether it is the first of its kind or not, and the picture stays what it is.
func TestAStampSaysWhatSayingSays(t *testing.T) {
	ctx := context.Background()
	tool := metadata.NewTool()
	defer tool.Close()
	data := mediatest.JPEG(t, 60, 40, 3)
	read := func(path string) map[string]any {
		said, err := tool.Read(ctx, path)
		require.NoError(t, err)
		for name := range said {
			if filepath.Ext(name) == "" && (name == "SourceFile" || name[:5] == "File:" || name[:5] == "Syste" || name[:5] == "ExifT") {
				delete(said, name)
			}
		}
		return said
	}
	for _, says := range []outputs.Says{{Copyright: "© Tansyloft Kites, Örö", Credit: "Greta", UsageTerms: "Ask first"},
		{Copyright: "© Tansyloft Kites, Örö", Credit: "Greta", UsageTerms: "Ask first"}, {Credit: "“Quoted”\nand on"}, {}} {
		dir := t.TempDir()
		stamped, said := filepath.Join(dir, "a.jpg"), filepath.Join(dir, "b.jpg")
		require.NoError(t, os.WriteFile(stamped, data, 0o600))
		require.NoError(t, os.WriteFile(said, data, 0o600))
		require.NoError(t, tool.Stamp(ctx, stamped, says))
		require.NoError(t, tool.Say(ctx, said, says, geometry.Size{Width: 60, Height: 40}, true))
		assert.Equal(t, read(said), read(stamped))
		file, err := os.Open(stamped)
		require.NoError(t, err)
		config, err := jpeg.DecodeConfig(file)
		require.NoError(t, err)
		require.NoError(t, file.Close())
		assert.Equal(t, 60, config.Width)
	}
	broken := filepath.Join(t.TempDir(), "c.jpg")
	require.NoError(t, os.WriteFile(broken, []byte{0xff, 0xd8, 0xff, 0xe0, 0xff}, 0o600))
	assert.Error(t, tool.Stamp(ctx, broken, outputs.Says{Credit: "x"}))
}
