package query

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/RoaringBitmap/roaring/v2"

	"brightsatchel/internal/core/fault"
)

// Field is what rules can compare, with all that is known of it: what a comparison may use, how it reads, and the same question put to
// the database and to an index. Each is registered where it is defined; nothing else has a list of them.
type Field struct {
	Name string
	Takes
	Worldly bool                // means something beyond the items, so that it is expanded first
	Dear    int                 // 0 where few items match, 1 many, 2 each is asked: the dearest come last
	Check   func(r *Rule) error // what is wrong with a comparison beyond what it takes; nil is nothing
	Say     func(r *Rule, n *Names) string
	SQL     func(w Where, r *Rule, person int64) string // a condition on the table asset, called a
	Set     func(ix Index, r *Rule, person int64) Sought
	Column  *Column // of its own that an index keeps for it
}

// Takes is what a comparison may use.
type Takes struct{ IDs, Names, Range, Days, Missing, Below, Last, Next bool }

// Where collects the arguments of a condition and gives each its mark.
type Where interface{ Arg(v any) string }

// Sought is the items in any of some sets, or those of which Each says so. Within, where it is set, has all that Each can say yes to.
type Sought struct {
	Any    []*roaring.Bitmap
	Each   func(slot uint32) bool
	Within func(of *roaring.Bitmap) *roaring.Bitmap
}

// Values are sets of items by a value that they have.
type Values[K comparable] interface {
	Of(values ...K) []*roaring.Bitmap
	Having() *roaring.Bitmap // those that have any
}

// Index is items in slots, as fields ask for them. What it gives is not changed.
type Index interface {
	All() *roaring.Bitmap
	Known(ids []int64) *roaring.Bitmap
	ByID(of string) Values[int64]      // folder, stage, album, tag, outlet, intake, keeper, and columns of fields
	ByName(of string) Values[string]   // kind, source, camera, place, and columns of fields
	Flagged(as string) *roaring.Bitmap // binned, behind
	Starred(wanted func(stars int64) bool) []*roaring.Bitmap
	In(state string) *roaring.Bitmap          // of States
	Lacking(need string) *roaring.Bitmap      // of describing.Needs
	Number(of string) func(slot uint32) int64 // bytes, width, height; taken and added in seconds, rights in days since 1970
	Looks() (dominated func(c Colours) func(slot uint32) bool, like func(m Model) func(slot uint32) bool)
	Saying(words []string) func(within *roaring.Bitmap) *roaring.Bitmap
	Years(first, last int) []*roaring.Bitmap // taken in them
}

// Column is a value of items that an index keeps for a field: SQL is an expression on asset, of an id (0 is none) or a name ("" is none).
type Column struct {
	SQL string
	IDs bool
}

// MostColumns is how many columns of ids, and how many of names, fields have at most.
const MostColumns = 4

// OwnColumns are the fields with columns of their own: those of ids, and those of names, each in the order of their names.
func OwnColumns() (ids, names []*Field) {
	for _, name := range slices.Sorted(maps.Keys(Fields)) {
		switch f := Fields[name]; {
		case f.Column == nil:
		case f.Column.IDs:
			ids = append(ids, f)
		default:
			names = append(names, f)
		}
	}
	if max(len(ids), len(names)) > MostColumns {
		panic("fields have too many columns of their own")
	}
	return ids, names
}

// Fields are all of them, by name.
var Fields = map[string]*Field{}

// register makes a field known. What is missing in it is found when the program starts.
func register(f Field) {
	switch {
	case Fields[f.Name] != nil:
		panic("the field " + f.Name + " is registered twice")
	case f.Say == nil || !f.Worldly && (f.SQL == nil || f.Set == nil):
		panic("the field " + f.Name + " does not say what it means everywhere")
	}
	Fields[f.Name] = &f
}

// Condition is the SQL of an expanded comparison of a field. An unknown field, or one that should have been expanded, holds for nothing.
func (r *Rule) Condition(w Where, person int64) string {
	f := Fields[r.Field]
	if f == nil || f.SQL == nil {
		return "false"
	}
	return f.SQL(w, r, person)
}

// Sought is what an index has for an expanded comparison of a field; nothing for an unknown one.
func (r *Rule) Sought(ix Index, person int64) Sought {
	f := Fields[r.Field]
	if f == nil || f.Set == nil {
		return Sought{}
	}
	return f.Set(ix, r, person)
}

// takes says what is wrong with what a comparison uses.
func (f *Field) takes(r *Rule) error {
	t := f.Takes
	if len(r.IDs) > 0 && !t.IDs || len(r.Names) > 0 && !t.Names || (r.From != nil || r.To != nil) && !t.Range || r.Missing && !t.Missing ||
		r.Below && !t.Below {
		return fault.Invalidf("filter", "The filter by %s does not take that.", r.Field)
	}
	if min(r.Last, r.Next) < 0 || max(r.Last, r.Next) > longestSpan || r.Next > 0 && !t.Next || r.Last > 0 && !t.Last ||
		r.Last+r.Next > 0 && (r.Since+r.Until != "" || r.Last > 0 && r.Next > 0) {
		return fault.Invalidf("filter", "A span of the last days has 1 to %d of them.", int64(longestSpan))
	}
	if f.Check != nil {
		return f.Check(r)
	}
	return nil
}

// plain is a field that says nothing more than itself.
func plain(said string) func(*Rule, *Names) string { return func(*Rule, *Names) string { return said } }

// byNames says a comparison by names: what comes before them, how values read, and what is said of those that have none.
func byNames(about string, reads map[string]string, missing string) func(*Rule, *Names) string {
	return func(r *Rule, _ *Names) string {
		if len(r.Names) == 0 {
			if r.Missing {
				return missing
			}
			return ""
		}
		names := make([]string, len(r.Names))
		for i, name := range r.Names {
			if names[i] = name; reads[name] != "" {
				names[i] = reads[name]
			}
		}
		return strings.TrimSpace(about + " " + or(names))
	}
}

// among is the condition that a column has one of some ids.
func among(column string) func(Where, *Rule, int64) string {
	return func(w Where, r *Rule, _ int64) string {
		switch {
		case !r.Missing:
			return fmt.Sprintf("coalesce(%s = any(%s), false)", column, w.Arg(r.IDs))
		case len(r.IDs) == 0:
			return column + " is null"
		}
		return fmt.Sprintf("(%s is null or %s = any(%s))", column, column, w.Arg(r.IDs))
	}
}

// oneOf is the set of items that have one of some ids of a column, or none where that is asked for.
func oneOf(column string) func(Index, *Rule, int64) Sought {
	return func(ix Index, r *Rule, _ int64) Sought {
		values := ix.ByID(column)
		sets := values.Of(r.IDs...)
		if r.Missing {
			sets = append(sets, roaring.AndNot(ix.All(), values.Having()))
		}
		return Sought{Any: sets}
	}
}

// oneNamed is oneOf for a column of names.
func oneNamed(column string) func(Index, *Rule, int64) Sought {
	return func(ix Index, r *Rule, _ int64) Sought {
		values := ix.ByName(column)
		sets := values.Of(r.Names...)
		if r.Missing {
			sets = append(sets, roaring.AndNot(ix.All(), values.Having()))
		}
		return Sought{Any: sets}
	}
}
