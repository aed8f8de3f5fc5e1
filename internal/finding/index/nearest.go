package index

import (
	"cmp"
	"context"
	"runtime"
	"slices"
	"sync"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/store/findstore"
)

// vocabulary is the words of the items of a brand that somebody may have meant, with how often each is there.
type vocabulary map[string]int32

func (w vocabulary) note(text string, by int32) {
	query.WordsOf(text, func(word string) {
		if w[word] += by; w[word] <= 0 {
			delete(w, word)
		}
	})
}

// learn reads the words of all items.
func (s *shelf) learn() {
	s.words = vocabulary{}
	for _, slot := range s.used.ToArray() {
		s.words.note(s.text.said[slot], 1)
	}
}

// Nearest implements findstore.Finder.
func (x *Index) Nearest(ctx context.Context, v *access.Viewer, word string) ([]string, error) {
	s := x.current(ctx, v.Brand)
	if s == nil {
		return x.sql.Nearest(ctx, v, word)
	}
	defer s.mu.RUnlock()
	near := s.near(word)
	reach := v.May(access.Look)
	out := []string{}
	for _, other := range near {
		if len(out) == findstore.MostNearest {
			break
		}
		if !reach.All { // no word of what others see only
			items, err := s.matching(ctx, v, &query.Query{Place: "everything", Filter: query.Both(query.Words(other))})
			if err != nil {
				return nil, err
			}
			if items.IsEmpty() {
				continue
			}
		}
		out = append(out, other)
	}
	return out, nil
}

// mostAsked is how many words are looked at more closely.
const mostAsked = 20

// near lists the words that somebody may have meant, those with fewer slips first, and of these the more frequent ones.
func (s *shelf) near(word string) []string {
	letters := []rune(word)
	most := query.Forgiven(len(letters))
	if most == 0 {
		return nil
	}
	slips := map[string]int{}
	for _, other := range s.world.Near(word) {
		slips[other] = query.Slips(letters, []rune(other), most)
	}
	for other, n := range s.closest(letters, most) {
		slips[other] = n
	}
	out := make([]string, 0, len(slips))
	for other := range slips {
		out = append(out, other)
	}
	slices.SortFunc(out, func(a, b string) int {
		return cmp.Or(cmp.Compare(slips[a], slips[b]), cmp.Compare(s.words[b], s.words[a]), cmp.Compare(a, b))
	})
	return out[:min(mostAsked, len(out))]
}

// closest asks every word, each processor its part.
func (s *shelf) closest(letters []rune, most int) map[string]int {
	fewest, longest := len(letters)-most, 4*(len(letters)+most) // bytes: letters beyond ASCII have up to four
	var candidates []string
	for other := range s.words {
		if len(other) >= fewest && len(other) <= longest {
			candidates = append(candidates, other)
		}
	}
	parts := runtime.GOMAXPROCS(0)
	found := make([]map[string]int, parts)
	var group sync.WaitGroup
	for i := range parts {
		part := candidates[len(candidates)*i/parts : len(candidates)*(i+1)/parts]
		group.Go(func() {
			found[i] = map[string]int{}
			for _, other := range part {
				if n := query.Slips(letters, []rune(other), most); n > 0 && n <= most {
					found[i][other] = n
				}
			}
		})
	}
	group.Wait()
	out := map[string]int{}
	for _, some := range found {
		for other, n := range some {
			out[other] = n
		}
	}
	return out
}
