package metadata_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/media/metadata"
)

func TestWritingAndReadingBack(t *testing.T) {
	ctx := context.Background()
	tool := metadata.NewTool()
	defer tool.Close()
	path := mediatest.File(t, "a.jpg", mediatest.JPEG(t, 60, 40, 1))
	hostile := "-execute\nEvil; $(rm -rf /) “quotes” 🪁"
	require.NoError(t, tool.Write(ctx, path, map[string]any{"XMP-dc:Title": hostile, "XMP-dc:Rights": "© Zoë"}))
	said, err := tool.Read(ctx, path)
	require.NoError(t, err)
	assert.Equal(t, hostile, said["XMP-dc:Title"], "text stays text")
	assert.Equal(t, "© Zoë", said["XMP-dc:Rights"])

	_, err = tool.Read(ctx, "a\n-delete_original!\n.jpg")
	require.Error(t, err, "an argument cannot hold a line break")
	require.Error(t, tool.Write(ctx, "/does/not/exist.jpg", map[string]any{"XMP-dc:Title": "x"}))
	nothing, err := tool.Read(ctx, mediatest.File(t, "text.jpg", []byte("tea")))
	require.NoError(t, err)
	assert.NotContains(t, nothing, "XMP-dc:Title")

	stopped, cancel := context.WithCancel(ctx)
	cancel()
	_, _ = tool.Read(stopped, path) // may end the process
	said, err = tool.Read(ctx, path)
	require.NoError(t, err, "it is started again")
	assert.Equal(t, hostile, said["XMP-dc:Title"])
}
