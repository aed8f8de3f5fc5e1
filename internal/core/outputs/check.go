package outputs

import (
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/likeness"
)

// Limits of an output size.
const (
	MostSide    = 20_000    // pixels
	leastBudget = 2_000     // bytes
	mostBudget  = 1 << 30   // bytes
	mostPixels  = 120 * 1e6 // that may be made where a size enlarges or pads
	mostRate    = 120       // pictures a second

	mostAnimatedSide = 1200 // pixels
)

// animatedSide is the longer side of animations in pixels, or 0 where nothing bounds it.
func (s Size) animatedSide() int {
	if s.ClipSide > 0 {
		return s.ClipSide
	}
	return max(s.Width, s.Height)
}

// Check says what is wrong with an output size in a fault.Invalid for the field, or returns nil.
func (s Size) Check() error {
	both := s.Width > 0 && s.Height > 0
	switch {
	case strings.TrimSpace(s.Name) == "":
		return fault.Invalidf("name", "An output size needs a name.")
	case s.Width < 0 || s.Width > MostSide:
		return fault.Invalidf("width", "A side has 1 to %d pixels, or 0 to leave it open.", MostSide)
	case s.Height < 0 || s.Height > MostSide:
		return fault.Invalidf("height", "A side has 1 to %d pixels, or 0 to leave it open.", MostSide)
	case !slices.Contains([]Fit{Inside, Fill, Pad}, s.Fit):
		return fault.Invalidf("fit", "%q is no way to go into a box.", s.Fit)
	case s.Fit != Inside && !both:
		return fault.Invalidf("width", "To fill a box both its sides are needed.")
	case (s.Enlarge || s.Fit == Pad) && float64(s.Width)*float64(s.Height) > mostPixels:
		return fault.Invalidf("width", "That would be more than %d megapixels each.", int(mostPixels/1e6))
	case s.Enlarge && s.Width == 0 && s.Height == 0:
		return fault.Invalidf("enlarge", "Say to which width or height pictures are enlarged.")
	case s.Quality < 1 || s.Quality > 100:
		return fault.Invalidf("quality", "A quality is 1 to 100.")
	case !slices.Contains(Formats, s.Format):
		return fault.Invalidf("format", "%q is not one of %v.", s.Format, Formats)
	case !slices.Contains([]Metadata{StripPrivate, StripAll, Keep}, s.Metadata):
		return fault.Invalidf("metadata", "%q says nothing about metadata.", s.Metadata)
	case s.Budget != 0 && (s.Budget < leastBudget || s.Budget > mostBudget):
		return fault.Invalidf("budget", "A budget is %d kB to 1 GB.", leastBudget/1000)
	case s.Budget != 0 && s.Format == "png":
		return fault.Invalidf("budget", "A PNG loses nothing, so it cannot be made smaller. Choose another format for a budget.")
	case s.Sharpen < 0 || s.Sharpen > 100:
		return fault.Invalidf("sharpen", "Sharpening is 0 to 100.")
	case s.ClipSide < 0 || s.ClipSide > MostSide:
		return fault.Invalidf("clipSide", "A side has at most %d pixels.", MostSide)
	case !slices.Contains(ClipFormats, s.ClipFormat):
		return fault.Invalidf("clipFormat", "%q is nothing that clips become.", s.ClipFormat)
	case s.Animated() && (s.animatedSide() == 0 || s.animatedSide() > mostAnimatedSide):
		return fault.Invalidf("clipSide", "An animation has at most %d pixels on its longer side.", mostAnimatedSide)
	case !(s.ClipRate >= 0 && s.ClipRate <= mostRate):
		return fault.Invalidf("clipRate", "Clips have at most %d pictures a second.", mostRate)
	}
	if s.Fit == Pad && s.Colour != Tint {
		if _, err := likeness.ParseColour(s.Colour); err != nil {
			return fault.Invalidf("colour", "Say the colour around it as #rrggbb, or %q for its own.", Tint)
		}
	}
	return CheckPattern(s.Pattern)
}

// Proportion names the proportions of a box, by the smallest whole numbers: 1080 × 1080 is "1:1".
func Proportion(box geometry.Size) string {
	a, b := box.Width, box.Height
	for b != 0 {
		a, b = b, a%b
	}
	if a == 0 {
		return ""
	}
	return fmt.Sprintf("%d:%d", box.Width/a, box.Height/a)
}
