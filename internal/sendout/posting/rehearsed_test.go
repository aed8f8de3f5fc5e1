package posting_test

import (
	"strings"
	"sync"
	"testing"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/rehearsing"
	"brightsatchel/internal/sendout/rehearsals"
	"brightsatchel/internal/store/undostore"
)

// TestARehearsal is made of items, has variants, is talked about, and a dispatch follows from it.
func TestARehearsal(t *testing.T) {
	h, people, ids, _ := sendouttest.Stocked(t, "rehearsal")
	w := around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	square := sendouttest.Bring(t, h, v, 800, 800)
	done, err := h.Rehearsals.Make(ctx, v, " Spring ", query.Selection{IDs: []int64{square, ids[0]}})
	require.NoError(t, err)
	id := done.ID
	long := "\u202eשלום 🪁 " + strings.Repeat("x", 9000)
	got, err := h.Rehearsals.Read(ctx, v, id)
	require.NoError(t, err)
	first := got.Variants[0]
	assert.Equal(t, []int64{square, ids[0]}, []int64(first.Assets))
	assert.InDelta(t, 0.8, first.Seen[rehearsing.Feed], 0.01)
	_, err = h.Rehearsals.ChangeVariant(ctx, v, id, first.ID, rehearsals.VariantChange{Caption: &long, Headline: &long})
	require.NoError(t, err)
	tooLong := strings.Repeat("x", 10_001)
	_, err = h.Rehearsals.ChangeVariant(ctx, v, id, first.ID, rehearsals.VariantChange{Headline: &tooLong})
	require.ErrorContains(t, err, "At most 10000 characters; these are 10001.")
	second, err := h.Rehearsals.AddVariant(ctx, v, id, first.ID)
	require.NoError(t, err)
	_, err = h.Rehearsals.Change(ctx, v, id, nil, []string{"card", "tall"})
	require.NoError(t, err)

	// Everybody who sees the library may say something; whoever sees a part of it does not know of it.
	_, err = h.Rehearsals.Remark(ctx, people[access.Reviewer], id, second.ID, "Rather this one")
	require.NoError(t, err)
	_, err = h.Rehearsals.Remark(ctx, people[access.Associate], id, 0, "Me too")
	require.Error(t, err)
	_, err = h.Rehearsals.Read(ctx, people[access.Associate], id)
	require.Error(t, err)
	stranger := *v
	stranger.Brand++
	_, err = h.Rehearsals.Read(ctx, &stranger, id)
	require.Error(t, err)
	got, err = h.Rehearsals.Read(ctx, v, id)
	require.NoError(t, err)
	assert.Equal(t, []string{"tall", "card"}, []string(got.Places))
	assert.Equal(t, "B", got.Variants[1].Name)
	assert.Equal(t, long, got.Variants[1].Caption)
	require.Len(t, got.Remarks, 1)
	_, err = h.Rehearsals.RemoveRemark(ctx, people[access.Contributor], id, got.Remarks[0].ID)
	require.ErrorContains(t, err, "somebody else’s")

	// Its pictures may go; it says so, and what is left can be sent.
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{ids[0]}})
	require.NoError(t, err)
	got, err = h.Rehearsals.Read(ctx, v, id)
	require.NoError(t, err)
	assert.Equal(t, []int64{ids[0]}, got.Variants[0].Gone)
	want := to(pages["windward"], "From the rehearsal", square)
	want.Rehearsal = id
	_, err = h.Posting.Go(ctx, v, want)
	require.NoError(t, err)
	settled(t, h, v)
	assert.Len(t, w.short.Posts("windward"), 1)
	all, err := h.Rehearsals.All(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, 1, all[0].Sent)
	want.Rehearsal = id + 1000
	_, err = h.Posting.Go(ctx, v, want)
	require.Error(t, err)

	// Forty at once add a variant: as many as may be, each with another name; the last one stays; all of it can be undone.
	var each sync.WaitGroup
	for range 40 {
		each.Go(func() { _, _ = h.Rehearsals.AddVariant(ctx, v, id, 0) })
	}
	each.Wait()
	got, err = h.Rehearsals.Read(ctx, v, id)
	require.NoError(t, err)
	names := map[string]bool{}
	for _, one := range got.Variants {
		names[one.Name] = true
	}
	assert.Len(t, names, rehearsing.MostVariants)
	removed, err := h.Rehearsals.Remove(ctx, v, id)
	require.NoError(t, err)
	_, err = undostore.Undo(ctx, h.DB, v, removed.Trail)
	require.NoError(t, err)
	got, err = h.Rehearsals.Read(ctx, v, id)
	require.NoError(t, err)
	assert.Len(t, got.Variants, rehearsing.MostVariants)
	assert.Len(t, got.Remarks, 1)
	for i, one := range got.Variants {
		_, err = h.Rehearsals.RemoveVariant(ctx, v, id, one.ID)
		assert.Equal(t, i < rehearsing.MostVariants-1, err == nil, i)
	}
}
