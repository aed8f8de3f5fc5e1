package drive_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/core/access"
)

// TestWhatHurtsIsNotAsked: very many properties, deep nesting, and prefixes that stand for nothing.
func TestWhatHurtsIsNotAsked(t *testing.T) {
	_, _, of := drives(t, "drive_asked")
	d := of(access.Coordinator)
	find := func(inside string) string {
		return `<?xml version="1.0"?><D:propfind xmlns:D="DAV:"><D:prop>` + inside + `</D:prop></D:propfind>`
	}
	var many strings.Builder
	for i := range 9000 {
		fmt.Fprintf(&many, "<D:p%d/>", i)
	}
	for body, want := range map[string]int{
		find("<D:getetag/><D:resourcetype/>"): 207, find(many.String()): 413, "": 207,
		strings.Repeat("<a>", 5000) + strings.Repeat("</a>", 5000):                                              413,
		`<?xml version="1.0"?><D:propfind xmlns:D="DAV:"><D:prop><bar:foo xmlns:bar=""/></D:prop></D:propfind>`: 400, "<unended": 400,
		find(strings.Repeat(" ", 300<<10)): 413,
	} {
		began := time.Now()
		status, text, _ := d.ask("PROPFIND", "/Library", []byte(body), "Depth", "1")
		assert.Equal(t, want, status, "%.80s: %.200s", body, text)
		assert.Less(t, time.Since(began), 5*time.Second)
	}
}
