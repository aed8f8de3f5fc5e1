package posting_test

import (
	"testing"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/core/recipe"
	"brightsatchel/internal/core/sending"
	"brightsatchel/internal/core/sending/once"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/poststore"
)

// TestWhatIsOnPages is counted by page and by item, each item once, as long as it is out there.
func TestWhatIsOnPages(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "on_pages")
	around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	first, second := sendouttest.Bring(t, h, v, 800, 800), sendouttest.Bring(t, h, v, 900, 800)
	for _, ids := range [][]int64{{first, second}, {first}} { // the first one twice on the same page
		_, err := h.Posting.Go(ctx, v, to(pages["lt-1"], "Here", ids...))
		require.NoError(t, err)
		settled(t, h, v)
	}
	_, err := h.Posting.Go(ctx, v, to(pages["windward"], "There", second))
	require.NoError(t, err)
	last := settled(t, h, v)[0]
	require.Equal(t, once.Out, last.Post.Phase)

	shown, _, err := h.Posting.Placed(ctx, v)
	require.NoError(t, err)
	counts := map[string]int{}
	for _, p := range shown {
		counts[p.Name] = p.Items
		assert.Len(t, p.IDs, p.Items)
	}
	assert.Equal(t, map[string]int{pages["lt-1"].Name: 2, pages["windward"].Name: 1}, counts)
	some, err := h.Posting.CountPlaced(ctx, v, query.Selection{IDs: []int64{first}})
	require.NoError(t, err)
	require.Len(t, some.Pages, 1)
	assert.Equal(t, 1, some.Pages[0].Items)
	assert.Zero(t, some.Addresses)
	assert.Equal(t, assetstore.Beside{Posts: 2, Others: 1}, some.Beside)
	on, err := poststore.OnPages(ctx, h.DB, []int64{pages["lt-1"].ID, pages["windward"].ID}, []int64{first, second})
	require.NoError(t, err)
	assert.Len(t, on[pages["lt-1"].ID], 2)
	assert.Len(t, on[pages["windward"].ID], 1)

	_, err = h.Posting.ChangePost(ctx, v, last.ID, "withdraw")
	require.NoError(t, err)
	shown, _, err = h.Posting.Placed(ctx, v)
	require.NoError(t, err)
	assert.Len(t, shown, 1)
	stranger := *v
	stranger.Brand++
	shown, origins, err := h.Posting.Placed(ctx, &stranger)
	require.NoError(t, err)
	assert.Empty(t, shown)
	assert.Empty(t, origins)
}

// TestTakingBackEverywhere takes every post back that shows an item, on whatever page, and says what stays because a page allows nothing
// else.
func TestTakingBackEverywhere(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "taking_back")
	around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	item := sendouttest.Bring(t, h, v, 1080, 1920)
	for _, page := range []string{"windward", "lt-1"} {
		want := to(pages[page], "Here", item)
		want.Pages[0].Mends = map[int64]sending.Mend{item: {Way: sending.Crop}}
		_, err := h.Posting.Go(ctx, v, want)
		require.NoError(t, err)
		settled(t, h, v)
	}
	just := query.Selection{IDs: []int64{item}}
	stranger := *v
	stranger.Brand++
	_, err := h.Posting.TakeBackEverywhere(ctx, &stranger, just)
	require.Error(t, err)
	done, err := h.Posting.TakeBackEverywhere(ctx, v, just)
	require.NoError(t, err)
	assert.Equal(t, "Took 2 posts back", done.Said)
	some, err := h.Posting.CountPlaced(ctx, v, just)
	require.NoError(t, err)
	assert.Empty(t, some.Pages)
	_, err = h.Posting.TakeBackEverywhere(ctx, v, just)
	assert.ErrorContains(t, err, "Nothing of it is on a page now.")
}

// TestAPageShowsTheFileOfBefore: none of the services takes a new file in the place of one that is out there, so that is said beside it,
// until the item shows again what went out.
func TestAPageShowsTheFileOfBefore(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "file_before")
	around(t, h)
	pages := connected(t, h, people)
	v := people[access.Coordinator]
	item, other := sendouttest.Bring(t, h, v, 1080, 1080), sendouttest.Bring(t, h, v, 1000, 1000)
	_, err := h.Posting.Go(ctx, v, to(pages["windward"], "Here", item, other))
	require.NoError(t, err)
	post := settled(t, h, v)[0]
	said := func() []string {
		t.Helper()
		require.NoError(t, h.Posting.LookNow(ctx, v, post.ID))
		seen, err := poststore.PostByID(ctx, h.DB, post.ID)
		require.NoError(t, err)
		return seen.Seen.Said
	}
	require.Empty(t, said())
	older := func(of int64) bool {
		t.Helper()
		card, err := h.Finding.Card(ctx, v, of)
		require.NoError(t, err)
		require.Len(t, card.Shown, 1)
		assert.Equal(t, "page", card.Shown[0].Kind)
		return card.Shown[0].Older
	}
	assert.False(t, older(item))
	turned, err := h.Preparing.Change(ctx, v, query.Selection{IDs: []int64{item}}, recipe.Change{Turn: 90}, 0)
	require.NoError(t, err)
	assert.True(t, older(item), "a recipe makes another file of it")
	assert.False(t, older(other), "of the same post")
	assert.Empty(t, said(), "what is out there is compared with what was sent, not with what the item is now")
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{other}})
	require.NoError(t, err)
	assert.Empty(t, said(), "nor does it matter that one was removed here")
	_, err = h.Upkeep.Undo(ctx, v, turned.Trail)
	require.NoError(t, err)
	assert.False(t, older(item))
}
