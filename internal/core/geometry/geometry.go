// Package geometry computes sizes, crops and orientations of pictures. Lengths are whole pixels, positions inside a
// picture are fractions from 0 (left, top) to 1 (right, bottom).
package geometry

import "math"

// Size is a width and a height in pixels.
type Size struct{ Width, Height int }

// Empty says whether one side is missing.
func (s Size) Empty() bool { return s.Width <= 0 || s.Height <= 0 }

// Rect is a part of a picture in pixels, from its upper left corner.
type Rect struct{ X, Y, Width, Height int }

// Point is a position inside a picture in fractions of its sides.
type Point struct{ X, Y float64 }

// Centre is the middle of a picture.
var Centre = Point{X: 0.5, Y: 0.5}

// Fit returns the largest size with the proportions of src that lies inside box and is not larger than src. A side of
// box that is 0 is left open. Each side is at least one pixel and within one pixel of the exact proportion.
func Fit(src, box Size) Size { return fit(src, box, 1) }

// Stretch is Fit, enlarged where the box is larger: src as large as it goes into the box. A box without sides leaves it as it is.
func Stretch(src, box Size) Size {
	if box.Width <= 0 && box.Height <= 0 {
		return src
	}
	return fit(src, box, math.Inf(1))
}

func fit(src, box Size, most float64) Size {
	if src.Empty() {
		return Size{}
	}
	scale := most
	if box.Width > 0 {
		scale = min(scale, float64(box.Width)/float64(src.Width))
	}
	if box.Height > 0 {
		scale = min(scale, float64(box.Height)/float64(src.Height))
	}
	return Size{Width: scaled(src.Width, scale), Height: scaled(src.Height, scale)}
}

func scaled(length int, scale float64) int {
	return max(1, int(math.Round(float64(length)*scale)))
}

// Fill returns the part of src that has the proportions of box and lies as near to the focal point as the borders
// allow, and the size it is then shown at: box, or smaller with the same proportions where src is too small for it.
func Fill(src, box Size, focal Point) (Rect, Size) {
	if src.Empty() || box.Empty() {
		return Rect{}, Size{}
	}
	scale := max(float64(box.Width)/float64(src.Width), float64(box.Height)/float64(src.Height))
	crop := Size{
		Width:  min(src.Width, scaled(box.Width, 1/scale)),
		Height: min(src.Height, scaled(box.Height, 1/scale)),
	}
	rect := Rect{
		X:     along(src.Width, crop.Width, focal.X),
		Y:     along(src.Height, crop.Height, focal.Y),
		Width: crop.Width, Height: crop.Height,
	}
	if scale > 1 {
		return rect, crop
	}
	return rect, box
}

// along places a piece on a line so that its middle is as near to the fraction at as the ends allow.
func along(whole, piece int, at float64) int {
	start := int(math.Round(at*float64(whole) - float64(piece)/2))
	return max(0, min(start, whole-piece))
}

// Orientation is the EXIF orientation of a stored picture (Exif 2.32, tag 0x0112): 1 is upright, 2 to 8 say how the
// stored pixels must be mirrored and turned. Any other value counts as upright.
type Orientation int

// Turns says whether width and height change places when the picture is shown upright.
func (o Orientation) Turns() bool { return o >= 5 && o <= 8 }

// Size returns the size of the upright picture for the size of the stored one.
func (o Orientation) Size(stored Size) Size {
	if o.Turns() {
		return Size{Width: stored.Height, Height: stored.Width}
	}
	return stored
}

// Point carries a position in the stored picture into the upright one.
func (o Orientation) Point(p Point) Point {
	x, y := p.X, p.Y
	switch o {
	case 2:
		return Point{1 - x, y}
	case 3:
		return Point{1 - x, 1 - y}
	case 4:
		return Point{x, 1 - y}
	case 5:
		return Point{y, x}
	case 6:
		return Point{1 - y, x}
	case 7:
		return Point{1 - y, 1 - x}
	case 8:
		return Point{y, 1 - x}
	}
	return p
}

// Inverse is the orientation that carries back what this one carries.
func (o Orientation) Inverse() Orientation {
	switch o {
	case 6:
		return 8
	case 8:
		return 6
	}
	return o // upright, the half turn and all that mirror
}

// Region is a part of a picture, from its upper left corner, in fractions of its sides.
type Region struct{ X, Y, Width, Height float64 }

// SmallestRegion is how large both sides of a region are at least, as a fraction of those of the picture.
const SmallestRegion = 0.005

// Bounded is a region inside of the picture that is as near to this one as can be: not smaller than the smallest, and all on it.
// It says false for one that is not made of numbers.
func (r Region) Bounded() (Region, bool) {
	for _, n := range []float64{r.X, r.Y, r.Width, r.Height} {
		if math.IsNaN(n) || math.IsInf(n, 0) {
			return r, false
		}
	}
	r.Width, r.Height = max(SmallestRegion, min(r.Width, 1)), max(SmallestRegion, min(r.Height, 1))
	r.X, r.Y = max(0, min(r.X, 1-r.Width)), max(0, min(r.Y, 1-r.Height))
	return r, true
}

// Region carries a part of the stored picture into the upright one.
func (o Orientation) Region(r Region) Region {
	a, b := o.Point(Point{r.X, r.Y}), o.Point(Point{r.X + r.Width, r.Y + r.Height})
	return Region{X: min(a.X, b.X), Y: min(a.Y, b.Y), Width: math.Abs(a.X - b.X), Height: math.Abs(a.Y - b.Y)}
}

// Within carries a part of a picture of a size in pixels into what is cut out of it, also in pixels, with what lies outside cut off.
// It says false when the middle of the region was cut off, or what cuts is empty.
func (r Region) Within(cut Rect, of Size) (Region, bool) {
	if of.Empty() || cut.Width <= 0 || cut.Height <= 0 {
		return Region{}, false
	}
	side := func(at, length float64, from, piece, whole int) (float64, float64, bool) {
		scale := float64(whole) / float64(piece)
		start := (at - float64(from)/float64(whole)) * scale
		end := start + length*scale
		middle := (start + end) / 2
		start, end = max(0, start), min(1, end)
		return start, end - start, middle >= 0 && middle <= 1
	}
	x, width, inX := side(r.X, r.Width, cut.X, cut.Width, of.Width)
	y, height, inY := side(r.Y, r.Height, cut.Y, cut.Height, of.Height)
	if !inX || !inY {
		return Region{}, false
	}
	return Region{X: x, Y: y, Width: width, Height: height}, true
}

// Even rounds both sides down to even numbers of at least 2, as 4:2:0 film needs.
func Even(s Size) Size {
	return Size{Width: max(2, s.Width&^1), Height: max(2, s.Height&^1)}
}
