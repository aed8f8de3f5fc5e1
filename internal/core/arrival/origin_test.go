package arrival

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWhatAFileComesFromByItsName(t *testing.T) {
	for name, want := range map[string]string{
		"walk-edit.tif": "walk", "Walk_Edited-2.JPG": "walk", "walk (1).jpg": "walk", "walk-edit (3).jpg": "walk", "walk_v2.psd": "walk",
		"walk-final-bw.png": "walk", "walk-copy 2.jpg": "walk", "harbour-2.jpg": "", "IMG_1234.jpg": "", "edit.jpg": "", "walk.jpg": "",
		"editorial.jpg": "", "web.png": "", "": "", "credit.jpg": "",
	} {
		assert.Equal(t, want, Origin(name), name)
	}
}

// TestAnOriginHasNone: what is left has nothing appended any more, and is shorter.
func TestAnOriginHasNone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.StringMatching(`[a-z0-9]{1,6}([-_ ](edit|final|v2|copy|\(3\)|[0-9])){0,3}\.jpg`).Draw(t, "name")
		if root := Origin(name); root != "" {
			assert.Less(t, len(root), len(Stem(name)))
			assert.Empty(t, Origin(root+".jpg"))
		}
	})
}
