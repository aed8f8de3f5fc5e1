package bench

import (
	"context"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/outputs"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/house"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/sendout/takealong"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/downloadstore"
	"brightsatchel/internal/store/findstore"
	"brightsatchel/internal/store/storetest"
)

// alongs is how many pictures are taken along.
const alongs = 500

// shot is a brand with so many pictures of 24 megapixels, brought in from files, and an output size of 1200 pixels.
func shot(t *testing.T, name string, n int) (h *house.House, v *access.Viewer, paths []string, ids []int64, size int64) {
	t.Helper()
	ctx := context.Background()
	data, err := os.ReadFile(largePictures(t)[0])
	require.NoError(t, err)
	paths = noted(t, t.TempDir(), data, n)
	h = housetest.New(t, name)
	v = storetest.Brand(t, h.DB, "bench")[access.Coordinator]
	require.NoError(t, h.Work(ctx))
	takeIn(t, h, v, paths)
	waitUntilLooked(t, h, v)
	ids, err = findstore.Find(h.DB).IDs(ctx, v, query.Query{Place: "everything"})
	require.NoError(t, err)
	require.Len(t, ids, n)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) (err error) {
		size, err = downloadstore.AddOutputSize(ctx, tx, v.Brand, outputs.Size{Name: "Web 1200", Width: 1200, Height: 1200, Fit: outputs.Inside,
			Format: "jpeg", Quality: 82, Metadata: outputs.StripPrivate, Pattern: "{name} {n}"})
		return err
	}))
	return h, v, paths, ids, size
}

// TestTakingAlong makes the files of 500 pictures of 24 megapixels at 1200 pixels, from the order until all are ready, and has as many
// processes of vipsthumbnail make the same from the same files, before it and after it.
func TestTakingAlong(t *testing.T) {
	measured(t)
	ctx := context.Background()
	h, v, paths, ids, size := shot(t, "bench_along", alongs)
	before := vipsthumbnail(t, paths)
	began := time.Now()
	_, err := h.TakeAlong.Take(ctx, v, takealong.Wanted{Selection: query.Selection{IDs: ids}, OutputSizes: []int64{size}})
	require.NoError(t, err)
	answered := time.Since(began)
	require.Eventually(t, func() bool {
		list, err := h.TakeAlong.Downloads(ctx, v)
		return err == nil && list[0].State == "ready"
	}, 30*time.Minute, 200*time.Millisecond)
	took := time.Since(began)
	after := vipsthumbnail(t, paths)
	theirs := (before + after).Seconds() / 2
	t.Logf("%d pictures of 24 megapixels taken along: answered after %d ms, ready after %.0f s; vipsthumbnail took %.0f and %.0f s: "+
		"%.2f of it (wanted at least 0.95)", alongs, answered.Milliseconds(), took.Seconds(), before.Seconds(), after.Seconds(),
		theirs/took.Seconds())
}
