package query

import (
	"slices"
	"time"

	"brightsatchel/internal/core/fault"
)

// RuleAlbum is an album that a rule keeps filled. Pick, if it is not 0, is how many of what the rule finds it shows: a number at random
// that stays the same for a day.
type RuleAlbum struct {
	Rule Rule
	Pick int
}

// mostPicked is how many items are picked at random at most.
const mostPicked = 10_000

// SortOfRuleAlbum is the order of a rule album, descending, which has none made by hand.
const SortOfRuleAlbum = "taken"

// Check says what is wrong with the rule of an album.
func (a *RuleAlbum) Check() error {
	if a.Pick < 0 || a.Pick > mostPicked {
		return fault.Invalidf("pick", "At most %d items are picked at random.", mostPicked)
	}
	return a.Rule.Check()
}

// shown is what a rule album shows of a library: as a sheet of everything with the filter.
func (a *RuleAlbum) shown() Rule {
	filter := a.Rule
	return (&Query{Place: "everything", Filter: &filter}).Rule()
}

// Now is what rules depend on beside the world: the day, YYYY-MM-DD, and how so many at random are picked of what an expanded rule
// finds.
type Now struct {
	Day  string
	Pick func(r Rule, n int) []int64
}

// placed is a rule of days that move with today as one of days that stay.
func (n Now) placed(r Rule) Rule {
	today, err := time.Parse(time.DateOnly, n.Day)
	if err != nil {
		return Rule{Match: Any}
	}
	day := func(after int64) string { return today.AddDate(0, 0, int(after)).Format(time.DateOnly) }
	switch {
	case r.Next > 0:
		r.Since, r.Until = day(0), day(r.Next)
	case r.Field == "rights":
		r.Since, r.Until = day(-r.Last), day(-1)
	default:
		r.Since, r.Until = day(1-r.Last), day(0)
	}
	r.Last, r.Next = 0, 0
	return r
}

// anniversary is the rule that an item was taken on this day and month in another year. The 29th of February counts as the 28th in
// years that have none.
func (n Now) anniversary() Rule {
	today, err := time.Parse(time.DateOnly, n.Day)
	if err != nil {
		return Rule{Match: Any}
	}
	days := []string{today.Format("01-02")}
	if days[0] == "02-28" && today.AddDate(0, 0, 1).Day() == 1 {
		days = append(days, "02-29")
	}
	year := today.Format("2006")
	return Rule{Match: All, Rules: []Rule{{Field: "monthday", Names: days},
		{Match: None, Rules: []Rule{{Field: "taken", Since: year + "-01-01", Until: year + "-12-31"}}}}}
}

// albums is the rule that an item is in one of some albums, with what rule albums among them show. On the way to an album that is
// asked for again it shows nothing.
func (w *World) albums(r Rule, now Now, way []int64) Rule {
	by := slices.ContainsFunc(r.IDs, func(id int64) bool { _, rule := w.Rules[id]; return rule })
	if !by {
		return r
	}
	plain, out := r, Rule{Match: Any}
	plain.IDs = nil
	for _, id := range r.IDs {
		album, rule := w.Rules[id]
		switch {
		case !rule:
			plain.IDs = append(plain.IDs, id)
		case slices.Contains(way, id) || len(way) == 0 && w.size(&album.Rule, []int64{id}) > mostExpanded: // it shows nothing
		default:
			shown := w.expand(album.shown(), now, append(slices.Clone(way), id))
			if album.Pick > 0 && now.Pick != nil {
				shown = Rule{Field: "item", IDs: now.Pick(shown, album.Pick)}
			}
			out.Rules = append(out.Rules, shown)
		}
	}
	out.Rules = append(out.Rules, plain)
	return out
}

// mostExpanded is how many conditions a rule has at most with those of all the albums that it asks for.
const mostExpanded = 2000

// CheckAlbum says what is wrong with the rule of an album among those that are there: with itself in it, or too long with all that it
// asks for.
func (w *World) CheckAlbum(a *RuleAlbum, album int64) error {
	if err := a.Check(); err != nil {
		return err
	}
	if w.Reaches(&a.Rule, album) {
		return fault.Invalidf("rule", "The rule would show this album in itself.")
	}
	if w.size(&a.Rule, nil) > mostExpanded {
		return fault.Invalidf("rule", "The rule is too long, with the rules of the albums that it asks for.")
	}
	return nil
}

// size counts the conditions of a rule with those of all the albums that it asks for, until there are too many.
func (w *World) size(r *Rule, way []int64) int {
	n := 1
	for i := range r.Rules {
		if n += w.size(&r.Rules[i], way); n > mostExpanded {
			return n
		}
	}
	if r.Field != "album" {
		return n
	}
	for _, id := range r.IDs {
		if by, rule := w.Rules[id]; rule && !slices.Contains(way, id) && n <= mostExpanded {
			n += w.size(&by.Rule, append(slices.Clone(way), id))
		}
	}
	return n
}

// Reaches says whether a rule asks for an album, itself or through the rules of other albums.
func (w *World) Reaches(r *Rule, album int64) bool {
	return w.reaches(r, album, map[int64]bool{})
}

func (w *World) reaches(r *Rule, album int64, been map[int64]bool) bool {
	if r.Field == "album" {
		for _, id := range r.IDs {
			if id == album {
				return true
			}
			if by, rule := w.Rules[id]; rule && !been[id] {
				been[id] = true
				if w.reaches(&by.Rule, album, been) {
					return true
				}
			}
		}
	}
	return slices.ContainsFunc(r.Rules, func(x Rule) bool { return w.reaches(&x, album, been) })
}

// prime is 2³¹ − 1.
const prime = 1<<31 - 1

// Lot is a number that looks like chance and is the same for an item, by its id, all day, which is a DayNumber; LotSQL is the same in
// SQL. The least are picked, of equals those of the least id.
func Lot(id, d int64) int64 {
	x := (id%prime*48271 + d*69621) % prime
	x = (x*x + d) % prime
	return (x*40692 + id%prime) % prime
}

// LotSQL is Lot of the column id, with the day as a number.
func LotSQL(id, day string) string {
	const p = "2147483647"
	x := "((" + id + " % " + p + " * 48271 + " + day + "::bigint * 69621) % " + p + ")"
	x = "((" + x + " * " + x + " + " + day + "::bigint) % " + p + ")"
	return "((" + x + " * 40692 + " + id + " % " + p + ") % " + p + ")"
}

// DayNumber is how many days a day is after 1970-01-01.
func DayNumber(day string) int64 {
	t, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return 0
	}
	return t.Unix() / (24 * 60 * 60)
}
