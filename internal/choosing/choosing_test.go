package choosing_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/choosing"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/finding"
	"brightsatchel/internal/people"
	"brightsatchel/internal/pieces/piecestest"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/upkeep"
)

func TestVerdicts(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	people := storetest.Brand(t, db, "verdict")
	reviewer, coordinator := people[access.Reviewer], people[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s := choosing.New(db, many)
	find := &finding.Service{Finder: findstore.Find(db), DB: db}
	ids := storetest.Items(t, db, coordinator, 0, "a.jpg", "b.jpg", "c.jpg")
	all := query.Selection{IDs: ids}

	for _, c := range []struct {
		stars int
		said  string
	}{{3, "Gave 3 items 3 ★"}, {0, "Took the stars off 3 items"}, {-1, "Set 3 items aside"}} {
		by := reviewer
		if c.stars < 0 {
			by = coordinator
		}
		done, err := s.Rate(ctx, by, all, c.stars)
		require.NoError(t, err)
		assert.Equal(t, c.said, done.Said)
	}
	_, err := s.Rate(ctx, reviewer, all, -1)
	require.Error(t, err, "to set aside is the team's verdict")
	back, err := s.Rate(ctx, reviewer, all, 4)
	require.NoError(t, err)
	assert.Zero(t, back.Changed, "and to bring back from there")
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

	look := upkeep.New(db, many)
	own, _, err := look.Trail(ctx, reviewer, upkeep.Wanted{})
	require.NoError(t, err)
	assert.Len(t, own, 3)
	others, _, err := look.Trail(ctx, people[access.Contributor], upkeep.Wanted{})
	require.NoError(t, err)
	assert.Empty(t, others, "one's own steps only")
	everybody, _, err := look.Trail(ctx, coordinator, upkeep.Wanted{})
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

// TestStarsOfReviewersAreShownBesideWhereTheyDoNotCount changes a brand so, and sees both kinds.
func TestStarsOfReviewersAreShownBesideWhereTheyDoNotCount(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	team := storetest.Brand(t, db, "beside")
	reviewer, coordinator := team[access.Reviewer], team[access.Coordinator]
	many, _ := piecestest.New(t, db)
	s, look := choosing.New(db, many), upkeep.New(db, many)
	ids := storetest.Items(t, db, coordinator, 0, "a.jpg", "b.jpg")
	no := false
	_, err := (&people.Service{DB: db}).ChangeBrand(ctx, team[access.Steward], people.BrandChange{ReviewersCount: &no})
	require.NoError(t, err)
	given, err := s.Rate(ctx, reviewer, query.Selection{IDs: ids}, 4)
	require.NoError(t, err)
	assert.Equal(t, "Gave 2 items 4 ★", given.Said)
	_, err = s.Rate(ctx, coordinator, query.Selection{IDs: ids}, 2)
	require.NoError(t, err)
	stars := func() (team int, beside []assetstore.BesideStars) {
		row, err := assetstore.AssetByID(ctx, db, coordinator, ids[0])
		require.NoError(t, err)
		beside, err = assetstore.BesideStarsOf(ctx, db, ids[0])
		require.NoError(t, err)
		return row.Stars, beside
	}
	counted, beside := stars()
	assert.Equal(t, 2, counted)
	assert.Equal(t, []assetstore.BesideStars{{Person: reviewer.Person, Name: "The reviewer", Stars: 4}}, beside)
	_, err = look.Undo(ctx, coordinator, given.Trail)
	require.Error(t, err, "nobody takes away what a reviewer thinks")
	_, err = look.Undo(ctx, reviewer, given.Trail)
	require.NoError(t, err)
	counted, beside = stars()
	assert.Equal(t, 2, counted)
	assert.Empty(t, beside)
}

func TestStagesAreRenamedMovedAndRemoved(t *testing.T) {
	ctx := context.Background()
	db := storetest.New(t)
	v := storetest.Brand(t, db, "stages")[access.Steward]
	many, _ := piecestest.New(t, db)
	s := choosing.New(db, many)
	up := upkeep.New(db, many)
	names := func() (out []string) {
		stages, err := s.Stages(ctx, v)
		require.NoError(t, err)
		for _, one := range stages {
			out = append(out, one.Name)
		}
		return out
	}
	var ids []int64
	for _, name := range []string{"Draft", "Cleared", "Print"} {
		made, err := s.MakeStage(ctx, v, name)
		require.NoError(t, err)
		ids = append(ids, made.ID)
	}
	place, name, taken, long := 0, "Cleared for web", "DRAFT", strings.Repeat("x", 61)
	moved, err := s.ChangeStage(ctx, v, ids[2], nil, &place)
	require.NoError(t, err)
	assert.Equal(t, []string{"Print", "Draft", "Cleared"}, names())
	renamed, err := s.ChangeStage(ctx, v, ids[1], &name, nil)
	require.NoError(t, err)
	assert.Equal(t, "Renamed the stage “Cleared” to “Cleared for web”", renamed.Said)
	_, err = s.ChangeStage(ctx, v, ids[1], &taken, nil)
	assert.ErrorContains(t, err, "already")
	_, err = s.ChangeStage(ctx, v, ids[1], &long, nil)
	assert.ErrorContains(t, err, "60 characters")

	items := storetest.Items(t, db, v, 0, "a.jpg")
	_, err = s.Stage(ctx, v, query.Selection{IDs: items}, ids[0])
	require.NoError(t, err)
	_, err = s.RemoveStage(ctx, v, ids[0])
	assert.ErrorContains(t, err, "1 item is at this stage")
	removed, err := s.RemoveStage(ctx, v, ids[2])
	require.NoError(t, err)
	assert.Equal(t, []string{"Draft", "Cleared for web"}, names())
	for _, step := range []store.Done{removed, renamed, moved} {
		_, err := up.Undo(ctx, v, step.Trail)
		require.NoError(t, err)
	}
	assert.Equal(t, []string{"Draft", "Cleared", "Print"}, names())
}
