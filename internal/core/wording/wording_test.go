package wording

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestCount(t *testing.T) {
	assert.Equal(t, []string{"0 items", "1 item", "2 items"}, []string{Items(0), Items(1), Items(2)})
	assert.Equal(t, "3 pictures are", Count(3, "picture is", "pictures are"))
}
