package web

import (
	"embed"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/embeds"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/sendout/showing"

	front "brightsatchel/web"
)

//go:embed embedpage.html guestplain.html plain.css
var embedFiles embed.FS

var embedPage = template.Must(template.ParseFS(embedFiles, "embedpage.html"))

// addEmbedPages serves what leads to an embed without being one: the script, a page of the same pictures, feeds, and oEmbed.
func (s *Server) addEmbedPages() {
	files := front.Files()
	s.route(http.MethodGet, "/embed.js", public, func(c *gin.Context) error {
		forAnyPage(c.Writer.Header())
		c.Header("Cache-Control", "public, max-age=300, stale-while-revalidate=86400")
		return sendPage(c, files, "embed.js")
	})
	s.route(http.MethodGet, "/e/:code", public, s.embedPage)
	s.route(http.MethodGet, "/e/:code/feed.json", public, s.jsonFeed)
	s.route(http.MethodGet, "/e/:code/feed.xml", public, s.mediaFeed)
	s.route(http.MethodGet, "/oembed", public, s.oEmbed)
}

// shown is a live embed as pages, feeds and oEmbed tell of it.
func (s *Server) shown(c *gin.Context, code string) (*showing.Embedded, api.Embedded, error) {
	forAnyPage(c.Writer.Header())
	e, err := s.liveEmbed(c, code)
	if err != nil {
		return nil, api.Embedded{}, err
	}
	c.Header("Cache-Control", keepList)
	return e, embedded(e, s.originOf(c), "/e/"+e.Code+"/"), nil
}

// addressOf is the address of a picture in the widest of its widths that is at most so wide, in a format that everything shows.
func addressOf(p api.EmbeddedPicture, most int) string {
	return strings.NewReplacer("{width}", fmt.Sprint(embeds.Widest(p.Width, most)), "{format}", p.Formats[len(p.Formats)-1]).Replace(p.Picture)
}

// embedPolicy lets pages of any site frame the page, which has nothing to press but its own pictures.
const embedPolicy = "default-src 'none'; script-src 'self'; connect-src 'self'; img-src 'self'; media-src 'self'; style-src 'self'; " +
	"base-uri 'none'; form-action 'none'; frame-ancestors *"

// embedPage is a page with the same pictures, for those without script, for frames, and for whoever follows a link.
func (s *Server) embedPage(c *gin.Context) error {
	e, view, err := s.shown(c, c.Param("code"))
	if err != nil {
		return err
	}
	c.Header("Content-Security-Policy", embedPolicy)
	c.Header("Content-Type", "text/html; charset=utf-8")
	type picture struct {
		api.EmbeddedPicture
		Source string
		Sets   []struct{ Type, Set string }
	}
	pictures := make([]picture, len(view.Pictures))
	for i, p := range view.Pictures {
		pictures[i] = picture{EmbeddedPicture: p, Source: addressOf(p, 640)}
		for _, format := range p.Formats {
			var set []string
			for _, w := range p.Widths {
				at := strings.NewReplacer("{width}", fmt.Sprint(w), "{format}", format).Replace(p.Picture)
				set = append(set, fmt.Sprintf("%s %dw", at, min(w, p.Width)))
			}
			pictures[i].Sets = append(pictures[i].Sets, struct{ Type, Set string }{mediaTypes[format], strings.Join(set, ", ")})
		}
	}
	_, framed := c.GetQuery("frame")
	return embedPage.Execute(c.Writer, map[string]any{
		"Name": e.Name, "Brand": e.BrandName, "Code": e.Code, "Origin": s.originOf(c), "Framed": framed, "Pictures": pictures,
		"OEmbed": s.originOf(c) + "/oembed?format=json&url=" + url.QueryEscape(view.Page), "Total": view.Total,
	})
}

var mediaTypes = map[string]string{"avif": "image/avif", "webp": "image/webp", "jpg": "image/jpeg"}

// jsonFeed is the embed as JSON Feed 1.1 (jsonfeed.org/version/1.1).
func (s *Server) jsonFeed(c *gin.Context) error {
	e, view, err := s.shown(c, c.Param("code"))
	if err != nil {
		return err
	}
	type attachment struct {
		URL      string `json:"url"`
		MIMEType string `json:"mime_type"`
		Title    string `json:"title,omitempty"`
	}
	type item struct {
		ID          string       `json:"id"`
		URL         string       `json:"url"`
		Title       string       `json:"title,omitempty"`
		Text        string       `json:"content_text"`
		Image       string       `json:"image"`
		Published   time.Time    `json:"date_published"`
		Attachments []attachment `json:"attachments"`
	}
	items := make([]item, len(view.Pictures))
	for i, p := range view.Pictures {
		at := addressOf(p, 1280)
		items[i] = item{ID: view.Page + "#" + e.Pictures[i].Code, URL: view.Page, Title: p.Title, Text: p.Alt, Image: at,
			Published: e.Pictures[i].Added, Attachments: []attachment{{at, mediaTypes[p.Formats[len(p.Formats)-1]], p.Title}}}
	}
	c.Header("Content-Type", "application/feed+json")
	return json.NewEncoder(c.Writer).Encode(map[string]any{"version": "https://jsonfeed.org/version/1.1", "title": e.Name,
		"home_page_url": view.Page, "feed_url": view.Page + "/feed.json", "items": items})
}

type rss struct {
	XMLName xml.Name   `xml:"rss"`
	Version string     `xml:"version,attr"`
	Media   string     `xml:"xmlns:media,attr"`
	Atom    string     `xml:"xmlns:atom,attr"`
	Channel rssChannel `xml:"channel"`
}

type rssChannel struct {
	Title       string    `xml:"title"`
	Link        string    `xml:"link"`
	Description string    `xml:"description"`
	Self        rssSelf   `xml:"atom:link"`
	Items       []rssItem `xml:"item"`
}

type rssSelf struct {
	Href string `xml:"href,attr"`
	Rel  string `xml:"rel,attr"`
	Type string `xml:"type,attr"`
}

type rssItem struct {
	Title       string `xml:"title"`
	Link        string `xml:"link"`
	GUID        rssID  `xml:"guid"`
	Published   string `xml:"pubDate"`
	Description string `xml:"description"`
	Content     struct {
		URL    string `xml:"url,attr"`
		Type   string `xml:"type,attr"`
		Medium string `xml:"medium,attr"`
		Width  int    `xml:"width,attr"`
		Height int    `xml:"height,attr"`
		Alt    string `xml:"media:description,omitempty"`
	} `xml:"media:content"`
}

type rssID struct {
	Text string `xml:",chardata"`
	Link bool   `xml:"isPermaLink,attr"`
}

// mediaFeed is the embed as RSS 2.0 with Media RSS (rssboard.org/media-rss).
func (s *Server) mediaFeed(c *gin.Context) error {
	e, view, err := s.shown(c, c.Param("code"))
	if err != nil {
		return err
	}
	feed := rss{Version: "2.0", Media: "http://search.yahoo.com/mrss/", Atom: "http://www.w3.org/2005/Atom", Channel: rssChannel{Title: e.Name,
		Link: view.Page, Description: "Pictures of " + e.BrandName, Self: rssSelf{view.Page + "/feed.xml", "self", "application/rss+xml"}}}
	for i, p := range view.Pictures {
		title := p.Title
		if title == "" {
			title = p.Alt
		}
		it := rssItem{Title: title, Link: view.Page, GUID: rssID{Text: view.Page + "#" + e.Pictures[i].Code}, Description: p.Alt,
			Published: e.Pictures[i].Added.UTC().Format(time.RFC1123Z)}
		it.Content.URL, it.Content.Type, it.Content.Medium = addressOf(p, 1280), mediaTypes[p.Formats[len(p.Formats)-1]], "image"
		it.Content.Width = min(p.Width, embeds.Widest(p.Width, 1280))
		it.Content.Height, it.Content.Alt = max(1, p.Height*it.Content.Width/p.Width), p.Alt
		feed.Channel.Items = append(feed.Channel.Items, it)
	}
	c.Header("Content-Type", "application/rss+xml; charset=utf-8")
	if _, err := c.Writer.WriteString(xml.Header); err != nil {
		return err
	}
	return xml.NewEncoder(c.Writer).Encode(feed)
}

// oEmbed tells other services how to show the page of an embed (oembed.com).
func (s *Server) oEmbed(c *gin.Context) error {
	if format := c.Query("format"); format != "" && format != "json" {
		c.String(http.StatusNotImplemented, "Only format=json is known.\n")
		return nil
	}
	page, err := url.Parse(c.Query("url"))
	if err != nil || page.Scheme+"://"+page.Host != s.originOf(c) {
		return fault.NotFoundf("There is nothing to be shown under this address.")
	}
	code, is := strings.CutPrefix(page.Path, "/e/")
	if !is {
		return fault.NotFoundf("There is nothing to be shown under this address.")
	}
	e, view, err := s.shown(c, code)
	if err != nil {
		return err
	}
	width, height := bound(c.Query("maxwidth"), 1200), bound(c.Query("maxheight"), 600)
	frame := strings.Replace(strings.Replace(embeds.Frame(s.originOf(c), e.Code, e.Name), `width="100%"`, fmt.Sprintf(`width="%d"`, width), 1),
		`height="600"`, fmt.Sprintf(`height="%d"`, height), 1)
	out := map[string]any{"version": "1.0", "type": "rich", "title": e.Name, "provider_name": e.BrandName, "provider_url": s.originOf(c),
		"html": frame, "width": width, "height": height, "cache_age": 300}
	if len(view.Pictures) > 0 {
		first := view.Pictures[0]
		w := min(first.Width, embeds.Widest(first.Width, min(640, width)))
		out["thumbnail_url"] = addressOf(first, min(640, width))
		out["thumbnail_width"], out["thumbnail_height"] = w, max(1, first.Height*w/first.Width)
	}
	c.JSON(http.StatusOK, out)
	return nil
}

// bound reads a number of pixels that somebody sets, at most what we would take.
func bound(text string, most int) int {
	var n int
	if _, err := fmt.Sscan(text, &n); err != nil || n < 1 {
		return most
	}
	return min(n, most)
}
