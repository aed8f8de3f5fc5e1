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
			seen[act] = step
		}
	}
	assert.Empty(t, Of("cooking"))
	Of(File)[0] = "changed"
	assert.NotEqual(t, "changed", Of(File)[0], "what is given out is a copy")
}
