// Package wording says numbers of things in words, for the person at the desk.
package wording

import "fmt"

// Count says how many of something there are: "1 file", "2 files". Many is the whole of what stands behind a number that is not 1.
func Count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// Items says how many items there are.
func Items(n int) string { return Count(n, "item", "items") }
