package query

import (
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/RoaringBitmap/roaring/v2"
)

const (
	secondsADay = 24 * 60 * 60
	// Never is the number of a day, or of a second, of what has none.
	Never = math.MinInt64
)

func init() {
	says := func(r *Rule, _ *Names) string { return r.sayDays() }
	register(Field{Name: "taken", Takes: Takes{Days: true, Missing: true, Last: true}, Worldly: true, Dear: 2, Say: says,
		SQL: onDays("a.captured_at"), Set: inDays("taken", secondsADay, takenWithin)})
	register(Field{Name: "added", Takes: Takes{Days: true, Last: true}, Worldly: true, Dear: 2, Say: says,
		SQL: onDays("a.added_at at time zone 'UTC'"), Set: inDays("added", secondsADay, nil)})
	register(Field{Name: "rights", Takes: Takes{Days: true, Missing: true, Last: true, Next: true}, Worldly: true, Dear: 2, Say: says,
		SQL: onDays("a.rights_until"), Set: inDays("rights", 1, nil)})
	register(Field{Name: "monthday", Takes: Takes{Names: true}, Dear: 2, Say: byNames("taken on", nil, ""),
		SQL: func(w Where, r *Rule, _ int64) string {
			return fmt.Sprintf("coalesce(to_char(a.captured_at, 'MM-DD') = any(%s), false)", w.Arg(r.Names))
		},
		Set: func(ix Index, r *Rule, _ int64) Sought { return Sought{Each: takenOn(ix.Number("taken"), r.Names)} }})
	register(Field{Name: "anniversary", Worldly: true, Say: plain("taken on this day of other years")})
}

// onDays is the condition that a column is on one of some days.
func onDays(column string) func(Where, *Rule, int64) string {
	return func(w Where, r *Rule, _ int64) string {
		parts := []string{column + " is not null"}
		if r.Since != "" {
			parts = append(parts, fmt.Sprintf("%s >= %s::text::date", column, w.Arg(r.Since)))
		}
		if r.Until != "" {
			parts = append(parts, fmt.Sprintf("%s < %s::text::date + 1", column, w.Arg(r.Until)))
		}
		text := "(" + strings.Join(parts, " and ") + ")"
		switch {
		case !r.Missing:
			return text
		case len(parts) == 1:
			return column + " is null"
		}
		return "(" + column + " is null or " + text + ")"
	}
}

// inDays tells of one item whether a number of it, of which a day has so many, is on one of some days.
func inDays(number string, aDay int64, within func(Index, *Rule) func(*roaring.Bitmap) *roaring.Bitmap) func(Index, *Rule, int64) Sought {
	return func(ix Index, r *Rule, _ int64) Sought {
		from, until := int64(math.MinInt64+1), int64(math.MaxInt64)
		if day, err := time.Parse(time.DateOnly, r.Since); err == nil {
			from = dayNumber(day) * aDay
		}
		if day, err := time.Parse(time.DateOnly, r.Until); err == nil {
			until = dayNumber(day.AddDate(0, 0, 1)) * aDay
		}
		of, bounded := ix.Number(number), r.Since != "" || r.Until != "" || !r.Missing
		out := Sought{Each: func(slot uint32) bool {
			n := of(slot)
			if n == Never {
				return r.Missing
			}
			return bounded && n >= from && n < until
		}}
		if within != nil {
			out.Within = within(ix, r)
		}
		return out
	}
}

// dayNumber counts days since 1970.
func dayNumber(day time.Time) int64 { return int64(math.Floor(float64(day.Unix()) / secondsADay)) }

// takenWithin leaves of some items those of the years that are asked about: few are looked at closely then.
func takenWithin(ix Index, r *Rule) func(*roaring.Bitmap) *roaring.Bitmap {
	if r.Missing || r.Since == "" && r.Until == "" {
		return nil
	}
	first, last := math.MinInt, math.MaxInt
	if day, err := time.Parse(time.DateOnly, r.Since); err == nil {
		first = day.Year()
	}
	if day, err := time.Parse(time.DateOnly, r.Until); err == nil {
		last = day.Year()
	}
	return func(of *roaring.Bitmap) *roaring.Bitmap {
		return roaring.And(of, roaring.FastOr(ix.Years(first, last)...))
	}
}

// takenOn tells of one item whether it was taken on some days of any year, which are written as MM-DD.
func takenOn(taken func(slot uint32) int64, days []string) func(slot uint32) bool {
	var wanted [13][32]bool
	for _, day := range days {
		if t, err := time.Parse("2006-01-02", "2000-"+day); err == nil { // a leap year
			wanted[t.Month()][t.Day()] = true
		}
	}
	return func(slot uint32) bool {
		at := taken(slot)
		if at == Never {
			return false
		}
		_, month, day := time.Unix(at, 0).UTC().Date()
		return wanted[month][day]
	}
}
