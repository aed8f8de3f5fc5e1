package e2e

import (
	"context"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
	"brightsatchel/standins/postbox"
)

// letterTo waits for a letter to somebody about something.
func letterTo(t *testing.T, to, about string) (found postbox.Letter) {
	t.Helper()
	require.Eventually(t, func() bool {
		for _, l := range letterBox.Letters() {
			if l.To == to && strings.Contains(l.Subject, about) {
				found = l
				return true
			}
		}
		return false
	}, patience, 50*time.Millisecond)
	return found
}

var linkInLetter = regexp.MustCompile(`https?://\S+`)

// pressKit is the address and the code of the gallery that the demo brand has.
func (p *page) pressKit() string {
	p.t.Helper()
	var code string
	require.NoError(p.t, storetest.SQL(p.database).Get(&code, `select code from gallery where title = 'Press kit, spring 2026'`))
	return "/g/" + code
}

const firstPicture = `[data-pictures] button`

// TestAClientChoosesAndRemarks goes from letters to an album: two guests, one invited, one with the password.
func TestAClientChoosesAndRemarks(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/galleries")
	p.fill(`input[aria-label="Name of the list"]`, "For the cover")
	p.press("Enter")
	p.see(`[data-guest-list="For the cover"]`)
	p.fill(`input[aria-label="Up to (optional)"]`, "1")
	p.press("Enter")
	p.until(`document.querySelector('input[aria-label="Up to (optional)"]').labels[0].innerText.includes("Saved")`)
	p.click("Invite…")
	p.fill("[role=dialog] textarea", "Maren Holt <maren@example.org>; not an address")
	p.accessible("inviting guests")
	p.click("See the letter")
	p.seeText("left out: not an address")
	p.see("[role=dialog] iframe")
	p.accessible("a letter before it goes")
	p.click("Send 1 letter")
	p.gone("[role=dialog]")
	letter := letterTo(t, "maren@example.org", "Press kit")
	assert.Contains(t, letter.Text, "Dear Maren Holt,")
	assert.Contains(t, letter.HTML, "data:image/jpeg;base64,", "with its cover inside")
	assert.Contains(t, letter.Headers["List-Unsubscribe"], "/u/")
	p.until(`document.querySelector('[data-guest="maren@example.org"]').innerText.includes("invitation sent")`)

	maren := newVisitor(t)
	maren.visit(linkInLetter.FindString(letter.Text))
	maren.see(firstPicture) // without the password
	assert.NotContains(t, read[string](maren, `location.href`), "as=", "the link is out of sight")
	maren.press("Tab")
	maren.until(`(document.querySelector("` + firstPicture + `").focus(), true)`)
	maren.press("Enter") // by keyboard alone
	maren.see("[data-guest-big]")
	first := read[string](maren, `document.querySelector("[data-guest-big]").dataset.guestBig`)
	maren.clickOn(`[data-list="For the cover"]`)
	maren.see(`[data-list="For the cover"][aria-pressed=true]`)
	maren.press("ArrowRight")
	maren.see(`[data-list="For the cover"][aria-pressed=false]`)
	maren.clickOn(`[data-list="For the cover"]`)
	maren.seeText("“For the cover” takes up to 1 picture. Take one out first.")
	maren.press("ArrowLeft")
	maren.click("Remarks")
	maren.fill("[data-remarks] textarea", "Warmer here, please")
	maren.click("On a point in the picture")
	maren.clickOn("[data-zoom]")
	maren.see(`[data-point="+"]`)
	maren.accessible("a remark on a point")
	maren.click("Say it")
	maren.see(`[data-point="1"]`)

	p.seeText("Warmer here, please") // by itself
	p.until(`document.querySelector('[data-guest="maren@example.org"]').innerText.includes("chose 1 · 1 remark")`)
	p.clickAt(p.atRest(`[...document.querySelectorAll("[data-said] button")].find(b => b.innerText === "Answer")`))
	p.fill("[data-said] textarea", "Done, <b>look</b>")
	p.accessible("a gallery with what goes on in it")
	p.clickAt(p.atRest(`[...document.querySelectorAll("[data-said] button")].findLast(b => b.innerText === "Answer")`))
	maren.seeText("Done, <b>look</b>") // as text, and by itself
	p.click("Make an album of 1 picture")
	p.seeText("Press kit, spring 2026, For the cover")
	var chosen string
	require.NoError(t, storetest.SQL(p.database).Get(&chosen, `select a.code from album al join album_item i on i.album_id = al.id
		join asset a on a.id = i.asset_id where al.name = 'Press kit, spring 2026, For the cover'`))
	assert.Equal(t, first, chosen)

	tove := newVisitor(t)
	tove.open(p.pressKit())
	tove.fill("input[name=password]", demo.GuestPassword)
	tove.press("Enter")
	tove.clickOn(firstPicture)
	tove.see(`[data-list="For the cover"][aria-pressed=false]`)
	assert.NotContains(t, read[string](tove, `document.body.innerText`), "Maren", "guests do not see each other unless that is allowed")
	tove.clickOn(`[data-list="For the cover"]`)
	tove.see("[role=dialog] input[name=name]")
	tove.accessible("giving a name")
	tove.fill("input[name=name]", "Tove")
	tove.press("Enter")
	tove.see(`[data-list="For the cover"][aria-pressed=true]`)
	there := read[string](tove, `document.querySelector("[data-guest-big]").dataset.guestBig`)
	tove.press("ArrowRight") // the keys go on after a dialog
	tove.until(`document.querySelector("[data-guest-big]").dataset.guestBig !== ` + quote(there))
	tove.press("ArrowLeft")
	tove.until(`document.querySelector("[data-guest-big]").dataset.guestBig === ` + quote(there))
	p.click("Guests see what other guests chose and wrote")
	tove.until(`document.querySelector("[data-list='For the cover']").innerText.includes("+1")`)

	var maren1 int64
	require.NoError(t, storetest.SQL(p.database).Get(&maren1, `select id from guest where email = 'maren@example.org'`))
	p.click("More about Maren Holt")
	p.click("Take their link back")
	p.until(`document.querySelector('[data-guest="maren@example.org"]').innerText.includes("their link was taken back")`)
	maren.do(chromedp.Reload())
	maren.see("input[name=password]")
	_, err := storetest.SQL(p.database).
		Exec(`update gallery set ends_on = current_date - 1 where code = $1`, strings.TrimPrefix(p.pressKit(), "/g/"))
	require.NoError(t, err)
	tove.do(chromedp.Reload())
	tove.seeText("This gallery is closed")
}

// TestGuestsAddPicturesOfTheirOwn sends a picture and something else from a phone; the team looks before anything is shown.
func TestGuestsAddPicturesOfTheirOwn(t *testing.T) {
	p := signIn(t, coordinator)
	p.open("/b/tansyloft/galleries")
	p.see("[data-gallery]")
	p.choice("Guests may add pictures of their own", "Yes, they come into “Brand”")
	guest := newVisitor(t)
	guest.do(chromedp.EmulateViewport(390, 844))
	guest.open(p.pressKit())
	guest.fill("input[name=password]", demo.GuestPassword)
	guest.press("Enter")
	guest.see("[data-add-own]")
	dir := t.TempDir()
	picture, other := filepath.Join(dir, "party.jpg"), filepath.Join(dir, "letter.jpg")
	require.NoError(t, os.WriteFile(picture, mediatest.JPEG(t, 640, 480, 7), 0o600))
	require.NoError(t, os.WriteFile(other, []byte("this is no picture"), 0o600))
	guest.until(`[...document.querySelectorAll("[data-add-own] button")][0].disabled`)
	guest.clickOn("[data-add-own] input[type=checkbox]")
	guest.accessible("adding pictures of one's own")
	guest.choose("Choose pictures", picture, other)
	guest.fill("input[name=name]", "Tove")
	guest.press("Enter")
	guest.seeText("2 of 2 sent")
	guest.see("[data-came=with_team]")
	guest.until(`document.querySelector("[data-came=refused]")?.innerText.includes("letter.jpg: was not taken (Its content is plain text")`)
	p.seeText("letter.jpg, from Tove: Its content is plain text")
	p.see(`[aria-label="party.jpg, from Tove"]`)
	p.accessible("pictures from guests")
	p.click("Accept 1 picture")
	p.seeText("0 to be looked at, 1 accepted, 1 refused")
	var credit, folder string
	require.NoError(t, storetest.SQL(p.database).QueryRow(`select a.credit, f.name from asset a join folder f on f.id = a.folder_id
		where a.file_name = 'party.jpg' and a.source = 'guest'`).Scan(&credit, &folder))
	assert.Equal(t, [2]string{"Tove", "Brand"}, [2]string{credit, folder})
	guest.until(`document.querySelector("[data-came=accepted]")?.innerText.includes("party.jpg: accepted, thank you")`)
	guest.accessible("what became of one's pictures")
	guest.until(`document.documentElement.scrollWidth <= 390`)
}

// TestAGalleryWithoutScript is looked at in a browser that runs none.
func TestAGalleryWithoutScript(t *testing.T) {
	p := newVisitor(t)
	at := p.pressKit()
	p.do(func(ctx context.Context, to *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, to, emulation.SetScriptExecutionDisabled, emulation.SetScriptExecutionDisabledParams{Value: true})
		return chromedp.Void{}, err
	})
	p.open(at)
	p.see("input[name=password]")
	assert.Contains(t, read[string](p, `location.pathname`), "/plain")
	p.fill("input[name=password]", "wrong guess")
	p.press("Enter")
	p.seeText("That is not the password of this gallery.")
	p.fill("input[name=password]", demo.GuestPassword)
	p.press("Enter")
	p.until(`document.querySelectorAll("li img").length === 16`)
	p.until(`document.querySelector("li img").naturalWidth > 0`)
	p.do(chromedp.EmulateViewport(390, 844))
	p.until(`document.documentElement.scrollWidth <= 390`)
	p.clickOn("li a")
	p.until(`document.images.length === 1 && document.images[0].naturalWidth > 600`)
}

// TestAWebGalleryOfASelection is made of three items, gets a chapter of what is in the satchel, is listed for everyone, read in German, and
// plays by itself as a slideshow.
func TestAWebGalleryOfASelection(t *testing.T) {
	p := signIn(t, coordinator)
	ids := p.shown()[:4]
	p.clickAt(p.middle(item(ids[3])))
	p.click("Put 1 in the satchel")
	p.seeText("1 carried")
	for i, id := range ids[:3] {
		modifiers := []chromedp.Modifier{chromedp.ModifierCtrl}
		p.clickAt(p.middle(item(id)), modifiers[:min(i, 1)]...)
	}
	p.click("More")
	p.click("Show 3 in a gallery…")
	p.fill("[role=dialog] input", "Three <i>kites</i>")
	p.choice("Kind", "Web gallery")
	p.accessible("a gallery of a selection")
	p.click("Make the gallery")
	p.see(`[data-gallery="Three <i>kites</i>"]`)
	p.fill(`input[aria-label="Address of its own (optional)"]`, "Three Kites")
	p.press("Enter")
	p.seeText("/g/three-kites")
	p.click("Add the 1 in the satchel")
	p.until(`document.querySelectorAll("[data-gallery] ol > li").length === 2`)
	p.click("Open…")
	p.seeText("Everyone will see 4 items")
	p.click("Open the gallery")
	p.seeText("Open to everyone; it is listed")

	guest := newVisitor(t)
	guest.do(func(ctx context.Context, to *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, to, emulation.SetUserAgentOverride, emulation.SetUserAgentOverrideParams{
			UserAgent: "Mozilla/5.0 (test)", AcceptLanguage: "de-AT,de"})
		return chromedp.Void{}, err
	})
	guest.open("/l/tansyloft")
	guest.seeText("Three <i>kites</i>")
	guest.accessible("the list of galleries")
	guest.click("Three <i>kites</i>")
	guest.seeText("4 Bilder")
	assert.Equal(t, "/g/three-kites", read[string](guest, `location.pathname`))
	guest.until(`document.querySelectorAll("[data-pictures] img").length === 4`)
	guest.accessible("a web gallery")
	assert.Empty(t, read[string](guest, `document.cookie`))
	guest.click("Als Diaschau abspielen")
	guest.see("[data-guest-big][data-playing]")
	first := read[string](guest, `document.querySelector("[data-guest-big]").dataset.guestBig`)
	guest.until(`document.querySelector("[data-guest-big]").dataset.guestBig !== ` + quote(first)) // by itself
	guest.press("Escape")
	guest.gone("[data-guest-big]")

	p.choice("Lettering", "Like a poster")
	p.until(`document.querySelector("[aria-label='How it looks'] select").value === "poster"`)
	guest.do(chromedp.Reload())
	guest.until(`document.documentElement.dataset.lettering === "poster"`)
	guest.accessible("a gallery like a poster")
}
