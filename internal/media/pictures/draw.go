package pictures

// #include <stdlib.h>
// #include "vips.h"
// #include "draw.h"
import "C"

import (
	"errors"
	"math"
	"sync"
	"unsafe"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

// oversampling is by how much more is decoded of what is straightened: at its own size a quarter of its sharpness would be lost.
const oversampling = 1.5

// What the sliders mean to the pass over texture at 100.
const (
	noiseReach   = 2.0 // times the measured noise
	sharpenReach = 1.6 // times what is finer
)

// pixels is a picture in memory, as the passes of a recipe take it.
type pixels struct {
	image
	raw C.BsPixels
}

// asPixels puts a picture into memory in three bands of sRGB, or four with transparency.
func (i image) asPixels() (pixels, error) {
	srgb, err := call("converting its colours", func(out **C.VipsImage) C.int { return C.bs_srgb(i.ptr, out) })
	if err != nil {
		return pixels{}, err
	}
	defer srgb.free()
	held, err := srgb.inMemory()
	if err != nil {
		return pixels{}, err
	}
	return held.held(), nil
}

// held is a picture that is in memory already.
func (i image) held() pixels {
	bits := C.int(8)
	if i.ptr.BandFmt == C.VIPS_FORMAT_USHORT {
		bits = 16
	}
	return pixels{i, C.BsPixels{data: unsafe.Pointer(i.ptr.data), width: i.ptr.Xsize, height: i.ptr.Ysize, bands: i.ptr.Bands, bits: bits}}
}

// blank is a picture of a size in memory, not yet drawn.
func blank(width, height, bands, bits int) (pixels, error) {
	memory := C.malloc(C.size_t(width) * C.size_t(height) * C.size_t(bands) * C.size_t(bits/8))
	if memory == nil {
		return pixels{}, errMemory
	}
	return pixels{image{}, C.BsPixels{data: memory, width: C.int(width), height: C.int(height), bands: C.int(bands), bits: C.int(bits)}}, nil
}

var errMemory = errors.New("there is not enough memory for it")

// picture makes a picture of libvips of what was drawn, and frees that.
func (p pixels) picture() (image, error) {
	defer p.free()
	return call("drawing", func(out **C.VipsImage) C.int {
		return C.bs_from_memory(p.raw.data, p.raw.width, p.raw.height, p.raw.bands, p.raw.bits, out)
	})
}

func (p pixels) free() {
	if p.ptr != nil {
		p.image.free()
		return
	}
	C.free(p.raw.data)
}

var transfer sync.Once

// fillTransfer gives the passes the sRGB transfer function.
func fillTransfer() {
	for i := range C.bs_linear16 {
		C.bs_linear16[i] = C.float(recipe.Decode(float64(i) / 65535))
	}
	for i := range C.bs_linear8 {
		C.bs_linear8[i] = C.float(recipe.Decode(float64(i) / 255))
	}
}

// wide is the picture with 16 bits for each value. It frees the other.
func (p pixels) wide() (pixels, error) {
	if p.raw.bits == 16 {
		return p, nil
	}
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 16)
	if err == nil {
		C.bs_widen(&p.raw, &out.raw)
	}
	return out, err
}

// mended has red eyes mended, at the size of the whole upright file. It frees the other.
func (p pixels) mended(eyes []recipe.RedEye) (pixels, error) {
	if len(eyes) == 0 {
		return p, nil
	}
	out, err := p.wide()
	if err != nil {
		return out, err
	}
	where := make([]C.BsEye, len(eyes))
	for i, e := range eyes {
		where[i] = C.BsEye{x: C.float(e.X * float64(p.raw.width)), y: C.float(e.Y * float64(p.raw.height)),
			radius: C.float(e.Radius * float64(max(p.raw.width, p.raw.height)))}
	}
	C.bs_mend_eyes(&out.raw, &where[0], C.int(len(where)))
	return out, nil
}

// denoised has noise taken out, at a strength of 0 to 100 for luma and for colour. It frees the other.
func (p pixels) denoised(luma, colour float64) (pixels, error) {
	if luma == 0 && colour == 0 || min(p.raw.width, p.raw.height) < 8 {
		return p, nil
	}
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 16)
	if err != nil {
		return out, err
	}
	if C.bs_denoise(&p.raw, &out.raw, C.float(noiseReach*luma/100), C.float(noiseReach*colour/100)) != 0 {
		out.free()
		return pixels{}, errMemory
	}
	return out, nil
}

// noise is the standard deviation of the noise of its luma, as a fraction of full brightness.
func (p pixels) noise() float64 { return float64(C.bs_noise_of(&p.raw)) }

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

// asPicture is a picture of libvips, in the place of this one.
func (p pixels) asPicture() (image, error) {
	if p.ptr != nil {
		return p.image, nil
	}
	return p.picture()
}

// baseOf is the base map of a picture that was decoded upright, and where the pixels of a part of it lie in that.
func (p pixels) baseOf() (C.BsBase, error) {
	var base C.BsBase
	if C.bs_base_map(&p.raw, &base) != 0 {
		return base, errMemory
	}
	return base, nil
}

// place tells the base map where the pixels of a part lie: their middles are carried back through the frame.
func place(base *C.BsBase, frame geometry.Frame, to part) {
	cut := frame.Cut()
	at := func(x, y float64) (float64, float64) { // from a pixel of the part to a place of the map
		turned := geometry.Point{X: to.region.X + (x+0.5)/float64(to.width)*to.region.Width,
			Y: to.region.Y + (y+0.5)/float64(to.height)*to.region.Height}
		file := frame.File(geometry.Point{X: (turned.X - cut.X) / cut.Width, Y: (turned.Y - cut.Y) / cut.Height})
		return file.X*float64(base.width) - 0.5, file.Y*float64(base.height) - 0.5
	}
	x0, y0 := at(0, 0)
	x1, y1 := at(1, 0)
	x2, y2 := at(0, 1)
	base.x0, base.x_by_x, base.x_by_y = C.float(x0), C.float(x1-x0), C.float(x2-x0)
	base.y0, base.y_by_x, base.y_by_y = C.float(y0), C.float(y1-y0), C.float(y2-y0)
}

// finished draws tone and sharpening, and rounds to 8 bits. It frees the other.
func (p pixels) finished(a recipe.Adjustments, base *C.BsBase) (pixels, error) {
	tone, sharpen := toneOf(a), sharpenOf(a)
	if tone == nil && sharpen == nil && p.raw.bits == 8 {
		return p, nil
	}
	transfer.Do(fillTransfer)
	defer p.free()
	out, err := blank(int(p.raw.width), int(p.raw.height), int(p.raw.bands), 8)
	if err != nil {
		return out, err
	}
	if C.bs_finish(&p.raw, &out.raw, tone, base, sharpen) != 0 {
		out.free()
		return pixels{}, errMemory
	}
	return out, nil
}

func usesBase(a recipe.Adjustments) bool {
	return a.Highlights != 0 || a.Shadows != 0 || a.Clarity != 0
}

// toneOf is the tone of adjustments as the pass takes it, or nil where there is nothing to do.
func toneOf(a recipe.Adjustments) *C.BsTone {
	t := recipe.ToneOf(a)
	if t.Neutral() {
		return nil
	}
	out := &C.BsTone{clarity: C.float(t.Clarity), vignette: C.float(t.Vignette), saturation: C.float(t.Saturation),
		vibrance: C.float(t.Vibrance), mono: C.float(t.Mono)}
	copyTo(out.matrix[:], t.Matrix[:])
	copyTo(out.curve[:], t.Curve[:])
	copyTo(out.encode[:], recipe.EncodeTable[:])
	copyTo(out.local[:], t.Local[:])
	copyTo(out.mix[:], t.Mix[:])
	if usesBase(a) {
		out.uses_base = 1
	}
	return out
}

func copyTo(to []C.float, from []float32) {
	for i, n := range from {
		to[i] = C.float(n)
	}
}

func sharpenOf(a recipe.Adjustments) *C.BsSharpen {
	if a.Sharpen == 0 {
		return nil
	}
	return &C.BsSharpen{amount: C.float(sharpenReach * a.Sharpen / 100), sigma: C.float(a.Radius), threshold: C.float(a.Threshold / 255)}
}

// render makes what a recipe makes of a file, for one output: decoded once at the size that it needs, and rounded to 8 bits once, at the
// end.
func render(path string, r Request, facts Facts, o Output) (image, error) {
	file := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	frame, cut, do := r.Recipe.Frame(file), r.Recipe.Cut(), r.Recipe.Effective()
	to := partOf(frame, o)
	size := cut.Orientation().Size(to.decodedSize(frame))
	p, err := decoded(path, r, size)
	if err != nil {
		return image{}, err
	}
	var base *C.BsBase
	if usesBase(do) {
		map_, err := p.baseOf()
		defer C.bs_base_free(&map_)
		if err != nil {
			p.free()
			return image{}, err
		}
		place(&map_, frame, to)
		base = &map_
	}
	if p, err = p.mended(r.Recipe.RedEyes); err != nil {
		return image{}, err
	}
	if p, err = p.denoised(do.Noise, do.ColourNoise); err != nil {
		return image{}, err
	}
	if p, err = p.turned(cut); err != nil {
		return image{}, err
	}
	if p, err = p.framed(cut, frame, to); err != nil {
		return image{}, err
	}
	if p, err = p.finished(do, base); err != nil {
		return image{}, err
	}
	return p.asPicture()
}

// decoded is an upright file in memory at a size in pixels.
func decoded(path string, r Request, size geometry.Size) (pixels, error) {
	if r.Hold {
		return heldOrDecoded(path, r, size)
	}
	lazy, err := thumbnail(path, r.MediaType, size.Width, size.Height)
	if err != nil {
		return pixels{}, err
	}
	defer lazy.free()
	return lazy.asPixels()
}

// lastHeld is what this worker decoded for somebody who draws it again and again. Each worker does one job at a time.
var lastHeld struct {
	path string
	size geometry.Size
	pixels
}

// mostHeld is how many pixels are kept between jobs.
const mostHeld = 6_000_000

func heldOrDecoded(path string, r Request, size geometry.Size) (pixels, error) {
	if lastHeld.path == path && lastHeld.size == size {
		lastHeld.share()
		return lastHeld.pixels, nil
	}
	r.Hold = false
	p, err := decoded(path, r, size)
	if err != nil || size.Width*size.Height > mostHeld {
		return p, err
	}
	if lastHeld.path != "" {
		lastHeld.free()
	}
	lastHeld.path, lastHeld.size, lastHeld.pixels = path, size, p
	p.share()
	return p, nil
}

// sample is a small copy of a file as it is, with the noise of what it was made from.
func sample(r Request, facts Facts) (Response, error) {
	file := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	side := max(lookSide, r.Sample)
	large := geometry.Fit(file, geometry.Size{Width: side, Height: side})
	p, err := decoded(r.Path, r, large)
	if err != nil {
		return Response{}, err
	}
	defer p.free()
	size := geometry.Fit(file, geometry.Size{Width: r.Sample, Height: r.Sample})
	rgb, err := p.image.rgb(size.Width, size.Height)
	return Response{Facts: facts, Sample: &recipe.Sample{Size: size, RGB: rgb, Noise: p.noise()}}, err
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
