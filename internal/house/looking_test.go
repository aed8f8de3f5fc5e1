package house_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/house/housetest"
	"brightsatchel/internal/looking"
	"brightsatchel/internal/queue"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestLookingIsPutOffForDownloads of pictures that were just prepared, and of no others; then it is done.
func TestLookingIsPutOffForDownloads(t *testing.T) {
	h := housetest.New(t, "put_off")
	h.Looking.Patience = 0
	v := storetest.Brand(t, h.DB, "putoff")[access.Coordinator]
	ids := storetest.Items(t, h.DB, v, 0, "new.jpg", "prepared.jpg", "long ago.jpg")
	_, err := storetest.SQL(h.DB).Exec(`delete from river_job`)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`insert into river_job (kind, args, state, attempt, max_attempts, attempted_at, queue)
		values ('make_download', '{}', 'running', 1, 3, now(), 'default')`)
	require.NoError(t, err)
	require.NoError(t, h.DB.InTx(ctx, func(tx *store.Tx) error {
		return h.Queue.EnqueueAll(ctx, tx, []queue.Args{looking.Look{Brand: v.Brand, Asset: ids[0]},
			looking.Look{Brand: v.Brand, Asset: ids[1], Prepared: time.Now()},
			looking.Look{Brand: v.Brand, Asset: ids[2], Prepared: time.Now().Add(-time.Hour)}})
	}))
	require.NoError(t, h.Work(ctx))
	waits := func() (names []string) {
		require.NoError(t, storetest.SQL(h.DB).Select(&names, `select file_name from asset where looked_into is null`))
		return names
	}
	putOff := func() (n int) {
		require.NoError(t, storetest.SQL(h.DB).Get(&n, `select count(*) from river_job where kind = 'look_into' and metadata ? 'snoozes'`))
		return n
	}
	require.Eventually(t, func() bool { return putOff() == 1 && len(waits()) == 1 }, time.Minute, 20*time.Millisecond)
	assert.Equal(t, []string{"prepared.jpg"}, waits())
	_, err = storetest.SQL(h.DB).Exec(`delete from river_job where kind = 'make_download'`)
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update river_job set scheduled_at = now() where kind = 'look_into'`)
	require.NoError(t, err)
	require.Eventually(t, func() bool { return len(waits()) == 0 }, time.Minute, 20*time.Millisecond)
}
