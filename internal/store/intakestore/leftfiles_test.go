package intakestore_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/likeness"
	"brightsatchel/internal/store"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/intakestore"
	"brightsatchel/internal/store/storetest"
)

var ctx = context.Background()

// TestLookingIntoAFileAndMissingItNeverWaitForEachOther writes what was found about an item while its file goes and comes back.
func TestLookingIntoAFileAndMissingItNeverWaitForEachOther(t *testing.T) {
	db := storetest.New(t)
	v := storetest.Brand(t, db, "left")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg")
	var version int64
	require.NoError(t, storetest.SQL(db).Get(&version, `select version_id from asset where id = $1`, ids[0]))
	hash := likeness.Hash(0x0f0f_3c3c_5a5a_9696)
	var group errgroup.Group
	for i := range 4 {
		group.Go(func() error {
			for n := range 60 {
				err := db.InTx(ctx, func(tx *store.Tx) error {
					if i%2 == 0 {
						return intakestore.SetLeftState(ctx, tx, version, []string{"missing", ""}[n%2])
					}
					_, err := assetstore.SaveLooked(ctx, tx, v.Brand, ids[0], version, assetstore.Looked{Likeness: &hash})
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
