package metadata

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"brightsatchel/internal/core/calendar"
)

// Facts are what a file says about itself in the words of the library. Texts that the file lacks are empty.
type Facts struct {
	Title, Description, Alt string
	Credit, Copyright       string
	Keywords                []string
	Rating                  int // -1 to 5
	Taken                   *calendar.Capture
	Camera, Lens, Place     string
}

// Interpret maps what exiftool read to Facts. Where several standards say the same thing, XMP goes before IPTC before
// EXIF, as the Metadata Working Group's guidelines (2.0, section 3) have it for files whose blocks agree.
func Interpret(raw map[string]any) Facts {
	f := Facts{
		Title:       text(raw, "XMP-dc:Title", "IPTC:ObjectName", "QuickTime:Title", "ItemList:Title", "Keys:Title"),
		Description: text(raw, "XMP-dc:Description", "IPTC:Caption-Abstract", "IFD0:ImageDescription", "ItemList:Description", "Keys:Description"),
		Alt:         text(raw, "XMP-iptcCore:AltTextAccessibility"),
		Credit:      text(raw, "XMP-photoshop:Credit", "IPTC:Credit", "XMP-dc:Creator", "IPTC:By-line", "IFD0:Artist"),
		Copyright:   text(raw, "XMP-dc:Rights", "IPTC:CopyrightNotice", "IFD0:Copyright", "ItemList:Copyright", "Keys:Copyright"),
		Lens:        text(raw, "ExifIFD:LensModel", "XMP-aux:Lens"),
		Keywords:    texts(raw, "XMP-dc:Subject", "IPTC:Keywords"),
		Rating:      rating(raw["XMP-xmp:Rating"]),
		Camera:      camera(text(raw, "IFD0:Make", "Keys:Make"), text(raw, "IFD0:Model", "Keys:Model")),
		Place:       place(raw),
	}
	for _, source := range [][2]string{
		{"ExifIFD:DateTimeOriginal", "ExifIFD:OffsetTimeOriginal"}, {"XMP-exif:DateTimeOriginal", ""}, {"XMP-photoshop:DateCreated", ""},
		{"ExifIFD:CreateDate", "ExifIFD:OffsetTimeDigitized"}, {"Keys:CreationDate", ""}, {"XMP-xmp:CreateDate", ""}, {"QuickTime:CreateDate", ""},
	} {
		if f.Taken = calendar.ReadCapture(text(raw, source[0]), text(raw, source[1])); f.Taken != nil {
			break
		}
	}
	return f
}

// text returns the first of the names that has a value; of a list, its first entry.
func text(raw map[string]any, names ...string) string {
	for _, name := range names {
		if all := texts(raw, name); len(all) > 0 {
			return all[0]
		}
	}
	return ""
}

// texts returns every distinct value of all the names, without empty ones.
func texts(raw map[string]any, names ...string) []string {
	var out []string
	seen := map[string]bool{}
	for _, name := range names {
		values, isList := raw[name].([]any)
		if !isList {
			values = []any{raw[name]}
		}
		for _, v := range values {
			if v == nil {
				continue
			}
			s := strings.TrimSpace(strings.ReplaceAll(fmt.Sprint(v), "\x00", ""))
			if s != "" && !seen[strings.ToLower(s)] {
				seen[strings.ToLower(s)] = true
				out = append(out, s)
			}
		}
	}
	return out
}

func rating(v any) int {
	n, err := strconv.ParseFloat(fmt.Sprint(v), 64)
	if err != nil {
		return 0
	}
	return int(math.Max(-1, math.Min(5, n)))
}

// camera joins maker and model, which often repeats the maker.
func camera(maker, model string) string {
	if maker == "" || strings.HasPrefix(strings.ToLower(model), strings.ToLower(maker)) {
		return model
	}
	return strings.TrimSpace(maker + " " + model)
}

func place(raw map[string]any) string {
	named := []string{}
	for _, names := range [][]string{{"XMP-iptcCore:Location", "IPTC:Sub-location"}, {"XMP-photoshop:City", "IPTC:City"}, {"XMP-photoshop:Country", "IPTC:Country-PrimaryLocationName"}} {
		if t := text(raw, names...); t != "" {
			named = append(named, t)
		}
	}
	if len(named) > 0 {
		return strings.Join(named, ", ")
	}
	latitude, longitude := text(raw, "Composite:GPSLatitude"), text(raw, "Composite:GPSLongitude")
	if latitude == "" || longitude == "" {
		return ""
	}
	return latitude + ", " + longitude
}
