package e2e

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
)

const coordinator = "chioma@tansyloft.example"

// TestTheWholeWay goes from files on a computer to a client's gallery, once.
func TestTheWholeWay(t *testing.T) {
	p := newVisitor(t)
	signInByHand(p, coordinator, demo.Password)
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	p.see(`[data-board]`)
	p.see(`[data-strap]`)
	p.accessible("the library")

	files := batch(t)
	bringInBatch(p, files)
	ids := checkArrivals(p)
	fileThem(p, ids)
	describeThem(p, ids)
	chooseTwo(p, ids)
	gather(p, ids)
	takeAsZip(p)
	link := openGallery(p)
	visit(t, link)
	closeGallery(p, link)

	p.click("CO: Chioma Oxendell, coordinator")
	p.click("Sign out")
	p.see("input[name=email]")
	p.accessible("sign-in")
}

func bringInBatch(p *page, files []string) {
	p.t.Helper()
	p.click("Bring in")
	p.seeText("Just in")
	p.accessible("bring in")
	p.dropFiles(css("[data-sheet]"), files...)
	p.see("[data-intake]")
	p.click("Describe") // one works on elsewhere meanwhile
	p.until(`document.querySelector("[data-intake]")?.innerText.includes("7 files: 6 added, 1 refused")`)
	p.clickOn("[data-intake]")
	p.see(`[data-file="shopping-list.jpg"][data-state="refused"]`)
	p.seeText("plain text")
	p.accessible("what came of every file")
	p.press("Escape")
	p.click("Bring in")
	p.click("7 files: 6 added")
	p.until(`document.querySelectorAll("[data-sheet] [data-id] img").length === 6`)
}

// checkArrivals looks at the six that arrived and returns their ids by file name.
func checkArrivals(p *page) map[string]int64 {
	p.t.Helper()
	type row struct {
		ID            int64
		FileName      string
		Width, Height int
		Kind          string
	}
	rows := read[[]row](p, `(() => { const r = new XMLHttpRequest(); r.open("POST", "/api/brands/tansyloft/rows",
		false); r.setRequestHeader("Content-Type", "application/json");
		r.send(JSON.stringify({ ids: [...document.querySelectorAll("[data-sheet] [data-id]")].map(e => Number(e.dataset.id)) }));
		return JSON.parse(r.responseText).map(a => ({ ID: a.id, FileName: a.fileName, Width: a.width, Height: a.height,
		Kind: a.kind })); })()`)
	ids := map[string]int64{}
	for _, r := range rows {
		ids[r.FileName] = r.ID
		switch r.FileName {
		case "harbour-turned.jpg":
			assert.Equal(p.t, [2]int{600, 900}, [2]int{r.Width, r.Height}, "upright")
		case "harbour-walk.mp4":
			assert.Equal(p.t, "clip", r.Kind)
		}
	}
	require.Len(p.t, ids, 6)
	// the turned one is shown upright: its bright quarter is on the upper right
	p.until(`document.querySelector('` + fmt.Sprintf(`[data-id="%d"] img`, ids["harbour-turned.jpg"]) + `')?.naturalHeight > 0`)
	size := read[[2]int](p, `(i => [i.naturalWidth, i.naturalHeight])(document.querySelector('`+fmt.Sprintf(`[data-id="%d"] img`,
		ids["harbour-turned.jpg"])+`'))`)
	assert.Less(p.t, size[0], size[1])
	bright := read[bool](p, `(i => { const c = document.createElement("canvas"); c.width = i.naturalWidth; c.height = i.naturalHeight;
		const x = c.getContext("2d"); x.drawImage(i, 0, 0);
		const at = (u, v) => x.getImageData(u * c.width | 0, v * c.height | 0, 1, 1).data; return at(0.75, 0.25)[0] > 230 && at(0.25,
		0.25)[0] < 230; })(document.querySelector('`+fmt.Sprintf(`[data-id="%d"] img`, ids["harbour-turned.jpg"])+`'))`)
	assert.True(p.t, bright, "turned the right way")

	p.click("Describe")
	p.clickAt(p.middle(item(ids["harbour-1.jpg"])))
	p.seeText("1 November 2026 at 09:30")
	p.seeText("Ostrel M2")
	p.seeText("900 × 600 pixels")
	return ids
}

func order(ids map[string]int64) []int64 {
	var out []int64
	for _, name := range []string{"harbour-1.jpg", "harbour-2.jpg", "harbour-3.jpg", "harbour-turned.jpg", "gull-cut-out.png",
		"harbour-walk.mp4"} {
		out = append(out, ids[name])
	}
	return out
}

func own(folder string) string {
	return `Number(document.querySelector('[data-place="` + folder + `"] [data-own]')?.dataset.own ?? -1)`
}

func fileThem(p *page, ids map[string]int64) {
	p.t.Helper()
	p.click("File")
	p.click("New folder")
	p.fill("[role=dialog] textarea", "Harbour/First walk")
	p.click("Make the folder")
	p.see(`[data-place="First walk"]`)
	p.accessible("the cabinet")

	second := p.alongside()
	second.open("/b/tansyloft/file?place=everything")
	second.see(`[data-place="First walk"]`)

	sheet := read[[]int64](p, `[...document.querySelectorAll("[data-sheet] [data-id]")].map(e => Number(e.dataset.id))`)
	require.Len(p.t, sheet, 6)
	p.clickAt(p.middle(item(sheet[0])))
	p.clickAt(p.middle(item(sheet[3])), chromedp.ModifierShift)
	p.see(`[data-selected="4"]`)
	p.clickAt(p.middle(item(sheet[5])), chromedp.ModifierCtrl)
	p.see(`[data-selected="5"]`)

	// on the way the drag says how many it carries
	read[any](p, `window.dragSaid = ""; new MutationObserver(m => m.forEach(r => r.addedNodes.forEach(n =>
		{ if (/^(Move|Carry) \d/.test(n.textContent)) window.dragSaid = n.textContent;
			}))).observe(document.body, { childList: true, subtree: true }); null`)
	p.drag(item(sheet[0]), css(`[data-place="First walk"]`), 0.5)
	p.seeText("Moved 5 items to First walk")
	assert.Equal(p.t, "Move 5", read[string](p, `window.dragSaid`))
	p.until(own("First walk") + ` === 5`)
	second.until(own("First walk") + ` === 5`)
	p.undo("Moved 5 items to First walk")
	p.until(own("First walk") + ` === 0`)
	second.until(own("First walk") + ` === 0`)
	p.drag(item(sheet[0]), css(`[data-place="First walk"]`), 0.5)
	p.until(own("First walk") + ` === 5`)

	// the twin of dragging, by keyboard
	p.clickAt(p.middle(item(sheet[4])))
	p.press("m")
	p.see("[role=dialog] input")
	p.accessible("move to")
	p.typeText("first walk")
	p.press("Enter")
	p.until(own("First walk") + ` === 6`)
	_ = ids
}

func describeThem(p *page, ids map[string]int64) {
	p.t.Helper()
	all := order(ids)
	p.click("Describe")
	p.clickAt(p.middle(item(all[0])))
	p.clickAt(p.middle(item(all[1])), chromedp.ModifierCtrl)
	p.clickAt(p.middle(item(all[2])), chromedp.ModifierCtrl)
	p.see(`[data-selected="3"]`)
	p.clickOn("[data-tag-entry]")
	p.typeText("Harbour, Autumn 20")
	p.see("[role=option][aria-selected=true]")
	offered := read[string](p, `document.querySelector("[role=combobox] ~ ul [aria-selected=true] span").innerText`)
	require.Contains(p.t, offered, "Autumn 20")
	p.press("Tab")
	p.until(`document.querySelector("[data-tag-entry]").value.startsWith("Harbour, ` + offered + `")`)
	p.press("Enter")
	p.seeText("Tagged 3 items")
	p.until(`[...document.querySelectorAll("ul[aria-label='Tags on the selection'] li")].map(e => e.innerText.trim()).sort()
		.join() === ["Harbour", ` + quote(offered) + `].sort().join()`)
	p.accessible("describing several")

	p.clickAt(p.middle(item(all[0])))
	p.see("[data-field=title]")
	p.fill("[data-field=title] input", "The harbour before breakfast")
	p.press("Tab")
	p.typeText("A harbour in yellow morning light")
	p.press("Tab")
	p.until(`document.querySelector("[data-field=alt] label").innerText.includes("Saved")`)
	p.accessible("the card")
	p.open("/b/tansyloft/describe?place=everything" + filter(words("before breakfast")))
	p.until(`document.querySelector("[data-count]")?.innerText === "1 item"`)
	p.clickAt(p.middle(item(all[0])))
	p.until(`document.querySelector("[data-field=title] input")?.value === "The harbour before breakfast"`)
	p.until(`document.querySelector("[data-field=alt] textarea")?.value === "A harbour in yellow morning light"`)
}

func chooseTwo(p *page, ids map[string]int64) {
	p.t.Helper()
	all := order(ids)
	p.open("/b/tansyloft/choose?place=everything&sort=added&descending=true")
	p.clickAt(p.middle(item(all[0])))
	p.press("3")
	p.seeText("Gave 1 item 3 ★")
	p.clickAt(p.middle(item(all[1])))
	p.click("Give 3 stars")
	for _, id := range all[:2] {
		p.until(item(id) + `?.innerText.includes("3 ★")`)
	}
	p.accessible("choose")
	p.clickAt(p.middle(item(all[0])))
	p.press("Enter")
	p.see("[data-big-view] img")
	p.accessible("the big view")
	p.press("k")
	p.seeText("Made 1 item a keeper")
	p.press("Escape")
	p.gone("[data-big-view]")
}

func gather(p *page, ids map[string]int64) {
	p.t.Helper()
	all := order(ids)
	p.click("File")
	p.clickAt(p.middle(item(all[0])))
	for _, id := range all[1:4] {
		p.clickAt(p.middle(item(id)), chromedp.ModifierCtrl)
	}
	p.press("g")
	p.see("[role=dialog] input")
	p.typeText("Harbour picks")
	p.accessible("add to an album")
	p.click("Make “Harbour picks” with 4 items")
	p.click("Open it")
	p.until(`document.querySelectorAll("[data-sheet] [data-id] img").length === 4`)
	before := read[[]int64](p, `[...document.querySelectorAll("[data-sheet] [data-id]")].map(e => Number(e.dataset.id))`)
	p.clickAt(p.middle(item(before[3]))) // alone: all four are still selected
	p.see(`[data-selected="1"]`)
	p.drag(item(before[3]), item(before[0]), 0.2)
	want := []int64{before[3], before[0], before[1], before[2]}
	inOrder := `[...document.querySelectorAll("[data-sheet] [data-id]")].sort((a,
		b) => a.offsetTop - b.offsetTop || a.offsetLeft - b.offsetLeft).map(e => e.dataset.id).join()`
	is := inOrder + ` === ` + quote(strings.Trim(strings.ReplaceAll(fmt.Sprint(want), " ", ","), "[]"))
	p.until(is)
	p.do(chromedp.Reload())
	p.see("[data-sheet] [data-id] img")
	p.until(is)
}

func takeAsZip(p *page) {
	p.t.Helper()
	p.press("a", chromedp.ModifierCtrl)
	p.see(`[data-selected="4"]`)
	p.press("s")
	p.see(`[data-satchel="4"]`)
	p.clickOn("[data-satchel]")
	p.see("[data-satchel-strip] li img")
	p.accessible("the satchel")
	p.clickOn("[data-satchel]")
	p.click("Send out")
	p.seeText("Web 1200")
	p.fill("fieldset + div input", "{date} {name} {width}")
	p.until(`document.querySelector("ul[aria-label='Files as they will be made']")?.innerText.includes("2026-11-04 harbour-turned 600.jpg")`)
	p.accessible("send out")
	p.click("Take 4 items as a ZIP")
	p.see(`[data-download="ready"] a`)

	archive := fetchAs(p, read[string](p, `document.querySelector('[data-download="ready"] a').href`))
	z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	require.NoError(p.t, err)
	sizes := map[string][2]int{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(p.t, err)
		data, err := io.ReadAll(r)
		require.NoError(p.t, err)
		config, err := jpeg.DecodeConfig(bytes.NewReader(data))
		require.NoError(p.t, err, f.Name)
		sizes[f.Name] = [2]int{config.Width, config.Height}
	}
	assert.Equal(p.t, map[string][2]int{
		"2026-11-01 harbour-1 900.jpg": {900, 600}, "2026-11-02 harbour-2 900.jpg": {900, 600}, "2026-11-03 harbour-3 900.jpg": {900, 600},
		"2026-11-04 harbour-turned 600.jpg": {600, 900},
	}, sizes, "never enlarged, upright, all there")
}

// fetchAs gets an address with the session of the tab.
func fetchAs(p *page, address string) []byte {
	p.t.Helper()
	cookies, err := chromedp.Run(p.ctx, func(ctx context.Context, t *chromedp.Target) ([]*network.Cookie, error) {
		result, err := cdp.Call(ctx, t, network.GetCookies, network.GetCookiesParams{})
		return result.Cookies, err
	})
	require.NoError(p.t, err)
	request, err := http.NewRequest(http.MethodGet, address, nil)
	require.NoError(p.t, err)
	for _, c := range cookies {
		request.AddCookie(&http.Cookie{Name: c.Name, Value: c.Value})
	}
	response, err := http.DefaultClient.Do(request)
	require.NoError(p.t, err)
	defer func() { _ = response.Body.Close() }()
	require.Equal(p.t, http.StatusOK, response.StatusCode)
	data, err := io.ReadAll(response.Body)
	require.NoError(p.t, err)
	return data
}

const guestPassword = "gulls-at-nine"

func openGallery(p *page) string {
	p.t.Helper()
	p.click("New gallery")
	p.see("[role=dialog] input")
	p.fill("[role=dialog] input", "Harbour, for the client")
	p.accessible("new gallery")
	p.click("Make a gallery of 1 place")
	gallery := `[data-gallery="Harbour, for the client"]`
	p.see(gallery)
	p.accessible("galleries")
	read[any](p, `[...document.querySelectorAll("article label")].find(l => l.innerText.startsWith("Password"))
		.parentElement.querySelector("input").setAttribute("data-password", "")`)
	p.fill("[data-password]", guestPassword)
	p.click("Set")
	p.seeText("Remove the password")
	code := read[string](p, `(() => { const r = new XMLHttpRequest(); r.open("GET", "/api/brands/tansyloft/galleries",
		false); r.send(); return JSON.parse(r.responseText).find(g => g.title === "Harbour, for the client").code; })()`)
	assert.Equal(p.t, http.StatusNotFound, status(p.t, http.DefaultClient, "/api/public/galleries/"+code), "invisible until opened")

	p.clickOn(gallery + ` button[aria-label^="Choose the cover"]`)
	p.click("Make The harbour before breakfast the cover")
	p.gone("[role=dialog]")
	p.click("Open…")
	p.seeText("Anyone with the link and the password will see 4 items")
	p.click("Open the gallery")
	p.see(gallery + " [data-link]")
	return read[string](p, `document.querySelector('`+gallery+` [data-link]').getAttribute("href")`)
}

func status(t *testing.T, client *http.Client, path string) int {
	t.Helper()
	response, err := client.Get(at(t).site + path)
	require.NoError(t, err)
	defer func() { _ = response.Body.Close() }()
	_, err = io.Copy(io.Discard, response.Body)
	require.NoError(t, err)
	return response.StatusCode
}

func visit(t *testing.T, link string) {
	t.Helper()
	guest := newVisitor(t)
	guest.open(link[len(guest.site):])
	guest.see("input[name=password]")
	guest.accessible("a locked gallery")
	guest.fill("input[name=password]", "wrong guess")
	guest.press("Enter")
	guest.seeText("That is not the password")
	guest.fill("input[name=password]", guestPassword)
	guest.press("Enter")
	guest.until(`document.querySelectorAll("[data-pictures] img").length === 4`)
	guest.accessible("an open gallery")

	guest.clickOn("[data-pictures] li button")
	guest.see("[data-guest-big] img")
	guest.accessible("the guest's big view")
	first := read[string](guest, `document.querySelector("[data-guest-big]").dataset.guestBig`)
	guest.press("ArrowRight")
	guest.until(`document.querySelector("[data-guest-big]").dataset.guestBig !== ` + quote(first))
	guest.press("ArrowLeft")
	guest.until(`document.querySelector("[data-guest-big]").dataset.guestBig === ` + quote(first))
	swipeLeft(guest)
	guest.until(`document.querySelector("[data-guest-big]").dataset.guestBig !== ` + quote(first))

	guest.until(`document.querySelector("[data-guest-big] img").naturalWidth > 0`)
	want := [2]int{900, 600}
	if read[bool](guest, `(i => i.naturalHeight > i.naturalWidth)(document.querySelector("[data-guest-big] img"))`) {
		want = [2]int{600, 900} // the turned one
	}
	one := fetchAs(guest, read[string](guest, `document.querySelector("[data-take=one]").href`))
	config, err := jpeg.DecodeConfig(bytes.NewReader(one))
	require.NoError(t, err)
	assert.Equal(t, want, [2]int{config.Width, config.Height}, "the size that was allowed")
	guest.press("Escape")
	guest.gone("[data-guest-big]")
	all := fetchAs(guest, read[string](guest, `document.querySelector("[data-take=all]").href`))
	z, err := zip.NewReader(bytes.NewReader(all), int64(len(all)))
	require.NoError(t, err)
	assert.Len(t, z.File, 4)

	address := read[string](guest, `new URL(document.querySelector("[data-pictures] img").src).pathname`)
	original := address[:strings.LastIndex(address, "/")] + "/original"
	assert.Equal(t, http.StatusNotFound, read[int](guest, `(() => { const r = new XMLHttpRequest(); r.open("GET", `+quote(original)+`,
		false); r.send(); return r.status; })()`), "originals cannot be reached")
	assert.Equal(t, http.StatusForbidden, status(t, http.DefaultClient, address), "without the password nothing is shown")
	guessing(t, link)
	guest.do(chromedp.EmulateViewport(390, 844))
	guest.until(`document.documentElement.scrollWidth <= 390`)
}

func swipeLeft(p *page) {
	p.t.Helper()
	touch := func(kind input.DispatchTouchEventType, points ...*input.TouchPoint) {
		p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
			_, err := cdp.Call(ctx, t, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points})
			return chromedp.Void{}, err
		})
	}
	touch(input.DispatchTouchEventTypeTouchStart, &input.TouchPoint{X: 700, Y: 400})
	touch(input.DispatchTouchEventTypeTouchMove, &input.TouchPoint{X: 500, Y: 400})
	touch(input.DispatchTouchEventTypeTouchEnd)
}

// guessing tries passwords until it is told to wait.
func guessing(t *testing.T, link string) {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar}
	code := link[strings.LastIndex(link, "/")+1:]
	last := 0
	for range 12 {
		response, err := client.Post(at(t).site+"/api/public/galleries/"+code+"/unlock", "application/json",
			strings.NewReader(`{"password":"guess"}`))
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		last = response.StatusCode
	}
	assert.Equal(t, http.StatusTooManyRequests, last)
}

func closeGallery(p *page, link string) {
	p.t.Helper()
	p.clickAt(p.middle(`[...document.querySelectorAll('[data-gallery="Harbour, for the client"] button')].find(b =>
		b.innerText === "Close the gallery")`))
	p.seeText("Its link says so")
	guest := newVisitor(p.t)
	guest.open(link[len(guest.site):])
	guest.seeText("This gallery is closed")
	guest.accessible("a closed gallery")
}

// TestAReviewerLooksAndStars shows what a reviewer is offered, and that the server refuses the rest.
func TestAReviewerLooksAndStars(t *testing.T) {
	p := signIn(t, "hugo@tansyloft.example")
	steps := read[[]string](p, `[...document.querySelectorAll("nav[aria-label='Steps of the work'] button")].map(b =>
		b.firstChild.textContent)`)
	assert.Equal(t, []string{"File", "Describe", "Choose"}, steps)
	p.clickOn("[data-sheet] [data-id]:nth-child(5)")
	p.see(`[data-selected="1"]`)
	offered := read[string](p, `document.querySelector("[data-board]").innerText +
		document.querySelector("[data-strap]").innerText`)
	for _, word := range []string{"Move 1", "bin\n", "New folder", "Add 1"} {
		assert.NotContains(t, offered, word)
	}
	p.click("Choose")
	p.press("2")
	p.seeText("2 ★")
	p.undo("2 ★")
	p.accessible("what a reviewer sees")
	post := func(path, body string) int {
		return read[int](p, `(() => { const r = new XMLHttpRequest(); r.open("POST", "/api/brands/tansyloft/`+path+`",
			false); r.setRequestHeader("Content-Type", "application/json"); r.send(`+quote(body)+`); return r.status; })()`)
	}
	assert.Equal(t, http.StatusForbidden, post("move", `{"selection":{"ids":[1]}}`))
	assert.Equal(t, http.StatusForbidden, post("bin", `{"ids":[1]}`))
	assert.Equal(t, http.StatusForbidden, post("downloads", `{"selection":{"ids":[1]},"outputSizes":[1]}`))
	assert.Equal(t, http.StatusForbidden, post("galleries", `{"kind":"client","chapters":[{"album":1,"below":false}]}`))
}
