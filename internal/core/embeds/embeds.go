// Package embeds decides what a live embed looks like on somebody else's page: which settings it can have, in which widths its
// pictures are offered, and the snippet that goes into the page.
package embeds

import (
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"brightsatchel/internal/core/fault"
)

// Settings are how an embed shows its pictures. Lengths are CSS pixels.
type Settings struct {
	Layout     string `json:"layout"`               // one of Layouts
	Sort       string `json:"sort"`                 // one of Sorts
	Descending bool   `json:"descending,omitempty"` // of a sort that is not by hand
	Most       int    `json:"most"`                 // how many pictures, 1 to MostPictures
	Columns    int    `json:"columns"`              // of Columns and Masonry where there is room, 1 to 8
	Height     int    `json:"height"`               // of a row or of the strip, 60 to 800
	Gap        int    `json:"gap"`                  // between pictures, 0 to 60
	Corner     int    `json:"corner"`               // radius of the corners of pictures, 0 to 60
	Caption    string `json:"caption"`              // one of Captions
	Click      string `json:"click"`                // one of Clicks
	Link       string `json:"link,omitempty"`       // where a click leads, of ToPage
	Background string `json:"background,omitempty"` // #rrggbb, or "" for the page's own
	Text       string `json:"text,omitempty"`       // likewise
}

// How pictures are laid out: in rows of equal height, in columns of equal cells, in columns of whole pictures, in one row to be moved
// sideways, or only the first.
const (
	Rows    = "rows"
	Columns = "columns"
	Masonry = "masonry"
	Strip   = "strip"
	Single  = "single"
)

// What a click does: nothing, open the big view, or lead to a page.
const (
	Nothing = "nothing"
	BigView = "big_view"
	ToPage  = "to_page"
)

// The values that settings can have.
var (
	Layouts  = []string{Rows, Columns, Masonry, Strip, Single}
	Sorts    = []string{"hand", "taken", "added", "name"}
	Captions = []string{"none", "title", "description", "credit"}
	Clicks   = []string{BigView, ToPage, Nothing}
)

// MostPictures is how many pictures one embed shows, MostSources of how many folders and albums.
const (
	MostPictures = 500
	MostSources  = 50
)

// Usual are the settings that an embed begins with.
func Usual() Settings {
	return Settings{Layout: Rows, Sort: "hand", Most: 60, Columns: 3, Height: 220, Gap: 8, Corner: 0, Caption: "none", Click: BigView}
}

var colour = regexp.MustCompile(`^#[0-9a-f]{6}$`)

// Check says what is wrong with settings, naming the field.
func (s *Settings) Check() error {
	for _, one := range []struct {
		field, value string
		of           []string
	}{{"layout", s.Layout, Layouts}, {"sort", s.Sort, Sorts}, {"caption", s.Caption, Captions}, {"click", s.Click, Clicks}} {
		if !slices.Contains(one.of, one.value) {
			return fault.Invalidf(one.field, "%q is none of %s.", one.value, strings.Join(one.of, ", "))
		}
	}
	for _, one := range []struct {
		field             string
		value, from, to   int
		what, least, most string
	}{
		{"most", s.Most, 1, MostPictures, "An embed shows", "1 picture", "500 pictures"},
		{"columns", s.Columns, 1, 8, "There are", "1 column", "8 columns"},
		{"height", s.Height, 60, 800, "A row is", "60 pixels", "800 pixels high"},
		{"gap", s.Gap, 0, 60, "The space between pictures is", "0 pixels", "60 pixels"},
		{"corner", s.Corner, 0, 60, "The radius of corners is", "0 pixels", "60 pixels"},
	} {
		if one.value < one.from || one.value > one.to {
			return fault.Invalidf(one.field, "%s %s to %s.", one.what, one.least, one.most)
		}
	}
	for field, value := range map[string]string{"background": s.Background, "text": s.Text} {
		if value != "" && !colour.MatchString(value) {
			return fault.Invalidf(field, "“%s” is not a colour such as #17695f.", value)
		}
	}
	if s.Click != ToPage {
		return nil
	}
	to, err := url.Parse(s.Link)
	if err != nil || to.Host == "" || to.Scheme != "https" && to.Scheme != "http" {
		return fault.Invalidf("link", "Write the whole address that a click leads to, such as https://www.example.org/kites.")
	}
	return nil
}

// Widths are in which a picture is offered to pages, in pixels.
var Widths = []int{320, 640, 960, 1280, 1920, 2560}

// Formats are in which a picture is offered to pages, the smallest file first.
var Formats = []string{"avif", "webp", "jpg"}

// WidthsOf lists the widths in which a picture is offered that is so many pixels wide itself: none enlarges it, and what is smaller
// than the first is offered as it is, under the name of the first.
func WidthsOf(width int) []int {
	for i, w := range Widths {
		if w > width {
			return Widths[:max(1, i)]
		}
	}
	return Widths
}

// Snippet is what goes into somebody's page to show an embed: a script of the server at origin (https://host), and an element. Without
// script it is a link to a page with the same pictures.
func Snippet(origin, code, name string) string {
	return fmt.Sprintf("<script async src=\"%s/embed.js\"></script>\n"+
		"<satchel-pictures code=\"%s\"><a href=\"%s/e/%s\">%s</a></satchel-pictures>", origin, code, origin, code, escape(name))
}

// Frame is the snippet for pages that allow no script.
func Frame(origin, code, name string) string {
	return fmt.Sprintf("<iframe src=\"%s/e/%s?frame\" title=\"%s\" loading=\"lazy\" width=\"100%%\" height=\"600\" "+
		"style=\"border:0\"></iframe>", origin, code, escape(name))
}

var escape = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&#34;", "'", "&#39;").Replace
