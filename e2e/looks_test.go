package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

const ctrl = chromedp.ModifierCtrl

// TestRowsFillTheWidth measures the tiles on the screen: rows end where the sheet ends, and are nearly as high as was chosen.
func TestRowsFillTheWidth(t *testing.T) {
	p := signIn(t, coordinator)
	for _, width := range []int64{1280, 1100, 1600, 390} {
		p.do(chromedp.EmulateViewport(width, 800))
		p.until(`Math.abs(document.querySelector("[data-sheet]").clientWidth - 32 -
			document.querySelector("[data-sheet] > div").clientWidth) < 2`)
		// A row is laid anew in the frame after the width changed, so what is asked is asked until it holds.
		p.until(`(tiles => { const rows = new Map(); const box = document.querySelector("[data-sheet] > div").clientWidth;
			for (const e of tiles) rows.set(e.offsetTop, Math.max(rows.get(e.offsetTop) ?? 0, e.offsetLeft + e.offsetWidth));
			const left = [...rows.values()].slice(0, -1).map(right => box - right);
			return tiles.length > 6 && left.length > 0 && left.every(l => l >= -1) &&
				left.filter(l => l < 2).length >= 0.6 * left.length })([...document.querySelectorAll("[data-sheet] [data-id]")])`)
	}
}

// TestTilesShowTheirTitle on request, and always where a picture does not say.
func TestTilesShowTheirTitle(t *testing.T) {
	p := signIn(t, coordinator)
	step := read[float64](p, `document.querySelector("[data-sheet] [data-id]").offsetHeight`)
	p.click("Show as pictures")
	p.click("Below them: title and date")
	p.until(fmt.Sprintf(`document.querySelector("[data-sheet] [data-id]").offsetHeight >= %f`, step+36))
	p.accessible("the sheet with titles and dates")
	p.click("Show as pictures")
	p.click("Below them: nothing")
	p.until(fmt.Sprintf(`document.querySelector("[data-sheet] [data-id]").offsetHeight === %f`, step))
	p.open("/b/tansyloft/file?place=everything" + filter(`{"field":"kind","names":["document"]}`))
	p.until(`document.querySelector("[data-sheet] [data-id]")?.innerText.length > 5`)
}

// TestMessagesCoverNothing says things one after the other: one at a time, inside of the strap, and all are in the log.
func TestMessagesCoverNothing(t *testing.T) {
	p := signIn(t, coordinator)
	ids := p.shown()
	p.clickAt(p.middle(item(ids[0])))
	for _, key := range []string{"3", "4"} {
		p.click("Choose")
		p.press(key)
		p.seeText("Gave 1 item " + key + " ★")
	}
	p.until(`document.querySelectorAll("[data-message]").length === 1`)
	p.until(`(b => { const s = document.querySelector("[data-strap]").getBoundingClientRect();
		return b.top >= s.top && b.bottom <= s.bottom + 1 })(document.querySelector("[data-message]").getBoundingClientRect())`)
	p.click("What was said")
	p.until(`document.querySelectorAll("[aria-label='What was said'] li").length >= 2`)
	p.accessible("what was said")
	p.press("Escape")
	p.press("z", ctrl)
	p.seeText("Undone: gave 1 item 4 ★")
	p.press("z", ctrl)
	p.seeText("Undone: gave 1 item 3 ★")
}

// TestASearchLooksEverywhere finds by its name what was set aside and what is behind the front of a stack, and says so.
func TestASearchLooksEverywhere(t *testing.T) {
	p := signIn(t, coordinator)
	folder := p.folder("Lost and found")
	p.open(fmt.Sprintf("/b/tansyloft/file?place=folder&id=%d", folder))
	p.dropFiles(css("[data-sheet]"), files(t, []namedFile{
		{"quillfin-one.jpg", mediatest.JPEG(t, 640, 431, 31)}, {"quillfin-two.jpg", mediatest.JPEG(t, 640, 477, 77)},
		{"quillfin-three.jpg", mediatest.JPEG(t, 640, 540, 140)},
	})...)
	p.until(count + ` === 3`)
	var ids []int64
	require.NoError(t, storetest.SQL(p.database).Select(&ids, `select id from asset where folder_id = $1 order by file_name`, folder))
	p.clickAt(p.middle(item(ids[0])))
	p.clickAt(p.middle(item(ids[1])), ctrl)
	p.click("More")
	p.click("Stack 2")
	p.until(count + ` === 2`)
	p.clickAt(p.middle(item(ids[2])))
	p.click("Choose")
	p.press("a")
	p.seeText("1 item, 1 aside")
	p.click("1 aside")
	p.seeText("2 items")
	p.open("/b/tansyloft/file?place=everything" + filter(words("quillfin")))
	p.until(count + ` === 3`)
	p.seeText("one of 2")
	p.seeText("set aside")
	p.accessible("what was found everywhere")
}

// TestKeysBelongToOnePlace clicks into the cabinet, where the mouse is: keys stay with the sheet. Whoever goes there by keys has
// them there.
func TestKeysBelongToOnePlace(t *testing.T) {
	p := signIn(t, coordinator)
	p.clickOn(`[data-place="Moving pictures"] button[title]`)
	p.until(count + ` === 6`)
	p.until(`document.activeElement.matches("[data-sheet]")`)
	p.press("ArrowRight")
	p.see(`[data-selected="1"]`)
	p.press("Enter")
	p.see("[data-big-view]")
	p.press("Escape")
	read[any](p, css(`[data-place="Everything"] [data-row]`)+`.focus()`)
	p.press("ArrowDown")
	p.until(`document.activeElement.closest("[data-place]")?.dataset.place === "Unfiled"`)
	p.press("ArrowUp")
	p.press("Enter")
	p.until(count + ` > 60`)
	p.gone("[data-big-view]")
	p.see(`[data-place="Everything"] [data-row]:focus-visible`)
}

// TestPressingThePresentStepFoldsTheBoard and pressing it again, or another one, unfolds it.
func TestPressingThePresentStepFoldsTheBoard(t *testing.T) {
	p := signIn(t, coordinator)
	where := read[float64](p, `document.querySelector("nav[aria-label='Steps of the work'] button:last-of-type").getBoundingClientRect().x`)
	p.click("File")
	p.gone("[data-board]")
	p.click("File")
	p.see("[data-board]")
	p.click("File")
	p.gone("[data-board]")
	p.click("Describe")
	p.see("[data-board]")
	assert.Equal(t, where, read[float64](p,
		`document.querySelector("nav[aria-label='Steps of the work'] button:last-of-type").getBoundingClientRect().x`), "the path stays")
}

// TestANewBrandSaysWhatToDoFirst on every step.
func TestANewBrandSaysWhatToDoFirst(t *testing.T) {
	p := signIn(t, steward)
	p.open("/b/tansyloft/settings")
	p.click("Make another brand")
	p.fill("[role=dialog] input", "Empty Loft")
	p.click("Make the brand")
	p.seeText("The library is empty. Drop the first files here")
	for _, step := range []string{"Describe", "Choose", "Send out"} {
		p.click(step)
		p.see("[data-first-step]")
		p.accessible(step + " of an empty brand")
	}
	p.clickOn("[data-first-step] button")
	p.seeText("Drop files or whole folders here")
}

// TestStepsFold makes the window narrow: the steps for which there is no room are in one that unfolds, and none is cut.
func TestStepsFold(t *testing.T) {
	p := signIn(t, coordinator)
	p.until(`document.querySelectorAll(".steps [aria-current], .steps button").length === 7`)
	p.do(chromedp.EmulateViewport(860, 800))
	p.see(`[aria-label="Other steps"]`)
	p.until(`(bar => bar.scrollWidth <= bar.clientWidth && bar.querySelectorAll("button").length < 8)(document.querySelector(".steps"))`)
	p.clickOn(`[aria-label="Other steps"]`)
	p.click("Send out")
	p.until(`document.querySelector('[aria-label="Other steps"]').innerText.includes("Send out")`)
	p.until(`location.pathname.endsWith("/send-out")`)
	p.do(chromedp.EmulateViewport(1280, 800))
	p.gone(`[aria-label="Other steps"]`)
}

// TestASearchForgivesAndSaysWhy types words with a slip: what was meant is shown and said, each result says where its words are, and a
// search that finds nothing offers what to leave out.
func TestASearchForgivesAndSaysWhy(t *testing.T) {
	p := signIn(t, coordinator)
	search := func(words string) {
		p.fill(`input[aria-label="Search"], header input[type=search], header input`, words)
		p.press("Enter")
	}
	search("dune kiet")
	p.see("[data-meant]")
	p.seeText("Nothing says “dune kiet”. Showing “dune kite” instead.")
	p.until(count + ` > 0`)
	p.see(`[data-why] mark`)
	p.until(`[...document.querySelectorAll("[data-why] mark")].some(m => /^dunes?$/i.test(m.innerText))`)
	p.accessible("a search that was taken for another one")
	p.click("Search for “dune kiet” as it is")
	p.see("[data-missed]")
	p.seeText("Nothing says “kiet”.")
	p.accessible("a search that found nothing")
	p.click("dune kite")
	p.until(count + ` > 0`)

	p.open("/b/tansyloft/file?place=everything" + filter(words("zzyzx kite")+`,{"field":"stars","from":5,"to":5}`))
	p.see("[data-missed]")
	p.seeText("without “zzyzx”")
	p.click("without “zzyzx”")
	p.until(count + ` > 0`)
	p.gone("[data-missed]")
	search("% ,;.!")
	p.seeText("Nothing here matches")
	search("凧 طائرة 🪁")
	p.seeText("Nothing here matches")
}

// TestASlideshow runs by itself from the item one is at, is held and led by keys, says what is shown, and ends where it was.
func TestASlideshow(t *testing.T) {
	p := signIn(t, coordinator)
	ids := p.shown()
	slide := func(id int64) string { return fmt.Sprintf(`[data-slide="%d"]`, id) }
	p.clickAt(p.middle(item(ids[1])))
	p.press("p")
	p.see(slide(ids[1]))
	p.accessible("a slideshow")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[aria-label="How long each is shown"]').focus()`))
	p.press("ArrowUp") // two seconds
	p.see(slide(ids[2]))
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector("[data-slide]").focus()`))
	p.press(" ")
	p.see(`[aria-label="Go on"]`)
	at := read[string](p, `document.querySelector("[data-slide]").dataset.slide`)
	time.Sleep(2500 * time.Millisecond)
	assert.Equal(t, at, read[string](p, `document.querySelector("[data-slide]").dataset.slide`), "it is held")
	p.press("ArrowLeft")
	p.until(`document.querySelector("[data-slide]").dataset.slide !== ` + quote(at))
	p.see("[data-caption]")
	p.press("c")
	p.gone("[data-caption]")
	p.press("c")
	p.click("In random order")
	p.see(`[aria-label="In random order"][aria-pressed="true"]`)
	p.press("ArrowRight")
	at = read[string](p, `document.querySelector("[data-slide]").dataset.slide`)
	p.press("Escape")
	p.gone("[data-slide]")
	p.see(`[data-id="` + at + `"][aria-selected="true"], [data-sheet]`)
	p.seeText("1 selected")
}
