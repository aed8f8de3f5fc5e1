// Package letters words the letters that go out by e-mail, and reads the addresses that they go to.
package letters

import (
	"bytes"
	_ "embed" // for the letter
	"html/template"
	"strings"

	"brightsatchel/internal/core/wording"
)

// The kinds of letters.
const (
	Invitation  = "invitation"   // to a gallery
	NewPictures = "new_pictures" // in a gallery
	Reminder    = "reminder"     // that a gallery ends
	EndsSoon    = "ends_soon"    // to the coordinators, a week before a gallery ends
	Join        = "join"         // to a brand
	Password    = "password"     // to choose another one
	Shown       = "shown"        // to somebody who is on pictures, once a day
)

// Letter is a letter that can be sent: Text says all that HTML says.
type Letter struct{ Subject, Text, HTML string }

// Draft is what a letter is made of. Parts that are empty are left out.
type Draft struct {
	Subject  string
	Greeting string   // "Dear Maren,"
	Lines    []string // paragraphs
	Quote    string   // what somebody wrote by hand, in paragraphs of its own
	Press    string   // the words of the link
	Link     string
	Small    string // what is said at the end in small
	Stop     string // address of a page that ends these letters
	Cover    bool   // a picture named cover is inside
	From     string // who it is from
}

// CoverID is the name by which the HTML of a letter shows the picture that is inside of it.
const CoverID = "cover"

//go:embed letter.html
var letterHTML string

var page = template.Must(template.New("letter").Parse(letterHTML))

// Write words a letter. What comes from people stays text.
func Write(d Draft) (Letter, error) {
	d.Subject = wording.OneLine(d.Subject)
	var html bytes.Buffer
	if err := page.Execute(&html, d); err != nil {
		return Letter{}, err
	}
	parts := append([]string{d.Greeting}, d.Lines...)
	if d.Quote != "" {
		parts = append(parts, "  "+strings.ReplaceAll(strings.TrimSpace(d.Quote), "\n", "\n  "))
	}
	if d.Link != "" {
		parts = append(parts, d.Press+":\n"+d.Link)
	}
	parts = append(parts, d.From)
	if d.Small != "" {
		parts = append(parts, d.Small)
	}
	if d.Stop != "" {
		parts = append(parts, "No more letters about this gallery:\n"+d.Stop)
	}
	return Letter{Subject: d.Subject, Text: strings.Join(parts, "\n\n") + "\n", HTML: html.String()}, nil
}

// Dear greets somebody by their name, if they have one.
func Dear(name string) string {
	if name = wording.OneLine(name); name == "" {
		return "Hello,"
	}
	return "Dear " + name + ","
}
