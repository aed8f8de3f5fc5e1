package acts

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestEachActBelongsToOneStep(t *testing.T) {
	seen := map[string]Step{}
	for _, step := range Steps {
		assert.NotEmpty(t, Of(step), step)
		for _, act := range Of(step) {
			assert.Empty(t, seen[act], act)
			assert.True(t, Known(act))
			seen[act] = step
		}
	}
	assert.Empty(t, Of("cooking"))
	assert.False(t, Known("test"))
	Of(File)[0] = "changed"
	assert.False(t, Known("changed"), "what is given out is a copy")
}
