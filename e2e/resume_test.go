package e2e

import (
	"bytes"
	"context"
	"crypto/sha256"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
	"brightsatchel/e2e/processtest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// TestAServerThatIsKilledDuringAnUpload lets a browser go on at the byte where the server that comes back has it.
func TestAServerThatIsKilledDuringAnUpload(t *testing.T) {
	at(t)
	s := processtest.New(t)
	p := newVisitor(t)
	p.do(chromedp.Navigate("http://" + s.Address))
	p.fill("input[name=email]", processtest.Email)
	p.fill("input[name=password]", processtest.Password)
	p.press("Enter")
	p.see("[data-board]")
	data := append(mediatest.Clip(t, 184, 120), make([]byte, 20<<20)...) // in pieces of 8 MB
	p.line(&network.Conditions{UploadThroughput: 6_000_000, DownloadThroughput: -1})
	p.dropFiles(css("main"), files(t, []namedFile{{"gusts.mp4", data}})...)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* MB/.test(document.querySelector('[data-file="gusts.mp4"]')?.innerText)`)
	s.Kill()
	s.Start()
	p.line()
	p.strap("1 file, added")
	var sum []byte
	require.NoError(t, storetest.SQL(s.DB).Get(&sum, `select sha256 from version`))
	want := sha256.Sum256(data)
	assert.Equal(t, want[:], sum, "every byte is there, once")
}

// TestAnUploadSurvivesAReload reloads the page in the middle of an upload over a slow line.
func TestAnUploadSurvivesAReload(t *testing.T) {
	p := signIn(t, coordinator)
	// a clip with weight added at its end, where players do not look
	data := append(mediatest.Clip(t, 160, 120), bytes.Repeat([]byte{0, 0, 16, 0, 'f', 'r', 'e', 'e'}, 1)...)
	data = append(data, make([]byte, 3<<20)...)
	paths := files(t, []namedFile{{"slow-line.mp4", data}})
	p.line(&network.Conditions{UploadThroughput: 400_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("0 of 1")`)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* (k|M)B/.test(document.querySelector('[data-file="slow-line.mp4"]')?.innerText)`)
	p.line()
	p.do(chromedp.Reload())
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("1 file, added")`)
}

// TestASessionThatEndsDuringAnUpload asks to sign in again, and goes on from the byte where it stopped.
func TestASessionThatEndsDuringAnUpload(t *testing.T) {
	p := signIn(t, coordinator)
	paths := files(t, []namedFile{{"long-walk.mp4", append(mediatest.Clip(t, 200, 120), make([]byte, 24<<20)...)}}) // in pieces of 8 MB
	p.line(&network.Conditions{UploadThroughput: 6_000_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* MB/.test(document.querySelector('[data-file="long-walk.mp4"]')?.innerText)`)
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, network.ClearBrowserCookies, cdp.Empty{})
		return chromedp.Void{}, err
	})
	p.see("input[name=email]")
	p.seeText("You were signed out")
	p.line()
	p.press("Escape") // the list of files stood open
	p.fill("input[name=email]", coordinator)
	p.fill("input[name=password]", demo.Password)
	p.press("Enter")
	p.gone("input[name=email]")
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("1 file, added")`)
}

// TestWhatIsDroppedAgainGoesOn: a browser that has lost the files of an intake, as after its data was cleared, says in the strap that
// it waits for them; dropped again they go on in that intake, with its destination and words, and are nothing new.
func TestWhatIsDroppedAgainGoesOn(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Bring in")
	paths := shots(t, 70, 3, "again %d.jpg")
	p.line(&network.Conditions{UploadThroughput: 2_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.strap("of 3")
	intakes := p.number(`select count(*) from intake`)
	p.do(chromedp.Evaluate[chromedp.Void](`(async () => { for (const d of await indexedDB.databases()) indexedDB.deleteDatabase(d.name) })()`))
	p.open("/b/tansyloft/bring-in?place=everything")
	p.line()
	p.strap("dropped again")
	p.dropFiles(css("[data-sheet]"), paths...)
	p.seeText("of before go on")
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("3 files, all added")`)
	assert.Equal(t, intakes, p.number(`select count(*) from intake`), "no second intake")
}
