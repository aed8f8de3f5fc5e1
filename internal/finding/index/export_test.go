package index

import "testing"

// ShareFrom lets scans of more than so many items be shared and kept for the length of a test, as those of large libraries are.
func ShareFrom(t *testing.T, items uint64) {
	before := share
	share = items
	t.Cleanup(func() { share = before })
}
