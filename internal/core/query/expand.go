package query

import (
	"slices"
	"strings"
	"sync"

	"brightsatchel/internal/core/sending"
)

// Folder is what a folder says about everything in it.
type Folder struct {
	Parent int64
	Tags   []int64
	Date   string // YYYY-MM-DD, or ""
	Text   string // name and description, as search_text makes them
}

// World is what rules mean beyond the items: the folders and the names of tags and albums of a brand.
type World struct {
	Folders map[int64]Folder
	Tags    map[int64]string          // names and other spellings, as search_text makes them
	Albums  map[int64]string          // names, as search_text makes them
	Parents map[int64]int64           // of the albums that are in another one
	People  map[int64]sending.Consent // of those who are shown, by their tags
	Rules   map[int64]RuleAlbum       // of the albums that have one, with their words as search_text makes them
	Needs   []string                  // what a described item must have, of describing.Needs

	once     sync.Once
	children map[int64][]int64 // of Folders, once they are asked for
}

// Expand rewrites a rule so that it asks items only for what is their own: everything in a folder answers to the tags,
// the name and the description of that folder and of those above it, and, where an item is undated, to the nearest date.
// Words must be as search_text makes them.
func (w *World) Expand(r Rule, now Now) Rule { return w.expand(r, now, nil) }

// expand is Expand on the way through some rule albums.
func (w *World) expand(r Rule, now Now, way []int64) Rule {
	if r.Match != "" {
		out := Rule{Match: r.Match, Rules: make([]Rule, len(r.Rules))}
		for i, x := range r.Rules {
			out.Rules[i] = w.expand(x, now, way)
		}
		return out
	}
	if r.Last > 0 || r.Next > 0 {
		r = now.placed(r)
	}
	switch {
	case r.Field == "album":
		if r.Below {
			r.IDs, r.Below = w.albumsBelow(r.IDs), false
		}
		return w.albums(r, now, way)
	case r.Field == "anniversary":
		return now.anniversary()
	case r.Field == "folder" && r.Below:
		r.IDs, r.Below = w.below(func(id int64, _ Folder) bool { return slices.Contains(r.IDs, id) }), false
	case r.Field == "tag" && len(r.IDs) > 0:
		return w.orIn(r, w.below(func(_ int64, f Folder) bool {
			return slices.ContainsFunc(f.Tags, func(t int64) bool { return slices.Contains(r.IDs, t) })
		}))
	case r.Field == "described":
		return Rule{Match: None, Rules: []Rule{{Field: "lacks", Names: w.Needs}}}
	case r.Field == "consent":
		var tags []int64
		for tag, consent := range w.People {
			if slices.Contains(r.Names, consent.On(now.Day)) {
				tags = append(tags, tag)
			}
		}
		slices.Sort(tags)
		return w.expand(Rule{Field: "tag", IDs: tags}, now, way)
	case r.Field == "words":
		return w.expandWords(r, now, way)
	case r.Field == "taken" && (r.Since != "" || r.Until != ""):
		dated := w.within(func(f Folder) (known, yes bool) { return f.Date != "", f.Date != "" && r.HoldsDay(f.Date) })
		if len(dated) > 0 {
			undated := Rule{Match: All, Rules: []Rule{{Field: "taken", Missing: true}, {Field: "folder", IDs: dated}}}
			return Rule{Match: Any, Rules: []Rule{r, undated}}
		}
	}
	return r
}

func (w *World) expandWords(r Rule, now Now, way []int64) Rule {
	out := Rule{Match: All}
	for _, word := range r.Names {
		term := w.orIn(Rule{Field: "words", Names: []string{word}},
			w.below(func(_ int64, f Folder) bool { return strings.Contains(f.Text, word) }))
		if tags := named(w.Tags, word); len(tags) > 0 {
			term = Rule{Match: Any, Rules: []Rule{term, w.expand(Rule{Field: "tag", IDs: tags}, now, way)}}
		}
		if albums := named(w.Albums, word); len(albums) > 0 {
			own := slices.DeleteFunc(albums, func(id int64) bool { _, rule := w.Rules[id]; return rule })
			term = Rule{Match: Any, Rules: []Rule{term, {Field: "album", IDs: own}}}
		}
		out.Rules = append(out.Rules, term)
	}
	return out
}

// named lists those whose name has a word in it.
func named(names map[int64]string, word string) []int64 {
	var out []int64
	for id, name := range names {
		if strings.Contains(name, word) {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}

// Near lists words of the world, of folders, tags and albums, that somebody may have meant by another one.
func (w *World) Near(word string) (near []string) {
	most := Forgiven(len([]rune(word)))
	look := func(text string) {
		WordsOf(text, func(other string) {
			if other != word && !slices.Contains(near, other) && Slips([]rune(word), []rune(other), most) <= most {
				near = append(near, other)
			}
		})
	}
	if most == 0 {
		return nil
	}
	for _, f := range w.Folders {
		look(f.Text)
	}
	for _, names := range []map[int64]string{w.Tags, w.Albums} {
		for _, name := range names {
			look(name)
		}
	}
	slices.Sort(near)
	return near
}

// orIn is a rule, or being in one of the folders.
func (w *World) orIn(r Rule, folders []int64) Rule {
	if len(folders) == 0 {
		return r
	}
	return Rule{Match: Any, Rules: []Rule{r, {Field: "folder", IDs: folders}}}
}

// albumsBelow lists albums with all that are in them.
func (w *World) albumsBelow(albums []int64) []int64 {
	var out []int64
	for id := range w.Albums {
		for at, steps := id, 0; at != 0 && steps < deepestAlbum; at, steps = w.Parents[at], steps+1 {
			if slices.Contains(albums, at) {
				out = append(out, id)
				break
			}
		}
	}
	slices.Sort(out)
	return out
}

// deepestAlbum is how deep albums are in each other at most.
const deepestAlbum = 50

// below lists the folders that are meant, with everything below them.
func (w *World) below(meant func(int64, Folder) bool) []int64 {
	var out []int64
	for id, f := range w.Folders {
		if meant(id, f) {
			out = append(out, id)
		}
	}
	if len(out) == 0 {
		return nil
	}
	children, there := w.childrenOf(), make(map[int64]bool, len(out))
	for _, id := range out {
		there[id] = true
	}
	for next := 0; next < len(out); next++ { // out grows
		for _, id := range children[out[next]] {
			if !there[id] {
				there[id] = true
				out = append(out, id)
			}
		}
	}
	slices.Sort(out)
	return out
}

// childrenOf lists the folders in each folder. The folders of a world do not change.
func (w *World) childrenOf() map[int64][]int64 {
	w.once.Do(func() {
		w.children = make(map[int64][]int64, len(w.Folders)/2)
		for id, f := range w.Folders {
			if f.Parent != 0 {
				w.children[f.Parent] = append(w.children[f.Parent], id)
			}
		}
	})
	return w.children
}

// within lists the folders for which, going up, the first one that knows says yes.
func (w *World) within(says func(Folder) (known, yes bool)) []int64 {
	answer := make(map[int64]bool, len(w.Folders))
	var ask func(id int64, steps int) bool
	ask = func(id int64, steps int) bool {
		f, there := w.Folders[id]
		if !there || steps > len(w.Folders) {
			return false
		}
		if yes, asked := answer[id]; asked {
			return yes
		}
		known, yes := says(f)
		if !known {
			yes = ask(f.Parent, steps+1)
		}
		answer[id] = yes
		return yes
	}
	var out []int64
	for id := range w.Folders {
		if ask(id, 0) {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}
