package pictures

// #include "vips.h"
// #include "draw.h"
import "C"

import (
	"math"

	"brightsatchel/internal/core/geometry"
)

// oversampling is by how much more is decoded of what is straightened: at its own size a quarter of its sharpness would be lost.
const oversampling = 1.5

// part is what an output shows of a picture that its recipe frames: its size in pixels, and where in the turned picture it lies.
type part struct {
	width, height int
	region        geometry.Region // in fractions of the turned picture
}

// partOf works out the part for an output.
func partOf(frame geometry.Frame, o Output) part {
	cut := frame.Cut()
	if o.CropWidth == 0 {
		return part{o.Width, o.Height, cut}
	}
	x, y := cut.Width/float64(o.ScaledWidth), cut.Height/float64(o.ScaledHeight)
	return part{o.CropWidth, o.CropHeight, geometry.Region{X: cut.X + float64(o.CropX)*x, Y: cut.Y + float64(o.CropY)*y,
		Width: float64(o.CropWidth) * x, Height: float64(o.CropHeight) * y}}
}

// decodedSize is the size at which the turned picture must be decoded for a part of it, and never more than it has.
func (p part) decodedSize(frame geometry.Frame) geometry.Size {
	whole := frame.Turned()
	scale := func(out int, of float64, most int) float64 {
		more := 1.0
		if frame.Straightened() {
			more = oversampling
		}
		return min(1, more*float64(out)/(of*float64(most)))
	}
	s := max(scale(p.width, p.region.Width, whole.Width), scale(p.height, p.region.Height, whole.Height))
	side := func(n int) int { return max(1, int(math.Round(float64(n)*s))) }
	return geometry.Size{Width: side(whole.Width), Height: side(whole.Height)}
}

// framed cuts the part out of the turned picture. It frees the other.
func (p pixels) framed(c geometry.Cut, frame geometry.Frame, to part) (pixels, error) {
	w, h := float64(p.raw.width), float64(p.raw.height)
	if !frame.Straightened() {
		return p.cut(to, w, h)
	}
	from, err := p.wide()
	if err != nil {
		return from, err
	}
	width, height := max(1, int(math.Round(to.region.Width*w))), max(1, int(math.Round(to.region.Height*h)))
	sin, cos := math.Sincos(c.Straighten * math.Pi / 180)
	wide, err := from.asPicture()
	if err != nil {
		return pixels{}, err
	}
	defer wide.free()
	turned, err := call("straightening", func(out **C.VipsImage) C.int {
		return C.bs_rotate(wide.ptr, C.double(sin), C.double(cos), C.double((to.region.X-0.5)*w), C.double((to.region.Y-0.5)*h),
			C.int(width), C.int(height), out)
	})
	if err != nil {
		return pixels{}, err
	}
	defer turned.free()
	sized, err := call("resizing", func(out **C.VipsImage) C.int { return C.bs_resize(turned.ptr, C.int(to.width), C.int(to.height), out) })
	if err != nil {
		return pixels{}, err
	}
	defer sized.free()
	held, err := sized.inMemory()
	return held.held(), err
}

// cut takes the part out pixel by pixel where it was decoded at its size, and resizes what it gets where it was not.
func (p pixels) cut(to part, w, h float64) (pixels, error) {
	width, height := min(int(p.raw.width), int(math.Round(to.region.Width*w))), min(int(p.raw.height), int(math.Round(to.region.Height*h)))
	near := func(a, b int) bool { return max(a-b, b-a) <= 1 }
	if near(width, to.width) && near(height, to.height) && to.width <= int(p.raw.width) && to.height <= int(p.raw.height) {
		width, height = to.width, to.height
	}
	if width == int(p.raw.width) && height == int(p.raw.height) && width == to.width && height == to.height {
		return p, nil
	}
	x := max(0, min(int(p.raw.width)-width, int(math.Round(to.region.X*w))))
	y := max(0, min(int(p.raw.height)-height, int(math.Round(to.region.Y*h))))
	whole, err := p.asPicture()
	if err != nil {
		return pixels{}, err
	}
	defer whole.free()
	piece, err := whole.crop(x, y, max(1, width), max(1, height))
	if err != nil {
		return pixels{}, err
	}
	defer piece.free()
	if width != to.width || height != to.height {
		sized, err := call("resizing", func(out **C.VipsImage) C.int {
			return C.bs_resize(piece.ptr, C.int(to.width), C.int(to.height), out)
		})
		if err != nil {
			return pixels{}, err
		}
		defer sized.free()
		held, err := sized.inMemory()
		return held.held(), err
	}
	held, err := piece.inMemory()
	return held.held(), err
}

// turned turns and mirrors. It frees the other.
func (p pixels) turned(c geometry.Cut) (pixels, error) {
	if c.Turn == 0 && !c.Flip {
		return p, nil
	}
	whole, err := p.asPicture()
	if err != nil {
		return pixels{}, err
	}
	defer func() { whole.free() }()
	if c.Turn != 0 {
		turned, err := whole.turn(c.Turn)
		if err != nil {
			return pixels{}, err
		}
		whole.free()
		whole = turned
	}
	if c.Flip {
		flipped, err := call("mirroring", func(out **C.VipsImage) C.int { return C.bs_flip(whole.ptr, out) })
		if err != nil {
			return pixels{}, err
		}
		whole.free()
		whole = flipped
	}
	held, err := whole.inMemory()
	return held.held(), err
}
