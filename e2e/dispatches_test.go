package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// toPages opens the dialog for the items of some ids.
func (p *page) toPages(ids ...int64) {
	p.t.Helper()
	p.only(ids...)
	p.click("More")
	p.click(map[bool]string{true: "Send it to pages…", false: fmt.Sprintf("Send %d to pages…", len(ids))}[len(ids) == 1])
	p.see(`[data-dispatch] [data-page-choice="windward"]`)
}

// only shows the items of some ids on Send out, all selected.
func (p *page) only(ids ...int64) {
	p.t.Helper()
	list := ""
	for i, id := range ids {
		if i > 0 {
			list += ","
		}
		list += fmt.Sprint(id)
	}
	p.open("/b/tansyloft/send-out?place=everything" + filter(fmt.Sprintf(`{"field":"item","ids":[%s]}`, list)))
	p.until(fmt.Sprintf(`document.querySelectorAll("[data-sheet] [data-id] img").length === %d`, len(ids)))
	p.clickAt(p.middle(item(ids[0])))
	p.press("a", ctrl)
	p.see(fmt.Sprintf(`[data-selected="%d"]`, len(ids)))
}

// pick chooses a page of the dialog by its id there.
func (p *page) pick(remote string) {
	p.t.Helper()
	p.clickOn(fmt.Sprintf(`[data-dispatch] [data-page-choice=%q] > label > input`, remote))
}

// dayAndTime fills in when a dispatch is due: what is typed there depends on the language of the browser.
func (p *page) dayAndTime(wall string) {
	p.t.Helper()
	field := `document.querySelector("[data-dispatch] input[type=datetime-local]")`
	p.until(field)
	read[any](p, fmt.Sprintf(`(i => { Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(i, %q);
		i.dispatchEvent(new Event("input", { bubbles: true })) })(%s)`, wall, field))
}

// broad are pictures that may go out and are between so many heights wide.
func (p *page) broad(from, to float64, n int) (ids []int64) {
	for i := range n {
		ids = append(ids, int64(p.number(fmt.Sprintf(`select id from asset where kind = 'picture' and binned_at is null and stars >= 0
			and rights_until is null and least(width, height) >= 400 and width between %f * height and %f * height
			and id not in (select asset_id from face) order by id offset %d limit 1`, from, to, i))))
	}
	return ids
}

// TestADispatchToThreePages with other words on one, an album on another, and pictures that are cut to where somebody says; the order is
// changed by key and by hand; all of it is taken back at once.
func TestADispatchToThreePages(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	both := p.broad(1.2, 1.9, 2)
	p.toPages(both...)
	text := fmt.Sprint("Three at once ", time.Now().UnixNano())
	p.fill(`[data-dispatch] textarea`, text)
	p.pick("windward")
	first := `document.querySelector("[data-dispatch-order] > li:first-child")`
	p.see("[data-dispatch-order] > li:nth-child(2)")
	was := read[string](p, first+`.dataset.ordered`)
	read[any](p, first+`.querySelector("button").focus()`)
	p.press("ArrowRight")
	p.until(first + `.dataset.ordered !== ` + quote(was))
	p.drag(`document.querySelector("[data-dispatch-order] > li:nth-child(2)")`, first, 0.1)
	p.until(first + `.dataset.ordered === ` + quote(was))
	p.drag(first, `document.querySelector("[data-dispatch-order] > li:nth-child(2)")`, 0.9)
	p.until(first + `.dataset.ordered !== ` + quote(was))
	p.pick("lt-2")
	p.pick("ad1")
	p.seeText("One is public, one has 87 members, one is seen by nobody but those who work with it. 2 things to mend first.")
	p.click("Mend all 2")
	p.see("[data-cut]")
	p.accessible("what is cut")
	frame := `document.querySelector("[data-cut] [role=slider]")`
	before := read[string](p, frame+`.style.left`)
	read[any](p, frame+`.focus()`)
	p.press("ArrowLeft")
	p.seeText("moved by hand")
	p.until(frame + `.style.left !== ` + quote(before))

	p.clickOn(`[data-page-choice=windward] [role=switch], [data-page-choice=windward] div input[type=checkbox]`)
	p.fill(`[data-page-choice=windward] textarea`, text+" there")
	p.fill(`[data-page-choice="lt-2"] input[list]`, "Made today")
	p.seeText("A new album there, made when the pictures arrive.")
	p.click("Send 2 to 3 pages")
	p.gone("[data-dispatch]")
	p.open("/b/tansyloft/dispatches")
	p.until(`document.querySelectorAll("[data-dispatch]:first-of-type [data-post=out]").length === 3`)
	p.until(`document.querySelectorAll("[data-dispatch]:first-of-type [data-seen='0'] img").length >= 3`) // fetched from there, as it was sent
	p.accessible("what is out there")
	assert.Equal(t, 1, posted(text+" there"))
	p.until(`document.querySelector("[data-dispatch]:first-of-type [data-post] [data-thumb]:nth-child(2)").dataset.thumb === ` + quote(was))
	p.only(both[0])
	p.click("More")
	p.click("Take it back from every page…")
	p.see("[data-take-back] li")
	p.accessible("taking back everywhere")
	p.seeText("1 other item goes as well")
	p.clickOn(`[data-take-back] button`)
	p.gone("[data-take-back]")
	p.open("/b/tansyloft/dispatches")
	p.until(`[...document.querySelectorAll("[data-dispatch]:first-of-type [data-post]")].filter(r =>
		r.innerText.includes("Taken back")).length === 2`) // the third service takes nothing back
	assert.Equal(t, 0, posted(text+" there"))
}

// TestWhatIsOnAPage is found by that page, whoever removes it here is told that it stays there, and it is moved to another page.
func TestWhatIsOnAPage(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	ids := p.broad(1.2, 1.9, 2)
	text := fmt.Sprint("On its way ", time.Now().UnixNano())
	p.toPages(ids...)
	p.pick("windward")
	p.fill(`[data-dispatch] textarea`, text)
	p.click("Send 2 to 1 page")
	p.gone("[data-dispatch]")
	p.open("/b/tansyloft/dispatches")
	p.see(`[data-post=out]`)
	row := css(`[data-place="On ` + p.text(`select name from page where remote_id = 'windward'`) + `"]`)
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.click("Unfold By use")
	p.until(row + `?.querySelector("[data-own]")?.dataset.own === "2"`)
	p.clickAt(p.atRest(row + `.querySelector("button, a")`))
	p.count(2)
	p.clickAt(p.atRest(item(ids[0])))
	p.press("Delete")
	p.seeText("It stays on these pages until it is taken back there:")
	p.accessible("what stays on a page")
	p.press("Escape")
	p.gone("[role=dialog]")
	p.press("a", ctrl)
	p.see(`[data-selected="2"]`)
	p.press("Delete")
	p.seeText("What is on pages stays there until it is taken back:")
	p.press("Escape")
	p.gone("[role=dialog]")

	p.open("/b/tansyloft/dispatches")
	p.click("Send to other pages…")
	p.see(`[data-page-choice="lt-1"]`)
	p.pick("lt-1")
	p.click("Move it: take it back from")
	p.click("Send 2 to 1 page")
	p.gone("[data-page-choice]")
	p.until(`[...document.querySelectorAll("[data-post=out]")].filter(r => r.innerText.includes("Taken back")).length === 1`)
	assert.Equal(t, 0, posted(text), "once it was out on the other one")
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.until(css("[data-place]:has([data-own])") + ` && !` + row)
}

// TestWhatWasChangedOutThere is said, and whoever takes it away there is not thought to have left it.
func TestWhatWasChangedOutThere(t *testing.T) {
	p := signIn(t, coordinator)
	posting.Lock()
	defer posting.Unlock()
	p.toPages(p.broad(1.2, 1.9, 1)...)
	p.pick("windward")
	text := fmt.Sprint("Will be changed ", time.Now().UnixNano())
	p.fill(`[data-dispatch] textarea`, text)
	p.click("Send 1 to 1 page")
	p.gone("[data-dispatch]")
	p.open("/b/tansyloft/dispatches")
	p.see(`[data-seen="0"]`)
	remote := ""
	for _, post := range short.Posts("windward") {
		if post.Text == text {
			remote = post.ID
		}
	}
	short.Edit(remote, "Somebody else’s words")
	p.click("Look again")
	p.seeText("The caption is another one there: “Somebody else’s words”")
	short.Remove(remote)
	p.click("Look again")
	p.seeText("Gone there since")
}

// TestTheCalendarIsMoved by dragging, and by typing; a second person says "go".
func TestTheCalendarIsMoved(t *testing.T) {
	steward := signIn(t, "greta@tansyloft.example")
	steward.open("/b/tansyloft/settings")
	steward.click("A second person says “go”")
	steward.seeText("Nothing leaves for a social page before")

	p := signIn(t, coordinator)
	p.toPages(p.broad(1.2, 1.9, 1)...)
	p.pick("windward-club")
	p.choice("When", "at a time")
	// the middle of a month, so that the next day is on the same sheet
	day := time.Now().AddDate(0, 1, 0)
	day = time.Date(day.Year(), day.Month(), 12, 9, 30, 0, 0, time.UTC)
	p.dayAndTime(day.Format("2006-01-02T15:04"))
	p.seeText("at 09:30 in London")
	p.click("Ask for “go”: 1 to 1 page")
	p.gone("[data-dispatch]")
	p.open("/b/tansyloft/dispatches")
	p.seeText("It waits until somebody else has looked at it")
	p.until(`![...document.querySelectorAll("button")].some(b => b.innerText.startsWith("Go:"))`)

	p.open("/b/tansyloft/calendar")
	p.click("Later")
	entry := `document.querySelector("[data-entry]")`
	p.until(entry)
	p.accessible("the calendar")
	next := css(fmt.Sprintf(`[data-day=%q]`, day.AddDate(0, 0, 1).Format(time.DateOnly)))
	p.drag(entry, next, 0.5)
	p.until(next + `.querySelector("[data-entry]")`)
	p.clickAt(p.middle(next + `.querySelector("[data-entry]")`))
	p.see("[data-post-dialog]")
	p.seeText("planned, not released")
	p.press("Escape")
	p.do(chromedp.EmulateViewport(390, 800))
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.do(chromedp.EmulateViewport(1280, 800))

	steward.open("/b/tansyloft/dispatches")
	steward.seeText("asks you to look at it and say “go”")
	steward.accessible("a dispatch that waits")
	steward.click("Go: 1 to 1 page")
	steward.gone("[data-waits]")
	steward.click("Cancel")
	steward.seeText("Cancelled")
	p.open("/b/tansyloft/calendar")
	p.click("Subscribe…")
	p.click("Make my address")
	p.seeText(".ics")
	p.accessible("subscribing to the calendar")
}

// TestAnAlbumFeedsAPage once somebody says "go", at the moments that were set.
func TestAnAlbumFeedsAPage(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/outlets")
	p.clickOn(`[data-of="windward-club"] [aria-expanded]:first-of-type`)
	p.see("[data-rhythm]")
	p.click("Add this moment")
	p.seeText("Fridays at 09:00")
	p.accessible("the rhythm of a page")
	p.click("Let it feed the page…")
	p.seeText("It would begin on")
	p.click("Go: one to Kite club on Windward each time")
	p.see(`[data-feed=running]`)
	p.click("Stop")
	p.see(`[data-feed=off]`)
	p.click("Remove")
	p.gone(`[data-feed]`)
}
