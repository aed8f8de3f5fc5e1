package query

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestWhatStandsInQuotationMarksIsOne(t *testing.T) {
	for typed, terms := range map[string][]string{
		`red kites`:              {"red", "kite"},
		`"red kites"`:            {"red kites"},
		`“Red   kites” dusk`:     {"red kites", "dusk"},
		`„am Hafen“ «le port»`:   {"am hafen", "le port"},
		`"red ki`:                {"red ki"},
		`"" dusk " "`:            {"dusk"},
		`24" line`:               {`24"`, "line"},
		`harbour "at dusk"boats`: {"harbour", "at dusk", "boat"},
	} {
		assert.Equal(t, terms, Terms(typed), typed)
	}
	rapid.Check(t, func(t *rapid.T) {
		typed := rapid.StringOf(rapid.RuneFrom([]rune(`ab "“”«`))).Draw(t, "typed")
		parts := Split(typed)
		assert.Equal(t, parts, Split(strings.Join(parts, " ")), "what is split stays as it is")
		for _, term := range Terms(typed) {
			assert.NotEmpty(t, strings.TrimSpace(term))
		}
	})
}
