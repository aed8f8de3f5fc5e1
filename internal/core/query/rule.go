package query

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/likeness"
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

// Fields are what can be compared, with what the comparison may use: the one table of them. The contract, SQL, the index and
// the front end each say what a field means there; tests name the field that one of them does not know.
var Fields = map[string]struct{ IDs, Names, Range, Days, Missing bool }{
	"folder": {IDs: true, Missing: true}, "album": {IDs: true}, "tag": {IDs: true, Missing: true}, "stage": {IDs: true, Missing: true},
	"outlet": {IDs: true}, "intake": {IDs: true}, "kind": {Names: true}, "source": {Names: true}, "camera": {Names: true, Missing: true},
	"place": {Names: true, Missing: true},
	"words": {Names: true}, "stars": {Range: true}, "bytes": {Range: true}, "width": {Range: true}, "height": {Range: true},
	"longer": {Range: true},
	"taken":  {Days: true, Missing: true}, "added": {Days: true}, "rights": {Days: true, Missing: true},
	"lacks":       {Names: true},                                   // any of describing.Needs that is not there
	"consent":     {Names: true},                                   // shows somebody whose consent is any of sending.Standings today
	"colour":      {Names: true, Range: true},                      // #rrggbb, of which the picture has at least so many percent
	"like":        {IDs: true},                                     // by what it looks like, to an item
	"item":        {IDs: true},                                     // one of these
	"monthday":    {Names: true},                                   // taken on one of these days of whichever year
	"anniversary": {},                                              // taken on this day and month in another year
	"keeper":      {}, "described": {}, "binned": {}, "behind": {}, // mine; all that the brand asks for; in the bin; behind its front
	"state": {Names: true},   // any of States
	"aside": {Missing: true}, // set aside; with Missing everything, also what was set aside
}

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
	f, ok := Fields[r.Field]
	if !ok {
		return fault.Invalidf("filter", "There is no filter by %q.", r.Field)
	}
	if len(r.IDs) > 0 && !f.IDs || len(r.Names) > 0 && !f.Names || (r.From != nil || r.To != nil) && !f.Range || r.Missing &&
		!f.Missing || r.Below && r.Field != "folder" && r.Field != "album" {
		return fault.Invalidf("filter", "The filter by %s does not take that.", r.Field)
	}
	moves := r.Field == "taken" || r.Field == "added" || r.Field == "rights"
	if min(r.Last, r.Next) < 0 || max(r.Last, r.Next) > longestSpan || r.Next > 0 && r.Field != "rights" ||
		r.Last+r.Next > 0 && (!moves || r.Since+r.Until != "" || r.Last > 0 && r.Next > 0) {
		return fault.Invalidf("filter", "A span of the last days has 1 to %d of them.", int64(longestSpan))
	}
	if r.Field == "colour" {
		for _, name := range r.Names {
			if _, err := likeness.ParseColour(name); err != nil {
				return fault.Invalidf("filter", "%v.", err)
			}
		}
	}
	for _, day := range []string{r.Since, r.Until} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && (err != nil || !f.Days) {
			return fault.Invalidf("filter", "%q is not a day, as in 2026-05-17.", day)
		}
	}
	return nil
}

// Item is what rules see of an item.
type Item struct {
	ID, Folder, Stage    int64 // 0 without one
	Albums, Tags         []int64
	Outlets, Intakes     []int64
	Kind, Camera, Source string
	Place                string
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

// Matches says whether an item is what a rule asks for. The rule must be expanded.
func (r *Rule) Matches(it *Item) bool {
	switch r.Match {
	case All:
		return !slices.ContainsFunc(r.Rules, func(x Rule) bool { return !x.Matches(it) })
	case Any:
		return slices.ContainsFunc(r.Rules, func(x Rule) bool { return x.Matches(it) })
	case None:
		return !slices.ContainsFunc(r.Rules, func(x Rule) bool { return x.Matches(it) })
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
		return r.holdsDay(it.Taken.Format(time.DateOnly))
	case "added":
		return r.holdsDay(it.Added.UTC().Format(time.DateOnly))
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
		return r.holdsDay(it.RightsUntil)
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
	}
	return r.holdsNumber(r.number(it))
}

func (r *Rule) number(it *Item) int64 {
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

func (r *Rule) holdsNumber(n int64) bool {
	return (r.From == nil || n >= *r.From) && (r.To == nil || n <= *r.To)
}

func (r *Rule) holdsDay(day string) bool {
	bounded := r.Since != "" || r.Until != ""
	return (bounded || !r.Missing) && day >= r.Since && (r.Until == "" || day <= r.Until)
}
