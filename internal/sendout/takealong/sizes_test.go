package takealong_test

import (
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/storetest"
)

func sizeNames(t *testing.T, h *house.House, v *access.Viewer) (names []string) {
	t.Helper()
	sizes, err := h.TakeAlong.Sizes(ctx, v)
	require.NoError(t, err)
	for _, s := range sizes {
		names = append(names, s.Name)
	}
	return names
}

// TestSizesOfOnesOwn are made, changed, put in order, tried out and retired; what was made by one is told, and goes when one says so.
func TestSizesOfOnesOwn(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "sizes")
	v := people[access.Steward]
	own := outputs.Size{Name: " Card ", Width: 300, Height: 200, Fit: outputs.Pad, Colour: outputs.Tint, Format: "webp", Quality: 80,
		Metadata: outputs.StripPrivate, Pattern: "{title}"}
	made, err := h.TakeAlong.AddSize(ctx, v, own)
	require.NoError(t, err)
	_, err = h.TakeAlong.AddSize(ctx, v, own)
	var invalid *fault.Invalid
	require.ErrorAs(t, err, &invalid)
	assert.Equal(t, "There is an output size “Card” already.", invalid.Text)
	twin, err := h.TakeAlong.DuplicateSize(ctx, v, made.ID)
	require.NoError(t, err)
	_, err = h.TakeAlong.OrderSizes(ctx, v, []int64{twin.ID, made.ID})
	require.NoError(t, err)
	assert.Equal(t, []string{"Card copy", "Card", "Small 200"}, sizeNames(t, h, v))
	own.ID, own.Sharpen = made.ID, 40
	changed, err := h.TakeAlong.ChangeSize(ctx, v, downloadstore.OutputSize{Size: own})
	require.NoError(t, err)
	_, err = h.Upkeep.Undo(ctx, v, changed.Trail)
	require.NoError(t, err)
	sizes, err := h.TakeAlong.Sizes(ctx, v)
	require.NoError(t, err)
	assert.Zero(t, sizes[1].Sharpen)

	example, err := h.TakeAlong.TryOut(ctx, v, ids[0], own)
	require.NoError(t, err)
	assert.Equal(t, geometry.Size{Width: 300, Height: 200}, example.Plan.Size)
	assert.Positive(t, example.Bytes)
	assert.Greater(t, example.Likeness, 0.5)
	own.Budget = 2_000
	example, err = h.TakeAlong.TryOut(ctx, v, ids[0], own)
	require.NoError(t, err)
	assert.True(t, example.Why != "" || example.Bytes <= 2_000, example)

	_, err = h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{made.ID, small}})
	require.NoError(t, err)
	d := sendouttest.Ready(t, h, v)
	require.Equal(t, "ready", d.State, d.Failures)
	costs, err := h.TakeAlong.Costs(ctx, v)
	require.NoError(t, err)
	require.Len(t, costs, 2)
	assert.Equal(t, 3, costs[0].Files)
	assert.Positive(t, costs[0].Bytes)
	assert.Positive(t, costs[0].Seconds)

	files := func() int {
		n := 0
		require.NoError(t, filepath.WalkDir(h.Config.Data, func(p string, e os.DirEntry, err error) error {
			if err == nil && filepath.Ext(p) == ".webp" && filepath.Base(filepath.Dir(filepath.Dir(filepath.Dir(p)))) == "renditions" {
				n++
			}
			return err
		}))
		return n
	}
	assert.Equal(t, 3, files())
	retired, err := h.TakeAlong.RetireSize(ctx, v, made.ID, true)
	require.NoError(t, err)
	assert.Equal(t, "Retired the output size “Card” and removed 3 files made by it", retired.Said)
	assert.Zero(t, files())
	assert.Equal(t, []string{"Card copy", "Small 200"}, sizeNames(t, h, v))
	assert.NotEmpty(t, fetched(t, h, v, d.Code), "what was taken along is made again")
	_, err = h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{made.ID}})
	assert.ErrorAs(t, err, new(*fault.NotFound))

	_, err = h.TakeAlong.DefaultSizes(ctx, v)
	require.NoError(t, err)
	assert.Len(t, sizeNames(t, h, v), 2+len(outputs.Defaults))
	again, err := h.TakeAlong.DefaultSizes(ctx, v)
	require.NoError(t, err)
	assert.Equal(t, "The output sizes to begin with are all there, as they were", again.Said)
}

// TestWhatWasMadeIsCleared for one size or for pages, and made again when somebody asks.
func TestWhatWasMadeIsCleared(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "clear_made")
	v := people[access.Steward]
	size, err := downloadstore.OutputSizeByID(ctx, h.DB, v.Brand, small)
	require.NoError(t, err)
	items, err := assetstore.AssetsIn(ctx, h.DB, v.Brand, ids[:1])
	require.NoError(t, err)
	keys := map[int64]string{}
	keys[small], err = h.Embedding.InSize(ctx, v.Brand, items[0], size.Size)
	require.NoError(t, err)
	keys[0], err = h.Embedding.ForPage(ctx, v.Brand, items[0], 320, "webp")
	require.NoError(t, err)
	for id, key := range keys {
		costs, err := h.TakeAlong.Costs(ctx, v)
		require.NoError(t, err)
		at := slices.IndexFunc(costs, func(c downloadstore.SizeCost) bool { return c.ID == id })
		require.GreaterOrEqual(t, at, 0)
		assert.Equal(t, 1, costs[at].Files)
		done, err := h.TakeAlong.ClearMade(ctx, v, id)
		require.NoError(t, err)
		assert.Equal(t, 1, done.Changed)
		_, err = h.Blobs.Local(ctx, key)
		require.ErrorIs(t, err, blob.ErrMissing)
	}
	again, err := h.Embedding.ForPage(ctx, v.Brand, items[0], 320, "webp")
	require.NoError(t, err)
	assert.Equal(t, keys[0], again)
}

// TestASizeIsMadeOnArrival of what came in, before anybody asks for it; of one that is not made so, nothing is.
func TestASizeIsMadeOnArrival(t *testing.T) {
	h, people, ids, small := sendouttest.Stocked(t, "on_arrival")
	v := people[access.Steward]
	made := func() (n int) {
		require.NoError(t, storetest.SQL(h.DB).Get(&n, `select count(*) from rendition where output_size_id = $1`, small))
		return n
	}
	require.NoError(t, h.Renditions.Arrived(ctx, v.Brand, ids[0]))
	size, err := downloadstore.OutputSizeByID(ctx, h.DB, v.Brand, small)
	require.NoError(t, err)
	assert.Zero(t, made())
	size.OnArrival = true
	_, err = h.TakeAlong.ChangeSize(ctx, v, size)
	require.NoError(t, err)
	for _, id := range ids {
		require.NoError(t, h.Renditions.Arrived(ctx, v.Brand, id))
	}
	require.Eventually(t, func() bool { return made() == len(ids) }, time.Minute, 50*time.Millisecond)
}
