package e2e

import (
	"fmt"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// cut is a line through which nothing gets.
var cut = &network.Conditions{Offline: true}

// TestWithoutAConnectionNothingIsLost gives stars, keepers, stages and words while the server is out of reach, reloads in between, and
// finds all of it when the connection is back, in the order in which it was given.
func TestWithoutAConnectionNothingIsLost(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/choose?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	ids := p.shown()
	require.Greater(t, len(ids), 3)
	_, err := storetest.SQL(p.database).Exec(fmt.Sprintf(`update asset set stars = 0 where id in (%d, %d)`, ids[0], ids[1]))
	require.NoError(t, err)
	_, err = storetest.SQL(p.database).Exec(fmt.Sprintf(`delete from keeper where asset_id = %d`, ids[1]))
	require.NoError(t, err)
	p.open("/b/tansyloft/choose?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(ids[0])))
	p.press("2")
	p.seeText("Gave 1 item 2 ★")
	acts := p.number(`select count(*) from trail`)
	p.line(cut)
	p.press("1")
	p.seeText("No connection to the server")
	p.seeText("1 change waits here")
	p.see("[data-waits-here]") // on the tile itself
	p.clickAt(p.middle(item(ids[1])))
	p.press("k")
	p.seeText("2 changes wait here")
	p.press("2")
	p.seeText("3 changes wait here")
	p.accessible("without a connection")
	p.shot("/tmp/away.png")
	p.do(chromedp.EmulateViewport(390, 844))
	p.until(`(b => b && b.right <= innerWidth && b.left >= 0)([...document.querySelectorAll("[role=status]")].find(e =>
		e.innerText.includes("No connection"))?.getBoundingClientRect())`)
	p.shot("/tmp/away-phone.png")
	p.do(chromedp.EmulateViewport(1280, 800))
	p.press("z", ctrl)
	p.seeText("Undo when it is back")
	assert.Equal(t, acts, p.number(`select count(*) from trail`), "nothing got through")
	p.line()
	p.until(`!document.body.innerText.includes("No connection")`)
	p.seeText("Gave 1 item 2 ★")
	p.until(`!document.body.innerText.includes("wait here")`)
	p.gone("[data-waits-here]")
	assert.Equal(t, acts+3, p.number(`select count(*) from trail`), "each once")
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and stars = 1`, ids[0])))
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and stars = 2`, ids[1])))
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from keeper where asset_id = %d`, ids[1])))
	p.press("z", ctrl)
	p.seeText("Undone: gave 1 item 2 ★")

	// what cannot wait is refused in words, and what was shown of it is taken back
	p.line(cut)
	p.press("3")
	p.seeText("1 change waits here")
	p.press("Delete")
	p.click("Put 1 in the bin")
	p.see("[data-message=wrong]")
	p.see(fmt.Sprintf(`[data-sheet] [data-id="%d"]`, ids[1]))
	// what waits survives a reload, which is possible again before anything was sent
	p.do(chromedp.Evaluate[chromedp.Void](`sessionStorage.setItem("kept", sessionStorage.getItem("waiting-acts"))`))
	p.line()
	p.until(`!document.body.innerText.includes("No connection")`)
	p.seeText("Gave 1 item 3 ★")
	p.do(chromedp.Evaluate[chromedp.Void](`sessionStorage.setItem("waiting-acts",
		sessionStorage.getItem("kept").replace(/(stars\W+)3/, (_, a) => a + "4"))`))
	p.do(chromedp.Reload())
	p.seeText("Gave 1 item 4 ★")
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and stars = 4`, ids[1])))
	p.until(`sessionStorage.getItem("waiting-acts") === "[]"`)
}

// TestWordsThatAreTypedSurviveAReload: a title that is half typed is there again when the same item is described.
func TestWordsThatAreTypedSurviveAReload(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/describe?place=everything&sort=name")
	p.see("[data-sheet] [data-id] img")
	id := p.shown()[0]
	title := `[data-field="title"] input`
	p.clickAt(p.middle(item(id)))
	p.see(title)
	p.line(cut)
	p.fill(title, "Half a tit")
	p.do(chromedp.Evaluate[chromedp.Void](`performance.now()`))
	p.until(`Object.keys(sessionStorage).some(k => k.startsWith("typed ") && sessionStorage.getItem(k).includes("Half a tit"))`)
	p.do(chromedp.Evaluate[chromedp.Void](`sessionStorage.removeItem("waiting-acts")`)) // as if it had not even been tried
	p.line()
	p.do(chromedp.Reload())
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(id)))
	p.see(title)
	p.until(css(title) + `.value === "Half a tit"`)
	p.seeText("Title · Saved")
	assert.Equal(t, 1, p.number(fmt.Sprintf(`select count(*) from asset where id = %d and title = 'Half a tit'`, id)))
}

// TestFivePressesMoveByFive puts an item five places later in an album, faster than any answer comes.
func TestFivePressesMoveByFive(t *testing.T) {
	p := signIn(t, coordinator)
	var album int64
	require.NoError(
		t,
		storetest.SQL(p.database).Get(&album, `select album_id from album_item i join album a on a.id = i.album_id where a.rule is null
		group by 1 having count(*) > 7 order by count(*) limit 1`),
	)
	p.open(fmt.Sprintf("/b/tansyloft/gather?place=album&id=%d", album))
	p.see("[data-sheet] [data-id] img")
	before := p.shown()
	p.clickAt(p.middle(item(before[0])))
	p.line(&network.Conditions{Latency: 300, DownloadThroughput: -1, UploadThroughput: -1})
	for range 5 {
		p.press("ArrowRight", ctrl)
	}
	want := append(append([]int64{}, before[1:6]...), before[0], before[6])
	p.until(fmt.Sprintf(`JSON.stringify([...document.querySelectorAll("[data-sheet] [data-id]")].slice(0, 7).map(e => Number(e.dataset.id)))
		=== %s`, quote(fmt.Sprintf("[%d,%d,%d,%d,%d,%d,%d]", want[0], want[1], want[2], want[3], want[4], want[5], want[6]))))
	p.line()
}
