package describing

import (
	"errors"
	"slices"
	"strings"
	"unicode/utf8"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/tags"
)

// CellChange is what a table changes in one field of an item. Of tags it gives all, as joinTags writes them.
type CellChange struct {
	Field   string `json:"field"`
	Was     string `json:"was"`
	Becomes string `json:"becomes"`
}

// CellProblem says what is wrong with a cell.
type CellProblem struct {
	Field string `json:"field"`
	Text  string `json:"text"`
}

// Compare says what a row of a table changes in an item that says something now, field by field in their order, and what is wrong
// with it. A cell that says exactly what is there changes nothing, whatever one may think of it. Spelled gives the name of the tag
// that a name leads to.
func (r Row) Compare(now Row, spelled func(string) string) (changes []CellChange, problems []CellProblem) {
	for _, f := range Fields {
		text, has := r.Words[f.Name]
		if !has || oneEnd(text) == oneEnd(now.Words[f.Name]) {
			continue
		}
		clean, err := f.Clean(text)
		var invalid *fault.Invalid
		switch {
		case errors.As(err, &invalid):
			problems = append(problems, CellProblem{f.Name, invalid.Text})
		case clean != now.Words[f.Name]:
			changes = append(changes, CellChange{f.Name, now.Words[f.Name], clean})
		}
	}
	if r.Tags == nil {
		return changes, problems
	}
	becomes := []string{}
	for _, tag := range r.Tags {
		name := strings.Join(strings.Fields(tag), " ")
		if n := utf8.RuneCountInString(name); n > tags.Longest {
			problems = append(problems, CellProblem{TagsColumn, "“" + beginning(name) + "…” is too long for a tag."})
			return changes, problems
		}
		if name = spelled(name); name != "" && !slices.Contains(becomes, name) {
			becomes = append(becomes, name)
		}
	}
	if !slices.Equal(slices.Sorted(slices.Values(becomes)), slices.Sorted(slices.Values(now.Tags))) {
		changes = append(changes, CellChange{TagsColumn, joinTags(now.Tags), joinTags(becomes)})
	}
	return changes, problems
}

// oneEnd ends lines in one way: CSV keeps no other.
func oneEnd(text string) string { return strings.ReplaceAll(text, "\r", "") }

// TagsIn reads the tags of a CellChange.
func TagsIn(text string) []string { return splitTags(text) }
