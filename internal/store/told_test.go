package store_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/topics"
	"brightsatchel/internal/store/storetest"
)

// TestScreensAreToldWhatChanged about items, and of nothing else.
func TestScreensAreToldWhatChanged(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	db := storetest.New(t)
	v := storetest.Brand(t, db, "told")[access.Coordinator]
	ids := storetest.Items(t, db, v, 0, "a.jpg", "b.jpg")
	var lock sync.Mutex
	var told []string
	go db.Listen(ctx, func(_ int64, topic topics.Topic) {
		lock.Lock()
		defer lock.Unlock()
		told = append(told, string(topic))
	}, func() {})
	asked := 0
	heard := func() []string { // all that was told until now
		asked++
		end := fmt.Sprint("end ", asked)
		require.Eventually(t, func() bool { // it may not listen yet
			_, err := storetest.SQL(db).Exec(`select pg_notify('satchel', '0 ' || $1)`, end)
			require.NoError(t, err)
			lock.Lock()
			defer lock.Unlock()
			return slices.Contains(told, end)
		}, time.Minute, 5*time.Millisecond)
		lock.Lock()
		defer lock.Unlock()
		got := slices.DeleteFunc(told, func(what string) bool { return strings.HasPrefix(what, "end ") })
		told = nil
		return got
	}
	heard()
	revision := func() (n int) {
		require.NoError(t, storetest.SQL(db).Get(&n, `select revision from asset where id = $1`, ids[0]))
		return n
	}
	was := revision()
	for _, c := range []struct {
		change string
		told   []string
		counts bool // in the revision
	}{
		{`update asset set stars = 3 where id = $1`, []string{"items"}, true},
		{`update asset set stars = -1 where id = $1`, []string{"items", "items-counted"}, true},
		{`update asset set binned_at = now() where id = $1`, []string{"items", "items-counted"}, true},
		{`update asset set title = 'A kite' where id = $1`, []string{"items"}, true},
		{`update asset set alt = 'A kite' where id = $1`, []string{"items", "items-shown"}, true},
		{`update asset set recipe_hash = 'abc' where id = $1`, []string{"items", "items-shown"}, true},
		{`update asset set sharpness = 5, tint = 6, looked_into = now() where id = $1`, []string{"items-looked"}, false},
		{`update asset set focal_x = 0.4, focal_by = 'proposed' where id = $1`, []string{"items-looked"}, false},
		{`update asset set focal_x = 0.3, focal_by = 'person' where id = $1`, []string{"items"}, true},
	} {
		_, err := storetest.SQL(db).Exec(c.change, ids[0])
		require.NoError(t, err)
		assert.ElementsMatch(t, c.told, heard(), c.change)
		now := revision()
		assert.Equal(t, c.counts, now > was, "revision after %s", c.change)
		was = now
	}
}
