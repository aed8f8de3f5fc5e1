// Package outputs decides what an output size makes of an item: dimensions, format, file name and which metadata stays.
package outputs

import (
	"errors"
	"fmt"
	"math"
	"strings"

	"brightsatchel/internal/core/geometry"
)

// Fit says how a picture goes into the box of an output size.
type Fit string

// Inside keeps the whole picture; Fill cuts it to the proportions of the box; Pad keeps it whole and fills the rest of the box.
const (
	Inside Fit = "inside"
	Fill   Fit = "fill"
	Pad    Fit = "pad"
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

// Tint as the colour of a Pad is the mean colour of the picture itself.
const Tint = "tint"

// Size is a named recipe for a file to hand out. Width and Height are pixels; 0 leaves a side open. Quality is 1 to 100. What was not
// there from the beginning is left out of its JSON while it does nothing, so that what was made stays what is meant.
type Size struct {
	ID            int64 `json:"-"` // 0 for one that is nobody's
	Name          string
	Width, Height int
	Fit           Fit
	Format        string
	Quality       int
	Metadata      Metadata
	Pattern       string
	// Colour fills a Pad: Tint, or #rrggbb.
	Colour string `json:",omitempty"`
	// Enlarge makes pictures that are too small as large as was asked.
	Enlarge bool `json:",omitempty"`
	// Budget is how many bytes a picture may take, or 0; its quality is then at most Quality and as high as that allows.
	Budget int64 `json:",omitempty"`
	// Sharpen is 0 to 100, for the size that comes out.
	Sharpen int `json:",omitempty"`
	// Of clips: the longer side in pixels in place of Width and Height, or 0; the most pictures a second, or 0; without sound.
	ClipSide int     `json:",omitempty"`
	ClipRate float64 `json:",omitempty"`
	Quiet    bool    `json:",omitempty"`
	// ClipSeconds is how long a clip is at most; of a longer one its beginning is taken. 0 is as long as it is.
	ClipSeconds float64 `json:",omitempty"`
	// ClipFormat is what becomes of clips: a film ("" or mp4), or an animation (gif or webp) without sound.
	ClipFormat string `json:",omitempty"`
	// Mark is what is drawn across pictures.
	Mark Mark `json:",omitzero"`
}

// Mark are words or another picture, drawn across a picture.
type Mark struct {
	Words    string `json:"words"`
	Place    string `json:"place"`    // one of MarkPlaces
	Strength int    `json:"strength"` // 10 to 100 %, how much it covers
	// Item is drawn in place of words; what that is now is Picture, by its key in the storage.
	Item    int64  `json:"item,omitempty"`
	Picture string `json:"picture,omitempty"`
}

// None says whether nothing is drawn.
func (m Mark) None() bool { return m.Words == "" && m.Item == 0 && m.Picture == "" }

// MarkPlaces are where a mark is: once in the middle, repeated across, or in the corner at the bottom right.
var MarkPlaces = []string{"middle", "across", "corner"}

// Under is the mark as it is drawn: nothing of it matters where nothing is drawn.
func (m Mark) Under() Mark {
	if m.None() {
		return Mark{}
	}
	return m
}

// Source is what is known of an item that a rendition is made from.
type Source struct {
	Kind  string
	Size  geometry.Size
	Focal geometry.Point
	// Focals are focal points for some proportions in place of Focal, by Proportion.
	Focals map[string]geometry.Point
}

// Plan is what will be made: the part of the upright original to take, the exact dimensions in pixels, and the format. With Inner the
// picture is of that size, in the middle of the rest.
type Plan struct {
	Crop   *geometry.Rect
	Size   geometry.Size
	Format string
	Inner  *geometry.Size `json:",omitempty"`
}

// ErrNoDimensions is returned for an item that cannot be sized because it has no width or height.
var ErrNoDimensions = errors.New("outputs: the item has no dimensions")

var extensions = map[string]string{"jpeg": "jpg", "png": "png", "webp": "webp", "avif": "avif", "mp4": "mp4", "gif": "gif"}

// Extension is the file name ending of a format, without a dot.
func Extension(format string) string { return extensions[format] }

// Best as a format is the best that the asker takes.
const Best = "best"

// Formats are the picture formats that an output size can ask for.
var Formats = []string{"jpeg", "png", "webp", "avif", Best}

// ClipFormats are what an output size can make of clips.
var ClipFormats = []string{"", "mp4", "gif", "webp"}

// MostAnimated is how long an animation is at most, in seconds.
const MostAnimated = 30

// Animated says whether clips become animations rather than films.
func (s *Size) Animated() bool { return s.ClipFormat == "gif" || s.ClipFormat == "webp" }

// For is the size for somebody whose request says which media types it takes (Accept, RFC 9110 section 12.5.1). Only types that are named
// count: whatever asks for anything is given what everything shows.
func (s Size) For(accept string) Size {
	if s.Format != Best {
		return s
	}
	s.Format = "jpeg"
	for part := range strings.SplitSeq(accept, ",") {
		name, weight, _ := strings.Cut(part, ";")
		if q, found := strings.CutPrefix(strings.ReplaceAll(weight, " ", ""), "q="); found && strings.Trim(q, "0.") == "" {
			continue // refused
		}
		switch strings.TrimSpace(name) {
		case "image/avif":
			s.Format = "avif"
			return s
		case "image/webp":
			s.Format = "webp"
		}
	}
	return s
}

// Make works out what an output size makes of an item. Nothing is enlarged unless the size asks for it. A clip becomes H.264 in an MP4 of
// even dimensions or an animation, whatever picture format the size names. Where nobody says what they take, the best is a JPEG.
func Make(src Source, size Size) (Plan, error) {
	size = size.For("")
	if src.Size.Empty() {
		return Plan{}, ErrNoDimensions
	}
	box := geometry.Size{Width: size.Width, Height: size.Height}
	fit := geometry.Fit
	if size.Enlarge {
		fit = geometry.Stretch
	}
	switch {
	case src.Kind == "clip":
		if size.ClipSide > 0 {
			box = geometry.Size{Width: size.ClipSide, Height: size.ClipSide}
		}
		if size.Animated() {
			return Plan{Size: geometry.Fit(src.Size, box), Format: size.ClipFormat}, nil
		}
		return Plan{Size: geometry.Even(geometry.Fit(src.Size, box)), Format: "mp4"}, nil
	case size.Fit == Fill && !box.Empty():
		crop, dims := geometry.Fill(src.Size, box, src.focalFor(box))
		if size.Enlarge {
			dims = box
		}
		return Plan{Crop: &crop, Size: dims, Format: size.Format}, nil
	case size.Fit == Pad && !box.Empty():
		inner := fit(src.Size, box)
		if inner == box {
			return Plan{Size: box, Format: size.Format}, nil
		}
		return Plan{Size: box, Format: size.Format, Inner: &inner}, nil
	}
	return Plan{Size: fit(src.Size, box), Format: size.Format}, nil
}

// nearProportion is how far proportions differ at most, as a part of them, that only the rounding to whole pixels tells apart.
const nearProportion = 0.005

// focalFor is the point for a box: that of its very proportions, or of those nearest to them that differ by no more than rounding.
func (s Source) focalFor(box geometry.Size) geometry.Point {
	if own, set := s.Focals[Proportion(box)]; set {
		return own
	}
	found, least := s.Focal, nearProportion
	for name, point := range s.Focals {
		var width, height float64
		if n, err := fmt.Sscanf(name, "%g:%g", &width, &height); err != nil || n != 2 || width <= 0 || height <= 0 {
			continue
		}
		if off := math.Abs(width/height*float64(box.Height)/float64(box.Width) - 1); off < least {
			found, least = point, off
		}
	}
	return found
}
