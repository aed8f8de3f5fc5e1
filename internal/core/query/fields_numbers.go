package query

import (
	"fmt"
	"strings"
)

func init() {
	ranged := Takes{Range: true}
	register(Field{Name: "stars", Takes: ranged, Dear: 1, Say: func(r *Rule, _ *Names) string { return r.sayStars() }, SQL: between("a.stars"),
		Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Any: ix.Starred(r.holds)} }})
	for name, column := range map[string]string{"bytes": "a.bytes", "width": "a.width", "height": "a.height",
		"longer": "greatest(a.width, a.height)"} {
		register(Field{Name: name, Takes: ranged, Dear: 2, Say: func(r *Rule, _ *Names) string { return r.saySize() }, SQL: between(column),
			Set: func(ix Index, r *Rule, _ int64) Sought {
				of := measured(ix, name)
				return Sought{Each: func(slot uint32) bool { return r.holds(of(slot)) }}
			}})
	}
}

// measured is a number of an item.
func measured(ix Index, name string) func(slot uint32) int64 {
	if name != "longer" {
		return ix.Number(name)
	}
	width, height := ix.Number("width"), ix.Number("height")
	return func(slot uint32) int64 { return max(width(slot), height(slot)) }
}

// holds says whether a number is from one to another.
func (r *Rule) holds(n int64) bool {
	return (r.From == nil || n >= *r.From) && (r.To == nil || n <= *r.To)
}

// between is the condition that a column is from one number to another.
func between(column string) func(Where, *Rule, int64) string {
	return func(w Where, r *Rule, _ int64) string {
		parts := []string{"true"}
		if r.From != nil {
			parts = append(parts, fmt.Sprintf("%s >= %s::bigint", column, w.Arg(*r.From)))
		}
		if r.To != nil {
			parts = append(parts, fmt.Sprintf("%s <= %s::bigint", column, w.Arg(*r.To)))
		}
		return "(" + strings.Join(parts, " and ") + ")"
	}
}
