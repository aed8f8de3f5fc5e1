package posting_test

import (
	"testing"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/bringin"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/store/drivestore"
)

// TestWhatIsCopiedToAPageOnTheDrive becomes a draft that waits for "go"; or is sent at once where the page is set to, and a draft with its
// reason where it does not fit.
func TestWhatIsCopiedToAPageOnTheDrive(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "page_on_drive")
	w := around(t, h)
	pages := connected(t, h, people)
	v, page := people[access.Coordinator], pages["windward"]
	square, flat := sendouttest.Bring(t, h, v, 800, 800), sendouttest.Bring(t, h, v, 3000, 600)
	copied := func(name string, asset int64) {
		t.Helper()
		to := bringin.OnDrive{DrivePlace: drivestore.DrivePlace{Page: page.ID}, Name: name}
		require.NoError(t, h.BringIn.PlanOnDrive(ctx, v, to, asset, 10))
	}
	copied("b.jpg", square)
	copied("a.jpg", flat)
	there, err := drivestore.OnPage(ctx, h.DB, page.ID)
	require.NoError(t, err)
	assert.Empty(t, there)
	require.NoError(t, h.Posting.PlanFromDrive(ctx, 0))
	require.NoError(t, h.Posting.PlanFromDrive(ctx, 0)) // again: nothing is planned twice
	drafts, err := h.Posting.Drafts(ctx, v)
	require.NoError(t, err)
	require.Len(t, drafts, 1)
	assert.Equal(t, []int64{flat, square}, []int64(drafts[0].Assets), "in the order of their names")
	assert.Equal(t, "From the drive: 2 items for "+page.Name, drafts[0].Name)
	assert.Empty(t, w.short.Posts("windward"), "nothing leaves without a go")
	there, err = drivestore.OnPage(ctx, h.DB, page.ID)
	require.NoError(t, err)
	assert.ElementsMatch(t, []int64{square, flat}, there)

	_, err = h.Posting.SetDriveSends(ctx, people[access.Steward], page.ID, true)
	require.NoError(t, err)
	copied("flat.jpg", flat)
	require.NoError(t, h.Posting.PlanFromDrive(ctx, 0))
	drafts, err = h.Posting.Drafts(ctx, v)
	require.NoError(t, err)
	require.Len(t, drafts, 2)
	assert.Contains(t, drafts[0].Why, "wider than is taken there")
	copied("square.jpg", square)
	require.NoError(t, h.Posting.PlanFromDrive(ctx, 0))
	settled(t, h, v)
	assert.Len(t, w.short.Posts("windward"), 1)

	// A draft is sent once, whoever is quicker; then it is one no more.
	draft := drafts[1]
	want := to(page, "From the draft", square)
	for i, quick := range []bool{true, false} {
		_, err = h.Posting.GoDraft(ctx, v, draft.ID, want)
		assert.Equal(t, quick, err == nil, i)
	}
	settled(t, h, v)
	assert.Len(t, w.short.Posts("windward"), 2)
	_, err = h.Posting.KeepDraft(ctx, v, draft.ID, "again", want)
	require.ErrorContains(t, err, "not there any more")
	stranger := *v
	stranger.Brand++
	_, err = h.Posting.RemoveDraft(ctx, &stranger, drafts[0].ID)
	require.Error(t, err)
	_, err = h.Posting.RemoveDraft(ctx, v, drafts[0].ID)
	require.NoError(t, err)
}
