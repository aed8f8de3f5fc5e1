package recipe

import (
	"fmt"
	"slices"
	"strings"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

// Parts are what can be carried from one recipe to others: the groups of the adjustments, how the picture is framed, and its look.
var Parts = append(slices.Clone(Groups), "framing", "look")

// Change is what becomes of the recipes of many items. What it does not name stays.
type Change struct {
	Turn     int      `json:"turn,omitempty"`     // degrees clockwise, of what is seen
	Flip     bool     `json:"flip,omitempty"`     // of what is seen, left to right
	Back     []string `json:"back,omitempty"`     // parts that are put back to doing nothing; with red eyes among them as "eyes"
	Parts    []string `json:"parts,omitempty"`    // of Parts, taken over
	From     *Recipe  `json:"from,omitempty"`     // where they are taken over from
	Look     *Layer   `json:"look,omitempty"`     // a look that is put on
	LookName string   `json:"lookName,omitempty"` // what it is called
	// Width and Height are a proportion to crop to, about the focal point; 0 for none.
	Width  float64 `json:"width,omitempty"`
	Height float64 `json:"height,omitempty"`
}

// Check says what is wrong with a change.
func (c Change) Check() error {
	for _, p := range slices.Concat(c.Parts, c.Back) {
		if !slices.Contains(Parts, p) && p != "eyes" {
			return fault.Invalidf("parts", "“%s” is no part of a recipe.", p)
		}
	}
	switch {
	case c.Turn%90 != 0:
		return fault.Invalidf("turn", "Pictures are turned by 90, 180 or 270 degrees.")
	case (c.Width != 0 || c.Height != 0) && !(c.Width > 0 && c.Height > 0 && c.Width/c.Height <= 20 && c.Height/c.Width <= 20):
		return fault.Invalidf("width", "A proportion is two numbers above 0, up to 20 to 1.")
	case len(c.Parts) > 0 && c.From == nil:
		return fault.Invalidf("from", "Say which item to take them over from.")
	}
	if c.From != nil {
		if err := c.From.Check(); err != nil {
			return err
		}
	}
	if c.Look != nil {
		return Recipe{Look: c.Look}.Check()
	}
	return nil
}

// Apply is what a recipe becomes, for an upright file of a size in pixels, and with the focal point of what is shown now.
func (c Change) Apply(r Recipe, file geometry.Size, focal geometry.Point) Recipe {
	for _, part := range c.Back {
		r = r.with(Recipe{}, part)
		if part == "eyes" {
			r.RedEyes = nil
		}
	}
	for _, part := range c.Parts {
		r = r.with(*c.From, part)
	}
	if c.Look != nil {
		r.Look = c.Look
	}
	r = r.Turned(c.Turn)
	if c.Flip {
		r = r.Flipped()
	}
	if c.Width > 0 {
		r.Crop = inProportion(r, c.Width, c.Height, file, focal)
	}
	return r.Normal()
}

// with takes one part over from another recipe.
func (r Recipe) with(other Recipe, part string) Recipe {
	switch part {
	case "framing":
		r.Turn, r.Flip, r.Straighten, r.Crop = other.Turn, other.Flip, other.Straighten, other.Crop
	case "look":
		r.Look = other.Look
	default:
		r.Adjustments = r.Adjustments.With(other.Adjustments, []string{part})
	}
	return r
}

// inProportion is the largest crop in a proportion, as near to the focal point of what is shown now as the borders allow.
func inProportion(r Recipe, width, height float64, file geometry.Size, focal geometry.Point) *Crop {
	if file.Empty() {
		return r.Crop
	}
	at := r.Frame(file).File(focal)
	r.Crop = nil
	whole := r.Frame(file)
	focal = whole.Shown(at).Inside()
	size, cut := whole.Size(), whole.Cut()
	ratio := width / height * float64(size.Height) / float64(size.Width) // in fractions of what is shown
	w, h := min(1, ratio), min(1, 1/ratio)
	x, y := max(0, min(1-w, focal.X-w/2)), max(0, min(1-h, focal.Y-h/2))
	return &Crop{X: cut.X + x*cut.Width, Y: cut.Y + y*cut.Height, Width: w * cut.Width, Height: h * cut.Height}
}

// Said says what a change does to so many of something ("3 items"), as it is begun and when it was done.
func (c Change) Said(things string) (doing, done string) {
	say := func(a, b, rest string) (string, string) { return a + rest, b + rest }
	degrees := ((c.Turn % 360) + 360) % 360
	switch {
	case c.Look != nil && c.Look.Strength > 0:
		return say("Putting", "Put", fmt.Sprintf(" the look “%s” on %s", c.LookName, things))
	case len(c.Parts) > 0:
		return say("Carrying ", "Carried ", fmt.Sprintf("%s to %s", strings.Join(partWords(c.Parts), ", "), things))
	case degrees == 90:
		return say("Turning ", "Turned ", things+" right")
	case degrees == 270:
		return say("Turning ", "Turned ", things+" left")
	case degrees == 180:
		return say("Turning ", "Turned ", things+" upside down")
	case c.Flip:
		return say("Mirroring ", "Mirrored ", things)
	case c.Width > 0:
		return say("Cropping ", "Cropped ", fmt.Sprintf("%s to %g : %g", things, c.Width, c.Height))
	case len(c.Back) == 1 && c.Back[0] == "look" || c.Look != nil:
		return say("Taking the look off ", "Took the look off ", things)
	case len(c.Back) > len(Parts):
		return say("Putting ", "Put ", things+" back to the original")
	}
	return say("Putting ", "Put ", fmt.Sprintf("%s of %s back", strings.Join(partWords(c.Back), ", "), things))
}

func partWords(parts []string) []string {
	out := slices.Clone(parts)
	for i, p := range out {
		if p == "eyes" {
			out[i] = "red eyes"
		}
	}
	return out
}
