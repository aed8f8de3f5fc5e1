package media

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestReasonsAreSentences(t *testing.T) {
	for text, want := range map[string]string{
		"it measures 70000 × 3 pixels": "it measures 70000 × 3 pixels",
		"ffprobe: [mov,mp4,m4a @ 0x55d0c3a2b740] moov atom not found": "it is cut off: the part that says where its " +
			"pictures are is missing",
		"reading /tmp/satchel-take-1/x.jpg: VipsJpeg: Premature end of JPEG file": "it is cut off: a part of its data is missing",
		"it cannot open /etc/passwd": "its data is damaged, or of a kind that cannot be " +
			"read here",
		"ffmpeg: Something quite new at 0x1234": "its data is damaged, or of a kind that cannot be " +
			"read here",
	} {
		assert.Equal(t, want, inWords(text))
	}
}
