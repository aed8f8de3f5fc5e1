package drive_test

import (
	"crypto/rand"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
)

// TestFilesAreReadWholeAndInParts, also across the pieces in which the system sends them; both what waits and what is an item by now.
func TestFilesAreReadWholeAndInParts(t *testing.T) {
	_, _, of := drives(t, "drivereads")
	d := of(access.Coordinator)
	noise := make([]byte, 3<<20+77)
	_, _ = rand.Read(noise)
	data := append(jpeg(t, 1), noise...) // what is behind the end of a JPEG is no fault of it
	require.Equal(t, http.StatusCreated, d.put("/Library/large.jpg", data))
	last := len(data) - 1
	for _, state := range []string{"a file that waits", "an item"} {
		status, text, headers := d.ask(http.MethodGet, "/Library/large.jpg", nil)
		require.Equal(t, http.StatusOK, status, state)
		assert.Equal(t, string(data), text, state)
		tag := headers.Get("ETag")
		for wanted, part := range map[string][2]int{
			"bytes=0-0": {0, 0}, "bytes=1048575-1048577": {1<<20 - 1, 1<<20 + 1}, "bytes=-5": {last - 4, last},
			"bytes=2000000-": {2_000_000, last}, fmt.Sprintf("bytes=%d-%d", last, last+100): {last, last},
		} {
			status, text, headers = d.ask(http.MethodGet, "/Library/large.jpg", nil, "Range", wanted)
			assert.Equal(t, http.StatusPartialContent, status, "%s of %s", wanted, state)
			assert.Equal(t, string(data[part[0]:part[1]+1]), text, "%s of %s", wanted, state)
			assert.Equal(t, fmt.Sprintf("bytes %d-%d/%d", part[0], part[1], len(data)), headers.Get("Content-Range"))
		}
		status, text, headers = d.ask(http.MethodGet, "/Library/large.jpg", nil, "Range", "bytes=0-1,9-10")
		assert.Equal(t, http.StatusPartialContent, status)
		assert.True(t, strings.HasPrefix(headers.Get("Content-Type"), "multipart/byteranges"), headers.Get("Content-Type"))
		assert.Contains(t, text, string(data[9:11]))
		status, _, _ = d.ask(http.MethodGet, "/Library/large.jpg", nil, "Range", fmt.Sprintf("bytes=%d-", len(data)))
		assert.Equal(t, http.StatusRequestedRangeNotSatisfiable, status)
		status, text, headers = d.ask(http.MethodHead, "/Library/large.jpg", nil)
		assert.Equal(t, http.StatusOK, status)
		assert.Empty(t, text)
		assert.Equal(t, fmt.Sprint(len(data)), headers.Get("Content-Length"))
		status, _, _ = d.ask(http.MethodGet, "/Library/large.jpg", nil, "If-None-Match", tag)
		assert.Equal(t, http.StatusNotModified, status, "of %s", state)
		d.taken()
	}
	require.Equal(t, 1, d.count(`select count(*) from asset`))
}
