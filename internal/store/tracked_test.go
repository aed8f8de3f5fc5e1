package store

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/topics"
)

// TestWhatIsRecordedSaysWhoTakesItBack: a table that the trail follows has a right of its own.
func TestWhatIsRecordedSaysWhoTakesItBack(t *testing.T) {
	for name, table := range tables {
		if len(table.record.key) == 0 {
			assert.False(t, table.own || table.asks || table.along, name)
			continue
		}
		if !table.many { // of items it depends on the column
			assert.Contains(t, access.Actions, table.undo, "%s: which right does taking back a change of it need?", name)
		}
	}
	assert.Equal(t, []access.Action{access.Settings}, Rights.Undoing([]access.Changed{{Table: "somewhere", Column: "x"}}),
		"what is not known is for stewards")
}

// TestEachTopicIsTold: none is there that nothing tells, and none is told that is not there.
func TestEachTopicIsTold(t *testing.T) {
	told := []topics.Topic{topics.Everything, topics.Brand}
	for _, table := range tables {
		told = append(told, table.tell...)
		if table.many { // which of them is worked out in the database
			for _, topic := range topics.All {
				if strings.Contains(functions, "''"+string(topic)+"''") {
					told = append(told, topic)
				}
			}
		}
	}
	slices.Sort(told)
	assert.ElementsMatch(t, topics.All, slices.Compact(told))
}
