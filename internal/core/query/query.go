// Package query says what a sheet shows: a place, filters and an order. What it means in SQL is the store's business.
package query

import (
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/fault"
)

// Query asks for the items of a place that pass every filter, in an order.
type Query struct {
	Place      string // one of Places
	ID         int64  // the folder, album or intake of the place
	Below      bool   // with everything below the folder
	Words      string // each must begin a word or stand inside one of title, file name, description, alt text, place, tags
	Stars      int    // at least so many; 0 is no filter
	Kinds      []string
	Tag        int64
	Source     string // one of Sources; "" is no filter
	Outlet     int64  // taken over from this outlet; 0 is no filter
	SetAside   bool   // also what was set aside
	Sort       string
	Descending bool
}

// Selection is some items by id, or everything that a query shows except some.
type Selection struct {
	IDs        []int64
	Everything *Query
	Except     []int64
}

// Places are where a sheet can be.
var Places = []string{"everything", "unfiled", "folder", "album", "intake", "bin", "keepers", "undescribed", "unchosen"}

// Sorts are the orders of a sheet; hand is the order of an album.
var Sorts = []string{"taken", "added", "changed", "name", "size", "stars", "kind", "hand"}

// Sources are how items can have come: from people's own devices, from a folder on the server once or watched, or from
// an outlet.
var Sources = []string{"upload", "server", "watched", "outlet"}

// Check fills what was left out and says what is wrong, naming the field.
func (q *Query) Check() error {
	if !slices.Contains(Places, q.Place) {
		return fault.Invalidf("place", "%q is not a place", q.Place)
	}
	if needsID := q.Place == "folder" || q.Place == "album" || q.Place == "intake"; needsID && q.ID == 0 {
		return fault.Invalidf("id", "Say which %s.", q.Place)
	}
	if q.Sort == "" {
		q.Sort, q.Descending = "taken", true
		switch q.Place {
		case "album":
			q.Sort, q.Descending = "hand", false
		case "intake":
			q.Sort, q.Descending = "added", false
		}
	}
	if !slices.Contains(Sorts, q.Sort) {
		return fault.Invalidf("sort", "%q is not an order", q.Sort)
	}
	if q.Source != "" && !slices.Contains(Sources, q.Source) {
		return fault.Invalidf("source", "%q is not a source", q.Source)
	}
	if q.Sort == "hand" && q.Place != "album" {
		return fault.Invalidf("sort", "Only an album has an order made by hand.")
	}
	return nil
}

// Terms splits the words that were typed; each is lower case and at least one letter or digit long.
func (q *Query) Terms() []string { return strings.Fields(strings.ToLower(q.Words)) }

// Items says how many items there are, in words.
func Items(n int) string {
	if n == 1 {
		return "1 item"
	}
	return fmt.Sprintf("%d items", n)
}
