package query

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"
)

// Rule is a condition on an item, as data: either a group of rules, of which all, any or none must hold, or a comparison
// of one field. A field with several values (tag, album…) matches when one of them is asked for.
type Rule struct {
	Match string `json:"match,omitempty"` // All, Any or None for a group, else ""
	Rules []Rule `json:"rules,omitempty"` // of the group

	Field   string   `json:"field,omitempty"`   // one of Fields
	IDs     []int64  `json:"ids,omitempty"`     // folder, album, tag, stage, outlet, intake, item
	Names   []string `json:"names,omitempty"`   // kind, camera, place, source, lacks, consent, monthday (MM-DD); words
	Below   bool     `json:"below,omitempty"`   // folder: with everything below
	Missing bool     `json:"missing,omitempty"` // also what has no value: unfiled, undated, without tag, stage, camera, place
	// stars, bytes, width, height, longer (pixels): from and to inclusive
	From *int64 `json:"from,omitempty"`
	To   *int64 `json:"to,omitempty"`
	// taken (the camera's own days), added (days in UTC), rights (their end): from and to inclusive, YYYY-MM-DD
	Since string `json:"since,omitempty"`
	Until string `json:"until,omitempty"`
	// taken, added: the last so many days, today among them; rights: those before today
	Last int64 `json:"last,omitempty"`
	// rights: today and the next so many days
	Next int64 `json:"next,omitempty"`
}

// How the rules of a group go together.
const (
	All  = "all"
	Any  = "any"
	None = "none"
)

// States are what items can be by what was done with them: prepared by a recipe that does something, sent out, and sent out as it was
// before its file or its recipe became another.
var States = []string{"prepared", "sent", "older"}

// Both is a filter of conditions that must all hold.
func Both(rules ...Rule) *Rule { return &Rule{Match: All, Rules: rules} }

// WithAside is the condition that shows also what was set aside.
var WithAside = Rule{Field: "aside", Missing: true}

// Words is the condition that each of some words begins or stands in what is searched.
func Words(words string) Rule { return Rule{Field: "words", Names: []string{words}} }

// AtLeast is the condition of so many stars or more.
func AtLeast(n int) Rule { return stars(int64(n), 5) }

// asksForAside says whether a filter speaks of what was set aside, which is not shown otherwise.
func (r *Rule) asksForAside() bool {
	if r == nil {
		return false
	}
	return r.Field == "aside" || r.Field == "stars" && r.From != nil && *r.From < 0 ||
		slices.ContainsFunc(r.Rules, func(x Rule) bool { return x.asksForAside() })
}

// asksForWords says whether a filter searches for words.
func (r *Rule) asksForWords() bool {
	return r != nil && (r.Field == "words" || slices.ContainsFunc(r.Rules, func(x Rule) bool { return x.asksForWords() }))
}

// fewestPlural is how many letters a word has at least before its last s is taken for a plural.
const fewestPlural = 5

// Terms splits words as people type them into single ones, in small letters. A plural is looked for without its s, so that it finds
// the one as well as the many. What stands in quotation marks is looked for as it is, and as one.
func Terms(words ...string) []string {
	out := Split(strings.ToLower(strings.Join(words, " ")))
	for i, word := range out {
		if phrase, quoted := strings.CutPrefix(word, `"`); quoted {
			out[i] = strings.TrimSuffix(phrase, `"`)
			continue
		}
		if utf8.RuneCountInString(word) >= fewestPlural && strings.HasSuffix(word, "s") && !strings.HasSuffix(word, "ss") {
			out[i] = strings.TrimSuffix(word, "s")
		}
	}
	return out
}

// NeedsWorld says whether a rule means something beyond the items, so that it has to be expanded.
func (r *Rule) NeedsWorld() bool {
	f := Fields[r.Field]
	return r.Below || f != nil && f.Worldly || slices.ContainsFunc(r.Rules, func(x Rule) bool { return x.NeedsWorld() })
}

// withTerms splits the words in a rule as people type them into single ones, in lower case.
func (r Rule) withTerms() Rule {
	if r.Field == "words" {
		r.Names = Terms(r.Names...)
		return r
	}
	r.Rules = slices.Clone(r.Rules) // it may be somebody's
	for i := range r.Rules {
		r.Rules[i] = r.Rules[i].withTerms()
	}
	return r
}

// Limits of a rule that somebody sends.
const (
	deepest     = 6
	most        = 200    // conditions
	mostValues  = 20_000 // ids and names in all of them
	longestSpan = 36_600 // days
	mostWords   = 40     // words that are searched for in all of them
)

// Check says what is wrong with a rule that somebody sends, naming the field.
func (r *Rule) Check() error {
	var all counted
	return r.check(1, &all)
}

// CheckAll says what is wrong with rules that are sent together, which must not be many more than one rule alone may have parts.
func CheckAll(rules []Rule) error {
	all := 0
	for i := range rules {
		var one counted
		if err := rules[i].check(1, &one); err != nil {
			return err
		}
		if all += one.conditions; all > 4*most {
			return fault.Invalidf("rules", "The filter is too long.")
		}
	}
	return nil
}

// counted is how much of what counts a rule has, with all below it.
type counted struct{ conditions, values, words int }

func (r *Rule) check(depth int, all *counted) error {
	all.conditions++
	all.values += len(r.IDs) + len(r.Names)
	if r.Field == "words" {
		all.words += len(Split(strings.Join(r.Names, " ")))
	}
	if depth > deepest || all.conditions > most || all.values > mostValues || all.words > mostWords {
		return fault.Invalidf("filter", "The filter is too long.")
	}
	if r.Match != "" {
		if !slices.Contains([]string{All, Any, None}, r.Match) || r.Field != "" {
			return fault.Invalidf("filter", "%q is not a way to put conditions together.", r.Match)
		}
		for i := range r.Rules {
			if err := r.Rules[i].check(depth+1, all); err != nil {
				return err
			}
		}
		return nil
	}
	f := Fields[r.Field]
	if f == nil {
		return fault.Invalidf("filter", "There is no filter by %q.", r.Field)
	}
	if err := f.takes(r); err != nil {
		return err
	}
	for _, day := range []string{r.Since, r.Until} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && (err != nil || !f.Days) {
			return fault.Invalidf("filter", "%q is not a day, as in 2026-05-17.", day)
		}
	}
	return nil
}

// HoldsDay says whether a day, as YYYY-MM-DD, is one of those that a comparison asks for.
func (r *Rule) HoldsDay(day string) bool {
	bounded := r.Since != "" || r.Until != ""
	return (bounded || !r.Missing) && day >= r.Since && (r.Until == "" || day <= r.Until)
}
