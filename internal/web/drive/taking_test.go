package drive_test

import (
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
)

// TestAListMissesNoneThatIsBeingBroughtIn: programs that compare what they copied with what is there look at just that moment.
func TestAListMissesNoneThatIsBeingBroughtIn(t *testing.T) {
	_, _, of := drives(t, "drivelists")
	d := of(access.Coordinator)
	const many = 24
	var want []string
	for i := range many {
		name := fmt.Sprintf("part %02d.jpg", i)
		require.Equal(t, http.StatusCreated, d.put("/Library/"+url.PathEscape(name), jpeg(t, i)))
		want = append(want, name)
	}
	require.NoError(t, d.h.BringIn.TakeFromDrive(ctx, 0))
	lists := 0
	for items := 0; items < many; lists++ {
		assert.ElementsMatch(t, want, d.names("/Library/"), "with %d of them items", items)
		status, _, _ := d.ask(http.MethodGet, "/Library/"+url.PathEscape(want[lists%many]), nil)
		assert.Equal(t, http.StatusOK, status)
		items = d.count(`select count(*) from asset where brand_id = $1`, d.v.Brand)
	}
	assert.Greater(t, lists, 3, "while they were being brought in")
	d.taken()
	assert.ElementsMatch(t, want, d.names("/Library/"))
}

// TestWhatIsBeingBroughtInIsRemovedAndMoved: whoever does that waits for a moment, and nothing comes back.
func TestWhatIsBeingBroughtInIsRemovedAndMoved(t *testing.T) {
	_, _, of := drives(t, "drivetaken")
	d := of(access.Coordinator)
	for i, name := range []string{"goes.jpg", "moves.jpg", "stays.jpg"} {
		require.Equal(t, http.StatusCreated, d.put("/Library/"+name, jpeg(t, i)))
	}
	require.NoError(t, d.h.BringIn.TakeFromDrive(ctx, 0))
	require.Equal(t, 3, d.count(`select count(*) from drive_file where state = 'taken'`)+d.count(`select count(*) from asset`))
	d.does(http.StatusNoContent, "", http.MethodDelete, "/Library/goes.jpg")
	d.does(http.StatusCreated, "", "MOVE", "/Library/moves.jpg", "Destination", d.site+"/dav/Library/moved.jpg")
	d.taken()
	assert.ElementsMatch(t, []string{"moved.jpg", "stays.jpg"}, d.names("/Library/"))
	assert.Equal(t, 1, d.count(`select count(*) from asset where binned_at is not null and file_name = 'goes.jpg'`), "it can be put back")
	assert.Zero(t, d.count(`select count(*) from drive_file`))

	// One that turns out to be here already is gone once it was looked at, and removing it is no fault.
	require.Equal(t, http.StatusCreated, d.put("/Library/again.jpg", jpeg(t, 2)))
	require.NoError(t, d.h.BringIn.TakeFromDrive(ctx, 0))
	status, text, _ := d.ask(http.MethodDelete, "/Library/again.jpg", nil)
	assert.Contains(t, []int{http.StatusNoContent, http.StatusNotFound}, status, text)
	d.taken()
	assert.ElementsMatch(t, []string{"moved.jpg", "stays.jpg"}, d.names("/Library/"))
}
