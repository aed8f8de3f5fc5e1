package describing

import (
	"slices"

	"brightsatchel/internal/core/fault"
)

// Needs are what a brand can ask of a described item: fields that are filled in, that it is dated, that it has tags.
var Needs = []string{"title", "alt", "description", "tags", "credit", "copyright", "usageTerms", "place", "taken"}

// UsualNeeds are what a brand asks until it says otherwise.
var UsualNeeds = []string{"title", "alt"}

// CheckNeeds puts what a brand asks into the order of Needs, each once, and says what is wrong with it (*fault.Invalid).
func CheckNeeds(asked []string) ([]string, error) {
	for _, name := range asked {
		if !slices.Contains(Needs, name) {
			return nil, fault.Invalidf("needs", "There is nothing called %q that an item could need.", name)
		}
	}
	return slices.DeleteFunc(slices.Clone(Needs), func(name string) bool { return !slices.Contains(asked, name) }), nil
}
