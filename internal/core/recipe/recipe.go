// Package recipe is what is done to a picture or a clip on its way from the file to the eye. It is kept with the item, and the file
// stays as it is. A recipe has one canonical form, so that the same recipe always has the same hash: that is what files
// made by it are known by.
package recipe

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"reflect"

	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/core/geometry"
)

// Current is the newest version of recipes. A change of a formula gets a new one, and recipes of an older one are drawn by the formulas
// of theirs.
const Current = 1

// Recipe is what is done to a picture. The zero value does nothing. The fields are in the order in which they are applied, after the
// orientation that the file itself tells (EXIF).
type Recipe struct {
	// Version is that of the formulas; 0 is the first.
	Version int `json:"version,omitempty"`
	// Sensor develops a camera raw file from what the sensor saw, in the place of the picture that the camera put in.
	Sensor bool `json:"sensor,omitempty"`
	// RedEyes are mended first, where they are in the file.
	RedEyes []RedEye `json:"red_eyes,omitempty"`
	// Turn is in degrees clockwise: 0, 90, 180 or 270.
	Turn int `json:"turn,omitempty"`
	// Flip mirrors left to right, after the turn.
	Flip bool `json:"flip,omitempty"`
	// Straighten is in degrees clockwise about the middle, -45 to 45.
	Straighten float64 `json:"straighten,omitempty"`
	// Crop is what remains of the turned picture, in fractions of its sides before it was straightened.
	Crop *Crop `json:"crop,omitempty"`
	// Adjustments are the item's own.
	Adjustments
	// Look is what a look of the brand adds to them.
	Look *Layer `json:"look,omitempty"`
	// Film is what is done to a clip besides.
	Film *Film `json:"film,omitempty"`
}

// RedEye is a disc in which red is taken for a reflection. The place is in fractions of the upright file, the radius in fractions of
// its longer side.
type RedEye struct {
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
	Radius float64 `json:"radius"`
}

// Crop is a region in fractions of a picture, from its upper left corner.
type Crop struct {
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
}

// Layer is a look that was put on: its adjustments as they were then, at a strength of 0 to 100 %.
type Layer struct {
	ID       int64       `json:"id"`
	Strength float64     `json:"strength"`
	Values   Adjustments `json:"values"`
}

// Limits of what a recipe holds.
const (
	mostEyes   = 40
	largestEye = 0.1
	mostPoints = 16
)

// Parse reads a recipe and brings it into its one form. What this version does not know is an error, and so is what Check says.
func Parse(text []byte) (Recipe, error) {
	var r Recipe
	if string(text) == "{}" { // see empty
		return r, nil
	}
	var head struct{ Version int }
	if json.Unmarshal(text, &head) == nil && head.Version > Current {
		return r, newer()
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(&r); err != nil {
		return r, fmt.Errorf("a recipe that cannot be read: %w", err)
	}
	if err := r.Check(); err != nil {
		return r, err
	}
	return r.Normal(), nil
}

func newer() error {
	return fault.Invalidf("version", "It was made by a newer version, which knows more than this one. Update this one first.")
}

// Check says what is wrong with a recipe, in a fault.Invalid that names the field.
func (r Recipe) Check() error {
	switch {
	case r.Version < 0:
		return fault.Invalidf("version", "A version is a number from 1.")
	case r.Version > Current:
		return newer()
	case r.Turn < 0 || r.Turn >= 360 || r.Turn%90 != 0:
		return fault.Invalidf("turn", "Turn: %d is not 0, 90, 180 or 270 degrees.", r.Turn)
	case !within(r.Straighten, -45, 45):
		return fault.Invalidf("straighten", "Straighten goes from −45° to 45°.")
	case len(r.RedEyes) > mostEyes:
		return fault.Invalidf("red_eyes", "A picture has at most %d red eyes.", mostEyes)
	}
	for _, e := range r.RedEyes {
		if !within(e.X, 0, 1) || !within(e.Y, 0, 1) || !(e.Radius > 0) || e.Radius > largestEye {
			return fault.Invalidf("red_eyes", "A red eye lies on the picture, with a radius of up to a tenth of its longer side.")
		}
	}
	if c := r.Crop; c != nil {
		const over = 1 + 1e-6
		if !within(c.X, 0, 1) || !within(c.Y, 0, 1) || !(c.Width >= geometry.SmallestRegion) ||
			!(c.Height >= geometry.SmallestRegion) || !(c.X+c.Width <= over) || !(c.Y+c.Height <= over) {
			return fault.Invalidf("crop", "A crop lies on the picture and leaves at least half a per cent of its sides.")
		}
	}
	if err := r.Adjustments.check(); err != nil {
		return err
	}
	if r.Film != nil {
		if err := r.Film.check(); err != nil {
			return err
		}
	}
	if r.Look != nil {
		if !within(r.Look.Strength, 0, 100) {
			return fault.Invalidf("look", "The strength of a look goes from 0 to 100 %%.")
		}
		return r.Look.Values.check()
	}
	return nil
}

func within(n, from, to float64) bool { return n >= from && n <= to } // and no NaN

// Normal is the one form of a recipe: rounded to what can be told apart, with nothing in it that does nothing.
func (r Recipe) Normal() Recipe {
	if r.empty() {
		return r
	}
	round := func(n, step float64) float64 {
		n = math.Round(n*step) / step
		return n + 0 // and no -0
	}
	if r.Version == 1 {
		r.Version = 0
	}
	r.Straighten = round(r.Straighten, 100)
	if c := r.Crop; c != nil {
		n := Crop{X: round(c.X, 1e5), Y: round(c.Y, 1e5), Width: round(c.Width, 1e5), Height: round(c.Height, 1e5)}
		n.X, n.Y = min(n.X, round(1-n.Width, 1e5)), min(n.Y, round(1-n.Height, 1e5))
		if r.Crop = &n; n == (Crop{Width: 1, Height: 1}) {
			r.Crop = nil
		}
	}
	eyes := make([]RedEye, 0, len(r.RedEyes))
	for _, e := range r.RedEyes {
		eyes = append(eyes, RedEye{X: round(e.X, 1e4), Y: round(e.Y, 1e4), Radius: max(1e-4, round(e.Radius, 1e4))})
	}
	if r.RedEyes = eyes; len(eyes) == 0 {
		r.RedEyes = nil
	}
	r.Adjustments = r.Adjustments.normal()
	if r.Film != nil {
		r.Film = r.Film.normal()
	}
	if r.Look != nil {
		l := *r.Look
		l.Strength, l.Values = round(l.Strength, 1), l.Values.normal()
		if r.Look = &l; l.Strength == 0 || l.Values.Neutral() {
			r.Look = nil
		}
	}
	return r
}

// empty says whether nothing is set, as in the recipes of most items, of which thousands are gone through at once.
func (r *Recipe) empty() bool { return reflect.ValueOf(r).Elem().IsZero() }

// Canonical is the one way to write a recipe, as JSON (RFC 8259): fields in their order, those that do nothing left out.
func (r Recipe) Canonical() []byte {
	if r = r.Normal(); r.empty() {
		return []byte("{}")
	}
	text, err := json.Marshal(r)
	if err != nil {
		panic(err) // numbers can be written; Check refuses what is none
	}
	return text
}

// hashLength is how much of the sum is kept, in characters of 4 bits.
const hashLength = 12

// Hash stands for a recipe in addresses and keys: the beginning of the SHA-256 of its canonical form in hexadecimal, or ""
// for one that does nothing.
func (r Recipe) Hash() string {
	text := r.Canonical()
	if string(text) == "{}" {
		return ""
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])[:hashLength]
}

// Neutral says whether a recipe does nothing.
func (r Recipe) Neutral() bool { return string(r.Canonical()) == "{}" }

// Same says whether two recipes do the same.
func (r Recipe) Same(other Recipe) bool { return bytes.Equal(r.Canonical(), other.Canonical()) }

// Cut is how the picture is framed.
func (r Recipe) Cut() geometry.Cut {
	return geometry.Cut{Turn: r.Turn, Flip: r.Flip, Straighten: r.Straighten, Region: (*geometry.Region)(r.Crop)}
}

// Frame is how an upright file of a size in pixels is framed.
func (r Recipe) Frame(file geometry.Size) geometry.Frame { return geometry.NewFrame(file, r.Cut()) }

// Size is the size in pixels of what the recipe makes of a picture of a size in pixels.
func (r Recipe) Size(s geometry.Size) geometry.Size {
	if s.Empty() {
		return s
	}
	return r.Frame(s).Size()
}

// Turned is the recipe with what is seen turned clockwise by a multiple of 90 degrees: crop and all turn with it.
func (r Recipe) Turned(degrees int) Recipe {
	degrees = ((degrees % 360) + 360) % 360
	r.Crop = r.carried(geometry.Cut{Turn: degrees}.Orientation())
	if r.Flip { // it is mirrored after the turn
		degrees = 360 - degrees
	}
	r.Turn = (r.Turn + degrees) % 360
	return r
}

// Flipped is the recipe with what is seen mirrored left to right.
func (r Recipe) Flipped() Recipe {
	r.Crop = r.carried(geometry.Cut{Flip: true}.Orientation())
	r.Flip, r.Straighten = !r.Flip, -r.Straighten+0
	return r
}

func (r Recipe) carried(o geometry.Orientation) *Crop {
	if r.Crop == nil {
		return nil
	}
	return new(Crop(o.Region(geometry.Region(*r.Crop))))
}

// Effective is what is done to tone and texture: the item's own adjustments and what its look adds.
func (r Recipe) Effective() Adjustments {
	if r.Look == nil {
		return r.Adjustments.normal()
	}
	return r.Adjustments.plus(r.Look.Values.Times(r.Look.Strength / 100)).normal()
}
