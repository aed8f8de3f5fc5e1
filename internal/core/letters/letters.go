// Package letters words the letters that go out by e-mail, and reads the addresses that they go to.
package letters

import (
	"bytes"
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

var page = template.Must(template.New("letter").Parse(`<!doctype html>
<html lang="en-GB"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>{{.Subject}}</title></head>
<body style="margin:0;background:#f7f6f1;color:#12312e;font:16px/1.5 Georgia,serif">
<div style="max-width:560px;margin:0 auto;padding:24px 16px">
{{if .Cover}}<img src="cid:cover" alt="" width="560" style="display:block;width:100%;height:auto;border-radius:6px">{{end}}
<p>{{.Greeting}}</p>
{{range .Lines}}<p>{{.}}</p>
{{end}}{{if .Quote}}<blockquote style="margin:16px 0;padding-left:14px;border-left:3px solid #eba200;white-space:pre-line">{{.Quote}}</blockquote>
{{end}}{{if .Link}}<p><a href="{{.Link}}" style="display:inline-block;padding:10px 18px;border-radius:6px;background:#17695f;color:#ffffff;text-decoration:none">{{.Press}}</a></p>
<p style="font-size:13px;color:#4c635f;word-break:break-all">{{.Link}}</p>
{{end}}<p>{{.From}}</p>
{{if .Small}}<p style="font-size:13px;color:#4c635f">{{.Small}}</p>
{{end}}{{if .Stop}}<p style="font-size:13px;color:#4c635f"><a href="{{.Stop}}" style="color:#4c635f">No more letters about this gallery</a></p>
{{end}}</div></body></html>
`))

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
