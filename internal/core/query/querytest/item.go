// Package querytest says in the plainest way what rules mean: what SQL and the index are compared with.
package querytest

import (
	"slices"
	"strings"
	"time"

	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/core/query"
)

// Item is what rules see of an item.
type Item struct {
	ID, Folder, Stage    int64 // 0 without one
	Albums, Tags         []int64
	Outlets, Intakes     []int64
	Kind, Camera, Source string
	Place                string
	By                   int64  // who brought it in
	Format               string // of query.Formats
	Text                 string // title, file name, description, alt text, place, camera: as search_text makes it
	Stars                int
	Bytes, Width, Height int64
	Taken                *time.Time // wall time of the camera; nil is undated
	Added                time.Time
	RightsUntil          string   // YYYY-MM-DD, or "" without an end
	Lacks                []string // of describing.Needs
	Keeper, Binned       bool
	States               []string // of States
	Behind               bool     // behind the front of its stack
	Likeness             likeness.Hash
	Shades               []likeness.Shade
}

// Matches says whether an item is what a rule asks for, in the plainest way: what SQL and the index are compared with. The rule must be
// expanded.
func Matches(r *query.Rule, it *Item) bool {
	switch r.Match {
	case query.All:
		return !slices.ContainsFunc(r.Rules, func(x query.Rule) bool { return !Matches(&x, it) })
	case query.Any:
		return slices.ContainsFunc(r.Rules, func(x query.Rule) bool { return Matches(&x, it) })
	case query.None:
		return !slices.ContainsFunc(r.Rules, func(x query.Rule) bool { return Matches(&x, it) })
	}
	one := func(id int64) bool { return id == 0 && r.Missing || id != 0 && slices.Contains(r.IDs, id) }
	some := func(ids []int64) bool { return len(ids) == 0 && r.Missing || slices.ContainsFunc(ids, one) }
	switch r.Field {
	case "folder":
		return one(it.Folder)
	case "stage":
		return one(it.Stage)
	case "album":
		return some(it.Albums)
	case "tag":
		return some(it.Tags)
	case "outlet":
		return some(it.Outlets)
	case "intake":
		return some(it.Intakes)
	case "kind":
		return slices.Contains(r.Names, it.Kind)
	case "source":
		return slices.Contains(r.Names, it.Source)
	case "camera":
		return it.Camera == "" && r.Missing || it.Camera != "" && slices.Contains(r.Names, it.Camera)
	case "place":
		return it.Place == "" && r.Missing || it.Place != "" && slices.Contains(r.Names, it.Place)
	case "words":
		return !slices.ContainsFunc(r.Names, func(w string) bool { return !strings.Contains(it.Text, w) })
	case "taken":
		if it.Taken == nil {
			return r.Missing
		}
		return r.HoldsDay(it.Taken.Format(time.DateOnly))
	case "added":
		return r.HoldsDay(it.Added.UTC().Format(time.DateOnly))
	case "keeper":
		return it.Keeper
	case "item":
		return slices.Contains(r.IDs, it.ID)
	case "colour":
		return r.Colours().Dominate(it.Shades)
	case "like":
		return r.Model().Like(it.Likeness, it.Shades)
	case "monthday":
		return it.Taken != nil && slices.Contains(r.Names, it.Taken.Format("01-02"))
	case "rights":
		if it.RightsUntil == "" {
			return r.Missing
		}
		return r.HoldsDay(it.RightsUntil)
	case "lacks":
		return slices.ContainsFunc(r.Names, func(need string) bool { return slices.Contains(it.Lacks, need) })
	case "binned":
		return it.Binned
	case "behind":
		return it.Behind
	case "state":
		return slices.ContainsFunc(r.Names, func(state string) bool { return slices.Contains(it.States, state) })
	case "aside":
		return r.Missing || it.Stars < 0
	case "described": // of a brand that asks for everything
		return len(it.Lacks) == 0
	case "by":
		return one(it.By)
	case "format":
		return slices.Contains(r.Names, it.Format)
	case "stars", "bytes", "width", "height", "longer":
		return holdsNumber(r, number(r, it))
	}
	panic("nobody said here what the field " + r.Field + " means")
}

func number(r *query.Rule, it *Item) int64 {
	switch r.Field {
	case "stars":
		return int64(it.Stars)
	case "bytes":
		return it.Bytes
	case "width":
		return it.Width
	case "height":
		return it.Height
	}
	return max(it.Width, it.Height)
}

func holdsNumber(r *query.Rule, n int64) bool {
	return (r.From == nil || n >= *r.From) && (r.To == nil || n <= *r.To)
}
