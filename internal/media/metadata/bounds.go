package metadata

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"
)

// Cut is where what was read of a file lists the names of values that were cut or left out.
const Cut = "Satchel:Cut"

// Limits of what is kept of what a file says.
const (
	longestValue = 5000      // characters of a text
	longestList  = 500       // entries of a list
	deepest      = 8         // levels of a structure
	mostKept     = 240 << 10 // bytes of it all, as JSON
)

// bounded cuts what a file says to the limits, and lists what was cut. The longest values go first.
func bounded(raw map[string]any) map[string]any {
	out, cut := make(map[string]any, len(raw)), map[string]bool{}
	sizes, total := make(map[string]int, len(raw)), 0
	for name, value := range raw {
		if len(name) > 200 || !utf8.ValidString(name) {
			continue
		}
		kept, whole := short(value, 0)
		if !whole {
			cut[name] = true
		}
		text, err := json.Marshal(kept)
		if err != nil {
			continue
		}
		out[name], sizes[name] = kept, len(text)+len(name)+4
		total += sizes[name]
	}
	longest := slices.SortedFunc(maps.Keys(sizes), func(a, b string) int { return sizes[b] - sizes[a] })
	for _, name := range longest {
		if total <= mostKept {
			break
		}
		delete(out, name)
		cut[name] = true
		total -= sizes[name]
	}
	if len(cut) > 0 {
		names := slices.Sorted(maps.Keys(cut))
		if len(names) > 50 {
			names = append(names[:50], fmt.Sprintf("and %d more", len(names)-50))
		}
		list := make([]any, len(names))
		for i, n := range names {
			list[i] = n
		}
		out[Cut] = list
	}
	return out
}

// short is a value cut to the limits, and whether it is whole.
func short(value any, depth int) (any, bool) {
	switch v := value.(type) {
	case string:
		v = strings.ReplaceAll(strings.ToValidUTF8(v, "�"), "\x00", "")
		if len(v) <= longestValue || utf8.RuneCountInString(v) <= longestValue {
			return v, true
		}
		return firstRunes(v, longestValue) + "…", false
	case []any:
		whole := len(v) <= longestList && depth < deepest
		if depth >= deepest {
			return nil, false
		}
		out := make([]any, 0, min(len(v), longestList))
		for _, entry := range v[:min(len(v), longestList)] {
			kept, all := short(entry, depth+1)
			out, whole = append(out, kept), whole && all
		}
		return out, whole
	case map[string]any:
		if depth >= deepest {
			return nil, false
		}
		whole := len(v) <= longestList
		out := make(map[string]any, min(len(v), longestList))
		for _, name := range slices.Sorted(maps.Keys(v))[:min(len(v), longestList)] {
			kept, all := short(v[name], depth+1)
			out[name], whole = kept, whole && all
		}
		return out, whole
	}
	return value, true
}

// firstRunes is the beginning of a text, of so many characters.
func firstRunes(text string, n int) string {
	for i := range text {
		if n == 0 {
			return text[:i]
		}
		n--
	}
	return text
}
