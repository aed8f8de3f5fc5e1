package e2e

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/http/httputil"
	"net/url"
	"strings"
	"testing"

	"brightsatchel/internal/store/storetest"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// wire is a network between a screen and the server, which can be cut.
type wire struct {
	t       *testing.T
	address string
	forward http.Handler
	server  *http.Server
}

// wireTo lays a wire to a server.
func wireTo(t *testing.T, site string) *wire {
	t.Helper()
	to, err := url.Parse(site)
	require.NoError(t, err)
	w := &wire{t: t, address: "127.0.0.1:0", forward: httputil.NewSingleHostReverseProxy(to)}
	w.join()
	t.Cleanup(w.cut)
	return w
}

// join has the screen reach the server again, at the same address.
func (w *wire) join() {
	w.t.Helper()
	l, err := net.Listen("tcp", w.address)
	require.NoError(w.t, err)
	w.address = l.Addr().String()
	w.server = &http.Server{Handler: w.forward}
	go func() { _ = w.server.Serve(l) }()
}

// cut ends every connection.
func (w *wire) cut() { _ = w.server.Close() }

// screen opens what a screen in a shop opens, in a browser of its own.
func screen(t *testing.T, p *page, address string) *page {
	t.Helper()
	browser, end, err := openBrowser(context.Background())
	require.NoError(t, err)
	t.Cleanup(end)
	ctx, endTab := chromedp.NewContext(browser)
	t.Cleanup(endTab)
	q := &page{lane: p.lane, t: t, ctx: ctx}
	q.do(chromedp.EmulateViewport(1280, 720), chromedp.Navigate(address))
	return q
}

// pictured is an album of a handful of pictures.
func (p *page) pictured() string {
	p.t.Helper()
	return p.text(`select name from album where rule is null and (select count(*) from album_item i
		join asset a on a.id = i.asset_id where i.album_id = album.id and a.kind = 'picture' and a.binned_at is null
			and a.rights_until is null) between 4 and 30 order by id limit 1`)
}

// pair pairs a screen that shows its code, and has it show an album.
func (p *page) pair(shop *page, name, album string) {
	p.t.Helper()
	shop.see(".pairing .code")
	p.open("/b/tansyloft/screens")
	p.click("Pair a screen")
	p.see("[data-pair]")
	p.fill(`[data-pair] input[placeholder^=K]`, strings.ToLower(read[string](shop, `document.querySelector(".pairing .code").innerText`)))
	p.fill(`[data-pair] input[placeholder^=Shop]`, name)
	p.click("Pair it")
	p.gone("[data-pair]")
	p.see(fmt.Sprintf(`[data-screen=%q]`, name))
	shop.gone(".pairing")
	p.choice("Album", album)
	p.see("[data-screen-album]")
	p.accessible("showing an album on a screen")
	p.click("Show it there")
	shop.see("#screen figure")
}

// text asks the database for a text.
func (p *page) text(question string) (text string) {
	p.t.Helper()
	require.NoError(p.t, p.database.GetContext(context.Background(), &text, question))
	return text
}

// TestAScreenInTheShop is paired, shows an album, is steered from afar, goes on without a network, and comes back.
func TestAScreenInTheShop(t *testing.T) {
	p := signIn(t, coordinator)
	w := wireTo(t, p.site)
	shop := screen(t, p, "http://"+w.address+"/screen")
	shop.see(".pairing .code")
	shop.accessible("a screen with its code")
	code := read[string](shop, `document.querySelector(".pairing .code").innerText`)

	p.open("/b/tansyloft/screens")
	p.seeText("shows a code of six characters")
	p.accessible("screens, empty")
	p.click("Pair a screen")
	p.see("[data-pair]")
	p.fill(`[data-pair] input[placeholder^=K]`, "BBBBBB")
	p.fill(`[data-pair] input[placeholder^=Shop]`, "Shop window")
	p.click("Pair it")
	p.seeText("No screen shows that code now.")
	p.press("Escape")
	p.gone("[data-pair]")
	p.pair(shop, "Shop window", p.pictured())
	shop.see("#screen figure img")
	assert.Equal(t, 0, p.number(`select count(*) from screen_pairing`), "a code is taken once")
	p.see(`[data-screen="Shop window"] img`) // what it shows is seen here
	p.seeText("here now, 1280 × 720, wide")
	p.accessible("screens")

	showing := func() string { return `[...document.querySelectorAll("#screen figure")].at(-1)?.dataset.item` }
	p.click("Pause")
	shop.until(`document.getElementById("screen").dataset.state === "paused" && document.querySelectorAll("#screen figure").length === 1`)
	first := read[string](shop, showing())
	p.click("The next picture")
	shop.until(showing() + ` !== ` + quote(first))
	p.click("The picture before")
	shop.until(showing() + ` === ` + quote(first))
	// what is shown stays, also where the one before it was still fading in when it was taken off
	read[any](shop, `window.fades = []; (was => {
		Element.prototype.animate = function (...how) {
			const fade = was.apply(this, how);
			fade.playbackRate = 0.01;
			fades.push(fade);
			return fade;
		};
	})(Element.prototype.animate)`)
	p.click("The next picture")
	shop.until(`fades.length > 0`)
	p.click("Show nothing")
	shop.gone("#screen figure")
	p.click("Play")
	shop.see("#screen figure img")
	read[any](shop, `fades.forEach(f => f.playbackRate = 1)`)
	shop.until(`fades.every(f => f.playState === "finished")`)
	assert.Equal(t, 1, read[int](shop, `document.querySelectorAll("#screen figure").length`))
	// held upright, the pictures are cut anew
	shop.do(chromedp.EmulateViewport(720, 1280))
	shop.until(`getComputedStyle(document.querySelector("#screen figure img")).objectFit.length > 0`)
	p.seeText("720 × 1280, upright")

	p.hours(shop)

	// All of it is stored there: it goes on without a network, also after it was switched off and on.
	p.until(`(m => m && +m[1] >= 4)(document.querySelector("[data-screen]").innerText.match(/(\d+) of its pictures are stored/))`)
	w.cut()
	shop.until(`document.getElementById("screen").dataset.network === "gone"`)
	shop.do(chromedp.Navigate("http://" + w.address + "/screen"))
	shop.see("#screen figure img")
	shop.until(`document.querySelector("#screen figure img").naturalWidth > 0`)
	p.click("Show nothing") // it is told when it is back
	w.join()
	shop.gone("#screen figure")
	p.click("Play")
	shop.see("#screen figure img")

	p.clickOn(`[data-screen="Shop window"] button[aria-haspopup=menu]`)
	p.click("End the pairing")
	shop.see(".pairing .code")
	assert.NotEqual(t, code, read[string](shop, `document.querySelector(".pairing .code").innerText`))
}

// hours are typed key by key, given up in the middle, and set: outside of them the screen is dark.
func (p *page) hours(shop *page) {
	p.t.Helper()
	hour := "01"
	if p.text(`select to_char(now() at time zone (select settings->>'zone' from screen limit 1), 'HH24')`) == hour {
		hour = "03" // not now
	}
	typed := func(label, keys string) {
		field := `[...document.querySelectorAll("[data-screen] label")].find(l => l.innerText.trim() === "` + label + `").control`
		read[any](p, field+`.focus()`)
		p.typeText(keys) // what the field does not ask for, as "a.m.", it passes over
	}
	p.clickOn("[data-screen] summary")
	p.accessible("how a screen shows what it shows")
	typed("From", hour+"05a")
	typed("until", hour+"06a")
	p.seeText("Set these hours")
	p.press("Escape")
	typed("From", "")
	p.press("Escape")
	p.until(`!document.body.innerText.includes("Set these hours")`)
	typed("From", hour+"05a")
	typed("until", hour+"06a")
	p.click("Set these hours")
	shop.gone("#screen figure")
	assert.Equal(p.t, hour+":05 "+hour+":06", p.text(`select settings->>'from' || ' ' || (settings->>'until') from screen limit 1`))
	p.click("Always")
	shop.see("#screen figure img")
}

// TestAClipPlaysOnAScreen from its beginning to its end, then the next one comes; also from what is stored there.
func TestAClipPlaysOnAScreen(t *testing.T) {
	p := signIn(t, coordinator)
	_, err := storetest.SQL(p.database).
		Exec(`with made as (insert into album (brand_id, name) select id, 'In the window' from brand limit 1 returning *)
		insert into album_item (brand_id, album_id, asset_id, position) select made.brand_id, made.id, x.id, x.place from made,
			((select id, 'a' as place from asset where kind = 'clip' and binned_at is null and rights_until is null order by seconds limit 1) union
			(select id, 'b' from asset where kind = 'picture' and binned_at is null and rights_until is null order by id limit 1)) x`)
	require.NoError(t, err)
	w := wireTo(t, p.site)
	shop := screen(t, p, "http://"+w.address+"/screen")
	p.pair(shop, "Beside the till", "In the window")
	const film = `document.querySelector("#screen figure video")`
	plays := func() {
		t.Helper()
		shop.until(film + ` && ` + film + `.currentTime > 0.3 && !` + film + `.paused`)
		shop.until(film + ` === null && document.querySelector("#screen figure img")?.naturalWidth > 0`) // after its end, and not before
	}
	plays()
	p.click("Pause")
	shop.until(`document.getElementById("screen").dataset.state === "paused"`)
	p.click("The next picture")
	shop.until(film + ` !== null && ` + film + `.paused`)
	p.click("Play")
	plays()
	p.until(`(m => m && +m[1] >= 2)(document.querySelector("[data-screen]").innerText.match(/(\d+) of its pictures are stored/))`)
	w.cut()
	shop.until(`document.getElementById("screen").dataset.network === "gone"`)
	plays()
}
