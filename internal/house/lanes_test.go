package house_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/store/storetest"
)

// TestNobodyWaitsForSomebodysManyActs: one person begins sixty large acts, another one after them; that is done long before the sixty are.
func TestNobodyWaitsForSomebodysManyActs(t *testing.T) {
	h := housetest.New(t, "lanes")
	people := storetest.Brand(t, h.DB, "lanes")
	busy, other := people[access.Steward], people[access.Coordinator]
	names := make([]string, 4000)
	for i := range names {
		names[i] = fmt.Sprintf("%d.jpg", i)
	}
	ids := storetest.Items(t, h.DB, busy, 0, names...)
	for i := range 60 {
		_, err := h.Choosing.Rate(t.Context(), busy, query.Selection{IDs: ids}, i%2+3)
		require.NoError(t, err)
	}
	done, err := h.Filing.Bin(t.Context(), other, query.Selection{IDs: ids[:400]})
	require.NoError(t, err)
	require.True(t, done.GoesOn)
	require.NoError(t, h.Work(t.Context()))
	open := func(person int64) (n int) {
		require.NoError(t, storetest.SQL(h.DB).Get(&n, `select count(*) from bulk where person_id = $1 and finished_at is null`, person))
		return n
	}
	require.Eventually(t, func() bool { return open(other.Person) == 0 }, 2*time.Minute, 20*time.Millisecond)
	assert.Greater(t, open(busy.Person), 20, "it did not wait for them")
	var lanes []string
	require.NoError(t, storetest.SQL(h.DB).Select(&lanes, `select distinct queue from river_job where kind = 'change_many'`))
	assert.Equal(t, []string{"large_acts"}, lanes, "nor do letters, which have a lane of their own")
}
