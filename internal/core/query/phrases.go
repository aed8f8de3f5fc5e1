package query

import (
	"fmt"
	"strings"
	"time"
)

// So far back months and years are offered before they are typed in full.
const (
	monthsOffered = 24
	yearsOffered  = 12
)

func ptr(n int64) *int64 { return &n }

// phrases are what somebody, by the id of the person, may be about to type on a day, the likeliest first.
func phrases(today time.Time, me int64) []phrase {
	var out []phrase
	add := func(rule Rule, ways ...string) {
		for _, way := range ways {
			out = append(out, phrase{strings.Fields(way), rule})
		}
	}
	add(Rule{Field: "keeper"}, "my keepers", "keepers")
	add(Rule{Field: "by", IDs: []int64{me}}, "mine", "brought in by me", "my own", "by me", "added by me")
	for n := int64(5); n >= 1; n-- {
		noun := "stars"
		if n == 1 {
			noun = "star"
		}
		exactly, least := Rule{Field: "stars", From: ptr(n), To: ptr(n)}, Rule{Field: "stars", From: ptr(n), To: ptr(5)}
		if n < 5 {
			add(least, fmt.Sprintf("at least %d %s", n, noun), fmt.Sprintf("%d %s or more", n, noun))
			add(Rule{Field: "stars", From: ptr(0), To: ptr(n)}, fmt.Sprintf("at most %d %s", n, noun), fmt.Sprintf("%d %s or fewer", n, noun))
		}
		add(exactly, fmt.Sprintf("%d %s", n, noun), fmt.Sprintf("exactly %d %s", n, noun))
	}
	add(Rule{Field: "stars", From: ptr(0), To: ptr(0)}, "no stars", "without stars")
	add(Rule{Field: "aside"}, "set aside")
	for _, state := range [][]string{{"prepared", "prepared"}, {"sent", "sent out"},
		{"older", "changed since it was sent out", "changed since"}} {
		for _, way := range state[1:] {
			rule := Rule{Field: "state", Names: state[:1]}
			add(rule, way)
			add(Rule{Match: None, Rules: []Rule{rule}}, "not "+way)
		}
	}
	for _, kind := range [][]string{{"picture", "pictures", "photos"}, {"clip", "clips", "videos"}, {"document", "documents"},
		{"vector", "vector drawings", "drawings"}, {"animation", "animations"}} {
		for _, way := range kind[1:] {
			add(Rule{Field: "kind", Names: kind[:1]}, way, "only "+way)
		}
	}
	for _, need := range [][]string{{"title", "a title", "title"}, {"alt", "alt text"}, {"description", "a description", "description"},
		{"credit", "a credit", "credit"}, {"copyright", "copyright"}, {"usageTerms", "usage terms"}} {
		for _, way := range need[1:] {
			add(Rule{Field: "lacks", Names: need[:1]}, "without "+way, "lacks "+way, "no "+way)
		}
	}
	add(Rule{Field: "tag", Missing: true}, "without tags", "no tags", "untagged")
	add(Rule{Field: "stage", Missing: true}, "no stage", "without a stage")
	add(Rule{Field: "camera", Missing: true}, "without a camera", "no camera")
	add(Rule{Field: "place", Missing: true}, "without a place", "without place", "no place")
	add(Rule{Field: "folder", Missing: true}, "unfiled", "without a folder")
	add(Rule{Field: "rights", Last: longestSpan}, "rights that have ended", "rights ended")
	add(Rule{Field: "rights", Next: 30}, "rights that end within 30 days", "rights end soon")
	add(Rule{Field: "rights", Missing: true}, "rights without an end")
	add(Rule{Field: "consent", Names: []string{"refused"}}, "showing somebody who does not agree", "shows somebody who does not agree")
	add(Rule{Field: "consent", Names: []string{"ended"}}, "showing somebody who agreed once")
	add(Rule{Field: "anniversary"}, "taken on this day of other years", "this day in other years")
	for _, field := range []string{"taken", "added"} {
		for _, span := range spans(today) {
			rule := span.rule
			rule.Field = field
			for _, way := range span.ways {
				add(rule, field+" "+way)
				if field == "taken" { // what is said without a verb is about when it was taken
					add(rule, "shot "+way, way)
				}
			}
		}
		if field == "taken" {
			add(Rule{Field: "taken", Missing: true}, "undated", "without a date", "taken nobody knows when")
		}
	}
	return out
}

// spanned are days with the ways to say them.
type spanned struct {
	rule Rule
	ways []string
}

// spans are the days that one speaks of on a day, in small letters.
func spans(today time.Time) []spanned {
	day := func(t time.Time) string { return t.Format(time.DateOnly) }
	between := func(a, b time.Time, ways ...string) spanned { return spanned{Rule{Since: day(a), Until: day(b)}, ways} }
	monday := today.AddDate(0, 0, -(int(today.Weekday())+6)%7)
	year, month := today.Year(), today.Month()
	first := func(y int, m time.Month) time.Time { return time.Date(y, m, 1, 0, 0, 0, 0, time.UTC) }
	out := []spanned{
		{Rule{Last: 1}, []string{"today"}},
		between(today.AddDate(0, 0, -1), today.AddDate(0, 0, -1), "yesterday"),
		between(monday, monday.AddDate(0, 0, 6), "this week"),
		between(monday.AddDate(0, 0, -7), monday.AddDate(0, 0, -1), "last week"),
		{Rule{Last: 7}, []string{"in the last 7 days", "in the last week"}},
		{Rule{Last: 30}, []string{"in the last 30 days"}},
		{Rule{Last: 365}, []string{"in the last 365 days", "in the last 12 months"}},
	}
	for i := range yearsOffered {
		start := first(year-i, 1)
		ways := []string{start.Format("in 2006"), start.Format("2006")}
		switch i {
		case 0:
			ways = append(ways, "this year")
		case 1:
			ways = append(ways, "last year")
		}
		out = append(out, between(start, start.AddDate(1, 0, -1), ways...))
	}
	for i := range monthsOffered {
		start := first(year, month-time.Month(i))
		ways := []string{start.Format("in January 2006"), start.Format("January 2006")}
		if i < 12 {
			ways = append(ways, start.Format("in January"), start.Format("January"))
		}
		switch i {
		case 0:
			ways = append(ways, "this month")
		case 1:
			ways = append(ways, "last month")
		}
		out = append(out, between(start, start.AddDate(0, 1, -1), lower(ways)...))
	}
	return out
}

func lower(all []string) []string {
	for i := range all {
		all[i] = strings.ToLower(all[i])
	}
	return all
}
