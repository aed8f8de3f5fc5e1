package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/store/storetest"
)

// TestAGuestReadsCaptions sees until when a gallery is open, its cover around the focal point, and what is written about a picture.
func TestAGuestReadsCaptions(t *testing.T) {
	p := newVisitor(t)
	var code string
	require.NoError(t, storetest.SQL(p.database).Get(&code, `select code from gallery where title = 'Press kit, spring 2026'`))
	_, err := storetest.SQL(p.database).Exec(`update gallery set ends_on = '2037-06-30' where code = $1`, code)
	require.NoError(t, err)
	_, err = storetest.SQL(p.database).
		Exec(`update asset set focal_y = 0.95, focal_by = 'person' where id = (select cover_id from gallery where code = $1)`,
			code)
	require.NoError(t, err)
	t.Cleanup(func() { // for the tests that come after it in this lane
		_, err := storetest.SQL(p.database).Exec(`update gallery set ends_on = null where code = $1`, code)
		require.NoError(t, err)
	})
	p.open("/g/" + code)
	p.see("input[name=password]")
	p.fill("input[name=password]", demo.GuestPassword)
	p.press("Enter")
	p.seeText("open until 30 June 2037")
	p.until(`/ 100%$/.test(document.querySelector("main img").style.objectPosition)`)
	p.see("[data-pictures] button")
	titles := read[[]string](p, `[...document.querySelectorAll("[data-pictures] li p")].map(e => e.innerText)`)
	assert.NotContains(t, titles, "", "each picture has its words below it")
	p.clickOn("[data-pictures] button")
	p.see("[data-caption]")
	p.accessible("a caption in the big view")
	p.click("Next")
	p.until(`document.querySelector("[data-guest-big]").innerText.includes("2 of ")`)
	p.click("Close")
	p.gone("[data-guest-big]")
	for _, width := range []int64{1280, 768, 390} {
		p.do(chromedp.EmulateViewport(width, 800))
		p.until(`(list => [...list.children].every(e => e.offsetLeft + e.offsetWidth <= list.clientWidth + 1)
			&& document.documentElement.scrollWidth <= innerWidth)(document.querySelector("[data-pictures]"))`)
	}
}
