package e2e

import (
	"fmt"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ofBurst are the frames of one kite in the demo brand.
const ofBurst = `file_name between 'OST_0452.JPG' and 'OST_0455.JPG'`

// TestWhatLiesTogetherIsOneTile lays a burst together, unfolds it in place, judges one of it and then all of it at once.
func TestWhatLiesTogetherIsOneTile(t *testing.T) {
	p := signIn(t, coordinator)
	frames := p.burst()
	n := len(frames)
	_, err := storetest.SQL(p.database).Exec(`update asset set stars = 3 where ` + ofBurst) // none of them set aside
	require.NoError(t, err)
	// with waits until so many of them have so many stars.
	with := func(stars, wanted int) {
		t.Helper()
		require.Eventually(t, func() bool {
			return p.number(fmt.Sprintf(`select count(*) from asset where %s and stars = %d`, ofBurst, stars)) == wanted
		}, patience, 50*time.Millisecond)
	}
	p.open(fmt.Sprintf("/b/tansyloft/choose?place=folder&id=%d", p.number(`select folder_id from asset where `+ofBurst+` limit 1`)))
	p.see("[data-sheet] [data-id]")
	p.until(`document.querySelector("[data-count]").innerText !== "Counting…"`)
	all := read[int](p, `parseInt(document.querySelector("[data-count]").innerText)`)
	tiles := func() int { return read[int](p, `document.querySelectorAll("[data-sheet] [role=option]").length`) }
	p.click("Lay bursts and near-copies together")
	pile := fmt.Sprintf(`document.querySelector('[data-pile="%d"]')`, n)
	p.until(pile)
	assert.Equal(t, all, read[int](p, `parseInt(document.querySelector("[data-count]").innerText)`), "as many items as before")
	front := read[int64](p, `Number(`+pile+`.closest("[data-id]").dataset.id)`)
	assert.Contains(t, frames, front)
	p.accessible("what lies together")
	p.shot("/tmp/piles.png")

	// unfolded by key, in place; one of them is judged alone
	p.clickAt(p.middle(item(front)))
	p.until(fmt.Sprintf(`document.querySelector("[data-selected]").dataset.selected === "%d"`, n))
	p.press("u")
	for _, id := range frames {
		p.see(fmt.Sprintf(`[data-id="%d"]`, id))
	}
	p.shot("/tmp/piles-open.png")
	var other int64
	for _, id := range frames {
		if id != front {
			other = id
		}
	}
	p.clickAt(p.middle(item(other)))
	p.until(`document.querySelector("[data-selected]").dataset.selected === "1"`)
	p.press("2")
	p.until(item(other) + `.innerText.includes("2 ★")`)
	with(2, 1)

	// folded again by the mouse; a verdict is on all of them then, and can be taken back
	p.clickAt(p.middle(item(other) + `.querySelector("[data-pile]")`))
	p.gone(fmt.Sprintf(`[data-id="%d"]`, other))
	p.until(fmt.Sprintf(`document.querySelector("[data-selected]").dataset.selected === "%d"`, n))
	p.press("4")
	p.until(item(front) + `.innerText.includes("4 ★")`)
	with(4, n)
	p.undo(fmt.Sprintf("Gave %d items 4 ★", n))
	with(2, 1)

	// big, one sees one picture: a verdict is on that alone
	p.press("Enter")
	p.see("[data-big-view]")
	p.press("1")
	with(1, 1)
	p.press("Escape")

	// side by side they are seen with none of them unfolded
	p.press("v")
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-compared]").length === %d`, n))
	p.press("Escape")
	p.until(pile)
	p.click("Lay bursts and near-copies together")
	p.gone("[data-pile]")
	assert.GreaterOrEqual(t, tiles(), n)
}
