package index

import (
	"slices"
	"strings"
	"sync"

	"github.com/RoaringBitmap/roaring/v2"
)

// terms are the items that say each of some words that were looked for lately, whoever may look at them. They outlast what changes
// about the items: only those whose texts changed are asked again. Whoever types a word letter by letter asks for each beginning of it,
// and its screen for the sheet, the counts and what it may mean: every text is read once for all of that.
type terms struct {
	mu    sync.Mutex
	known []term // those that were asked for least lately first
}

type term struct {
	word  string
	items *roaring.Bitmap // never changed in place
}

const (
	mostTerms  = 48
	mostRetold = 2_000 // items whose texts changed at once; after more of them everything is read anew
)

// of are the items that say a word, nil where that is not known.
func (t *terms) of(word string) *roaring.Bitmap {
	t.mu.Lock()
	defer t.mu.Unlock()
	at := slices.IndexFunc(t.known, func(k term) bool { return k.word == word })
	if at < 0 {
		return nil
	}
	found := t.known[at]
	t.known = append(slices.Delete(t.known, at, at+1), found)
	return found.items
}

// wider are the fewest items known to say a part of a word, nil where none are.
func (t *terms) wider(word string) *roaring.Bitmap {
	t.mu.Lock()
	defer t.mu.Unlock()
	var fewest *roaring.Bitmap
	for _, k := range t.known {
		if strings.Contains(word, k.word) && (fewest == nil || k.items.GetCardinality() < fewest.GetCardinality()) {
			fewest = k.items
		}
	}
	return fewest
}

func (t *terms) keep(word string, items *roaring.Bitmap) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.known = slices.DeleteFunc(t.known, func(k term) bool { return k.word == word })
	if len(t.known) >= mostTerms {
		t.known = slices.Delete(t.known, 0, 1)
	}
	t.known = append(t.known, term{word, items})
}

// retell takes in what some items say now; those that are gone say nothing.
func (t *terms) retell(slots *roaring.Bitmap, says func(slot uint32) string) {
	if slots.IsEmpty() {
		return
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if slots.GetCardinality() > mostRetold {
		t.known = nil
		return
	}
	for i, k := range t.known {
		items := roaring.AndNot(k.items, slots)
		for it := slots.Iterator(); it.HasNext(); {
			if slot := it.Next(); strings.Contains(says(slot), k.word) {
				items.Add(slot)
			}
		}
		t.known[i].items = items
	}
}

// forget is for when the slots are others.
func (t *terms) forget() {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.known = nil
}

// saying is those of some items that say all the words.
func (s *shelf) saying(words []string, within *roaring.Bitmap) *roaring.Bitmap {
	for _, word := range words {
		says := s.text.containing(word)
		items := s.terms.of(word)
		switch {
		case items != nil:
			within = roaring.And(within, items)
		case within.GetCardinality() <= share: // less work than reading everything once
			within = s.scan(within, says)
		default:
			from := s.terms.wider(word)
			if from == nil {
				from = s.used
			}
			items = s.scan(from, says)
			s.terms.keep(word, items)
			within = roaring.And(within, items)
		}
	}
	return within
}
