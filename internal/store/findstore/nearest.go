package findstore

import (
	"cmp"
	"context"
	"slices"
	"strconv"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store"
)

// MostNearest is how many words Finder.Nearest gives.
const MostNearest = 6

// readForWords is how many items are read for their words: this answers only until the index is loaded.
const readForWords = 5000

// Nearest implements Finder.
func (s SQL) Nearest(ctx context.Context, v *access.Viewer, word string) ([]string, error) {
	letters := []rune(word)
	most := query.Forgiven(len(letters))
	if most == 0 {
		return []string{}, nil
	}
	c := store.Clause{From: "from asset a"}
	c.And("a.brand_id = %s and a.binned_at is null", v.Brand)
	c.Within(v.May(access.Look))
	texts, err := store.List[string](ctx, s.DB, "select a.search "+c.SQL()+" order by a.id desc limit "+strconv.Itoa(readForWords), c.Args...)
	if err != nil {
		return nil, err
	}
	world, err := World(ctx, s.DB, v.Brand)
	if err != nil {
		return nil, err
	}
	count := map[string]int{}
	for _, other := range seenBy(world, v).Near(word) {
		count[other] = 0
	}
	for _, text := range texts {
		query.WordsOf(text, func(other string) {
			if n, asked := count[other]; asked {
				count[other] = n + 1
			} else if other != word && query.Slips(letters, []rune(other), most) <= most {
				count[other] = 1
			}
		})
	}
	out := make([]string, 0, len(count))
	for other := range count {
		out = append(out, other)
	}
	slips := func(other string) int { return query.Slips(letters, []rune(other), most) }
	slices.SortFunc(out, func(a, b string) int {
		return cmp.Or(cmp.Compare(slips(a), slips(b)), cmp.Compare(count[b], count[a]), cmp.Compare(a, b))
	})
	return out[:min(MostNearest, len(out))], nil
}
