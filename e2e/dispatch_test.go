package e2e

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"

	"brightsatchel/standins/windward"
)

// short is the simulated service for short posts, one for all lanes. Whoever posts there has it for themselves meanwhile: its weather is
// the same for all. It is made with the lanes: whatever is made before main is made in each process that draws pictures, too.
var (
	short   *windward.Service
	posting sync.Mutex
)

// posted counts what is out there under a text.
func posted(text string) (n int) {
	for _, p := range short.Posts("") {
		if p.Text == text {
			n++
		}
	}
	return n
}

// TestSendingToAPage as a person does: choose the page, see what it does not take, mend it, write the caption, send; see it out there,
// and take it back.
func TestSendingToAPage(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	wide := p.number(`select id from asset where kind = 'picture' and binned_at is null and stars >= 0 and width > 2 * height
		and height >= 320 and id not in (select asset_id from face) order by id limit 1`)
	p.open("/b/tansyloft/send-out?place=everything" + filter(fmt.Sprintf(`{"field":"item","ids":[%d]}`, wide)))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(int64(wide))))
	p.see(`[data-selected="1"]`)
	p.click("More")
	p.click("Send it to pages…")
	p.see("[data-dispatch]")
	p.until(`[...document.querySelectorAll("[data-dispatch] label")].some(l => l.innerText.includes("on Windward"))`)
	p.until(`[...document.querySelectorAll("[data-dispatch] button")].find(b => b.innerText.startsWith("Send 1")).disabled`)
	p.clickOn(`[data-dispatch] [data-page-choice="windward"] input`)
	p.see(`[data-finding=too_wide]`)
	p.accessible("sending to pages")
	p.until(`[...document.querySelectorAll("[data-dispatch] button")].find(b => b.innerText.startsWith("Send 1")).disabled`)
	p.click("Cut it to fit")
	p.gone(`[data-finding=too_wide]`)
	text := fmt.Sprint("A long one, ", time.Now().UnixNano())
	p.fill(`[data-dispatch] textarea`, text)
	p.seeText(fmt.Sprintf("%d of 280 on Tansyloft Kites on Windward", len(text)))
	p.seeText("Seen by everyone; 4180 people follow it")
	p.click("Send 1 to 1 page")
	p.gone("[data-dispatch]")
	p.seeText("Sending 1 item to 1 page")
	p.open("/b/tansyloft/dispatches")
	p.see(`[data-post=out]`) // without asking again
	p.accessible("dispatches")
	assert.Equal(t, 1, posted(text))
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.do(chromedp.EmulateViewport(1280, 800))
	p.click("Take it back")
	p.seeText("Taken back")
	assert.Equal(t, 0, posted(text))
}

// TestABadDayOfAPage is seen as it is: what was refused is said in words, and sent again by one press.
func TestABadDayOfAPage(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	id := p.number(`select id from asset where kind = 'picture' and width between height and 1.9 * height and binned_at is null
		and id not in (select asset_id from face) and stars >= 0 order by id limit 1`)
	p.open("/b/tansyloft/send-out?place=everything" + filter(fmt.Sprintf(`{"field":"item","ids":[%d]}`, id)))
	p.see("[data-sheet] [data-id] img")
	p.clickAt(p.middle(item(int64(id))))
	p.click("More")
	p.click("Send it to pages…")
	p.until(`[...document.querySelectorAll("[data-dispatch] label")].some(l => l.innerText.includes("on Windward"))`)
	p.clickOn(`[data-dispatch] [data-page-choice="windward"] input`)
	text := fmt.Sprint("On a bad day, ", time.Now().UnixNano())
	p.fill(`[data-dispatch] textarea`, text)
	short.Weather.Set("token", 1)
	p.click("Send 1 to 1 page")
	p.gone("[data-dispatch]")
	p.open("/b/tansyloft/dispatches")
	p.seeText("It does not accept our access any more. Connect it again, then try again.")
	p.click("Try again")
	p.until(`[...document.querySelectorAll("[data-post=out]")].some(r => r.innerText.includes(` + quote(text) + `))`)
	assert.Equal(t, 1, posted(text))
}
