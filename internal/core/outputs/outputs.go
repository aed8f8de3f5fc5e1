// Package outputs decides what an output size makes of an item: dimensions, format, file name and which metadata stays.
package outputs

import (
	"errors"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

// Fit says how a picture goes into the box of an output size.
type Fit string

// Inside keeps the whole picture; Fill cuts it to the proportions of the box.
const (
	Inside Fit = "inside"
	Fill   Fit = "fill"
)

// Metadata says what of the original's metadata a rendition carries.
type Metadata string

// StripPrivate keeps copyright, credit and usage terms and nothing else; StripAll keeps nothing; Keep copies everything but
// the orientation, which has been applied, with what the library says in the place of what the file said.
const (
	StripPrivate Metadata = "strip_private"
	StripAll     Metadata = "strip_all"
	Keep         Metadata = "keep"
)

// Size is a named recipe for a file to hand out. Width and Height are pixels; 0 leaves a side open. Quality is 1 to 100.
type Size struct {
	Name          string
	Width, Height int
	Fit           Fit
	Format        string
	Quality       int
	Metadata      Metadata
	Pattern       string
}

// Source is what is known of an item that a rendition is made from.
type Source struct {
	Kind  string
	Size  geometry.Size
	Focal geometry.Point
}

// Plan is what will be made: the part of the upright original to take, the exact dimensions in pixels, and the format.
type Plan struct {
	Crop   *geometry.Rect
	Size   geometry.Size
	Format string
}

// ErrNoDimensions is returned for an item that cannot be sized because it has no width or height.
var ErrNoDimensions = errors.New("outputs: the item has no dimensions")

var extensions = map[string]string{"jpeg": "jpg", "png": "png", "webp": "webp", "avif": "avif", "mp4": "mp4"}

// Extension is the file name ending of a format, without a dot.
func Extension(format string) string { return extensions[format] }

// Formats are the picture formats that an output size can ask for.
var Formats = []string{"jpeg", "png", "webp", "avif"}

// Make works out what an output size makes of an item. Nothing is ever enlarged. A clip becomes H.264 in an MP4 of even
// dimensions, whatever picture format the size names.
func Make(src Source, size Size) (Plan, error) {
	if src.Size.Empty() {
		return Plan{}, ErrNoDimensions
	}
	box := geometry.Size{Width: size.Width, Height: size.Height}
	if src.Kind == "clip" {
		return Plan{Size: geometry.Even(geometry.Fit(src.Size, box)), Format: "mp4"}, nil
	}
	if size.Fit == Fill && !box.Empty() {
		crop, dims := geometry.Fill(src.Size, box, src.Focal)
		return Plan{Crop: &crop, Size: dims, Format: size.Format}, nil
	}
	return Plan{Size: geometry.Fit(src.Size, box), Format: size.Format}, nil
}

// Check says what is wrong with an output size in a fault.Invalid for the field, or returns nil.
func (s Size) Check() error {
	switch {
	case s.Name == "":
		return fault.Invalidf("name", "An output size needs a name.")
	case s.Width < 0 || s.Height < 0 || s.Width > 20000 || s.Height > 20000:
		return fault.Invalidf("width", "Sides are 0 to 20000 pixels.")
	case s.Quality < 1 || s.Quality > 100:
		return fault.Invalidf("quality", "A quality is 1 to 100.")
	case extensions[s.Format] == "" || s.Format == "mp4":
		return fault.Invalidf("format", "%q is not one of %v.", s.Format, Formats)
	}
	return CheckPattern(s.Pattern)
}
