package metadata

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"brightsatchel/internal/core/calendar"
)

// Facts are what a file says about itself in the words of the library. Texts that the file lacks are empty.
type Facts struct {
	Title, Description, Alt string
	Credit, Copyright       string
	UsageTerms              string
	Keywords                []string
	Rating                  int // -1 to 5
	Taken                   *calendar.Capture
	Camera, Lens, Place     string
	Exposure                string // as "1/250 s, f/2.8, ISO 400, 50 mm"
	Latitude, Longitude     *float64
	Label                   string // XMP Label
	Faces                   []Face
}

// Face is a region that a file says is a face (MWG Regions, as XMP mwg-rs:Regions): its middle and dimensions as
// fractions of the picture, and who it is, or "". AppliedTo are the dimensions in pixels that the writer saw.
type Face struct {
	X, Y, Width, Height float64
	Name                string
	AppliedTo           [2]int
}

// So many keywords and faces of a file are taken.
const (
	mostKeywords = 200
	mostFaces    = 200
)

// Interpret maps what exiftool read to Facts. Where several standards say the same thing, XMP goes before IPTC before
// EXIF, as the Metadata Working Group's guidelines (2.0, section 3) have it for files whose blocks agree. The names are in names.go.
func Interpret(raw map[string]any) Facts {
	f := Facts{
		Title: text(raw, names.title...), Description: text(raw, names.description...), Alt: text(raw, names.alt...),
		Credit:     text(raw, slices.Concat(names.credit, names.creator)...),
		Copyright:  text(raw, names.copyright...),
		UsageTerms: text(raw, names.usageTerms...),
		Lens:       text(raw, "ExifIFD:LensModel", "XMP-aux:Lens"),
		Keywords:   texts(raw, names.keywords...),
		Rating:     rating(raw[names.rating]),
		Camera:     camera(text(raw, "IFD0:Make", "Keys:Make"), text(raw, "IFD0:Model", "Keys:Model")),
		Place:      place(raw),
		Exposure:   exposure(raw),
		Label:      text(raw, names.label),
		Faces:      faces(raw[names.regions]),
	}
	for _, text := range []struct {
		at   *string
		most int // characters, as many as people can type
	}{{&f.Title, 300}, {&f.Description, 5000}, {&f.Alt, 1000}, {&f.Credit, 300}, {&f.Copyright, 300}, {&f.UsageTerms, 1000},
		{&f.Lens, 200}, {&f.Camera, 200},
		{&f.Place, 300}, {&f.Label, 100}} {
		*text.at = firstRunes(*text.at, text.most)
	}
	f.Keywords = f.Keywords[:min(len(f.Keywords), mostKeywords)]
	f.Faces = f.Faces[:min(len(f.Faces), mostFaces)]
	f.Latitude, f.Longitude = position(raw)
	for _, source := range names.taken {
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
	for _, part := range names.place {
		if t := text(raw, part...); t != "" {
			named = append(named, t)
		}
	}
	return strings.Join(named, ", ")
}

// position is latitude and longitude in degrees (WGS 84), or nil for both when the file lacks one or it cannot be.
func position(raw map[string]any) (latitude, longitude *float64) {
	a, errA := strconv.ParseFloat(text(raw, "Composite:GPSLatitude"), 64)
	b, errB := strconv.ParseFloat(text(raw, "Composite:GPSLongitude"), 64)
	if errA != nil || errB != nil || math.Abs(a) > 90 || math.Abs(b) > 180 {
		return nil, nil
	}
	return &a, &b
}

// exposure joins what the file says of shutter, aperture, sensitivity and focal length.
func exposure(raw map[string]any) string {
	var parts []string
	for _, part := range []struct{ name, form string }{
		{"ExifIFD:ExposureTime", "%s s"}, {"ExifIFD:FNumber", "f/%s"}, {"ExifIFD:ISO", "ISO %s"}, {"ExifIFD:FocalLength", "%s"},
	} {
		if t := text(raw, part.name); t != "" && len(t) < 20 {
			parts = append(parts, fmt.Sprintf(part.form, t))
		}
	}
	return strings.Join(parts, ", ")
}

// faces reads the regions of type Face whose area is given in fractions and lies on the picture.
func faces(info any) []Face {
	regions, _ := info.(map[string]any)
	list, _ := regions["RegionList"].([]any)
	applied, _ := regions["AppliedToDimensions"].(map[string]any)
	var out []Face
	for _, entry := range list {
		region, _ := entry.(map[string]any)
		area, _ := region["Area"].(map[string]any)
		if fmt.Sprint(region["Type"]) != "Face" || area == nil || fmt.Sprint(area["Unit"]) != "normalized" {
			continue
		}
		f := Face{X: number(area["X"]), Y: number(area["Y"]), Width: number(area["W"]), Height: number(area["H"]),
			Name: text(region, "Name"), AppliedTo: [2]int{int(number(applied["W"])), int(number(applied["H"]))}}
		if f.Width > 0 && f.Height > 0 && f.X > 0 && f.X < 1 && f.Y > 0 && f.Y < 1 && f.Width <= 1 && f.Height <= 1 {
			out = append(out, f)
		}
	}
	return out
}

func number(v any) float64 {
	n, err := strconv.ParseFloat(fmt.Sprint(v), 64)
	if err != nil || math.IsNaN(n) || math.IsInf(n, 0) {
		return 0
	}
	return n
}
