// Package weather makes a simulated service have bad days: calls that time out after they took effect, answers that say nothing, pictures
// that are cut. What is wrong, and for how many calls, is set on a page or by a test.
package weather

import (
	"bytes"
	"html/template"
	"image"
	"image/draw"
	"image/jpeg"
	_ "image/png" // what is taken
	"net/http"
	"strconv"
	"sync"
	"time"
)

// Modes are what the weather can be, with what each means.
var Modes = []struct{ Name, Means string }{
	{"fine", "All is well."},
	{"lost", "A call takes effect, and its answer never comes."},
	{"late", "The line is cut, and the call takes effect two seconds later."},
	{"error", "A call takes effect, and the answer is 500."},
	{"half", "A call takes effect, and half of the answer comes."},
	{"away", "Nothing is done, and the answer is 503."},
	{"busy", "Nothing is done, and the answer is 429: come again in a second."},
	{"html", "Nothing is done, and a web page is the answer."},
	{"empty", "Nothing is done, and the answer is empty."},
	{"huge", "A call takes effect, and the answer does not end."},
	{"elsewhere", "Nothing is done, and the answer sends one to the machine itself."},
	{"token", "Nothing is done: the token is not known."},
	{"no", "It refuses."},
	{"slow", "Everything takes three seconds longer."},
	{"cut", "Pictures are cut at both sides when they are posted."},
	{"coarse", "Pictures are made coarse when they are posted."},
}

// Weather is how a service is now. Its zero value is fine.
type Weather struct {
	mu    sync.Mutex
	mode  string
	calls int
}

// Set makes the weather for so many of the calls that change something.
func (w *Weather) Set(mode string, calls int) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.mode, w.calls = mode, min(max(calls, 0), 10_000)
}

// Is says how the weather is, and for how many more calls.
func (w *Weather) Is() (mode string, calls int) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.calls <= 0 || w.mode == "" {
		return "fine", 0
	}
	return w.mode, w.calls
}

func (w *Weather) next() string {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.calls <= 0 || w.mode == "" {
		return "fine"
	}
	w.calls--
	return w.mode
}

// Change answers a call that changes something, in the weather as it is. Do does it and gives the status and the body of the answer;
// refuse answers that the service does not want it, in its own style.
func (w *Weather) Change(out http.ResponseWriter, do func(mode string) (status int, body []byte), refuse func(words string)) {
	mode := w.next()
	switch mode {
	case "away":
		http.Error(out, "away for a while", http.StatusServiceUnavailable)
		return
	case "busy":
		out.Header().Set("Retry-After", "1")
		http.Error(out, "too many", http.StatusTooManyRequests)
		return
	case "html":
		out.Header().Set("Content-Type", "text/html")
		_, _ = out.Write([]byte("<!doctype html><title>Sign in to the wifi</title>"))
		return
	case "empty":
		return
	case "elsewhere":
		out.Header().Set("Location", "http://127.0.0.1:22/")
		out.WriteHeader(http.StatusTemporaryRedirect)
		return
	case "token":
		http.Error(out, "who are you?", http.StatusUnauthorized)
		return
	case "no":
		refuse("We do not want that.")
		return
	case "late":
		time.AfterFunc(2*time.Second, func() { do(mode) })
		panic(http.ErrAbortHandler)
	case "slow":
		time.Sleep(3 * time.Second)
	}
	status, body := do(mode)
	switch mode {
	case "lost":
		panic(http.ErrAbortHandler)
	case "error":
		http.Error(out, "something went wrong here", http.StatusInternalServerError)
		return
	case "half":
		out.Header().Set("Content-Length", strconv.Itoa(len(body)))
		out.WriteHeader(status)
		_, _ = out.Write(body[:len(body)/2])
		panic(http.ErrAbortHandler)
	case "huge":
		out.WriteHeader(status)
		block := bytes.Repeat([]byte(" "), 1<<16)
		for range 1 << 15 { // 2 GB
			if _, err := out.Write(block); err != nil {
				return
			}
		}
	}
	out.Header().Set("Content-Type", "application/json")
	out.WriteHeader(status)
	_, _ = out.Write(body)
}

// Shown is what a picture looks like once it was posted in the weather of a mode, with its size in pixels.
func Shown(content []byte, mode string) ([]byte, image.Point) {
	picture, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return content, image.Point{}
	}
	size := picture.Bounds().Size()
	quality := 85
	switch mode {
	case "cut":
		box := picture.Bounds().Inset(0)
		box.Min.X, box.Max.X = box.Min.X+size.X/6, box.Max.X-size.X/6
		cut := image.NewRGBA(image.Rectangle{Max: box.Size()})
		draw.Draw(cut, cut.Bounds(), picture, box.Min, draw.Src)
		picture, size = cut, box.Size()
	case "coarse":
		quality = 6
	default:
		return content, size
	}
	var out bytes.Buffer
	if jpeg.Encode(&out, picture, &jpeg.Options{Quality: quality}) != nil {
		return content, size
	}
	return out.Bytes(), size
}

var page = template.Must(template.New("weather").Parse(`<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>Bad days of {{.Name}}</title>
<style>body{font:16px system-ui;max-width:640px;margin:2rem auto;padding:0 1rem}button{font:inherit;padding:.4rem .8rem;min-width:7rem}
td{padding:.2rem .4rem}</style><h1>Bad days of {{.Name}}</h1><p>Now: {{.Mode}}{{if .Calls}}, for {{.Calls}} more calls{{end}}.</p>
<form method="post">
<p><label>For so many calls that change something: <input name="calls" value="1" size="3" inputmode="numeric"></label></p>
<table>{{range .All}}<tr><td><button name="mode" value="{{.Name}}">{{.Name}}</button></td><td>{{.Means}}</td></tr>{{end}}</table></form>
{{range .Also}}<form method="post"><p><button name="also" value="{{.}}">{{.}}</button></p></form>{{end}}
<p><a href="{{.Back}}">What is out there</a></p></html>`))

// Page serves the page on which the weather is set. Back is where what is out there is seen; also are further buttons, and do what pressing
// one does.
func (w *Weather) Page(out http.ResponseWriter, r *http.Request, name, back string, also []string, do func(which string)) {
	if r.Method == http.MethodPost {
		if which := r.FormValue("also"); which != "" {
			do(which)
		} else {
			calls, _ := strconv.Atoi(r.FormValue("calls"))
			w.Set(r.FormValue("mode"), calls)
		}
	}
	mode, calls := w.Is()
	out.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = page.Execute(out, map[string]any{"Name": name, "Mode": mode, "Calls": calls, "All": Modes, "Also": also, "Back": back})
}
