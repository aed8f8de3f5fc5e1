package tags

import (
	"cmp"
	"fmt"
	"slices"
)

// Neighbours are items that have something in common with another one: what that is, in words that follow "the 9", how many there
// are, and on how many of them each tag is.
type Neighbours struct {
	What  string
	Items int
	On    map[int64]int
}

// Suggestion is a tag that an item may lack, with the reason in words.
type Suggestion struct {
	Tag int64
	Why string
}

// How many neighbours carry a tag at least before it is suggested, and how large a share of them, counted as if there were one more
// without it: then three of three say more than one of one (Laplace's rule of succession).
const (
	fewestOn   = 2
	leastShare = 0.5
)

// Suggest proposes tags that an item does not have, at most so many, by what its neighbours have: the largest share first. Where a
// tag is on several kinds of neighbours the largest share is its reason; kinds that come earlier go before later ones.
func Suggest(all []Neighbours, has []int64, most int) []Suggestion {
	type found struct {
		share float64
		kind  int
		on    Suggestion
	}
	best := map[int64]found{}
	for kind, near := range all {
		for tag, on := range near.On {
			share := float64(on) / float64(near.Items+1)
			if on < fewestOn || share < leastShare || slices.Contains(has, tag) || share <= best[tag].share {
				continue
			}
			best[tag] = found{share, kind, Suggestion{Tag: tag, Why: fmt.Sprintf("on %d of the %d %s", on, near.Items, near.What)}}
		}
	}
	out := make([]found, 0, len(best))
	for _, f := range best {
		out = append(out, f)
	}
	slices.SortFunc(out, func(a, b found) int {
		return cmp.Or(cmp.Compare(b.share, a.share), cmp.Compare(a.kind, b.kind), cmp.Compare(a.on.Tag, b.on.Tag))
	})
	suggested := make([]Suggestion, 0, most)
	for _, f := range out[:min(most, len(out))] {
		suggested = append(suggested, f.on)
	}
	return suggested
}
