package choosing_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/choosing"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store/storetest"
)

// TestPilesOfASheet has a burst of three beyond a thousand single pictures, and finds it from anywhere.
func TestPilesOfASheet(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "piles")
	v := people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := choosing.New(db, many)
	names := make([]string, 1100)
	for i := range names {
		names[i] = fmt.Sprintf("%04d.jpg", i)
	}
	ids := storetest.Items(t, db, v, 0, names...)
	// a minute between all, but for three around the thousandth
	for i, statement := range []string{
		`update asset set camera = 'Ostrel M2', sharpness = 0.3, captured_at = timestamp '2026-05-17' + (id - $1) * interval '1 minute'`,
		`update asset set likeness = (1::bigint << (id % 60)::int) + 255`,
		`update asset set likeness = 255 where id between $1 + 999 and $1 + 1001`,
		`update asset set captured_at = timestamp '2026-05-18' + (id - $1) * interval '1 second', sharpness = 0.9 - abs(id - $1 - 1000) * 0.4
			where id between $1 + 999 and $1 + 1001`,
	} {
		args := []any{ids[0]}
		if i == 1 {
			args = nil
		}
		_, err := storetest.SQL(db).Exec(statement, args...)
		require.NoError(t, err, statement)
	}
	q := query.Query{Place: "everything", Sort: "taken"}
	burst := choosing.Pile{IDs: ids[999:1002], Best: ids[1000], Why: "the sharpest: 0.90, the next one 0.50"}
	for _, one := range burst.IDs {
		pile, err := s.PileOf(ctx, v, q, one)
		require.NoError(t, err)
		assert.Equal(t, burst, pile)
	}
	pile, err := s.NextPile(ctx, v, q, ids[0])
	require.NoError(t, err)
	assert.Equal(t, burst, pile)
	pile, err = s.PileOf(ctx, v, q, ids[5])
	require.NoError(t, err)
	assert.Equal(t, ids[5:6], pile.IDs, "alone")
	pile, err = s.NextPile(ctx, v, q, burst.IDs[2])
	require.NoError(t, err)
	assert.Empty(t, pile.IDs)
	pile, err = s.PileOf(ctx, people[access.Associate], q, ids[999])
	require.NoError(t, err)
	assert.Empty(t, pile.IDs, "nothing of what one does not see")
}

func TestStarsAreLowered(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "lower")
	v := people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := choosing.New(db, many)
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg", "c.jpg")
	for i, stars := range []int{4, 0, -1} {
		_, err := s.Rate(ctx, v, query.Selection{IDs: ids[i : i+1]}, stars)
		require.NoError(t, err)
	}
	done, err := s.Lower(ctx, v, query.Selection{IDs: ids}, 1)
	require.NoError(t, err)
	assert.Equal(t, "Gave 1 item 1 star less", done.Said)
	var stars []int
	require.NoError(t, storetest.SQL(db).Select(&stars, `select stars from asset order by id`))
	assert.Equal(t, []int{3, 0, -1}, stars)
	_, err = s.Lower(ctx, v, query.Selection{IDs: ids}, 0)
	require.Error(t, err)
}
