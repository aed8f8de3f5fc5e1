package choosing_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/choosing"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/upkeep"
)

func TestVerdicts(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "verdict")
	reviewer, coordinator := people[access.Reviewer], people[access.Coordinator]
	many, jobs := piecestest.New(t, db)
	s := choosing.New(many)
	find := &finding.Service{Finder: db.Find(), DB: db}
	ids := storetest.Items(t, db, coordinator, 0, "a.jpg", "b.jpg", "c.jpg")
	all := query.Selection{IDs: ids}

	for _, c := range []struct {
		stars int
		said  string
	}{{3, "Gave 3 items 3 ★"}, {0, "Took the stars off 3 items"}, {-1, "Set 3 items aside"}} {
		done, err := s.Rate(ctx, reviewer, all, c.stars)
		require.NoError(t, err)
		assert.Equal(t, c.said, done.Said)
	}
	page, err := find.Sheet(ctx, reviewer, query.Query{Place: "everything"}, 0, 100)
	rows := page.Rows
	require.NoError(t, err)
	assert.Empty(t, rows, "what is set aside is hidden until asked for")

	done, err := s.Keep(ctx, reviewer, query.Selection{IDs: ids[:1]}, true)
	require.NoError(t, err)
	assert.Equal(t, "Made 1 item a keeper", done.Said)
	again, err := s.Keep(ctx, reviewer, query.Selection{IDs: ids[:1]}, true)
	require.NoError(t, err)
	assert.Zero(t, again.Trail)
	mine, err := find.Rows(ctx, reviewer, ids)
	require.NoError(t, err)
	theirs, err := find.Rows(ctx, coordinator, ids)
	require.NoError(t, err)
	assert.Equal(t, []bool{true, false}, []bool{mine[0].Keeper, theirs[0].Keeper}, "a keeper is one's own mark")

	_, err = s.Rate(ctx, people[access.Associate], all, 5)
	var missing *fault.NotFound
	require.ErrorAs(t, err, &missing, "without a grant nothing is there")

	look := upkeep.New(db, jobs)
	own, err := look.Trail(ctx, reviewer)
	require.NoError(t, err)
	assert.Len(t, own, 4)
	others, err := look.Trail(ctx, people[access.Contributor])
	require.NoError(t, err)
	assert.Empty(t, others, "one's own steps only")
	everybody, err := look.Trail(ctx, coordinator)
	require.NoError(t, err)
	require.Len(t, everybody, 4)
	assert.Equal(t, "The reviewer", everybody[0].By)
	_, err = look.Undo(ctx, coordinator, everybody[0].ID)
	var forbidden *fault.Forbidden
	require.ErrorAs(t, err, &forbidden, "a keeper is the reviewer's own, and nobody else takes it away")
	undone, err := look.Undo(ctx, reviewer, everybody[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "Undone: made 1 item a keeper", undone.Said)
}
