package store_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/storetest"
)

// TestLookingIntoAFileAndMissingItNeverWaitForEachOther writes what was found about an item while its file goes and comes back.
func TestLookingIntoAFileAndMissingItNeverWaitForEachOther(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "left")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg")
	var version int64
	require.NoError(t, db.Get(&version, `select version_id from asset where id = $1`, ids[0]))
	hash := likeness.Hash(0x0f0f_3c3c_5a5a_9696)
	var group errgroup.Group
	for i := range 4 {
		group.Go(func() error {
			for n := range 60 {
				err := db.InTx(ctx, func(tx *store.Tx) error {
					if i%2 == 0 {
						return tx.SetLeftState(ctx, version, []string{"missing", ""}[n%2])
					}
					_, err := tx.SaveLooked(ctx, v.Brand, ids[0], version, store.Looked{Likeness: &hash})
					return err
				})
				if err != nil {
					return fmt.Errorf("worker %d, round %d: %w", i, n, err)
				}
			}
			return nil
		})
	}
	assert.NoError(t, group.Wait())
}
