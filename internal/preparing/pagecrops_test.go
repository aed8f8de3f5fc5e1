package preparing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/store/storetest"
)

// TestWhatPagesCutAnItemTo is said of every connected page, to those who may send something there.
func TestWhatPagesCutAnItemTo(t *testing.T) {
	b := newBench(t, "pagecrops")
	for name, limits := range map[string]string{"Any": `{}`, "Tall": `{"narrowest": 0.5625, "widest": 0.8}`, "Wide": `{"narrowest": 1.2}`} {
		_, err := storetest.SQL(b.db).
			Exec(`with made as (insert into outlet (brand_id, kind, name, address) values ($1, 'windward', $2, 'http://127.0.0.1')
			returning *) insert into page (brand_id, outlet_id, remote_id, name, limits) select brand_id, id, $2, $2, $3::jsonb from made`,
				b.v.Brand, name, limits)
		require.NoError(t, err)
	}
	_, err := storetest.SQL(b.db).Exec(`update asset set width = 4000, height = 1000, kind = 'picture' where id = $1`, b.ids[0])
	require.NoError(t, err)
	_, err = storetest.SQL(b.db).Exec(`update asset set width = 4000, height = 1000, kind = 'clip', seconds = 3 where id = $1`, b.ids[1])
	require.NoError(t, err)
	box := func(width, height int) geometry.Size { return geometry.Size{Width: width, Height: height} }

	crops, err := b.s.PageCrops(ctx, b.v, b.ids[0])
	require.NoError(t, err)
	require.Len(t, crops, 3)
	got := map[string][3]geometry.Size{}
	for _, c := range crops {
		got[c.Page.Name] = [3]geometry.Size{c.Narrowest, c.Widest, c.Crop}
	}
	assert.Equal(t, map[string][3]geometry.Size{"Any": {}, "Tall": {box(9, 16), box(4, 5), box(4, 5)}, "Wide": {box(6, 5)}}, got)

	crops, err = b.s.PageCrops(ctx, b.v, b.ids[1])
	require.NoError(t, err)
	for _, c := range crops {
		assert.Zero(t, c.Crop, "clips are not cut for a page")
	}
	crops, err = b.s.PageCrops(ctx, b.people[access.Contributor], b.ids[0])
	if err == nil {
		assert.Empty(t, crops, "whoever sends nothing there")
	}
	stranger := *b.v
	stranger.Brand++
	_, err = b.s.PageCrops(ctx, &stranger, b.ids[0])
	require.Error(t, err)
}
