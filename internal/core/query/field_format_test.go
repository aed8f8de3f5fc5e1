package query

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestKindsOfFilesAreToldApart(t *testing.T) {
	for media, want := range map[string]string{"image/jpeg": "jpeg", "image/avif": "heic", "image/x-sony-arw": "raw",
		"image/x-adobe-dng": "raw",
		"image/x-icon":      OtherFormat, "application/zip": OtherFormat, "": OtherFormat} {
		assert.Equal(t, want, FormatOf(media), media)
	}
}
