package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"brightsatchel/demo"
)

// page is a tab, used as a person would: by what is on the screen, with mouse and keys.
type page struct {
	*lane
	t      *testing.T
	ctx    context.Context
	intake int64 // the last one in the strap when files were dropped
}

const (
	patience     = 2 * time.Minute
	longestPause = 150 * time.Millisecond // between two looks at a page
)

// newVisitor opens a tab in a browser profile of its own: nobody is signed in.
func newVisitor(t *testing.T) *page {
	t.Helper()
	l := at(t)
	ctx, end := chromedp.NewContext(l.browser, chromedp.WithNewBrowserContext())
	t.Cleanup(end)
	p := &page{lane: l, t: t, ctx: ctx}
	p.do(chromedp.EmulateViewport(1280, 800))
	return p
}

// alongside opens a second tab of the same person.
func (p *page) alongside() *page {
	p.t.Helper()
	ctx, end := chromedp.NewContext(p.ctx)
	p.t.Cleanup(end)
	q := &page{lane: p.lane, t: p.t, ctx: ctx}
	q.do(chromedp.EmulateViewport(1280, 800))
	return q
}

// signIn opens the application as somebody of the demo brand, with the sign-in that the server gives them. By hand it is done in
// signInByHand.
func signIn(t *testing.T, email string) *page {
	t.Helper()
	p := newVisitor(t)
	body, err := json.Marshal(map[string]string{"email": email, "password": demo.Password})
	require.NoError(t, err)
	answer, err := http.Post(p.site+"/api/session", "application/json", bytes.NewReader(body))
	require.NoError(t, err)
	_ = answer.Body.Close()
	require.Equal(t, http.StatusOK, answer.StatusCode)
	for _, c := range answer.Cookies() {
		cookie := network.SetCookieParams{Name: c.Name, Value: c.Value, URL: p.site, HTTPOnly: &c.HttpOnly, SameSite: "Lax"}
		p.do(func(ctx context.Context, tab *chromedp.Target) (chromedp.Void, error) {
			_, err := cdp.Call(ctx, tab, network.SetCookie, cookie)
			return chromedp.Void{}, err
		})
	}
	p.open("/b/tansyloft/file?place=everything")
	p.see("[data-sheet] [data-id] img")
	return p
}

// signInByHand does it as a person would, and ends where they were last.
func signInByHand(p *page, email, password string) {
	p.t.Helper()
	p.open("/")
	p.fill("input[name=email]", email)
	p.fill("input[name=password]", password)
	p.press("Enter")
	p.see("[data-sheet]")
}

func (p *page) do(steps ...chromedp.Action[chromedp.Void]) {
	p.t.Helper()
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	if err := chromedp.Do(p.ctxFor(ctx), steps...); err != nil {
		p.explain(err)
	}
}

// ctxFor avoids a deadline on the very first step, which would end the tab.
func (p *page) ctxFor(limited context.Context) context.Context {
	if chromedp.FromContext(p.ctx).Target == nil {
		return p.ctx
	}
	return limited
}

// explain fails the test with a picture of what the person saw.
func (p *page) explain(err error) {
	p.t.Helper()
	file := filepath.Join(os.TempDir(), strings.ReplaceAll(p.t.Name(), "/", "-")+".png")
	if shot, shotErr := chromedp.Run(p.ctx, chromedp.CaptureScreenshot()); shotErr == nil {
		_ = os.WriteFile(file, shot, 0o600)
	}
	text, _ := chromedp.Run(p.ctx, chromedp.Evaluate[string](`document.body.innerText.slice(0, 1500)`))
	require.FailNow(p.t, err.Error(), "the screen is in %s and says:\n%s", file, text)
}

func (p *page) open(path string) {
	p.t.Helper()
	p.do(chromedp.Navigate(p.site + path))
}

// until waits until an expression of the page is true.
func (p *page) until(expression string) {
	p.t.Helper()
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	for pause := 20 * time.Millisecond; ; {
		ok, err := chromedp.Run(ctx, chromedp.Evaluate[bool]("!!("+expression+")"))
		if err == nil && ok {
			return
		}
		if ctx.Err() != nil {
			p.explain(fmt.Errorf("never came true: %s", expression))
		}
		select {
		case <-ctx.Done():
		case <-time.After(pause):
			pause = min(pause*5/4, longestPause) // looking costs the page time in which it could do what is waited for
		}
	}
}

func quote(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}

// see waits until something is there.
func (p *page) see(css string) {
	p.t.Helper()
	p.until(`document.querySelector(` + quote(css) + `)`)
}

// seeText waits until a text is on the screen.
func (p *page) seeText(text string) {
	p.t.Helper()
	p.until(`document.body.innerText.toLowerCase().includes(` + quote(strings.ToLower(text)) + `)`)
}

func (p *page) gone(css string) {
	p.t.Helper()
	p.until(`!document.querySelector(` + quote(css) + `)`)
}

// read evaluates an expression of the page.
func read[T any](p *page, expression string) T {
	p.t.Helper()
	v, err := chromedp.Run(p.ctx, chromedp.Evaluate[T](expression))
	if err != nil {
		p.explain(err)
	}
	return v
}

// finder is JavaScript that finds a button, link, tab or menu entry by its words or its name for screen readers.
const finder = `(words => { const said = e => (e.getAttribute("aria-label") || e.innerText || "").trim().replace(/\s+/g, " ");
	const all = [...document
		.querySelectorAll("button, a, [role=menuitem], label, [role=option], summary")].filter(e =>
			e.getClientRects().length && !e.closest("[aria-hidden=true]"));
	return all.find(e => said(e) === words) || all.find(e => said(e).startsWith(words)) || null })`

type spot struct{ X, Y float64 }

// middle is the middle of an element that an expression gives, scrolled into view, once it has come to rest.
func (p *page) middle(element string) spot {
	p.t.Helper()
	p.until(element)
	script := `(e => { e.scrollIntoView({ block: "nearest", inline: "nearest" }); const b = e.getBoundingClientRect();
		return { X: b.x + b.width / 2, Y: b.y + b.height / 2 } })(` + element + `)`
	return read[spot](p, script)
}

func css(selector string) string { return `document.querySelector(` + quote(selector) + `)` }
func item(id int64) string       { return css(fmt.Sprintf(`[data-id="%d"]`, id)) }

func (p *page) clickAt(s spot, modifiers ...chromedp.Modifier) {
	p.t.Helper()
	p.do(chromedp.MouseClickXY(s.X, s.Y, chromedp.ButtonModifiers(modifiers...)))
}

// click presses a button or link by its words.
func (p *page) click(words string) {
	p.t.Helper()
	element := finder + `(` + quote(words) + `)`
	p.until(element + ` && !` + element + `.disabled`)
	p.clickAt(p.atRest(element))
}

// undo presses Undo beside what was said of an act, by key: what an act changes in the strap moves it under a mouse. Until that is said
// there may be the Undo of the act before.
func (p *page) undo(said string) {
	p.t.Helper()
	button := `[...document.querySelectorAll("[role=status] button")].filter(b => b.innerText === "Undo" &&
		b.closest("[role=status]").innerText.includes(` + quote(said) + `)).at(-1)`
	p.until(button)
	p.do(chromedp.Evaluate[chromedp.Void](button + `.focus()`))
	p.press("Enter")
}

// atRest is the middle of an element once it does not move any more and a press there is its own: a menu that is closing keeps all
// presses to itself. After a while it is taken as it is, for an element may lie under another one for good.
func (p *page) atRest(element string) spot {
	p.t.Helper()
	at := p.middle(element)
	for range 60 {
		before := at
		time.Sleep(80 * time.Millisecond)
		at = p.middle(element)
		if at == before && read[bool](p, fmt.Sprintf(`!!(%s)?.contains(document.elementFromPoint(%f, %f))`, element, at.X, at.Y)) {
			break
		}
	}
	return at
}

func (p *page) clickOn(selector string) {
	p.t.Helper()
	p.clickAt(p.atRest(css(selector)))
}

// fill writes into a field by real keys, in place of what stands there.
func (p *page) fill(selector, text string) {
	p.t.Helper()
	p.clickOn(selector)
	read[any](p, css(selector)+`.select?.()`)
	if text == "" {
		p.press("Backspace")
		return
	}
	p.typeText(text)
}

func (p *page) typeText(text string) {
	p.t.Helper()
	p.do(chromedp.KeyEvent(text))
}

// codes are the virtual key codes of keys that have a name; text is what Enter and Tab would type.
var codes = map[string]int64{"Enter": 13, "Escape": 27, "Tab": 9, "ArrowLeft": 37, "ArrowUp": 38, "ArrowRight": 39, "ArrowDown": 40,
	"Backspace": 8, "Delete": 46, "PageUp": 33, "PageDown": 34}

// press presses a key by its name, or a letter. It sends what a keyboard sends: a handler that takes the key keeps the
// letter from being typed.
func (p *page) press(key string, modifiers ...chromedp.Modifier) {
	p.t.Helper()
	event := input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyDown, Key: key, WindowsVirtualKeyCode: codes[key]}
	for _, m := range modifiers {
		event.Modifiers |= int64(m)
	}
	if codes[key] == 0 {
		event.WindowsVirtualKeyCode = int64(strings.ToUpper(key)[0])
		if len(modifiers) == 0 {
			event.Text = key
		}
	} else if key == "Enter" {
		event.Text = "\r"
	}
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, event); err != nil {
			return chromedp.Void{}, err
		}
		event.Type, event.Text = input.DispatchKeyEventTypeKeyUp, ""
		_, err := cdp.Call(ctx, t, input.DispatchKeyEvent, event)
		return chromedp.Void{}, err
	})
}

// drag carries from one element to another with the mouse; at is where in the target, in fractions of its width.
func (p *page) drag(from, to string, at float64) {
	p.t.Helper()
	p.middle(to) // into view
	a := p.middle(from)
	b := read[spot](p, `(e => { const b = e.getBoundingClientRect(); return { X: b.x + b.width * `+fmt.Sprint(at)+`,
		Y: b.y + b.height / 2 } })(`+to+`)`)
	p.do(chromedp.DragAndDropXY(a.X, a.Y, b.X, b.Y))
}

// dropFiles drops files from outside on an element, as from a file manager.
func (p *page) dropFiles(element string, files ...string) {
	p.t.Helper()
	p.intake = read[int64](p, newest)
	s := p.middle(element)
	data := &input.DragData{Items: []*input.DragDataItem{}, Files: files, DragOperationsMask: 1}
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		for _, kind := range []input.DispatchDragEventType{input.DispatchDragEventTypeDragEnter, input.DispatchDragEventTypeDragOver,
			input.DispatchDragEventTypeDrop} {
			if _, err := cdp.Call(ctx, t, input.DispatchDragEvent,
				input.DispatchDragEventParams{Type: kind, X: s.X, Y: s.Y, Data: data}); err != nil {
				return chromedp.Void{}, err
			}
		}
		return chromedp.Void{}, nil
	})
}

// line makes the tab's line to the server slow or broken; without conditions it is good again.
func (p *page) line(conditions ...*network.Conditions) {
	p.t.Helper()
	p.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		if conditions == nil {
			conditions = []*network.Conditions{{UploadThroughput: -1, DownloadThroughput: -1}}
		}
		_, err := cdp.Call(ctx, t, network.EmulateNetworkConditionsByRule,
			network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: conditions})
		return chromedp.Void{}, err
	})
}

// tilesLoading says whether tiles are seen that are still being loaded.
const tilesLoading = `[...document.querySelectorAll('[data-sheet] [aria-label="Loading"]')].some(e => e.getClientRects().length > 0)`

// accessible runs axe-core on the screen and fails on anything that it finds. Tiles get a moment to come: what they say and are called is
// not the same before.
func (p *page) accessible(screen string) {
	p.t.Helper()
	for began := time.Now(); time.Since(began) < 5*time.Second && read[bool](p, tilesLoading); {
		time.Sleep(50 * time.Millisecond)
	}
	if !read[bool](p, `!!window.axe`) {
		source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
		require.NoError(p.t, err)
		read[any](p, string(source)+`;null`)
	}
	p.axe(screen, `["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]`)
	if read[string](p, `document.documentElement.dataset.theme ?? ""`) != "light" {
		return
	}
	// the other theme has the same words in other colours
	read[any](p, `document.head.append(Object.assign(document.createElement("style"), { id: "still",
		textContent: "* { transition: none !important; animation: none !important }" }));
		document.documentElement.dataset.theme = "dark"; null`)
	p.axe(screen+", in the dark", `{ type: "rule", values: ["color-contrast"] }`)
	read[any](p, `document.documentElement.dataset.theme = "light"; document.getElementById("still").remove(); null`)
}

// axe has axe-core look at the screen by some of its rules.
func (p *page) axe(screen, rules string) {
	p.t.Helper()
	read[any](p, `window.axeFound = undefined; axe.run(document, { resultTypes: ["violations"], selectors: false, runOnly: `+rules+` })
		.then(r => window.axeFound = r.violations.map(v => v.id + ": " + v.nodes.slice(0, 3).map(n => n.html.slice(0, 160) + " " +
			(n.any[0]?.message || "")).join(" | "))); null`)
	p.until(`window.axeFound`)
	require.Empty(p.t, read[[]string](p, `window.axeFound`), "accessibility of %s", screen)
}

func (p *page) shot(file string) {
	p.t.Helper()
	data, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	require.NoError(p.t, err)
	require.NoError(p.t, os.WriteFile(file, data, 0o600))
}

// filter is the filter of a place as it stands in an address: conditions that must all hold.
func filter(conditions string) string {
	return "&filter=" + url.QueryEscape(`{"match":"all","rules":[`+conditions+`]}`)
}

// words is the condition that some words are found.
func words(text string) string { return `{"field":"words","names":[` + quote(text) + `]}` }
