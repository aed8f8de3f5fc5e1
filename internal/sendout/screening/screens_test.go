package screening_test

import (
	"errors"
	"sync"
	"testing"

	"brightsatchel/internal/house/sendouttest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/query"
	"brightsatchel/internal/sendout/screening"
	"brightsatchel/internal/store/storetest"
)

// TestAScreen is paired once by its code, and shows an album for as long as whoever chose it may show things.
func TestAScreen(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "screen")
	v := people[access.Coordinator]
	first, second := sendouttest.Bring(t, h, v, 800, 800), sendouttest.Bring(t, h, v, 900, 800)
	album, err := h.Gathering.Create(ctx, v, 0, "In the shop", &query.Selection{IDs: []int64{second, first}}, nil)
	require.NoError(t, err)
	token, err := h.Screening.BeginScreen(ctx, "198.51.100.7")
	require.NoError(t, err)
	on, err := h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	code := on.Pairing.Code
	_, err = h.Screening.ViewScreen(ctx, token+"x")
	require.Error(t, err)

	// Of forty that type the code at once, one has the screen.
	var all sync.WaitGroup
	var mu sync.Mutex
	var paired []int64
	for i := range 40 {
		who := people[[]access.Role{access.Coordinator, access.Steward}[i%2]]
		all.Go(func() {
			if done, err := h.Screening.PairScreen(ctx, who, code[:3]+" "+code[3:], "Window", album.ID, "Europe/Berlin"); err == nil {
				mu.Lock()
				defer mu.Unlock()
				paired = append(paired, done.ID)
			}
		})
	}
	all.Wait()
	require.Len(t, paired, 1)
	id := paired[0]
	steward := people[access.Steward]
	_, err = h.Screening.ChangeScreen(ctx, v, id, screening.ScreenChange{Album: &album.ID}) // in whose name it shows from now on
	require.NoError(t, err)
	on, err = h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, []int64{second, first}, on.Order)
	byCode, err := h.Screening.ScreenByCode(ctx, on.Screen.Code)
	require.NoError(t, err)
	assert.Equal(t, on.Order, byCode.Order)

	set := on.Screen.Settings.Settings
	set.Order = "newest"
	_, err = h.Screening.ChangeScreen(ctx, steward, id, screening.ScreenChange{Settings: &set, Jump: -1})
	require.NoError(t, err)
	set.Seconds = 1
	_, err = h.Screening.ChangeScreen(ctx, steward, id, screening.ScreenChange{Settings: &set})
	require.ErrorContains(t, err, "3 to 600 seconds")
	on, err = h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, -1, on.Screen.Jumps)
	assert.Equal(t, "newest", on.Screen.Settings.Order)

	// What should not go out is left out; an empty album shows nothing; whoever may not show things any more shows nothing.
	_, err = h.Filing.Bin(ctx, v, query.Selection{IDs: []int64{first}})
	require.NoError(t, err)
	_, err = storetest.SQL(h.DB).Exec(`update asset set rights_until = '2020-01-01' where id = $1`, second)
	require.NoError(t, err)
	require.NoError(t, h.Index.Load(ctx, v.Brand))
	on, err = h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	assert.Empty(t, on.Order)
	_, err = storetest.SQL(h.DB).Exec(`update asset set rights_until = null where id = $1`, second)
	require.NoError(t, err)
	on, err = h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, []int64{second}, on.Order)
	_, err = storetest.SQL(h.DB).Exec(`update membership set role = 'reviewer' where person_id = $1`, v.Person)
	require.NoError(t, err)
	on, err = h.Screening.ViewScreen(ctx, token)
	require.NoError(t, err)
	assert.Empty(t, on.Order)

	stranger := *steward
	stranger.Brand++
	for _, no := range []func() error{
		func() error {
			_, err := h.Screening.ChangeScreen(ctx, &stranger, id, screening.ScreenChange{Jump: 1})
			return err
		},
		func() error { _, err := h.Screening.RemoveScreen(ctx, &stranger, id); return err },
	} {
		require.Error(t, no())
	}
	_, err = h.Screening.RemoveScreen(ctx, steward, id)
	require.NoError(t, err)
	_, err = h.Screening.ViewScreen(ctx, token)
	require.Error(t, err, "it begins anew")
}

// TestGuessingAPairingCode is ended after some wrong ones, and so is asking for many.
func TestGuessingAPairingCode(t *testing.T) {
	h, people, _, _ := sendouttest.Stocked(t, "guessing")
	v := people[access.Coordinator]
	var often *fault.TooMany
	for i := range 11 {
		_, err := h.Screening.PairScreen(ctx, v, "BBB BBB", "Window", 0, "UTC")
		assert.Equal(t, i == 10, errors.As(err, &often), "%d: %v", i, err)
	}
	for i := range 61 {
		_, err := h.Screening.BeginScreen(ctx, "198.51.100.9")
		assert.Equal(t, i == 60, errors.As(err, &often) && err != nil, "%d: %v", i, err)
	}
}
