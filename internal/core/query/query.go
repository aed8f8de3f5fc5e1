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
	Filter     *Rule  // nil is no filter
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

// Sorts are the orders of a sheet; hand is the order of an album or a folder.
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
	if q.Sort == "hand" && q.Place != "album" && (q.Place != "folder" || q.Below) {
		return fault.Invalidf("sort", "Only an album and a folder by itself have an order made by hand.")
	}
	if len(q.Terms()) > mostWords {
		return fault.Invalidf("words", "Up to %d words can be searched for at once.", mostWords)
	}
	if q.Filter != nil {
		return q.Filter.Check()
	}
	return nil
}

// Rule is what a checked query asks of each item.
func (q *Query) Rule() Rule {
	all := []Rule{}
	and := func(r Rule) { all = append(all, r) }
	not := func(r Rule) { all = append(all, Rule{Match: None, Rules: []Rule{r}}) }
	binned := Rule{Field: "binned"}
	if q.Place == "bin" {
		and(binned)
	} else {
		not(binned)
	}
	switch q.Place {
	case "unfiled":
		and(Rule{Field: "folder", Missing: true})
	case "folder":
		and(Rule{Field: "folder", IDs: []int64{q.ID}, Below: q.Below})
	case "album", "intake":
		and(Rule{Field: q.Place, IDs: []int64{q.ID}})
	case "keepers":
		and(Rule{Field: "keeper"})
	case "undescribed":
		not(Rule{Field: "described"})
	case "unchosen":
		and(stars(0, 0))
	}
	if q.Place != "bin" && q.Place != "intake" && q.Place != "album" {
		not(Rule{Field: "behind"})
	}
	if !q.SetAside && q.Place != "bin" && q.Place != "album" {
		and(stars(0, 5))
	}
	if q.Stars > 0 {
		and(stars(int64(q.Stars), 5))
	}
	if q.Source != "" {
		and(Rule{Field: "source", Names: []string{q.Source}})
	}
	if q.Outlet != 0 {
		and(Rule{Field: "outlet", IDs: []int64{q.Outlet}})
	}
	if len(q.Kinds) > 0 {
		and(Rule{Field: "kind", Names: q.Kinds})
	}
	if q.Tag != 0 {
		and(Rule{Field: "tag", IDs: []int64{q.Tag}})
	}
	if terms := q.Terms(); len(terms) > 0 {
		and(Rule{Field: "words", Names: terms})
	}
	if q.Filter != nil {
		and(*q.Filter)
	}
	return Rule{Match: All, Rules: all}
}

func stars(from, to int64) Rule { return Rule{Field: "stars", From: &from, To: &to} }

// Terms splits the words that were typed; each is lower case and at least one letter or digit long.
func (q *Query) Terms() []string { return strings.Fields(strings.ToLower(q.Words)) }

// Items says how many items there are, in words.
func Items(n int) string {
	if n == 1 {
		return "1 item"
	}
	return fmt.Sprintf("%d items", n)
}

// Within keeps a rule inside of folders and albums; what lies in neither is not there.
func Within(r Rule, folders, albums []int64) Rule {
	inside := Rule{Match: Any, Rules: []Rule{{Field: "folder", IDs: folders}, {Field: "album", IDs: albums}}}
	return Rule{Match: All, Rules: []Rule{inside, r}}
}
