package pictures

// #include "draw.h"
import "C"

import (
	"encoding/binary"
	"math"
	"os"
	"sync"
	"unsafe"

	"brightsatchel/internal/core/geometry"
	"brightsatchel/internal/core/recipe"
)

// What the sliders mean to the pass over texture at 100.
const (
	noiseReach   = 2.0 // times the measured noise
	sharpenReach = 1.6 // times what is finer
)

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

// baseOf is the base map of a picture that was decoded upright. See place for where the pixels of a part lie in it.
func (p pixels) baseOf() (C.BsBase, error) {
	var base C.BsBase
	if C.bs_base_map(&p.raw, &base) != 0 {
		return base, errMemory
	}
	return base, nil
}

// place tells the base map where the pixels of a part lie in it.
func place(base *C.BsBase, frame geometry.Frame, to part) {
	p := frame.Places(to.region, geometry.Size{Width: to.width, Height: to.height})
	w, h := float64(base.width), float64(base.height)
	base.x0, base.x_by_x, base.x_by_y = C.float(p[0]*w-0.5), C.float(p[1]*w), C.float(p[2]*w)
	base.y0, base.y_by_x, base.y_by_y = C.float(p[3]*h-0.5), C.float(p[4]*h), C.float(p[5]*h)
}

// writeBase writes the base map of a file, as it is used for an output, for whoever draws with it elsewhere: its width and height as 32-bit
// integers, then a and b of each place, row by row, as 32-bit floats; all of them little-endian.
func writeBase(r Request, facts Facts) error {
	p, _, _, err := decodedFor(r.Path, r, facts, r.Outputs[0])
	if err != nil {
		return err
	}
	defer p.free()
	base, err := p.baseOf()
	defer C.bs_base_free(&base)
	if err != nil {
		return err
	}
	n := int(base.width) * int(base.height)
	out := binary.LittleEndian.AppendUint32(nil, uint32(base.width))
	out = binary.LittleEndian.AppendUint32(out, uint32(base.height))
	for _, place := range unsafe.Slice(base.places, n) {
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(float32(place.a)))
		out = binary.LittleEndian.AppendUint32(out, math.Float32bits(float32(place.b)))
	}
	return os.WriteFile(r.BaseMap, out, 0o600)
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

// decodedFor is an upright file in memory at the size that an output of a recipe needs, with how it is framed and what the output shows.
func decodedFor(path string, r Request, facts Facts, o Output) (pixels, geometry.Frame, part, error) {
	file := geometry.Orientation(facts.Orientation).Size(geometry.Size{Width: facts.Width, Height: facts.Height})
	frame := r.Recipe.Frame(file)
	to := partOf(frame, o)
	p, err := decoded(path, r, r.Recipe.Cut().Orientation().Size(to.decodedSize(frame)))
	return p, frame, to, err
}

// render makes what a recipe makes of a file, for one output: decoded once at the size that it needs, and rounded to 8 bits once, at the
// end.
func render(path string, r Request, facts Facts, o Output) (image, error) {
	p, frame, to, err := decodedFor(path, r, facts, o)
	if err != nil {
		return image{}, err
	}
	cut, do := r.Recipe.Cut(), o.sharpened(r.Recipe.Effective())
	var base *C.BsBase
	if usesBase(do) {
		local, err := p.baseOf()
		defer C.bs_base_free(&local)
		if err != nil {
			p.free()
			return image{}, err
		}
		place(&local, frame, to)
		base = &local
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

// How sharpening for a size is done: at its own pixels, sparing what differs by no more than a few levels.
const (
	sizeRadius    = 0.7
	sizeThreshold = 2
)

// sharpened has what an output asks for on top of what a recipe does, so that all is rounded once.
func (o Output) sharpened(a recipe.Adjustments) recipe.Adjustments {
	if o.Sharpen == 0 {
		return a
	}
	if a.Sharpen == 0 {
		a.Radius, a.Threshold = sizeRadius, sizeThreshold
	}
	a.Sharpen = min(100, a.Sharpen+o.Sharpen)
	return a
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
