// Package query says what a sheet shows: a place, filters and an order. What it means in SQL is the store's business.
package query

import (
	"fmt"
	"slices"

	"brightsatchel/internal/core/fault"
)

// Query asks for the items of a place that pass a filter, in an order.
type Query struct {
	Place      string // one of Places
	ID         int64  // the folder, album or intake of the place
	Below      bool   // with everything below the folder or the album
	Filter     *Rule  // nil is no filter. What was set aside is shown when the filter asks for it, or for words
	Sort       string
	Descending bool
	Piled      bool    // bursts and near-copies that lie beside each other as one; a selection is all of them
	Unfolded   []int64 // of those the ones that are shown one by one, each by any of its items
}

// Selection is some items by id, or everything that a query shows except some.
type Selection struct {
	IDs        []int64
	Everything *Query
	Except     []int64
}

// Places are where a sheet can be.
var Places = []string{"everything", "unfiled", "folder", "album", "intake", "bin", "undescribed", "unchosen"}

// Sorts are the orders of a sheet; hand is the order of an album or a folder.
var Sorts = []string{"taken", "added", "changed", "name", "size", "stars", "kind", "hand", "fit"}

// Sources are how items can have come: from people's own devices, from a folder on the server once or watched, or from
// an outlet.
var Sources = []string{"upload", "server", "watched", "outlet", "guest", "drive"}

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
			if !q.Below {
				q.Sort, q.Descending = "hand", false
			}
		case "intake":
			q.Sort, q.Descending = "added", false
		}
	}
	if !slices.Contains(Sorts, q.Sort) {
		return fault.Invalidf("sort", "%q is not an order", q.Sort)
	}
	if q.Sort == "hand" && (q.Place != "album" && q.Place != "folder" || q.Below) {
		return fault.Invalidf("sort", "Only an album and a folder by themselves have an order made by hand.")
	}
	if q.Sort == "fit" && q.Fits() == nil {
		return fault.Invalidf("sort", "Only what looks for words, a colour or a likeness can be ordered by how well it fits.")
	}
	if len(q.Unfolded) > mostUnfolded {
		return fault.Invalidf("unfolded", "Unfold %d piles at most.", mostUnfolded)
	}
	if q.Filter != nil {
		return q.Filter.Check()
	}
	return nil
}

// IsUnfolded says of an item whether the pile that it is in is shown one by one.
func (q *Query) IsUnfolded() func(id int64) bool {
	some := make(map[int64]bool, len(q.Unfolded))
	for _, id := range q.Unfolded {
		some[id] = true
	}
	return func(id int64) bool { return some[id] }
}

// mostUnfolded is how many piles of a sheet are unfolded at a time.
const mostUnfolded = 500

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
	case "album":
		and(Rule{Field: "album", IDs: []int64{q.ID}, Below: q.Below})
	case "intake":
		and(Rule{Field: "intake", IDs: []int64{q.ID}})
	case "undescribed":
		not(Rule{Field: "described"})
	case "unchosen":
		and(stars(0, 0))
	}
	search := q.Filter.asksForWords() // it looks everywhere
	if q.Place != "bin" && q.Place != "intake" && q.Place != "album" && !search {
		not(Rule{Field: "behind"})
	}
	if q.leavesOutAside() {
		and(stars(0, 5))
	}
	if q.Filter != nil {
		and(q.Filter.withTerms())
	}
	return Rule{Match: All, Rules: all}
}

func (q *Query) leavesOutAside() bool {
	return q.Place != "bin" && q.Place != "album" && !q.Filter.asksForAside() && !q.Filter.asksForWords()
}

// Aside asks for what a query leaves out since it was set aside; false says that it leaves out nothing so.
func (q *Query) Aside() (Query, bool) {
	out := *q
	out.Filter = Both(Rule{Field: "aside"})
	if q.Filter != nil {
		out.Filter = Both(*q.Filter, Rule{Field: "aside"})
	}
	return out, q.leavesOutAside()
}

func stars(from, to int64) Rule { return Rule{Field: "stars", From: &from, To: &to} }

// Items says how many items there are, in words.
func Items(n int) string {
	if n == 1 {
		return "1 item"
	}
	return fmt.Sprintf("%d items", n)
}

// Within keeps a rule inside of folders and albums; what is in neither is not there.
func Within(r Rule, folders, albums []int64) Rule {
	inside := Rule{Match: Any, Rules: []Rule{{Field: "folder", IDs: folders}, {Field: "album", IDs: albums}}}
	return Rule{Match: All, Rules: []Rule{inside, r}}
}
