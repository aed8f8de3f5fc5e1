package calendar

import (
	"cmp"
	"slices"
	"strings"
	"time"
	"unicode"
)

// Shot is an item with its capture time (nil: undated) and its title.
type Shot struct {
	ID    int64
	Taken *time.Time
	Title string
}

// Shoot is what was taken in one go: the shots in the order of time, the first and last moment, and a name for it if
// their titles have one in common.
type Shoot struct {
	IDs         []int64
	First, Last time.Time
	Name        string
}

// Shoots groups shots: two that follow each other belong together unless more than gap lies between them. The shoots come
// in the order of time; the undated shots are returned by themselves, in the order in which they came.
func Shoots(shots []Shot, gap time.Duration) (shoots []Shoot, undated []int64) {
	dated := []Shot{}
	for _, s := range shots {
		if s.Taken == nil {
			undated = append(undated, s.ID)
		} else {
			dated = append(dated, s)
		}
	}
	slices.SortStableFunc(dated, func(a, b Shot) int { return cmp.Or(a.Taken.Compare(*b.Taken), cmp.Compare(a.ID, b.ID)) })
	titles := []string{}
	for i, s := range dated {
		if i == 0 || s.Taken.Sub(*dated[i-1].Taken) > gap {
			shoots = append(shoots, Shoot{First: *s.Taken})
			titles = titles[:0]
		}
		now := &shoots[len(shoots)-1]
		titles = append(titles, s.Title)
		now.IDs, now.Last, now.Name = append(now.IDs, s.ID), *s.Taken, common(titles)
	}
	return shoots, undated
}

// Folder is where a shoot goes: its year, and within that its day with its name.
func (s *Shoot) Folder() (year, day string) {
	return s.First.Format("2006"), strings.TrimSpace(s.First.Format(time.DateOnly) + " " + s.Name)
}

// common is the beginning, in whole words without numbers at the end, that all titles share.
func common(titles []string) string {
	words := strings.Fields(titles[0])
	for _, t := range titles[1:] {
		other := strings.Fields(t)
		n := 0
		for n < min(len(words), len(other)) && words[n] == other[n] {
			n++
		}
		words = words[:n]
	}
	number := func(r rune) bool { return unicode.IsDigit(r) || unicode.IsPunct(r) }
	for len(words) > 0 && strings.TrimFunc(words[len(words)-1], number) == "" {
		words = words[:len(words)-1]
	}
	return strings.TrimRightFunc(strings.Join(words, " "), unicode.IsPunct)
}
