package gathering_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/gathering"
	"brightsatchel/internal/store/albumstore"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/internal/store/undostore"
)

// TestARuleAlbumFillsItself makes one, changes its rule, and finds that nothing is put into it or shown outside by hand.
func TestARuleAlbumFillsItself(t *testing.T) {
	s, v, ids := started(t)
	kept := query.RuleAlbum{Rule: query.Rule{Field: "keeper"}}
	made, err := s.CreateByRule(ctx, v, 0, "My picks", kept)
	require.NoError(t, err)
	assert.Equal(t, "Made the rule album “My picks”", made.Said)
	count := func(id int64) int {
		albums, err := s.Albums(ctx, v)
		require.NoError(t, err)
		for _, a := range albums {
			if a.ID == id {
				return a.Items
			}
		}
		return -1
	}
	assert.Zero(t, count(made.ID))
	_, err = storetest.SQL(s.DB).
		Exec(`insert into keeper (brand_id, person_id, asset_id) select $1, $2, unnest($3::bigint[])`, v.Brand, v.Person, ids[:3])
	require.NoError(t, err)
	assert.Equal(t, 3, count(made.ID))
	albums, err := s.Albums(ctx, v)
	require.NoError(t, err)
	assert.True(t, albums[0].CoverID.Valid, "the first that it shows")

	two := query.RuleAlbum{Rule: kept.Rule, Pick: 2}
	changed, err := s.Change(ctx, v, made.ID, gathering.Change{Rule: &two})
	require.NoError(t, err)
	assert.Equal(t, 2, count(made.ID))
	_, err = undostore.Undo(ctx, s.DB, v, changed.Trail)
	require.NoError(t, err)
	assert.Equal(t, 3, count(made.ID))

	var invalid *fault.Invalid
	for _, refused := range []func() error{
		func() error { _, err := s.Add(ctx, v, []int64{made.ID}, query.Selection{IDs: ids[3:]}); return err },
		func() error { _, err := s.TakeOut(ctx, v, made.ID, query.Selection{IDs: ids[:1]}); return err },
		func() error { return albumstore.RefuseRuleAlbum(ctx, s.DB, made.ID) },
		func() error {
			itself := query.RuleAlbum{Rule: query.Rule{Field: "album", IDs: []int64{made.ID}}}
			_, err := s.Change(ctx, v, made.ID, gathering.Change{Rule: &itself})
			return err
		},
		func() error {
			_, err := s.CreateByRule(ctx, v, 0, "Wrong", query.RuleAlbum{Rule: query.Rule{Field: "stars", Names: []string{"x"}}})
			return err
		},
		func() error {
			_, err := s.CreateByRule(ctx, v, 0, "Wrong", query.RuleAlbum{Rule: kept.Rule, Pick: -1})
			return err
		},
	} {
		require.ErrorAs(t, refused(), &invalid)
	}

	// what it shows now is frozen into an album that stays as it is
	frozen, err := s.Create(ctx, v, 0, "Frozen", &query.Selection{Everything: &query.Query{Place: "album", ID: made.ID}}, nil)
	require.NoError(t, err)
	_, err = storetest.SQL(s.DB).Exec(`delete from keeper`)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 3}, []int{count(made.ID), count(frozen.ID)})
	_, err = s.Change(ctx, v, frozen.ID, gathering.Change{Rule: &kept})
	require.ErrorAs(t, err, &invalid, "filled by hand")
	_, err = s.Remove(ctx, v, made.ID, false)
	require.NoError(t, err)
	assert.Equal(t, -1, count(made.ID))
}
