package fault

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWordsAreOnlyThoseThatSomebodyIsToRead(t *testing.T) {
	for _, said := range []error{Invalidf("due", "Choose a %s.", "day"), NotFoundf("It is gone."), Forbiddenf("You may not.")} {
		assert.Equal(t, said.Error(), Words(said))
		assert.Contains(t, Words(fmt.Errorf("while it was sent: %w", said)), said.Error())
	}
	for _, inner := range []error{errors.New(`relation "asset" does not exist`), fmt.Errorf("dial tcp 10.0.0.1:5432: refused")} {
		assert.Equal(t, "Something went wrong here.", Words(inner))
	}
}
