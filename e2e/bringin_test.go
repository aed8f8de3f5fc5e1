package e2e

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// strap waits until the strap says how the last intake ended: one that was begun after files were dropped last.
func (p *page) strap(text string) {
	p.t.Helper()
	p.until(fmt.Sprintf(`%s > %d && document.querySelector("[data-intake]").innerText.includes(%s)`, newest, p.intake, quote(text)))
}

// newest is the last intake that the strap knows.
const newest = `Number(document.querySelector("[data-intake]")?.dataset.intake ?? 0)`

// shots makes pictures that are like no others here; shade tells them apart.
func shots(t *testing.T, shade, n int, name string) []string {
	t.Helper()
	list := make([]namedFile, n)
	for i := range list {
		list[i] = namedFile{fmt.Sprintf(name, i+1), mediatest.JPEG(t, 700+shade, 500+i, uint8(shade+i))}
	}
	return files(t, list)
}

// choose picks files in the file dialog of an input.
func (p *page) choose(label string, paths ...string) {
	p.t.Helper()
	p.intake = read[int64](p, newest)
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		found, err := cdp.Call(ctx, t, runtime.Evaluate, runtime.EvaluateParams{Expression: css(`input[aria-label=` + quote(label) + `]`)})
		if err == nil {
			_, err = cdp.Call(ctx, t, dom.SetFileInputFiles, dom.SetFileInputFilesParams{Files: paths, ObjectID: found.Result.ObjectID})
		}
		return chromedp.Void{}, err
	})
}

// uploadsBegun counts the uploads that this page has begun.
const uploadsBegun = `performance.getEntriesByType("resource").filter(e => e.name.includes("/uploads")).length`

// TestAFolderTreeIsDropped brings in two whole folders onto a folder of the cabinet; one of them stands there already.
func TestAFolderTreeIsDropped(t *testing.T) {
	p := signIn(t, coordinator)
	root := t.TempDir()
	for i, name := range []string{"Gale week/Gusty day/a.jpg", "Gale week/Gusty day/Thumbs.db", "Gale week/b.jpg", "Gale week/.hidden/c.jpg",
		"Spare/d.jpg"} {
		path := filepath.Join(root, name)
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o700))
		require.NoError(t, os.WriteFile(path, mediatest.JPEG(t, 611, 400+i, uint8(i*9)), 0o600))
	}
	p.click("New folder")
	p.fill("[role=dialog] textarea", "Weather/Gale week")
	p.press("Enter")
	p.see(`[data-place="Gale week"]`)
	p.dropFiles(css(`[data-place="Weather"]`), filepath.Join(root, "Gale week"), filepath.Join(root, "Spare"))
	p.strap("3 files, all added")
	p.see(`[data-place="Gusty day"]`)
	p.see(`[data-place="Spare"]`)
	assert.Equal(t, 1, read[int](p, `document.querySelectorAll('[data-place="Gale week"]').length`), "joined, not doubled")
	p.until(own("Gale week") + ` === 1`)
	p.until(own("Gusty day") + ` === 1`)
	p.clickOn("[data-intake]")
	p.seeText("2 hidden or system files left out")

	// the same again, through the board: nothing travels
	p.press("Escape")
	p.click("Bring in")
	before := read[int](p, uploadsBegun)
	p.dropFiles(css("[data-sheet]"), filepath.Join(root, "Gale week"), filepath.Join(root, "Spare"))
	p.strap("3 files: 0 added, 3 skipped")
	assert.Equal(t, before, read[int](p, uploadsBegun), "what is here already is told before its bytes travel")
}

// TestDroppingOnACrumbAnAlbumAndPasting brings in where one drops, and where the board says.
func TestDroppingOnACrumbAnAlbumAndPasting(t *testing.T) {
	p := signIn(t, coordinator)
	p.clickOn(`[data-place="2025"] button[title]`)
	p.see(`[data-crumb="Shoots"]`)
	p.dropFiles(css(`[data-crumb="Shoots"]`), shots(t, 10, 1, "crumb %d.jpg")...)
	p.strap("1 file, added")
	p.clickOn("[data-intake]")
	p.seeText("to Shoots")
	p.press("Escape")
	items := `document.querySelector("[data-album] > span.text-dense")?.innerText`
	before := read[string](p, items)
	p.dropFiles(css("[data-album]"), shots(t, 20, 1, "album %d.jpg")...)
	p.until(items + ` === String(` + before + ` + 1)`)

	time.Sleep(600 * time.Millisecond) // no hand drops twice within half a second, which would count as one drop
	p.dropFiles(css(`nav[aria-label="Steps of the work"]`), shots(t, 21, 1, "beside %d.jpg")...)
	p.seeText("Nothing was brought in: files are taken on the sheet")

	p.click("Bring in")
	p.seeText("Destination")
	p.intake = read[int64](p, newest)
	read[any](p, `fetch("/favicon.svg").then(r => r.blob()).then(b => {
		const data = new DataTransfer();
		data.items.add(new File([b], "pasted.svg", { type: "image/svg+xml" }));
		document.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true }));
	}); null`)
	// a page that is closed earlier leaves the file on the way, for all who come after
	p.until(fmt.Sprintf(`%s > %d && /^1 file(, added|: 0 added, 1 skipped)/.test(document.querySelector("[data-intake]").innerText)`,
		newest, p.intake))
	p.clickOn("[data-intake]")
	p.see(`[data-file="pasted.svg"]`)
}

// TestDescribingWhileItRuns titles and tags a batch while it travels over a slow line.
func TestDescribingWhileItRuns(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Bring in")
	p.line(&network.Conditions{UploadThroughput: 1_500, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), shots(t, 30, 4, "walk %d.jpg")...)
	p.clickOn("[data-intake]")
	p.until(`document.querySelectorAll('[data-file]').length === 4`)
	p.strap("of 4")
	rows := func() [][]any {
		return read[[][]any](p, `[...document.querySelectorAll("[data-file]")].map(e => [e.dataset.file, e.offsetTop])`)
	}
	placed := rows()
	p.clickOn(`[data-file="walk 2.jpg"] input`)
	p.click("Describe 1…")
	p.see("[role=dialog] form")
	p.fill("[role=dialog] form input", "The one with the heron")
	p.press("Enter")
	p.gone("[role=dialog] form")
	p.clickOn(`[data-file="walk 2.jpg"] input`)
	p.click("Describe all…")
	p.see("[role=dialog] form")
	p.accessible("describing an intake")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelectorAll("[role=dialog] form input")[1].focus()`))
	p.typeText("gusty, grey sky")
	p.press("Enter")
	p.gone("[role=dialog] form")
	p.click("Pause")
	p.strap("paused")
	p.click("Go on")
	p.line()
	p.strap("4 files, all added")
	assert.Equal(t, placed, rows(), "rows keep their place, whatever becomes of their files")
	p.press("Escape")
	p.open("/b/tansyloft/describe?place=everything" + filter(words("with the heron")))
	p.see("[data-sheet] [data-id] img")
	p.clickOn("[data-sheet] [data-id]")
	p.until(`document.querySelector("[data-field=title] input")?.value === "The one with the heron"`)
	p.seeText("grey sky")
}

// TestALostConnection takes the line away in the middle of an upload and gives it back.
func TestALostConnection(t *testing.T) {
	p := signIn(t, coordinator)
	paths := files(t, []namedFile{{"tunnel.mp4", append(mediatest.Clip(t, 176, 120), make([]byte, 18<<20)...)}})
	p.line(&network.Conditions{UploadThroughput: 4_000_000, DownloadThroughput: -1})
	p.dropFiles(css("[data-sheet]"), paths...)
	p.clickOn("[data-intake]")
	p.until(`/sending [1-9]\S* MB/.test(document.querySelector('[data-file="tunnel.mp4"]')?.innerText)`)
	p.line(&network.Conditions{Offline: true, UploadThroughput: -1, DownloadThroughput: -1})
	p.until(`(fetch("/api/session").catch(() => window.lineGone = true), window.lineGone)`)
	p.line()
	p.strap("1 file, added")
}

// TestDecidingAboutDuplicates keeps a duplicate after all, and takes that back.
func TestDecidingAboutDuplicates(t *testing.T) {
	p := signIn(t, coordinator)
	paths := shots(t, 60, 1, "twice %d.jpg")
	p.dropFiles(css("[data-sheet]"), paths...)
	p.strap("1 file, added")
	p.dropFiles(css("[data-sheet]"), paths...)
	p.strap("1 file: 0 added, 1 skipped")
	p.clickOn("[data-intake]")
	p.click("Keep both: twice 1.jpg")
	p.strap("1 file, added")
	p.see(`[data-file="twice 1.jpg"][data-state="added"]`)
	p.click("Skip after all: twice 1.jpg")
	p.strap("1 file: 0 added, 1 skipped")
	p.click("Make it a new version: twice 1.jpg")
	p.strap("1 new version")
	p.accessible("deciding about duplicates")
	p.click("Undo this intake")
	p.seeText("Undone: brought in 1 file")
}

// watching watches a folder that holds files already: it is asked what becomes of those, and the dialog says that it is watched
// and ends it.
func watching(p *page) {
	p.t.Helper()
	p.click("From the server…")
	p.click("Autumn proofs")
	p.click("Watch this folder…")
	p.seeText("7 files are here already")
	p.accessible("what is there already")
	p.click("Only what lands from now on")
	p.seeText("This folder is watched")
	p.click("Stop watching")
	p.until(`!document.querySelector("[data-watched]")`)
	p.press("Escape")
	p.gone("[role=dialog]")
}

// TestFromTheServerAndAnOutlet brings in from a folder on the server and from the stand-in's page.
func TestFromTheServerAndAnOutlet(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Bring in")
	p.click("From the server…")
	p.click("Autumn proofs")
	p.seeText("7 files in it and below it")
	p.accessible("a folder on the server")
	p.click("Bring in 7 files")
	p.strap("7 files, all added")
	watching(p)
	p.click("From an outlet…")
	p.choice("Outlet", "Tansyloft Kites on Windward")
	p.seeText("Also the one that somebody else posted there")
	p.see("[data-media] img")
	p.until(`[...document.images].every(i => i.complete && i.naturalWidth > 0)`)
	p.accessible("an outlet")
	p.click("Also the one that somebody else posted there")
	p.click("Bring in 5 pictures")
	p.strap("5 files, all added")
	p.click("From an outlet…")
	p.choice("Outlet", "Tansyloft Kites on Windward")
	p.until(`[...document.querySelectorAll("[data-media]")].length === 5
		&& [...document.querySelectorAll("[data-media]")].every(m => m.innerText.includes("here already"))`)
	p.press("Escape")
	p.open("/b/tansyloft/file?place=everything" + filter(`{"match":"any","rules":[{"field":"source","names":["outlet"]}]}`))
	p.until(`document.querySelector("[data-count]").innerText === "5 items"`)
	p.seeText("from an outlet")
}

// TestLikelyTwins shows the same photograph in two sizes side by side.
func TestLikelyTwins(t *testing.T) {
	p := signIn(t, coordinator)
	p.click("Bring in")
	large := mediatest.Tagged(t, mediatest.JPEG(t, 800, 801, 222), "-Comment=first")
	p.dropFiles(css("[data-sheet]"), files(t, []namedFile{{"print.jpg", large}})...)
	p.strap("1 file, added")
	p.dropFiles(css("[data-sheet]"), files(t, []namedFile{{"print for web.jpg", mediatest.JPEG(t, 400, 400, 222)}})...)
	p.strap("1 file, added")
	p.clickOn("[data-intake]")
	p.see(`[data-file="print for web.jpg"]`)
	p.click("Compare with its possible duplicate: print for web.jpg")
	p.see("[data-twins] img")
	p.seeText("smaller: 400 × 400 instead of")
	p.accessible("possible duplicates")
	p.click("Put the later one in the bin")
	p.seeText("Put “print for web.jpg” in the bin")
}

// TestWhatMayComeIn sets the limits of the brand as a steward.
func TestWhatMayComeIn(t *testing.T) {
	p := signIn(t, "greta@tansyloft.example")
	p.open("/b/tansyloft/arrivals")
	p.seeText("Folders on the server")
	p.seeText("Studio disk")
	p.accessible("what may come in")
	p.click("Other files, kept as they are")
	p.seeText("Saved")
	p.open("/b/tansyloft/bring-in")
	p.seeText("other files as they are")
	p.dropFiles(css("[data-sheet]"), files(t, []namedFile{{"price list.csv", []byte("kite,price\nmoth,40\n")}})...)
	p.strap("1 file, added")
	p.clickOn("[data-intake]")
	p.seeText("kept as a plain file")
	p.press("Escape")
	p.open("/b/tansyloft/arrivals")
	p.click("Other files, kept as they are")
	p.seeText("Saved")
	p.do(chromedp.Evaluate[chromedp.Void](`document.querySelector('[aria-label="Folders on the server"] form input').focus()`))
	p.typeText("/etc")
	p.press("Enter")
	p.seeText("not open to the application")
}

// TestBringingInOnAPhone picks files from the camera roll at phone width.
func TestBringingInOnAPhone(t *testing.T) {
	p := signIn(t, coordinator)
	p.do(chromedp.EmulateViewport(390, 844))
	p.click("Bring in")
	p.seeText("Take a picture")
	p.accessible("bringing in on a phone")
	p.choose("Files to bring in", shots(t, 90, 2, "phone %d.jpg")...)
	p.strap("2 files, all added")
	p.clickAt(spot{195, 60}) // beside the board, which goes down
	p.clickOn("[data-intake]")
	p.see(`[data-file="phone 1.jpg"][data-state="added"]`)
	assert.LessOrEqual(t, read[int](p, `document.documentElement.scrollWidth`), 390)
	p.accessible("what came of every file on a phone")
}

// TestATurnedCoverIsNotTheOldOne turns the picture that is the cover of an album: the album shows it upright, from another
// address.
func TestATurnedCoverIsNotTheOldOne(t *testing.T) {
	p := signIn(t, coordinator)
	p.see("[data-album] img")
	p.dropFiles(css("[data-album]"), shots(t, 140, 1, "cover %d.jpg")...)
	p.strap("1 file, added")
	p.clickOn("[data-album] button")
	var cover int64
	require.NoError(t, storetest.SQL(p.database).Get(&cover, `select id from asset where file_name = 'cover 1.jpg'`))
	p.clickAt(p.middle(item(cover)))
	p.click("More")
	p.click("Make it the cover")
	shown := `(i => i?.complete && i.naturalWidth > 0 ? [i.getAttribute("src"), i.naturalWidth > i.naturalHeight] : ["", false])
		(document.querySelector("[data-album] img"))`
	address := read[string](p, css("[data-album] img")+`.getAttribute("src")`)
	p.until(shown + `[1] === true`)
	p.clickOn("[data-intake]")
	p.click("Describe all…")
	p.see("[role=dialog] select")
	p.do(chromedp.Evaluate[chromedp.Void](`[...document.querySelectorAll("[role=dialog] select")].at(-1).focus()`))
	p.press("ArrowDown")
	p.click("Describe 1 file")
	p.gone("[role=dialog] form")
	p.until(shown + `[0] !== "" && ` + shown + `[1] === false`)
	assert.NotEqual(t, address, read[string](p, css("[data-album] img")+`.getAttribute("src")`))
}
