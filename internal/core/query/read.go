package query

import (
	"cmp"
	"reflect"
	"slices"
	"strings"
	"time"
)

// Offer is a condition that somebody who types may mean, and the words before it, which are searched for as they are.
type Offer struct {
	Rule Rule
	Rest string
	Sure bool // it was typed in full; otherwise it is one of those that what was typed begins
}

// Limits of what is read of what somebody types.
const (
	mostRead   = 10 // words from the end that one condition has at most
	mostTyped  = 200
	mostOffers = 20
)

// Read offers conditions for the end of what somebody types, of as many words as mean something together. There is no syntax: it knows
// the phrases that Say says, other usual ones, beginnings of them, and names of tags, folders, albums, stages and outlets. Today is
// the day for "this month" and the like.
func Read(typed string, today time.Time, names *Names) []Offer {
	if len(typed) > mostTyped {
		return nil
	}
	words := strings.Fields(typed)
	plain := strings.Fields(folded(typed))
	if len(words) != len(plain) { // signs that fall apart when they are folded
		return nil
	}
	said := phrases(today, names.Me)
	var out []Offer
	for start := max(0, len(words)-mostRead); start < len(words); start++ {
		rest := strings.Join(words[:start], " ")
		for _, o := range readTail(plain[start:], today, names, said) {
			if o.Rest = rest; !slices.ContainsFunc(out, func(x Offer) bool { return reflect.DeepEqual(x.Rule, o.Rule) }) {
				out = append(out, o)
			}
		}
		if len(out) > 0 { // fewer words would mean less than all of them do
			break
		}
	}
	return out[:min(len(out), mostOffers)]
}

// refusals turn what follows around.
var refusals = []string{"not", "without", "except", "no"}

// readTail reads all of some folded words as one condition.
func readTail(tail []string, today time.Time, names *Names, said []phrase) []Offer {
	out := begun(tail, said)
	if r, ok := readExact(strings.Join(tail, " "), today); ok {
		out = append(out, Offer{Rule: r, Sure: true})
	}
	out = append(out, thingsNamed(tail, names)...)
	sureFirst(out)
	if len(tail) > 1 && slices.Contains(refusals, tail[0]) {
		for _, o := range readTail(tail[1:], today, names, said) {
			if o.Rule.Match != None {
				out = append(out, Offer{Rule: Rule{Match: None, Rules: []Rule{o.Rule}}, Sure: o.Sure})
			}
		}
	}
	return out
}

// phrase is what somebody may type, folded and word by word, with what it means.
type phrase struct {
	words []string
	rule  Rule
}

// begun are the phrases that some words begin, each of them a word of the phrase or its beginning. One word alone has three letters
// at least, so that not every search is met with offers.
func begun(tail []string, said []phrase) []Offer {
	if len(tail) == 1 && len([]rune(tail[0])) < 3 {
		return nil
	}
	var out []Offer
	for _, p := range said {
		if len(tail) > len(p.words) {
			continue
		}
		begins := true
		for i, word := range tail {
			begins = begins && wordBegins(word, p.words[i])
		}
		if begins {
			out = append(out, Offer{Rule: p.rule, Sure: slices.Equal(tail, p.words)})
		}
	}
	return out
}

func sureFirst(offers []Offer) {
	slices.SortStableFunc(offers, func(a, b Offer) int {
		switch {
		case a.Sure == b.Sure:
			return 0
		case a.Sure:
			return -1
		}
		return 1
	})
}

// wordBegins says whether a word is the beginning of another one. A number is only itself, but for the beginning of a year.
func wordBegins(word, whole string) bool {
	isNumber := strings.Trim(word, "0123456789.,") == ""
	return word == whole || strings.HasPrefix(whole, word) && (!isNumber || len(word) > 1 && len(whole) == 4)
}

// calls are what may come before the name of a thing, by the field that it is.
var calls = map[string][]string{
	"tag":    {"tag", "tags", "tagged", "tagged with", "person", "with"},
	"folder": {"folder", "in", "in the folder", "in folder"},
	"album":  {"album", "in the album", "in album"},
	"stage":  {"stage", "at the stage"},
	"outlet": {"outlet", "from", "on", "shown on"},
	"place":  {"place", "at", "taken at", "taken in", "in", "near"},
	"camera": {"camera", "taken with", "with", "by"},
	"by":     {"by", "brought in by", "added by", "from", "of"},
	"format": {"file", "format", "kind of file"},
}

// So many things of a field are offered.
var mostNamed = map[string]int{"tag": 4, "folder": 2, "album": 2, "stage": 2, "outlet": 1, "place": 3, "camera": 2, "by": 2, "format": 2}

// thingsNamed are the things whose names some words begin, those of which the name itself begins so first and shorter names first. When
// no name does, those that a slip leads to.
func thingsNamed(tail []string, names *Names) []Offer {
	var out []Offer
	for _, field := range []string{"tag", "stage", "folder", "album", "place", "outlet", "camera", "by", "format"} {
		called := tail
		for _, call := range calls[field] {
			before := strings.Fields(call)
			if n := len(before); n < len(tail) && slices.Equal(before, trimColon(tail[:n])) && len(tail)-n < len(called) {
				called = tail[n:]
			}
		}
		things, rule := names.of(field)
		for _, id := range nearestNames(called, things, mostNamed[field]) {
			out = append(out, Offer{Rule: rule(id), Sure: len(called) < len(tail)})
		}
	}
	return out
}

// of are the names of the things of a field, each with the condition that asks for it.
func (n *Names) of(field string) (map[int64]string, func(id int64) Rule) {
	byID := func(id int64) Rule { return Rule{Field: field, IDs: []int64{id}, Below: field == "folder"} }
	listed := func(all []string) (map[int64]string, func(id int64) Rule) {
		things := make(map[int64]string, len(all))
		for i, name := range all {
			things[int64(i)] = name
		}
		return things, func(id int64) Rule { return Rule{Field: field, Names: []string{things[id]}} }
	}
	switch field {
	case "tag":
		return n.Tags, byID
	case "stage":
		return n.Stages, byID
	case "folder":
		return n.Folders, byID
	case "album":
		return n.Albums, byID
	case "outlet":
		return n.Outlets, byID
	case "by":
		return n.People, byID
	case "format":
		return formatNames, func(id int64) Rule { return Rule{Field: field, Names: []string{Formats[id].Name}} }
	case "place":
		return listed(n.Places)
	}
	return listed(n.Cameras)
}

// trimColon takes the colon off the last of some words: "tag:" is "tag".
func trimColon(words []string) []string {
	out := slices.Clone(words)
	out[len(out)-1] = strings.TrimSuffix(out[len(out)-1], ":")
	return out
}

// nearestNames are the ids of at most so many things whose names the words begin.
func nearestNames(words []string, things map[int64]string, most int) []int64 {
	if len(strings.Join(words, "")) < 2 {
		return nil
	}
	type hit struct {
		id   int64
		rank int
		name string
	}
	var hits, slips []hit
	whole := strings.Join(words, " ")
	forgiven := Forgiven(len([]rune(whole)))
	for id, name := range things {
		plain := folded(name)
		switch {
		case plain == whole:
			hits = append(hits, hit{id, 0, plain})
		case strings.HasPrefix(plain, whole):
			hits = append(hits, hit{id, 1, plain})
		case everyBegins(words, strings.Fields(plain)):
			hits = append(hits, hit{id, 2, plain})
		case forgiven > 0 && Slips([]rune(whole), []rune(plain), forgiven) <= forgiven:
			slips = append(slips, hit{id, 3, plain})
		}
	}
	if len(hits) == 0 {
		hits = slips
	}
	slices.SortFunc(hits, func(a, b hit) int {
		return cmp.Or(cmp.Compare(a.rank, b.rank), cmp.Compare(len(a.name), len(b.name)), cmp.Compare(a.name, b.name), cmp.Compare(a.id, b.id))
	})
	var out []int64
	for _, h := range hits[:min(len(hits), most)] {
		out = append(out, h.id)
	}
	return out
}

// everyBegins says whether each of the words begins another one of a name, in any order.
func everyBegins(words, name []string) bool {
	taken := make([]bool, len(name))
	for _, word := range words {
		at := -1
		for i, part := range name {
			if !taken[i] && strings.HasPrefix(part, word) {
				at = i
				break
			}
		}
		if at < 0 {
			return false
		}
		taken[at] = true
	}
	return len(words) > 0
}
